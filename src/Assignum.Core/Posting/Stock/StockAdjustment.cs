using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Stock that is more or less than it was: counted, damaged, given away.</summary>
public sealed record StockAdjustment : BusinessEvent
{
    /// <summary>An adjustment with no header yet.</summary>
    public StockAdjustment() { }

    /// <summary>An adjustment under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal StockAdjustment(EventHeader header) : base(header) { }

    /// <summary>The goods; what is gone has a negative quantity.</summary>
    public IReadOnlyList<GoodsLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <inheritdoc/>
    public override IEnumerable<StockPlace> StockMoved => StockPlace.Of(Lines, Location);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "stock-adjustment";
}

/// <summary>Stock against stock difference, by the reason.</summary>
sealed class StockAdjustmentRecipe(CompiledRulebook book, StockAdjustment adjustment) : GoodsRecipe<StockAdjustment>(book, adjustment)
{
    internal static EventType Type { get; } = new(StockAdjustment.Name, EventFamily.Stock, [Lines(new("reason", FieldKind.Code), Account, StandsOn)],
        static (book, happened) => new StockAdjustmentRecipe(book, (StockAdjustment)happened).Land())
    {
        Prepare = static (preparing, happened) =>
            happened is StockAdjustment adjustment ? adjustment with { Lines = preparing.Goods(adjustment.Lines, -1) } : happened,
    };

    protected override HeldReason? ShapeFault(Shape shape) => LinesFault(Happened.Lines);

    protected override void Write()
    {
        foreach (var goods in Open(Happened.Lines))
            if (IsStock(goods.Item) && CostOf(goods) is { } cost)
            {
                WriteStock(goods, cost, goods.Line.Quantity);
                Entry.PostCompany(Purpose.StockDifference, goods.Row, -cost, lineAccount: goods.Account);
            }
    }
}
