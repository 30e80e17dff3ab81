using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>A part of what stands on an account.</summary>
public sealed record StandingLine
{
    /// <summary>Company currency, debit positive, not 0.</summary>
    public required decimal Amount { get; init; }
    /// <summary>Code of the party it is of.</summary>
    public string? Party { get; init; }
    /// <summary>Code of the item it is of.</summary>
    public string? Item { get; init; }
    /// <summary>Code of the connection it came through.</summary>
    public string? Connection { get; init; }
    /// <summary>Payment method it came by.</summary>
    public string? Method { get; init; }
    /// <summary>Currency in which it arose; null: the company's.</summary>
    public string? Currency { get; init; }
    /// <summary>The amount in that currency; null: the same.</summary>
    public decimal? DocumentAmount { get; init; }
    /// <summary>Where the line is, and what is said of it.</summary>
    public LinePlace Place { get; init; } = LinePlace.None;
}

/// <summary>What stands on one account goes, item by item, where its rule sends it today.</summary>
public sealed record StandingTransfer : BusinessEvent
{
    /// <summary>A transfer with no header yet.</summary>
    public StandingTransfer() { }

    /// <summary>A transfer under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal StandingTransfer(EventHeader header, Purpose purpose, string from) : base(header) => (Purpose, From) = (purpose, from);

    /// <summary>What it is for; a purpose that carries a balance.</summary>
    public required Purpose Purpose { get; init; }
    /// <summary>Number of the account it stands on.</summary>
    public required string From { get; init; }
    /// <summary>The parts of it.</summary>
    public IReadOnlyList<StandingLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "standing-transfer";

    /// <summary>Purposes that carry a balance.</summary>
    public static IReadOnlyList<Purpose> Carrying { get; } =
    [
        Purpose.Receivable, Purpose.Payable, Purpose.CustomerDeposit, Purpose.SupplierDeposit, Purpose.GiftCard, Purpose.GoodsReceivedNotInvoiced,
        Purpose.Inventory, Purpose.InventoryInTransit, Purpose.PaymentClearing, Purpose.HeldFunds, Purpose.ProjectWip, Purpose.ProjectBilled,
        Purpose.ProjectAccruedRevenue, Purpose.IntercompanyReceivable, Purpose.IntercompanyPayable,
    ];
}

/// <summary>Each part leaves the account, and comes to the one its ladder answers with today. Subledgers are not touched.</summary>
sealed class StandingTransferRecipe(CompiledRulebook book, StandingTransfer transfer) : GoodsRecipe<StandingTransfer>(book, transfer)
{
    Account from = null!;

    internal static EventType Type { get; } = new(StandingTransfer.Name, EventFamily.Corrections,
    [
        new("purpose", FieldKind.Word) { Required = true, Words = [.. StandingTransfer.Carrying.Select(purpose => purpose.Name)] },
        new("from", FieldKind.Code) { Required = true },
        new("lines", FieldKind.List)
        {
            Required = true,
            Inner =
            [
                new("amount", FieldKind.Amount) { Required = true }, new("party", FieldKind.Code), new("item", FieldKind.Code),
                new("connection", FieldKind.Code), new("method", FieldKind.Code), new("currency", FieldKind.Code),
                new("documentAmount", FieldKind.Amount), .. LinePlace.Fields,
            ],
        },
    ], static (book, happened) => new StandingTransferRecipe(book, (StandingTransfer)happened).Land());

    protected override HeldReason? ShapeFault(Shape shape) => Shape.FirstOf(Happened.Lines, (line, i) =>
    {
        var place = new Place("lines", i);
        if (line.Amount == 0)
            return Shape.Fault(place, "amount", "is 0. Leave the line out, or give an amount");
        if (shape.OfCompanyMoney(place, "amount", line.Amount) is { } fault)
            return fault;
        if (!Money.TryMinorUnits(Fold.Of(line.Currency ?? Posting.CompanyCurrency), out var units))
            return HeldReason.Invalid(place.Of("currency"),
                $"{place.InWords}: currency {line.Currency} is no ISO 4217 code. Write one of three letters, such as EUR.");
        return (line.DocumentAmount is { } own ? new Shape(units, units).OfMoney(place, "documentAmount", own) : null)
            ?? Shape.OfTask(place, line.Place.Task, line.Place.Project, Happened.Project);
    });

    protected override HeldReason? Open()
    {
        from = AccountOf(Happened.From, "from", out var fault)!;
        return fault;
    }

    protected override void Write()
    {
        for (var i = 0; i < Happened.Lines.Count; i++)
            Write(Happened.Lines[i], new Place("lines", i));
    }

    void Write(StandingLine line, Place place)
    {
        var facts = Row.Facts.Copy();
        var row = Row;
        var known = Matches(unknown =>
        {
            var party = Matching.Code(Book.Parties, line.Party, place, "party", "party", unknown);
            var item = Matching.Code(Book.Items, line.Item, place, "item", "item", unknown);
            if (party is not null)
                Book.SetParty(facts, Book.Parties.IdOf(party.Code));
            row = OpenRow(facts, item, line.Place, place, unknown) with { Party = party ?? Row.Party };
        });
        if (!known)
            return;
        if (line.Connection is not null)
            Book.Set(facts, Fact.Connection, line.Connection);
        if (line.Method is not null)
            Book.Set(facts, Fact.Method, line.Method);
        var currency = line.Currency is null ? Posting.CompanyCurrency : Fold.Of(line.Currency);
        if (line.Currency is not null)
            Book.Set(facts, Fact.Currency, currency);
        Entry.PostStanding(Happened.Purpose, row, line.Amount, currency, line.DocumentAmount ?? line.Amount, from);
    }
}
