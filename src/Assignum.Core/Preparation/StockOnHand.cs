using Assignum.Core.Posting;

namespace Assignum.Core.Preparation;

/// <summary>Stock of an item at a place, as far as it stands on one account.</summary>
/// <param name="Account">Number of the account; empty where it is not known.</param>
/// <param name="Quantity">Signed.</param>
/// <param name="Value">Company currency, signed.</param>
public readonly record struct StockPart(string Account, decimal Quantity, decimal Value);

/// <summary>Stock that leaves.</summary>
/// <param name="Account">Number of the account it stands on; null where none has any: the ladder says.</param>
/// <param name="Quantity">Above 0.</param>
/// <param name="UnitCost">Cost of one unit, at most 6 decimals; null where none is known.</param>
public readonly record struct StockIssue(string? Account, decimal Quantity, decimal? UnitCost);

/// <summary>What stands in stock, by item and place, with its value: the moving average is value by quantity, in posting order.</summary>
public sealed class StockOnHand
{
    const int UnitDecimals = 6;

    sealed class Shelf
    {
        internal readonly List<StockPart> Parts = [];
        internal decimal? LastCost;

        /// <summary>What came for nothing landed on no account: it stands with the rest, so that the average knows it.</summary>
        internal List<StockPart> Standing(string? own)
        {
            var nowhere = Parts.FindIndex(p => p.Account.Length == 0);
            if (nowhere < 0 || Parts.Count == 1)
                return [.. Parts];
            var with = Math.Max(Parts.FindIndex(p => p.Account.Length > 0 && Fold.Same(p.Account, own)), nowhere == 0 ? 1 : 0);
            var standing = Parts.ToList();
            standing[with] = Sum(standing[with], standing[nowhere]);
            standing.RemoveAt(nowhere);
            return standing;
        }
    }

    static StockPart Sum(StockPart part, StockPart more) => part with { Quantity = part.Quantity + more.Quantity, Value = part.Value + more.Value };

    readonly Dictionary<(string Item, string Place), Shelf> shelves = [];
    // What stood on the shelves that were moved, before the first move.
    readonly Dictionary<StockPlace, IReadOnlyList<StockPart>> before = [];

    /// <summary>Items and places that were asked for, by the folds of their codes.</summary>
    public HashSet<(string Item, string Place)> Asked { get; } = [];

    /// <summary>Lays down what the books have.</summary>
    /// <param name="item">Code of the item.</param>
    /// <param name="place">Code of the location; null: said nowhere.</param>
    /// <param name="part">The stock on one account.</param>
    /// <param name="lastCost">Cost at which it last came, or null.</param>
    public void Set(string item, string? place, StockPart part, decimal? lastCost)
    {
        var shelf = ShelfOf(item, place);
        shelf.Parts.Add(part);
        shelf.LastCost = lastCost ?? shelf.LastCost;
    }

    /// <summary>From where a quantity leaves: account by account, those that are not the ladder's own first, so that old ones empty; what is not there at
    /// all at the last known cost.</summary>
    /// <param name="item">Code of the item.</param>
    /// <param name="place">Code of the location, or null.</param>
    /// <param name="quantity">Above 0.</param>
    /// <param name="own">Number of the account the ladder gives today, or null.</param>
    public IReadOnlyList<StockIssue> Leave(string item, string? place, decimal quantity, string? own)
    {
        var shelf = ShelfOf(item, place);
        var issues = new List<StockIssue>();
        foreach (var part in shelf.Standing(own).Where(p => p.Quantity > 0).OrderBy(p => Fold.Same(p.Account, own)))
        {
            if (quantity == 0)
                break;
            var taken = Math.Min(quantity, part.Quantity);
            issues.Add(new(part.Account.Length == 0 ? null : part.Account, taken, UnitOf(part)));
            quantity -= taken;
        }
        if (quantity > 0)
            issues.Add(new(null, quantity, shelf.LastCost));
        return issues;
    }

    /// <summary>What stands of an item at a place, account by account.</summary>
    /// <param name="item">Code of the item.</param>
    /// <param name="place">Code of the location; null: said nowhere.</param>
    public IReadOnlyList<StockPart> Standing(string item, string? place) => ShelfOf(item, place).Standing(null);

    /// <summary>What one unit is worth on the average of all accounts; null where nothing is there.</summary>
    public decimal? Average(string item, string? place)
    {
        var there = Standing(item, place).Where(p => p.Quantity > 0).ToList();
        return there.Count == 0 ? null : UnitOf(new("", there.Sum(p => p.Quantity), there.Sum(p => p.Value)));
    }

    static decimal UnitOf(StockPart part) => Math.Max(0, Money.Round(part.Value / part.Quantity, UnitDecimals));

    /// <summary>What an event has moved stands there from now on.</summary>
    internal void Apply(StockMovement moved)
    {
        if (moved.Subledger != Subledger.Inventory || moved.Item is not { } item)
            return;
        Move(item.Code, moved.Location?.Code, new(moved.Row?.Account.Number ?? "", moved.Quantity, moved.Amount));
        if (moved.Quantity > 0 && moved.Amount > 0)
            ShelfOf(item.Code, moved.Location?.Code).LastCost = Money.Round(moved.Amount / moved.Quantity, UnitDecimals);
    }

    /// <summary>Adds to what stands on one account.</summary>
    /// <param name="item">Code of the item.</param>
    /// <param name="place">Code of the location; null: said nowhere.</param>
    /// <param name="more">The account, with quantity and value that come to it, signed.</param>
    public void Move(string item, string? place, StockPart more)
    {
        var shelf = ShelfOf(item, place);
        before.TryAdd(new(item, place), shelf.Standing(null));
        var parts = shelf.Parts;
        var at = parts.FindIndex(p => Fold.Same(p.Account, more.Account));
        if (at < 0)
            parts.Add(more);
        else
            parts[at] = Sum(parts[at], more);
    }

    /// <summary>From here on it is noted what stood before the first move.</summary>
    public void Watch() => before.Clear();

    /// <summary>What was given back so far stood there before.</summary>
    public void BeginAgain()
    {
        foreach (var shelf in before.Keys.ToList())
            before[shelf] = Standing(shelf.Item, shelf.Location);
    }

    /// <summary>What was moved since, shelf by shelf: what stood there before, what stands there, and the cost at which it last came.</summary>
    internal IEnumerable<(StockPlace Of, IReadOnlyList<StockPart> Before, IReadOnlyList<StockPart> Now, decimal? LastCost)> Moved() =>
        before.Select(shelf => (shelf.Key, shelf.Value, Standing(shelf.Key.Item, shelf.Key.Location),
            ShelfOf(shelf.Key.Item, shelf.Key.Location).LastCost));

    /// <summary>The books are asked for what stands there.</summary>
    internal void Ask(StockPlace of) => ShelfOf(of.Item, of.Location);

    Shelf ShelfOf(string item, string? place)
    {
        var key = (Fold.Of(item), place is null ? "" : Fold.Of(place));
        Asked.Add(key);
        if (!shelves.TryGetValue(key, out var shelf))
            shelves[key] = shelf = new();
        return shelf;
    }
}
