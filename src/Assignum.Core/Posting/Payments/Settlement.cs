using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What an open item is.</summary>
public enum ItemOf { Receivable, Payable, CustomerDeposit, SupplierDeposit }

/// <summary>An open item that is settled against others.</summary>
public sealed record SettlementLine
{
    /// <summary>Id of the event that opened it.</summary>
    public required string Event { get; init; }
    /// <summary>What it is.</summary>
    public required ItemOf Of { get; init; }
    /// <summary>How much of it, document currency, not 0; positive takes away what stands in debit.</summary>
    public required decimal Amount { get; init; }
    /// <summary>Number of the account it stands on; null: the ladder says.</summary>
    public string? Account { get; init; }
    /// <summary>The rate at which it was booked; null: the document's.</summary>
    public decimal? Rate { get; init; }
    /// <summary>What is left of it in company currency, signed as the amount; null: by the rate.</summary>
    public decimal? CompanyAmount { get; init; }
    /// <summary>Dimensions of the item, in place of the document's; null: the document's.</summary>
    public Dimensions? Dimensions { get; init; }
}

/// <summary>Open items of a party against each other: credit note against invoice, customer against supplier, a write-off.</summary>
public sealed record Settlement : BusinessEvent
{
    /// <summary>A settlement with no header yet.</summary>
    public Settlement() { }

    /// <summary>A settlement under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Settlement(EventHeader header) : base(header) { }

    /// <summary>Discount for early payment, document currency, 0 or more.</summary>
    public decimal Discount { get; init; }
    /// <summary>A small difference that is let go, signed.</summary>
    public decimal Tolerance { get; init; }
    /// <summary>The items.</summary>
    public IReadOnlyList<SettlementLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Dimensions ?? Dimensions.None);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "settlement";
}

/// <summary>Each item on the account it stands on, at the rate it was booked at; what they leave is exchange, in the company's own currency rounding.</summary>
sealed class SettlementRecipe(CompiledRulebook book, Settlement settlement) : Recipe<Settlement>(book, settlement)
{
    internal static EventType Type { get; } = new(Settlement.Name, EventFamily.Payments,
    [
        new("discount", FieldKind.Amount), new("tolerance", FieldKind.Amount),
        new("lines", FieldKind.List)
        {
            Required = true,
            Inner =
            [
                new("event", FieldKind.Code) { Required = true }, new("of", FieldKind.Word) { Required = true, Words = Words<ItemOf>.All },
                new("amount", FieldKind.Amount) { Required = true }, new("account", FieldKind.Code), new("rate", FieldKind.Amount),
                new("companyAmount", FieldKind.Amount), new("dimensions", FieldKind.Dimensions),
            ],
        },
    ], static (book, happened) => new SettlementRecipe(book, (Settlement)happened).Land())
    {
        Prepare = static (preparing, happened) => happened is Settlement settlement ? settlement with { Lines = preparing.Items(settlement.Lines) } : happened,
    };

    protected override PartyNeed Party => PartyNeed.Some;

    protected override HeldReason? ShapeFault(Shape shape)
    {
        if ((shape.ZeroOrMore(null, "discount", Happened.Discount) ?? shape.OfMoney(null, "tolerance", Happened.Tolerance)
            ?? Shape.FirstOf(Happened.Lines, (line, i) => LineFault(shape, line, new Place("lines", i)))) is { } fault)
            return fault;
        var (sum, given) = (Happened.Lines.Sum(line => line.Amount), Happened.Discount + Happened.Tolerance);
        return sum == given ? null : HeldReason.Invalid("lines",
            $"The items come to {sum}, and discount and tolerance to {given}. Items of both sides add up to what is let go; correct the amounts.");
    }

    HeldReason? LineFault(Shape shape, SettlementLine line, Place place)
    {
        if (line.Amount == 0)
            return Shape.Fault(place, "amount", "is 0. Leave the line out, or give an amount");
        if ((shape.OfMoney(place, "amount", line.Amount) ?? Shape.OfOtherRate(Posting, place.Of("rate"), line.Rate)) is { } fault)
            return fault;
        return shape.OfCompanyMoney(place, "companyAmount", line.CompanyAmount, line.Amount, Posting);
    }

    protected override void Write()
    {
        var ofCustomer = Happened.Lines.Any(line => line.Of is ItemOf.Receivable or ItemOf.CustomerDeposit);
        Entry.Post(ofCustomer ? Purpose.PaymentDiscountGiven : Purpose.PaymentDiscountTaken, Row, Happened.Discount);
        Entry.Post(Purpose.PaymentTolerance, Row, Happened.Tolerance);
        for (var i = 0; i < Happened.Lines.Count; i++)
            Write(Happened.Lines[i], new Place("lines", i));
        if (IsComplete && Posting.IsConverted)
            Entry.PostExchange(-Entry.Balance);
    }

    void Write(SettlementLine line, Place place)
    {
        Account? account = null;
        if (!Matches(unknown => account = Matching.Code(Book.Accounts, line.Account, place, "account", "account", unknown)))
            return;
        var row = RowOf(place.Index, line.Dimensions);
        var company = line.CompanyAmount ?? Posting.Worth(line.Amount, line.Rate ?? Posting.Rate);
        WriteParty(PurposeOf(line.Of), row, -line.Amount, -company, account, line.Event);
    }

    internal static Purpose PurposeOf(ItemOf of) => of switch
    {
        ItemOf.Receivable => Purpose.Receivable,
        ItemOf.Payable => Purpose.Payable,
        ItemOf.CustomerDeposit => Purpose.CustomerDeposit,
        _ => Purpose.SupplierDeposit,
    };
}
