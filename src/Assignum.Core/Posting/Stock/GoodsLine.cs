using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Goods that move, as a line has them; a type of event has those fields that its table names.</summary>
public sealed record GoodsLine
{
    /// <summary>Code of the item.</summary>
    public required string Item { get; init; }
    /// <summary>Quantity, at most 6 decimals, not 0.</summary>
    public required decimal Quantity { get; init; }
    /// <summary>Cost of one unit, company currency, 0 or more, at most 6 decimals; null: the item's.</summary>
    public decimal? UnitCost { get; init; }
    /// <summary>Number of the account the stock stands on.</summary>
    public string? StandsOn { get; init; }
    /// <summary>Number of the account that answers for goods that are no stock, or for a difference.</summary>
    public string? Account { get; init; }
    /// <summary>Why stock is adjusted.</summary>
    public string? Reason { get; init; }
    /// <summary>Where the line is, and what is said of it.</summary>
    public LinePlace Place { get; init; } = LinePlace.None;
}

/// <summary>What a line may have in place of what the document has.</summary>
public sealed record LinePlace
{
    /// <summary>Nothing of its own.</summary>
    public static readonly LinePlace None = new();

    /// <summary>Location.</summary>
    public string? Location { get; init; }
    /// <summary>Project; drops the document's task.</summary>
    public string? Project { get; init; }
    /// <summary>Task.</summary>
    public string? Task { get; init; }
    /// <summary>Place that decides tax.</summary>
    public string? TaxArea { get; init; }
    /// <summary>Text.</summary>
    public string? Text { get; init; }
    /// <summary>Line of the event referred to, from 1.</summary>
    public int? RefersToLine { get; init; }
    /// <summary>Dimensions laid over the document's.</summary>
    public Dimensions Dimensions { get; init; } = Dimensions.None;

    /// <summary>The fields of it, as files have them.</summary>
    internal static IReadOnlyList<EventField> Fields { get; } =
    [
        new("location", FieldKind.Code), new("project", FieldKind.Code), new("task", FieldKind.Code), new("taxArea", FieldKind.Code),
        new("text", FieldKind.Text), new("refersToLine", FieldKind.Whole), new("dimensions", FieldKind.Dimensions),
    ];
}

/// <summary>A line of goods with its codes matched.</summary>
/// <param name="Line">The line.</param>
/// <param name="Item">The item.</param>
/// <param name="Row">What its rows stand with.</param>
/// <param name="StandsOn">The account the stock stands on.</param>
/// <param name="Account">The account it names.</param>
readonly record struct Goods(GoodsLine Line, Item Item, RowContext Row, Account? StandsOn, Account? Account);

/// <summary>Recipes of goods that move: their lines opened, and their cost.</summary>
abstract class GoodsRecipe<T>(CompiledRulebook book, T happened) : Recipe<T>(book, happened) where T : BusinessEvent
{
    /// <summary>Fields of a line.</summary>
    /// <param name="own">Those that only its type has, before where the line is.</param>
    protected static EventField Lines(params ReadOnlySpan<EventField> own) => new("lines", FieldKind.List)
    {
        Required = true,
        Inner = [new("item", FieldKind.Code) { Required = true }, new("quantity", FieldKind.Amount) { Required = true }, new("unitCost", FieldKind.Amount),
            .. own, .. LinePlace.Fields],
    };

    /// <summary>The account stock stands on, a field of lines.</summary>
    protected static EventField StandsOn { get; } = new("standsOn", FieldKind.Code);
    /// <summary>An account named on a line.</summary>
    protected static EventField Account { get; } = new("account", FieldKind.Code);

    /// <summary>Whether goods of the item are kept in stock.</summary>
    protected bool IsStock(Item item) => item.Kind == ItemKind.Stock && Posting.Options.PerpetualStock;

    /// <summary>What is malformed about lines.</summary>
    protected HeldReason? LinesFault(IReadOnlyList<GoodsLine> lines) => Shape.FirstOf(lines, (line, i) =>
    {
        var place = new Place("lines", i);
        return Shape.OfQuantity(place, line.Quantity) ?? Shape.OfCost(place, "unitCost", line.UnitCost)
            ?? Shape.OfTask(place, line.Place.Task, line.Place.Project, Happened.Project);
    });

    /// <summary>Opens the lines; one with an unknown code drops out.</summary>
    protected IEnumerable<Goods> Open(IReadOnlyList<GoodsLine> lines)
    {
        for (var i = 0; i < lines.Count; i++)
            if (Open(lines[i], new Place("lines", i)) is { } goods)
                yield return goods;
    }

    Goods? Open(GoodsLine line, Place place)
    {
        var facts = Row.Facts.Copy();
        var goods = default(Goods);
        var known = Matches(unknown =>
        {
            var item = Matching.Code(Book.Items, line.Item, place, "item", "item", unknown);
            var standsOn = Matching.Code(Book.Accounts, line.StandsOn, place, "standsOn", "account", unknown);
            var account = Matching.Code(Book.Accounts, line.Account, place, "account", "account", unknown);
            if (OpenRow(facts, item, line.Place, place, unknown) is { } row && item is not null)
                goods = new(line, item, row, standsOn, account);
        });
        if (!known)
            return null;
        Book.Set(facts, Fact.Reason, line.Reason);
        return goods;
    }

    /// <summary>What rows of a line of goods stand with; its unknown codes are noted.</summary>
    protected RowContext OpenRow(Facts facts, Item? item, LinePlace at, Place place, List<HeldReason> unknown)
    {
        if (item is not null)
            SetItem(facts, item);
        return OpenRow(facts, at, place, unknown) with { Item = item };
    }

    /// <summary>What a line is worth at its unit cost, company currency; null, with a reason, where there is no cost.</summary>
    protected decimal? CostOf(Goods goods)
    {
        if ((goods.Line.UnitCost ?? goods.Item.Cost) is { } cost)
            return Posting.Worth(goods.Line.Quantity, cost);
        Refuse(new HeldReason(HeldCause.NoCost, $"Item {goods.Item.Code} {goods.Item.Name} moves with this event and has no cost. " +
            "Give unitCost on the line, or a cost on the item.") { Item = goods.Item.Code });
        return null;
    }

    /// <summary>Goods that come to stock, or leave it, with their row.</summary>
    protected void WriteStock(Goods goods, decimal cost, decimal quantity)
    {
        Entry.PostCompany(Purpose.Inventory, goods.Row, cost, goods.StandsOn);
        Move(Subledger.Inventory, goods, quantity, cost);
    }

    /// <summary>A movement of a line's goods.</summary>
    protected void Move(Subledger subledger, Goods goods, decimal quantity, decimal cost) =>
        Entry.Move(new StockMovement(subledger, goods.Item, null, goods.Row.Location, quantity, CompanyAmount(cost)));
}
