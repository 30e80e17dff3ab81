using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>A gift card that is sold: money now, goods later.</summary>
public sealed record GiftCardSold : BusinessEvent
{
    /// <summary>A sale with no header yet.</summary>
    public GiftCardSold() { }

    /// <summary>A sale under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal GiftCardSold(EventHeader header, decimal amount) : base(header) => Amount = amount;

    /// <summary>The money, document currency, above 0.</summary>
    public required decimal Amount { get; init; }
    /// <summary>Code of the money account; null where a method is given.</summary>
    public string? MoneyAccount { get; init; }

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "gift-card-sold";
}

/// <summary>Money against the gift card.</summary>
sealed class GiftCardSoldRecipe(CompiledRulebook book, GiftCardSold sold) : Recipe<GiftCardSold>(book, sold)
{
    internal static EventType Type { get; } = new(GiftCardSold.Name, EventFamily.Payments,
        [new("amount", FieldKind.Amount) { Required = true }, new("moneyAccount", FieldKind.Code)],
        static (book, happened) => new GiftCardSoldRecipe(book, (GiftCardSold)happened).Land());

    protected override PartyNeed Party => PartyNeed.PerhapsCustomer;
    protected override string? MoneyAccount => Happened.MoneyAccount;

    protected override HeldReason? ShapeFault(Shape shape) =>
        shape.AboveZero(null, "amount", Happened.Amount) ?? Shape.OfMoneyPlace(Happened.MoneyAccount, Happened.Method);

    protected override void Write()
    {
        WriteMoney(Happened.Amount);
        Entry.Post(Purpose.GiftCard, Row, -Happened.Amount);
    }
}
