using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;

namespace Assignum.Formats.Sheets;

/// <summary>Reads CSV of any usual encoding and separator; both are found out.</summary>
static class CsvSheet
{
    const int LinesLookedAt = 60;
    static readonly Dictionary<char, string> Separators = new() { [','] = "commas", [';'] = "semicolons", ['\t'] = "tabs", ['|'] = "bars" };

    static CsvSheet() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    internal static ReadSheets Read(ReadOnlySpan<byte> file, SheetBounds bounds)
    {
        if (IsBinary(file))
            return ReadSheets.Refused("The file is not text: it holds bytes that no CSV file has. Save the sheet as CSV or XLSX, and choose that file.");
        var (text, encoding) = Decode(file);
        try
        {
            return ReadText(text, encoding, bounds);
        }
        catch (SheetTooLarge refused)
        {
            return ReadSheets.Refused(refused.Message);
        }
        catch (MaxFieldSizeException)
        {
            return ReadSheets.Refused($"A field has more than {SheetBounds.LongestCell:N0} characters; perhaps a quotation mark opens and is never closed. " +
                "Correct it, and choose the file again.");
        }
    }

    static ReadSheets ReadText(string text, string encoding, SheetBounds bounds)
    {
        var separator = SeparatorOf(text);
        var broken = new List<int>();
        var settings = new CsvConfiguration(CultureInfo.InvariantCulture)
        {
            Delimiter = separator.ToString(), TrimOptions = TrimOptions.Trim, IgnoreBlankLines = true, HasHeaderRecord = false,
                MaxFieldSize = SheetBounds.LongestCell, BadDataFound = bad => broken.Add(bad.Context.Parser!.RawRow),
        };
        using var parser = new CsvParser(new StringReader(text), settings);
        var rows = new List<SheetRow>();
        var line = 1;
        while (parser.Read())
        {
            bounds.Go();
            if (broken.Count > 0)
                return ReadSheets.Refused($"Line {broken[0]} has a quotation mark in the middle of a field. Put such a field into quotation marks and double " +
                    "the marks in it.");
            var row = new SheetRow(line, [.. parser.Record!.Take(SheetFile.MostColumns).Select(SheetFile.Cleaned)]);
            line = parser.RawRow + 1;
            if (row.IsBlank)
                continue;
            foreach (var cell in row.Cells)
            {
                bounds.Cell();
                bounds.Text(cell.Length, cell.Length, $"A field of line {row.Line}");
            }
            if (rows.Count > SheetFile.MostRows)
                return ReadSheets.Refused(SheetFile.TooManyRows);
            rows.Add(row);
        }
        return new ReadSheets([new Sheet("", rows)], null, $"{encoding}, separated by {Separators[separator]}");
    }

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

    // The separator that comes equally often in the most lines; titles above the table have few, and texts have them unevenly.
    static char SeparatorOf(string text)
    {
        var lines = CountsByLine(text);
        return Separators.Keys.MaxBy(separator =>
        {
            var counts = lines.Select(l => l[separator]).Where(c => c > 0).ToList();
            return counts.Count == 0 ? 0 : counts.GroupBy(c => c).Max(g => g.Key * g.Count() * 2) + counts.Count;
        });
    }

    static List<Dictionary<char, int>> CountsByLine(string text)
    {
        var lines = new List<Dictionary<char, int>>();
        var counts = Separators.Keys.ToDictionary(s => s, _ => 0);
        var quoted = false;
        foreach (var c in text)
        {
            if (c == '"')
                quoted = !quoted;
            else if (!quoted && c == '\n')
            {
                lines.Add(counts);
                if (lines.Count == LinesLookedAt)
                    return lines;
                counts = Separators.Keys.ToDictionary(s => s, _ => 0);
            }
            else if (!quoted && counts.TryGetValue(c, out var count))
                counts[c] = count + 1;
        }
        lines.Add(counts);
        return lines;
    }
}
