using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Charts;

/// <summary>A code of the file, with what it stands on.</summary>
/// <param name="Code">As written.</param>
/// <param name="Rows">How many rows have it.</param>
/// <param name="Examples">The first few rows, "1000 Kasse".</param>
public sealed record FileCode(string Code, int Rows, IReadOnlyList<string> Examples);

/// <summary>Reads the rows of a sheet by a mapping.</summary>
public static class ChartSheet
{
    const int MostExamples = 3;

    /// <summary>The rows below the headings as accounts are planned from them, with the file's codes put into our words.</summary>
    public static IReadOnlyList<ChartRow> Rows(Sheet sheet, ChartMapping mapping)
    {
        var classes = Folded(mapping.Classes);
        var kinds = Folded(mapping.Kinds);
        var values = ChartMapping.FieldsOfValues.Keys.ToDictionary(f => f, f => Folded(mapping.MeaningsOf(f)));
        return [.. Below(sheet, mapping).Select(row =>
            new ChartRow(row.Line, Number(Cell(row, "number")), Cell(row, "name"), InOurs(classes, Cell(row, "class")), InOurs(kinds, Cell(row, "kind")),
            Number(Cell(row, "parent")))
        {
            ShortName = Cell(row, "shortName"), Description = Cell(row, "description"), Control = Value(row, "control"), Manual = Value(row, "manual"),
            TaxCode = Cell(row, "taxCode"), ItemTaxGroup = Cell(row, "itemTaxGroup"), Active = Value(row, "active"),
        }).Where(row => ChartFields.All.Any(f => row[f.Name].Length > 0))];

        string Value(SheetRow row, string field) => InOurs(values[field], Cell(row, field)) is var word && word == ChartMapping.None ? "" : word;

        string Cell(SheetRow row, string field) => mapping.Columns.TryGetValue(field, out var column) ? row[column] : "";
    }

    /// <summary>The rows below the headings, as written.</summary>
    public static IEnumerable<SheetRow> Below(Sheet sheet, ChartMapping mapping) => sheet.Rows.Where(r => r.Line > mapping.HeaderLine);

    /// <summary>Headings of the columns; where there is none, the letter that a spreadsheet gives the column.</summary>
    public static IReadOnlyList<string> HeadingsOf(Sheet sheet, ChartMapping mapping)
    {
        var at = sheet.Rows.ToList().FindIndex(r => r.Line == mapping.HeaderLine);
        return [.. Enumerable.Range(0, sheet.Columns).Select(column => at < 0 ? "" : MappingProposal.HeadingAt(sheet, at, column)).Select((heading, column) =>
            heading.Length > 0 ? heading : "column " + Letter(column))];
    }

    /// <summary>The codes of a column, the most frequent first.</summary>
    public static IReadOnlyList<FileCode> CodesOf(Sheet sheet, ChartMapping mapping, string field)
    {
        if (!mapping.Columns.TryGetValue(field, out var column))
            return [];
        return [.. Below(sheet, mapping).Where(r => r[column].Length > 0).GroupBy(r => Headings.Folded(r[column])).OrderByDescending(g => g.Count())
            .Select(g => new FileCode(g.First()[column], g.Count(), [.. g.Take(MostExamples).Select(Said)]))];

        string Said(SheetRow row) => $"{(mapping.Columns.TryGetValue("number", out var number) ? row[number] : "")} " +
            $"{(mapping.Columns.TryGetValue("name", out var name) ? row[name] : "")}".Trim();
    }

    /// <summary>The meaning of a code in a mapping; null when it has none.</summary>
    public static string? MeaningOf(IReadOnlyDictionary<string, string> meanings, string code) => Folded(meanings).GetValueOrDefault(Headings.Folded(code));

    static Dictionary<string, string> Folded(IReadOnlyDictionary<string, string> meanings)
    {
        var folded = new Dictionary<string, string>();
        foreach (var (code, meaning) in meanings)
            folded[Headings.Folded(code)] = meaning;
        return folded;
    }

    static string InOurs(Dictionary<string, string> meanings, string code) => code.Length == 0 ? "" : meanings.GetValueOrDefault(Headings.Folded(code), code);

    // Spreadsheets keep numbers as text behind an apostrophe, and whole ones with a needless decimal.
    static string Number(string cell)
    {
        var number = cell.TrimStart('\'', '’').Trim();
        var dot = number.IndexOf('.', StringComparison.Ordinal);
        return dot > 0 && number[..dot].All(char.IsAsciiDigit) && number[(dot + 1)..] is "0" or "00" ? number[..dot] : number;
    }

    internal static string Letter(int column) => column < 26 ? ((char)('A' + column)).ToString() : Letter((column / 26) - 1) + (char)('A' + (column % 26));
}
