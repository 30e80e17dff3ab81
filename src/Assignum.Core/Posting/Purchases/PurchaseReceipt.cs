using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Goods or services that have come and are not invoiced yet.</summary>
public sealed record PurchaseReceipt : BusinessEvent
{
    /// <summary>A receipt with no header yet.</summary>
    public PurchaseReceipt() { }

    /// <summary>A receipt under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal PurchaseReceipt(EventHeader header) : base(header) { }

    /// <summary>What has come.</summary>
    public IReadOnlyList<GoodsLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <inheritdoc/>
    public override IEnumerable<StockPlace> StockMoved => StockPlace.Of(Lines, Location);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "purchase-receipt";
}

/// <summary>What has come is stock, or expense, and waits for its invoice. Goods of kind stock that are not kept in stock yield nothing.</summary>
sealed class PurchaseReceiptRecipe(CompiledRulebook book, PurchaseReceipt receipt) : GoodsRecipe<PurchaseReceipt>(book, receipt)
{
    internal static EventType Type { get; } = new(PurchaseReceipt.Name, EventFamily.Purchases, [Lines(Account)],
        static (book, happened) => new PurchaseReceiptRecipe(book, (PurchaseReceipt)happened).Land())
    {
        Prepare = static (preparing, happened) => happened is PurchaseReceipt receipt ? receipt with { Lines = preparing.Invoiced(receipt.Lines) } : happened,
    };

    protected override HeldReason? ShapeFault(Shape shape) => LinesFault(Happened.Lines);

    protected override void Write()
    {
        foreach (var goods in Open(Happened.Lines))
        {
            var stock = IsStock(goods.Item);
            if ((goods.Item.Kind == ItemKind.Stock && !stock) || CostOf(goods) is not { } cost)
                continue;
            if (stock)
                WriteStock(goods, cost, goods.Line.Quantity);
            else
                Entry.PostCompany(Purpose.PurchaseExpense, goods.Row, cost, lineAccount: goods.Account);
            Entry.PostCompany(Purpose.GoodsReceivedNotInvoiced, goods.Row, -cost);
            Move(Subledger.Purchasing, goods, -goods.Line.Quantity, -cost);
        }
    }
}
