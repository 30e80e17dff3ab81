namespace Assignum.Core.Posting;

/// <summary>An item at a place.</summary>
/// <param name="Item">Code of the item, as written.</param>
/// <param name="Location">Code of the location; null: said nowhere.</param>
public readonly record struct StockPlace(string Item, string? Location)
{
    internal static IEnumerable<StockPlace> Of(IReadOnlyList<GoodsLine> lines, string? location) =>
        lines.Select(line => new StockPlace(line.Item, line.Place.Location ?? location));
}
