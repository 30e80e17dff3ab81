using Assignum.Formats.Sheets;

namespace Assignum.Formats.Connections;

/// <summary>A row of a sheet of matches.</summary>
/// <param name="Line">Number of its line in the file, from 1.</param>
/// <param name="Theirs">Their code.</param>
/// <param name="Ours">Ours; empty: not said.</param>
/// <param name="Decision">What is decided, as the export writes it: "match", "not needed" or nothing.</param>
public sealed record MatchSheetRow(int Line, string Theirs, string Ours, string Decision)
{
    /// <summary>It says that the entry is not needed.</summary>
    public bool IsNotNeeded => Ours.Length == 0 && Decision.Equals("not needed", StringComparison.OrdinalIgnoreCase);
}

/// <summary>Matches as a sheet: columns theirs and ours, and decision where an entry is not needed. Other columns are for who looks up in it.</summary>
public static class MatchSheet
{
    /// <summary>Columns of the export.</summary>
    public static readonly IReadOnlyList<string> Columns = ["theirs", "name", "kind", "used", "ours", "our name", "decision", "suggested", "score", "why"];

    /// <summary>Reads one.</summary>
    /// <param name="file">A CSV or XLSX file.</param>
    /// <returns>Its rows, or why it can't be read.</returns>
    public static (IReadOnlyList<MatchSheetRow> Rows, string? Fault) Read(ReadOnlyMemory<byte> file)
    {
        var read = SheetFile.Read(file);
        if (read.Fault is { } fault)
            return ([], fault);
        if (read.Sheets.Count == 0 || read.Sheets[0].Rows.Count == 0)
            return ([], "The file is empty. It needs the headings theirs and ours.");
        var rows = read.Sheets[0].Rows;
        var names = rows[0].Cells.Select(h => h.ToLowerInvariant()).ToList();
        var (theirs, ours, decision) = (names.IndexOf("theirs"), names.IndexOf("ours"), names.IndexOf("decision"));
        return theirs < 0 || ours < 0
            ? ([], "The headings theirs and ours are missing. Export the matches, fill the column ours, and bring that file back.")
            : ([.. rows.Skip(1).Where(r => r[theirs].Length > 0).Select(r => new MatchSheetRow(r.Line, r[theirs], r[ours], r[decision]))], null);
    }
}
