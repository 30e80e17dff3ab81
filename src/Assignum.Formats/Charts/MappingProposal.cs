using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Charts;

/// <summary>Proposes how a sheet becomes accounts: finds its headings, fits its columns to fields by their headings and by what stands in them, and reads its
/// codes.</summary>
public static class MappingProposal
{
    const int RowsForHeadings = 30, RowsLookedAt = 400, GoodFit = 40, MostCodes = 40, CellsThatTell = 5, ClearFit = 160, OneFit = 100, Against = -50,
        Never = -200;

    /// <summary>Proposes for the sheet that looks most like a chart.</summary>
    /// <param name="sheets">Sheets of a file, at least one.</param>
    /// <param name="sheet">Name of the sheet to take; null: the one that fits best.</param>
    public static ChartMapping For(IReadOnlyList<Sheet> sheets, string? sheet = null)
    {
        if (sheet is not null && sheets.FirstOrDefault(s => Fold.Same(s.Name, sheet)) is { } chosen)
            return For(chosen);
        return For(sheets.MaxBy(s => HeaderOf(s).Fit + Math.Min(s.Rows.Count, 50))!);
    }

    /// <summary>Proposes for a sheet, where its headings stand in a given line.</summary>
    /// <param name="sheet">The sheet.</param>
    /// <param name="headerLine">Line of the headings; 0: it has none; null: to be found.</param>
    public static ChartMapping For(Sheet sheet, int? headerLine = null)
    {
        var header = headerLine is { } line ? sheet.Rows.ToList().FindIndex(r => r.Line == line) : HeaderOf(sheet).Row;
        var mapping = new ChartMapping { Sheet = sheet.Name, HeaderLine = header < 0 ? 0 : sheet.Rows[header].Line };
        mapping = mapping with { Columns = ColumnsOf(sheet, header) };
        return WithCodes(sheet, mapping) with { Placing = mapping.Columns.ContainsKey("parent") ? Placing.ByColumn : Placing.ByNumber };
    }

    /// <summary>The same mapping with what its codes seem to mean; meanings that are there stay.</summary>
    public static ChartMapping WithCodes(Sheet sheet, ChartMapping mapping)
    {
        var kinds = Meanings(mapping.Kinds, ChartSheet.CodesOf(sheet, mapping, "kind"), code => CodeMeanings.KindOf(code.Code)?.Word());
        var known = mapping with { Kinds = kinds };
        var names = NamesByClassCode(sheet, known);
        known = known with { Values = ChartMapping.FieldsOfValues.Keys.ToDictionary(f => f, f =>
            (IReadOnlyDictionary<string, string>)Meanings(mapping.MeaningsOf(f), ChartSheet.CodesOf(sheet, mapping, f), code =>
            CodeMeanings.ValueOf(f, code.Code)))
            .Where(v => v.Value.Count > 0).ToDictionary() };
        return known with { Classes = Meanings(mapping.Classes, ChartSheet.CodesOf(sheet, mapping, "class"), code =>
            (CodeMeanings.ClassOf(code.Code) ?? CodeMeanings.ClassByNames(names[Headings.Folded(code.Code)]))?.Word()) };
    }

    static Dictionary<string, string> Meanings(IReadOnlyDictionary<string, string> there, IReadOnlyList<FileCode> codes, Func<FileCode, string?> meaning)
    {
        var meanings = there.ToDictionary();
        foreach (var code in codes.Take(MostCodes))
            if (ChartSheet.MeaningOf(meanings, code.Code) is null && meaning(code) is { } found)
                meanings[code.Code] = found;
        return meanings;
    }

    static ILookup<string, string> NamesByClassCode(Sheet sheet, ChartMapping mapping) =>
        mapping.Columns.TryGetValue("class", out var column) && mapping.Columns.TryGetValue("name", out var name)
            ? ChartSheet.Below(sheet, mapping).ToLookup(r => Headings.Folded(r[column]), r => r[name])
            : Array.Empty<string>().ToLookup(n => n);

    /// <summary>The heading of a column: its own cell, or, where that is empty, the one above it.</summary>
    internal static string HeadingAt(Sheet sheet, int row, int column)
    {
        if (sheet.Rows[row][column] is { Length: > 0 } own)
            return own;
        if (row > 0 && sheet.Rows[row - 1].Line == sheet.Rows[row].Line - 1)
            return sheet.Rows[row - 1][column];
        return "";
    }

    // The row in which the most fields find a heading; number and name weigh double.
    static (int Row, int Fit) HeaderOf(Sheet sheet)
    {
        var best = (Row: -1, Fit: 0);
        for (var row = 0; row < Math.Min(RowsForHeadings, sheet.Rows.Count); row++)
        {
            // Each heading speaks for the field it fits best, and each field counts once.
            var fit = Enumerable.Range(0, sheet.Rows[row].Cells.Count)
                .Select(c => ChartFields.All.Select(field => (Field: field, Fit: Headings.Fit(field, HeadingAt(sheet, row, c)))).MaxBy(f => f.Fit)).Where(f =>
                    f.Fit >= GoodFit)
                .GroupBy(f => f.Field).Sum(g => g.Max(f => f.Fit) * (g.Key.Required ? 2 : 1));
            if (fit > best.Fit)
                best = (row, fit);
        }
        // One word that fits by chance makes no header, unless it stands in a row of words above figures.
        return best.Fit >= ClearFit || (best.Fit >= OneFit && IsWordsAboveFigures(sheet, best.Row)) ? best : (-1, 0);
    }

    static bool IsWordsAboveFigures(Sheet sheet, int row) =>
        sheet.Rows[row].Cells.Where(c => c.Length > 0).All(c => !c.Any(char.IsAsciiDigit))
            && sheet.Rows.Skip(row + 1).Take(CellsThatTell).Any(r => r.Cells.Any(c => c.Length > 0 && c.All(char.IsAsciiDigit)));

    static Dictionary<string, int> ColumnsOf(Sheet sheet, int header)
    {
        var columns = Enumerable.Range(0, sheet.Columns).Select(c => new ColumnLook(sheet, header, c)).ToList();
        var fits = ChartFields.All.SelectMany(field => columns.Select(column => (Field: field.Name, Column: column.Index, Fit: column.Fit(field)))).Where(f =>
            f.Fit >= GoodFit).OrderByDescending(f => f.Fit).ThenBy(f => f.Column);
        var taken = new Dictionary<string, int>();
        Take();
        // What stands in a column says more of the tree than its heading: "Sammelkonto" may head parents, or the subledger an account belongs to.
        if (taken.TryGetValue("number", out var number) && !(taken.TryGetValue("parent", out var headed) && columns[headed].NamesAnyOf(columns[number]))
            && columns.Where(c => !taken.ContainsValue(c.Index)).FirstOrDefault(c => c.NamesOthersOf(columns[number])) is { } parent)
        {
            taken["parent"] = parent.Index;
            Take();
        }
        return taken;

        void Take()
        {
            foreach (var (field, column, _) in fits)
                if (!taken.ContainsKey(field) && !taken.ContainsValue(column))
                    taken[field] = column;
        }
    }

    // What stands in a column.
    sealed class ColumnLook
    {
        readonly List<string> cells;
        readonly string heading, above;
        readonly double unique, digits, letters;
        readonly bool speaks;

        internal ColumnLook(Sheet sheet, int header, int index)
        {
            Index = index;
            heading = header < 0 ? "" : HeadingAt(sheet, header, index);
            above = header > 0 ? sheet.Rows[header - 1][index] : "";
            speaks = ChartFields.All.Any(f => Headings.Fit(f, heading) > 0);
            cells = [.. sheet.Rows.Skip(header + 1).Take(RowsLookedAt).Select(r => r[index]).Where(c => c.Length > 0)];
            unique = cells.Count == 0 ? 0 : (double)cells.Distinct().Count() / cells.Count;
            digits = Share(c => c.Any(char.IsAsciiDigit) && c.Length <= AccountCheck.LongestNumber && c.Count(char.IsLetter) <= 4);
            letters = Share(c => c.Count(char.IsLetter) is > 1 and var count && count >= c.Length / 2);
        }

        internal int Index { get; }

        // A heading that says nothing by itself may do so with the one above it: "Steuer" over "Schlüssel".
        internal int Fit(ChartField field) => Headings.Fit(field, speaks ? heading : above + " " + heading) switch
        {
            0 when field.Name is "number" or "name" => heading.Length > 0 ? 0 : ByContent(field.Name),
            0 => 0,
            var fit => fit + ByContent(field.Name),
        };

        // A few cells speak for a field, but not against one.
        int ByContent(string field) => field switch
        {
            "number" => Weight(digits > .8 && unique > .8, 45, against: digits < .5),
            "name" => Weight(letters > .8 && unique > .5, 42, against: letters < .4),
            "class" or "kind" => cells.Distinct().Count() <= MostCodes ? 15 : Never,
            "parent" => Weight(digits > .8, 10, against: true),
            _ => 0,
        };

        int Weight(bool speaks, int weight, bool against)
        {
            if (speaks)
                return weight;
            return Tells && against ? Against : 0;
        }

        bool Tells => cells.Count >= CellsThatTell;

        internal bool NamesAnyOf(ColumnLook number) => number.cells.Select(Fold.Of).ToHashSet().Overlaps(cells.Select(Fold.Of));

        internal bool NamesOthersOf(ColumnLook number)
        {
            var numbers = number.cells.Select(Fold.Of).ToHashSet();
            return cells.Count > number.cells.Count / 4 && unique < .8 && Share(c => numbers.Contains(Fold.Of(c))) > .7;
        }

        double Share(Func<string, bool> has) => cells.Count == 0 ? 0 : (double)cells.Count(has) / cells.Count;
    }
}
