using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Interest and a fee for what a customer pays late.</summary>
public sealed record LateCharge : BusinessEvent
{
    /// <summary>A charge with no header yet.</summary>
    public LateCharge() { }

    /// <summary>A charge under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal LateCharge(EventHeader header) : base(header) { }

    /// <summary>Interest, document currency, 0 or more.</summary>
    public decimal Interest { get; init; }
    /// <summary>Fee for the reminder, 0 or more.</summary>
    public decimal Fee { get; init; }

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "late-charge";
}

/// <summary>What the customer owes more, against interest and fee.</summary>
sealed class LateChargeRecipe(CompiledRulebook book, LateCharge charge) : Recipe<LateCharge>(book, charge)
{
    internal static EventType Type { get; } = new(LateCharge.Name, EventFamily.Payments, [new("interest", FieldKind.Amount), new("fee", FieldKind.Amount)],
        static (book, happened) => new LateChargeRecipe(book, (LateCharge)happened).Land());

    protected override PartyNeed Party => PartyNeed.Customer;

    protected override HeldReason? ShapeFault(Shape shape) =>
        shape.ZeroOrMore(null, "interest", Happened.Interest) ?? shape.ZeroOrMore(null, "fee", Happened.Fee)
        ?? (Happened.Interest == 0 && Happened.Fee == 0
            ? HeldReason.Invalid("interest", "Neither interest nor a fee is charged. Give one of them, or leave the event out.") : null);

    protected override void Write()
    {
        var sum = Happened.Interest + Happened.Fee;
        WriteParty(Purpose.Receivable, Row, sum);
        Entry.Post(Purpose.InterestCharged, Row, -Happened.Interest);
        Entry.Post(Purpose.ReminderFee, Row, -Happened.Fee);
    }
}
