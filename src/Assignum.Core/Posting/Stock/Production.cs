using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Something made of components, labour and overhead; or, with a negative quantity, taken apart again.</summary>
public sealed record Production : BusinessEvent
{
    /// <summary>A production with no header yet.</summary>
    public Production() { }

    /// <summary>A production under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Production(EventHeader header, string item, decimal quantity) : base(header) => (Item, Quantity) = (item, quantity);

    /// <summary>Code of the item that is made; of kind stock.</summary>
    public required string Item { get; init; }
    /// <summary>How many; not 0, at most 6 decimals.</summary>
    public required decimal Quantity { get; init; }
    /// <summary>Standard cost of one unit, company currency; null: it is worth what went into it.</summary>
    public decimal? UnitCost { get; init; }
    /// <summary>Number of the account the item stands on.</summary>
    public string? StandsOn { get; init; }
    /// <summary>What goes into it; quantities are above 0.</summary>
    public IReadOnlyList<GoodsLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <inheritdoc/>
    public override IEnumerable<StockPlace> StockMoved => StockPlace.Of(Lines, Location).Prepend(new(Item, Location));
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "production";
}

/// <summary>Components leave stock, labour and overhead are absorbed, and the item comes to stock at their sum, or at its standard with the variance.</summary>
sealed class ProductionRecipe(CompiledRulebook book, Production production) : GoodsRecipe<Production>(book, production)
{
    Goods made;

    internal static EventType Type { get; } = new(Production.Name, EventFamily.Stock,
    [
        new("item", FieldKind.Code) { Required = true }, new("quantity", FieldKind.Amount) { Required = true }, new("unitCost", FieldKind.Amount), StandsOn,
        Lines(StandsOn),
    ], static (book, happened) => new ProductionRecipe(book, (Production)happened).Land())
    {
        // What is taken apart comes back at what it cost.
        Prepare = static (preparing, happened) => happened is Production made ? made with { Lines = preparing.Goods(made.Lines, made.Quantity > 0 ? 1 : -1) }
            : happened,
    };

    protected override HeldReason? ShapeFault(Shape shape) =>
        Shape.OfQuantity(null, Happened.Quantity) ?? Shape.OfCost(null, "unitCost", Happened.UnitCost)
        ?? Shape.FirstOf(Happened.Lines, (line, i) => line.Quantity > 0 ? null
            : Shape.Fault(new Place("lines", i), "quantity", $"is {line.Quantity}; what goes into it is above 0"))
        ?? LinesFault(Happened.Lines);

    protected override HeldReason? Open()
    {
        if (!Book.Items.TryFind(Happened.Item, out var item))
            return HeldReason.Unknown("item", "item", Happened.Item, "Add it, or correct the code.");
        if (item.Kind != ItemKind.Stock)
            return HeldReason.Invalid("item",
                $"Item {item.Code} {item.Name} is of kind {item.Kind.Word()}, and only stock is made. Name an item of kind stock.");
        var standsOn = AccountOf(Happened.StandsOn, "standsOn", out var fault);
        if (fault is not null)
            return fault;
        var facts = Row.Facts.Copy();
        SetItem(facts, item);
        var line = new GoodsLine { Item = item.Code, Quantity = Happened.Quantity, UnitCost = Happened.UnitCost };
        made = new(line, item, Row with { Facts = facts, Item = item }, standsOn, null);
        return OfStockOnly();
    }

    // Only stock stands on an account.
    HeldReason? OfStockOnly() => Shape.FirstOf(Happened.Lines, (line, i) =>
        line.StandsOn is not null && Book.Items.TryFind(line.Item, out var item) && item.Kind != ItemKind.Stock
            ? HeldReason.Invalid($"lines[{i}].standsOn",
                $"Line {i + 1}: item {item.Code} is of kind {item.Kind.Word()}, and only stock stands on an account. Leave it out.")
            : null);

    protected override void Write()
    {
        if (!Posting.Options.PerpetualStock)
            return;
        var (side, sum) = (Math.Sign(Happened.Quantity), 0m);
        foreach (var goods in Open(Happened.Lines))
        {
            if (CostOf(goods) is not { } cost)
            {
                IsComplete = false;
                continue;
            }
            sum += cost;
            if (goods.Item.Kind == ItemKind.Stock)
                WriteStock(goods, -side * cost, -side * goods.Line.Quantity);
            else
                Entry.PostCompany(Purpose.AbsorbedCost, goods.Row, -side * cost);
        }
        var worth = Happened.UnitCost is { } standard ? Posting.Worth(Happened.Quantity, standard) : side * sum;
        WriteStock(made, worth, Happened.Quantity);
        // What is missing of a line says nothing about the variance.
        if (IsComplete)
            Entry.PostCompany(Purpose.ProductionVariance, made.Row, side * sum - worth);
    }
}
