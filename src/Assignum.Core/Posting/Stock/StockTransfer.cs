using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Whether goods are under way: they have left, or they arrive.</summary>
public enum OnTheWay { Dispatch, Arrival }

/// <summary>Goods that go from one place to another.</summary>
public sealed record StockTransfer : BusinessEvent
{
    /// <summary>A transfer with no header yet.</summary>
    public StockTransfer() { }

    /// <summary>A transfer under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal StockTransfer(EventHeader header, string toLocation) : base(header) => ToLocation = toLocation;

    /// <summary>Code of the location they go to.</summary>
    public required string ToLocation { get; init; }
    /// <summary>The half of it that happens, where dispatch and arrival are events of their own; null: both at once.</summary>
    public OnTheWay? OnTheWay { get; init; }
    /// <summary>The goods.</summary>
    public IReadOnlyList<GoodsLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <inheritdoc/>
    public override IEnumerable<StockPlace> StockMoved => Lines.SelectMany<GoodsLine, StockPlace>(line =>
        [new(line.Item, line.Place.Location ?? Location), new(line.Item, ToLocation), new(line.Item, null)]);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "stock-transfer";
}

/// <summary>Stock at the new place against stock at the old. Between dispatch and arrival it is stock in transit, at no place.</summary>
sealed class StockTransferRecipe(CompiledRulebook book, StockTransfer transfer) : GoodsRecipe<StockTransfer>(book, transfer)
{
    Location to = null!;

    internal static EventType Type { get; } = new(StockTransfer.Name, EventFamily.Stock,
        [new("toLocation", FieldKind.Code) { Required = true }, new("onTheWay", FieldKind.Word) { Words = Words<OnTheWay>.All }, Lines(StandsOn)],
        static (book, happened) => new StockTransferRecipe(book, (StockTransfer)happened).Land())
    {
        Prepare = static (preparing, happened) => happened is StockTransfer transfer
            ? transfer with { Lines = preparing.Goods(transfer.Lines, 1, transfer.OnTheWay == Assignum.Core.Posting.OnTheWay.Arrival) } : happened,
    };

    protected override HeldReason? ShapeFault(Shape shape) => LinesFault(Happened.Lines);

    protected override HeldReason? Open()
    {
        if (!Book.Locations.TryFind(Happened.ToLocation, out var location))
            return HeldReason.Unknown("toLocation", "location", Happened.ToLocation, "Add it, or correct the code.");
        to = location;
        return null;
    }

    protected override void Write()
    {
        foreach (var goods in Open(Happened.Lines))
        {
            if (!IsStock(goods.Item) || CostOf(goods) is not { } cost)
                continue;
            var (dispatched, arriving) = (Happened.OnTheWay == OnTheWay.Dispatch, Happened.OnTheWay == OnTheWay.Arrival);
            Write(At(goods, dispatched ? null : to), dispatched, cost, goods.Line.Quantity, standsOn: null);
            Write(arriving ? At(goods, null) : goods, arriving, -cost, -goods.Line.Quantity, goods.StandsOn);
        }
    }

    void Write(Goods goods, bool inTransit, decimal cost, decimal quantity, Account? standsOn)
    {
        Entry.PostCompany(inTransit ? Purpose.InventoryInTransit : Purpose.Inventory, goods.Row, cost, standsOn);
        Move(Subledger.Inventory, goods, quantity, cost);
    }

    Goods At(Goods goods, Location? location)
    {
        var facts = goods.Row.Facts.Copy();
        facts[Fact.Location] = Book.Locations.IdOf(location?.Code);
        return goods with { Row = goods.Row with { Facts = facts, Location = location } };
    }
}
