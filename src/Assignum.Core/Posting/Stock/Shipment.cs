using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Goods that leave for a customer, or come back from one.</summary>
public sealed record Shipment : BusinessEvent
{
    /// <summary>A shipment with no header yet.</summary>
    public Shipment() { }

    /// <summary>A shipment under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Shipment(EventHeader header) : base(header) => IsReturn = header.Type == Back;

    /// <summary>The goods come back.</summary>
    public bool IsReturn { get; init; }
    /// <summary>The goods.</summary>
    public IReadOnlyList<GoodsLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => IsReturn ? Back : Out;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <inheritdoc/>
    public override IEnumerable<StockPlace> StockMoved => StockPlace.Of(Lines, Location);
    /// <summary>The types as the formats spell them.</summary>
    public const string Out = "shipment", Back = "shipment-return";
}

/// <summary>Goods leave: their cost moves from stock to cost of sales. A return is the mirror. What is not kept in stock moves nothing.</summary>
sealed class ShipmentRecipe(CompiledRulebook book, Shipment shipment) : GoodsRecipe<Shipment>(book, shipment)
{
    internal static IReadOnlyList<EventType> Types { get; } = [Of(Shipment.Out), Of(Shipment.Back)];

    static EventType Of(string name) => new(name, EventFamily.Stock, [Lines(StandsOn)], static (book, happened) =>
        new ShipmentRecipe(book, (Shipment)happened).Land())
    {
        Prepare = static (preparing, happened) =>
            happened is Shipment shipment ? shipment with { Lines = preparing.Goods(shipment.Lines, shipment.IsReturn ? -1 : 1) } : happened,
    };

    protected override HeldReason? ShapeFault(Shape shape) => LinesFault(Happened.Lines);

    protected override void Write()
    {
        var side = Happened.IsReturn ? -1 : 1;
        foreach (var goods in Open(Happened.Lines))
            if (IsStock(goods.Item) && CostOf(goods) is { } cost)
            {
                Entry.PostCompany(Purpose.CostOfSales, goods.Row, side * cost);
                WriteStock(goods, -side * cost, -side * goods.Line.Quantity);
            }
    }
}
