using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Counts;

/// <summary>What was counted of an item at a place.</summary>
/// <param name="Item">The item, of kind stock.</param>
/// <param name="Location">Where; null: said nowhere.</param>
/// <param name="Quantity">0 or more, at most 6 decimals.</param>
/// <param name="UnitCost">Cost of one unit, company currency; null: not on the sheet.</param>
public sealed record Counted(Item Item, Location? Location, decimal Quantity, decimal? UnitCost);

/// <summary>A row of a count sheet that counts nothing.</summary>
/// <param name="Line">Number of its line.</param>
/// <param name="Why">What is wrong, and the fix.</param>
public sealed record RefusedCount(int Line, string Why);

/// <summary>A count sheet: an item, a location where there is one, the quantity counted and perhaps the cost of one, in this order; a first row of headings is
/// passed over.</summary>
public static class CountSheet
{
    const int UnitDecimals = 6;

    /// <summary>Reads a sheet.</summary>
    /// <param name="sheet">The sheet.</param>
    /// <param name="book">The items and locations.</param>
    public static (IReadOnlyList<Counted> Counts, IReadOnlyList<RefusedCount> Refused) Read(Sheet sheet, CompiledRulebook book)
    {
        var (counts, refused) = (new Dictionary<(string, string?), Counted>(), new List<RefusedCount>());
        foreach (var (row, i) in sheet.Rows.Select((row, i) => (row, i)))
        {
            var cells = row.Cells.Select(cell => cell.Trim()).Where(cell => cell.Length > 0).ToList();
            if (cells.Count == 0 || (i == 0 && !cells.Exists(cell => Decimals.TryTyped(cell, out _))))
                continue;
            if (Of(cells, book, out var counted) is { } why)
                refused.Add(new(row.Line, why));
            else if (!counts.TryAdd((counted!.Item.Code, counted.Location?.Code), counted))
                refused.Add(new(row.Line, $"{counted.Item.Code} is counted twice{(counted.Location is { } at ? $" at {at.Code}" : "")}. Add the two up."));
        }
        return ([.. counts.Values], refused);
    }

    static string? Of(List<string> cells, CompiledRulebook book, out Counted? counted)
    {
        counted = null;
        if (!book.Items.TryFind(cells[0], out var item))
            return $"There is no item {cells[0]}. Correct the code, or add the item.";
        if (item.Kind != ItemKind.Stock)
            return $"{item.Code} {item.Name} is {Words<ItemKind>.Of(item.Kind)}, and not kept in stock. Take the row out.";
        var rest = cells.Skip(1).ToList();
        Location? location = null;
        if (rest.Count > 0 && !Decimals.TryTyped(rest[0], out _))
        {
            if (!book.Locations.TryFind(rest[0], out location))
                return $"There is no location {rest[0]}. Correct the code.";
            rest.RemoveAt(0);
        }
        if (rest.Count == 0 || !Decimals.TryTyped(rest[0], out var quantity))
            return $"The quantity of {item.Code} is missing. Give what was counted, 0 where nothing is there.";
        decimal? cost = rest.Count > 1 && Decimals.TryTyped(rest[1], out var typed) ? typed : null;
        if (quantity < 0 || cost < 0 || Places(quantity) > UnitDecimals || Places(cost ?? 0) > UnitDecimals)
            return $"Quantity and cost of {item.Code} are 0 or more, with at most {UnitDecimals} decimals. Correct them.";
        counted = new(item, location, quantity, cost);
        return null;
    }

    static int Places(decimal number) => Money.Plain(number).Scale;
}
