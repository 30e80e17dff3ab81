using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>A change of what stock is worth, without a change of its quantity.</summary>
public sealed record ValueLine
{
    /// <summary>Code of the item; null where an item group is named.</summary>
    public string? Item { get; init; }
    /// <summary>Code of an item group.</summary>
    public string? ItemGroup { get; init; }
    /// <summary>Number of the account the stock stands on.</summary>
    public string? StandsOn { get; init; }
    /// <summary>Quantity whose cost changes, 0 or more; null where the change is given as an amount.</summary>
    public decimal? Quantity { get; init; }
    /// <summary>Cost of one unit before.</summary>
    public decimal? From { get; init; }
    /// <summary>Cost of one unit after.</summary>
    public decimal? To { get; init; }
    /// <summary>The change, company currency, signed, not 0.</summary>
    public decimal? Amount { get; init; }
    /// <summary>Where the line is, and what is said of it.</summary>
    public LinePlace Place { get; init; } = LinePlace.None;
}

/// <summary>Stock that is worth more or less: by another cost, or, where stock is counted only now and then, by a count.</summary>
public sealed record StockValue : BusinessEvent
{
    /// <summary>A change with no header yet.</summary>
    public StockValue() { }

    /// <summary>A change under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal StockValue(EventHeader header) : base(header) => ByCount = header.Type == Closing;

    /// <summary>It comes of a count.</summary>
    public bool ByCount { get; init; }
    /// <summary>The changes.</summary>
    public IReadOnlyList<ValueLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => ByCount ? Closing : Cost;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <inheritdoc/>
    public override IEnumerable<StockPlace> StockMoved =>
        Lines.Where(line => line.Item is not null).Select(line => new StockPlace(line.Item!, line.Place.Location ?? Location));
    /// <summary>The types as the formats spell them.</summary>
    public const string Cost = "cost-change", Closing = "stock-closing";
}

/// <summary>
/// A cost that changes: stock against stock revaluation. A closing by count, for periodic stock: stock against cost of sales, whatever the options say.
/// </summary>
sealed class StockValueRecipe(CompiledRulebook book, StockValue value) : GoodsRecipe<StockValue>(book, value)
{
    internal static IReadOnlyList<EventType> Types { get; } =
    [
        Of(StockValue.Cost, new("item", FieldKind.Code) { Required = true }, StandsOn, new("quantity", FieldKind.Amount), new("from", FieldKind.Amount),
            new("to", FieldKind.Amount), new("amount", FieldKind.Amount)),
        Of(StockValue.Closing, new("item", FieldKind.Code), new("itemGroup", FieldKind.Code), new("amount", FieldKind.Amount) { Required = true }),
    ];

    static EventType Of(string name, params ReadOnlySpan<EventField> own) => new(name, EventFamily.Stock,
        [new("lines", FieldKind.List) { Required = true, Inner = [.. own, .. LinePlace.Fields] }],
        static (book, happened) => new StockValueRecipe(book, (StockValue)happened).Land());

    protected override HeldReason? ShapeFault(Shape shape) => Shape.FirstOf(Happened.Lines, (line, i) =>
        (Happened.ByCount ? WhichFault(line, new Place("lines", i)) : HowFault(line, new Place("lines", i)))
        ?? (line.Amount is { } amount ? AmountFault(shape, new Place("lines", i), amount) : null)
        ?? Shape.OfTask(new Place("lines", i), line.Place.Task, line.Place.Project, Happened.Project));

    static HeldReason? WhichFault(ValueLine line, Place place)
    {
        if (line.Item is null == line.ItemGroup is null)
            return HeldReason.Invalid(place.ToString(), $"{place.InWords}: name an item or an item group, one of them.");
        return null;
    }

    static HeldReason? HowFault(ValueLine line, Place place)
    {
        var units = (line.Quantity is null ? 0 : 1) + (line.From is null ? 0 : 1) + (line.To is null ? 0 : 1);
        if (line.Amount is null ? units != 3 : units != 0)
            return HeldReason.Invalid(place.ToString(),
                $"{place.InWords}: give either the change as an amount, or a quantity with its cost before (from) and after (to).");
        return line.Quantity < 0 ? Shape.Fault(place, "quantity", $"is {line.Quantity}; it is 0 or more")
            : (line.Quantity is { } quantity ? Shape.OfUnits(place, "quantity", quantity) : null)
                ?? Shape.OfCost(place, "from", line.From) ?? Shape.OfCost(place, "to", line.To);
    }

    static HeldReason? AmountFault(Shape shape, Place place, decimal amount) =>
        amount == 0 ? Shape.Fault(place, "amount", "is 0. Leave the line out, or give an amount") : shape.OfCompanyMoney(place, "amount", amount);

    protected override void Write()
    {
        for (var i = 0; i < Happened.Lines.Count; i++)
            Write(Happened.Lines[i], new Place("lines", i));
    }

    void Write(ValueLine line, Place place)
    {
        var facts = Row.Facts.Copy();
        var (item, standsOn, row) = (default(Groups.Item), default(Charts.Account), Row);
        var known = Matches(unknown =>
        {
            item = Matching.Code(Book.Items, line.Item, place, "item", "item", unknown);
            standsOn = Matching.Code(Book.Accounts, line.StandsOn, place, "standsOn", "account", unknown);
            if (Matching.Code(Book.ItemGroups, line.ItemGroup, place, "itemGroup", "item group", unknown) is { } group)
                (facts[Fact.ItemGroup], facts[Fact.ItemKind]) = (Book.ItemGroups.IdOf(group.Code), (int)Groups.ItemKind.Stock + 1);
            row = OpenRow(facts, item, line.Place, place, unknown);
        });
        if (!known || !(Happened.ByCount || IsStock(item!)))
            return;
        var change = line.Amount ?? Posting.Worth(line.Quantity!.Value, line.To!.Value) - Posting.Worth(line.Quantity.Value, line.From!.Value);
        Entry.PostCompany(Purpose.Inventory, row, change, standsOn);
        Entry.Move(new StockMovement(Subledger.Inventory, item, line.ItemGroup, row.Location, 0, CompanyAmount(change)));
        Entry.PostCompany(Happened.ByCount ? Purpose.CostOfSales : Purpose.StockRevaluation, row, -change);
    }
}
