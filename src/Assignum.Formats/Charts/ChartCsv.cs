using System.Globalization;
using System.Text;
using Assignum.Core.Charts;
using CsvHelper;
using CsvHelper.Configuration;

namespace Assignum.Formats.Charts;

/// <summary>A chart file as read.</summary>
/// <param name="Rows">Its rows; empty when the file was refused.</param>
/// <param name="Fault">Why the whole file is refused, and the mend; null when it was read.</param>
/// <param name="Said">What was found out about the file: "Windows-1252, separated by semicolons".</param>
public sealed record ReadChart(IReadOnlyList<ChartRow> Rows, string? Fault, string Said);

/// <summary>Reads a chart of accounts from CSV with columns number, name, class, kind and parent, in any order. Encoding and separator are found out.</summary>
public static class ChartCsv
{
    /// <summary>Largest file, in bytes, and most rows.</summary>
    public const int LargestFile = 10 << 20, MostRows = 50_000;

    static readonly Dictionary<char, string> Separators = new() { [','] = "commas", [';'] = "semicolons", ['\t'] = "tabs", ['|'] = "bars" };
    static readonly string[] Columns = ["number", "name", "class", "kind", "parent"];

    static ChartCsv() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>Reads a file.</summary>
    /// <param name="file">Its bytes, at most <see cref="LargestFile"/>.</param>
    public static ReadChart Read(ReadOnlySpan<byte> file)
    {
        if (file.Length > LargestFile)
            return Refused(TooLarge(file.Length));
        if (file.IsEmpty || file.Trim(" \t\r\n"u8).IsEmpty || file.SequenceEqual("\uFEFF"u8))
            return Refused("The file is empty. Choose a CSV file with a header line: number, name, class, kind, parent.");
        if (IsBinary(file))
            return Refused("The file is not text: it holds bytes that no CSV file has. Save the sheet as CSV, and choose that file.");
        var (text, encoding) = Decode(file);
        return ReadText(text, encoding);
    }

    /// <summary>What is said of a file of more than <see cref="LargestFile"/> bytes, which need not be read for it.</summary>
    /// <param name="length">Its length in bytes.</param>
    public static string TooLarge(long length) =>
        $"The file has {length >> 20} MB. A chart of {MostRows:N0} accounts has less than {LargestFile >> 20} MB: choose the CSV file of the chart, or split it.";

    static ReadChart ReadText(string text, string encoding)
    {
        var separator = SeparatorOf(text);
        var said = $"{encoding}, separated by {Separators[separator]}";
        var broken = new List<int>();
        CsvReader csv = null!;
        var settings = new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = separator.ToString(), TrimOptions = TrimOptions.Trim, MissingFieldFound = null, IgnoreBlankLines = true, DetectColumnCountChanges = false,
            PrepareHeaderForMatch = header => header.Header.Trim().ToLowerInvariant(), BadDataFound = bad => broken.Add(bad.Context.Parser!.RawRow),
        };
        using var reader = csv = new CsvReader(new StringReader(text), settings);
        if (!csv.Read() || !csv.ReadHeader())
            return Refused("The file has no header line. Its first line names the columns: number, name, class, kind, parent.");
        var header = csv.HeaderRecord!.Select(h => h.Trim().ToLowerInvariant()).ToList();
        if (Columns.Take(2).Where(c => !header.Contains(c)).ToList() is { Count: > 0 } missing)
            return Refused($"The header line has no column {string.Join(" and no column ", missing)}; it reads: {Shortened(string.Join(separator, csv.HeaderRecord!))}. Name the columns number, name, class, kind, parent.");
        if (header.GroupBy(h => h).FirstOrDefault(h => Columns.Contains(h.Key) && h.Count() > 1) is { } twice)
            return Refused($"The header line has column {twice.Key} twice. Keep one of them.");

        var rows = new List<ChartRow>();
        var line = csv.Parser.RawRow + 1;
        while (csv.Read())
        {
            if (broken.Count > 0)
                return Refused($"Line {broken[0]} has a quotation mark in the middle of a field. Put such a field into quotation marks and double the marks in it.");
            if (rows.Count == MostRows)
                return Refused($"The file has more than {MostRows:N0} rows. Split it.");
            var row = new ChartRow(line, Field("number"), Field("name"), Field("class"), Field("kind"), Field("parent"));
            if (row is not { Number: "", Name: "", Class: "", Kind: "", Parent: "" })
                rows.Add(row);
            line = csv.Parser.RawRow + 1;
        }
        return rows.Count == 0 ? Refused("The file has a header line and no rows below it. Add a row for each account.") : new ReadChart(rows, null, said);

        string Field(string column) => header.Contains(column) ? string.Join(' ', (csv.GetField(header.IndexOf(column)) ?? "").Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries)) : "";
    }

    static ReadChart Refused(string fault) => new([], fault, "");

    static bool IsBinary(ReadOnlySpan<byte> file) =>
        !(file.Length > 1 && (file[0], file[1]) is (0xFF, 0xFE) or (0xFE, 0xFF)) && file.IndexOf((byte)0) >= 0;

    static (string Text, string Encoding) Decode(ReadOnlySpan<byte> file)
    {
        if (file.StartsWith("\uFEFF"u8))
            return (Encoding.UTF8.GetString(file[3..]), "UTF-8");
        if (file.Length > 1 && (file[0], file[1]) is (0xFF, 0xFE))
            return (Encoding.Unicode.GetString(file[2..]), "UTF-16");
        if (file.Length > 1 && (file[0], file[1]) is (0xFE, 0xFF))
            return (Encoding.BigEndianUnicode.GetString(file[2..]), "UTF-16");
        try
        {
            return (new UTF8Encoding(false, throwOnInvalidBytes: true).GetString(file), "UTF-8");
        }
        catch (DecoderFallbackException)
        {
            return (Encoding.GetEncoding(1252).GetString(file), "Windows-1252");
        }
    }

    // The separator that the header line has most of, outside quotation marks.
    static char SeparatorOf(string text)
    {
        var counts = Separators.Keys.ToDictionary(s => s, _ => 0);
        var quoted = false;
        foreach (var c in text.TrimStart())
        {
            if (c == '"')
                quoted = !quoted;
            else if (!quoted && c is '\n' or '\r')
                break;
            else if (!quoted && counts.TryGetValue(c, out var count))
                counts[c] = count + 1;
        }
        return counts.MaxBy(c => c.Value).Key;
    }

    static string Shortened(string text) => text.Length <= 80 ? text : text[..80] + "…";
}
