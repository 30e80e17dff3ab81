using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Formats.Counts;

namespace Assignum.Web.Pages.TryOut;

/// <summary>What was counted beside what stands in the books.</summary>
/// <param name="Counted">The count.</param>
/// <param name="Expected">Quantity that stands in the books.</param>
/// <param name="Value">Its value, company currency.</param>
/// <param name="Worth">What the count is worth, company currency; null where no cost is known.</param>
public sealed record CountLine(Counted Counted, decimal Expected, decimal Value, decimal? Worth)
{
    /// <summary>Counted less expected.</summary>
    public decimal More => Counted.Quantity - Expected;
}

/// <summary>A count sheet, and the event that brings the books to it.</summary>
/// <param name="Lines">Every row of the sheet.</param>
/// <param name="Others">How many items and places stand in the books and are not on the sheet: they stay.</param>
public sealed record Count(IReadOnlyList<CountLine> Lines, int Others)
{
    /// <summary>Types of events a count can become.</summary>
    internal static bool Takes(string type) => type is StockAdjustment.Name or StockValue.Closing;

    /// <summary>Lays a count beside the books.</summary>
    /// <param name="counts">The count.</param>
    /// <param name="standing">Quantity and value by item and place.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    internal static Count Of(IReadOnlyList<Counted> counts, IReadOnlyDictionary<(string Item, string? Location), (decimal Quantity, decimal Value)> standing,
        int minorUnits)
    {
        var lines = counts.Select(counted =>
        {
            var (quantity, value) = standing.GetValueOrDefault((counted.Item.Code, counted.Location?.Code));
            var cost = counted.UnitCost ?? (quantity > 0 ? value / quantity : counted.Item.Cost);
            return new CountLine(counted, quantity, value, cost is { } one ? Money.Round(counted.Quantity * one, minorUnits) : null);
        }).ToList();
        var known = counts.Select(c => (c.Item.Code, c.Location?.Code)).ToHashSet();
        return new(lines, standing.Count(s => !known.Contains(s.Key) && (s.Value.Quantity != 0 || s.Value.Value != 0)));
    }

    /// <summary>The event: quantities that differ, or in books that keep stock by count, values that differ.</summary>
    internal BusinessEvent Made(string type, string id, DateOnly day) => type == StockAdjustment.Name
        ? new StockAdjustment
        {
            Id = id, Date = day, Text = "Count",
            Lines = [.. Lines.Where(line => line.More != 0).Select(line => new GoodsLine
            {
                Item = line.Counted.Item.Code, Quantity = line.More, UnitCost = line.More > 0 ? line.Counted.UnitCost : null, Reason = "count",
                Place = LinePlace.None with { Location = line.Counted.Location?.Code },
            })],
        }
        : new StockValue
        {
            Id = id, Date = day, ByCount = true, Text = "Count",
            Lines = [.. Lines.Where(line => line.Worth is { } worth && worth != line.Value).Select(line => new ValueLine
            {
                Item = line.Counted.Item.Code, Amount = line.Worth!.Value - line.Value, Place = LinePlace.None with { Location = line.Counted.Location?.Code },
            })],
        };
}
