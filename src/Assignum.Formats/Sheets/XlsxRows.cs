using System.Globalization;
using System.Xml;

namespace Assignum.Formats.Sheets;

/// <summary>The rows of one sheet, read one after the other.</summary>
sealed class XlsxRows(XmlReader reader, IReadOnlyList<string> strings, int[] zeros, SheetBounds bounds, string sheet)
{
    readonly SortedDictionary<int, string?[]> rows = [];
    readonly List<string> merges = [];

    /// <summary>All rows on which anything is written.</summary>
    internal List<SheetRow> All()
    {
        var (row, column) = (0, -1);
        while (XlsxPackage.Next(reader, bounds))
        {
            if (reader.NodeType != XmlNodeType.Element)
                continue;
            if (reader.LocalName == "row")
                (row, column) = (RowNumber(row), -1);
            else if (reader.LocalName == "c" && row > 0)
                column = Take(row, column);
            else if (reader.LocalName == "mergeCell" && reader.GetAttribute("ref") is { } reference)
                Note(reference);
        }
        foreach (var merge in merges)
            Fill(merge);
        return [.. rows.Select(r => new SheetRow(r.Key, Array.ConvertAll(r.Value, cell => cell ?? ""))).Where(r => !r.IsBlank)];
    }

    int RowNumber(int before)
    {
        var said = reader.GetAttribute("r");
        var row = before + 1;
        if (said is not null && !int.TryParse(said, NumberStyles.None, CultureInfo.InvariantCulture, out row))
            row = -1;
        if (row is < 1 or > SheetBounds.LastRow)
            throw new SheetTooLarge($"Row {said ?? row.ToString(CultureInfo.InvariantCulture)} of sheet {sheet} lies beyond any sheet, which ends with row " +
                $"{SheetBounds.LastRow:N0}. Save the file once more, and choose it again.");
        if (rows.ContainsKey(row))
            throw new SheetTooLarge($"Row {row} stands twice on sheet {sheet}. Save the file once more, and choose it again.");
        if (rows.Count > SheetFile.MostRows)
            throw new SheetTooLarge(SheetFile.TooManyRows);
        rows[row] = [];
        return row;
    }

    // Cells stand where their address says; those beyond the columns that are read are left out.
    int Take(int row, int before)
    {
        bounds.Cell();
        var (reference, type, style) = (reader.GetAttribute("r"), reader.GetAttribute("t"), reader.GetAttribute("s"));
        var column = reference is null ? before + 1 : ColumnOf(reference, row);
        var where = $"Cell {reference ?? $"{column + 1} of row {row}"} of sheet {sheet}";
        var text = TextOf(type, style, where);
        if (column >= SheetFile.MostColumns)
            return column;
        var cells = rows[row];
        if (column < cells.Length && cells[column] is not null)
            throw new SheetTooLarge($"{where} stands there twice. Save the file once more, and choose it again.");
        if (column >= cells.Length)
            Array.Resize(ref cells, column + 1);
        cells[column] = SheetFile.Cleaned(text);
        rows[row] = cells;
        return column;
    }

    string TextOf(string? type, string? style, string where)
    {
        if (reader.IsEmptyElement)
            return "";
        var (depth, value, inline) = (reader.Depth, "", "");
        while (XlsxPackage.Next(reader, bounds) && reader.Depth > depth)
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "v" })
                value = XlsxPackage.Text(reader, bounds, where);
            else if (reader is { NodeType: XmlNodeType.Element, LocalName: "is" })
                inline = XlsxPackage.Text(reader, bounds, where);
        return type switch
        {
            null or "n" => Numeral(value, int.TryParse(style, NumberStyles.None, CultureInfo.InvariantCulture, out var at) && at < zeros.Length
                ? zeros[at] : 0),
            "s" => int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out var place) && place < strings.Count ? strings[place] : "",
            "inlineStr" => inline,
            "b" => value == "1" ? "yes" : "no",
            "e" => "",
            _ => value,
        };
    }

    // 1100, 1100.0 and 1.1E3 are stored for the same number.
    static string Numeral(string value, int digits)
    {
        if (!decimal.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var number))
            return value;
        return number % 1 == 0 ? decimal.Truncate(number).ToString(CultureInfo.InvariantCulture).PadLeft(digits, '0')
            : number.ToString("0.############", CultureInfo.InvariantCulture);
    }

    int ColumnOf(string reference, int row)
    {
        var (column, line) = AddressOf(reference);
        if (column is < 1 or > SheetBounds.LastColumn || line is < 1 or > SheetBounds.LastRow)
            throw new SheetTooLarge($"Cell {Short(reference)} of sheet {sheet} lies beyond any sheet. Save the file once more, and choose it again.");
        return line == row ? column - 1
            : throw new SheetTooLarge($"Cell {reference} stands in row {row} of sheet {sheet}. Save the file once more, and choose it again.");
    }

    // Column and row from 1; 0 for what is no address.
    static (int Column, int Row) AddressOf(ReadOnlySpan<char> reference)
    {
        var (column, at) = (0, 0);
        for (; at < reference.Length && char.IsAsciiLetter(reference[at]) && at < 4; at++)
            column = (column * 26) + (char.ToUpperInvariant(reference[at]) - 'A' + 1);
        return int.TryParse(reference[at..], NumberStyles.None, CultureInfo.InvariantCulture, out var row) ? (column, row) : (0, 0);
    }

    static string Short(string text) => text.Length <= 20 ? text : text[..20] + "…";

    void Note(string reference)
    {
        if (merges.Count == SheetBounds.MostMerges)
            throw new SheetTooLarge($"Sheet {sheet} has more than {SheetBounds.MostMerges:N0} merged ranges. Undo the merging of cells, and choose the file " +
                "again.");
        if (reference.Length <= 40)
            merges.Add(reference);
    }

    void Fill(string reference)
    {
        if (reference.Split(':') is not [var first, var last])
            return;
        var ((left, top), (right, bottom)) = (AddressOf(first), AddressOf(last));
        if (left < 1 || right > SheetFile.MostColumns || top < 1 || right < left || bottom < top)
            return;
        var value = rows.TryGetValue(top, out var cells) && left <= cells.Length ? cells[left - 1] ?? "" : "";
        if (value.Length == 0)
            return;
        // Only rows that are written count, so that a merge over the whole sheet costs what the sheet has.
        foreach (var row in rows.Keys.Where(r => r >= top && r <= bottom).ToList())
        {
            bounds.Go();
            bounds.Merged(right - left + 1);
            var filled = rows[row];
            if (filled.Length < right)
                Array.Resize(ref filled, right);
            Array.Fill(filled, value, left - 1, right - left + 1);
            rows[row] = filled;
        }
    }
}
