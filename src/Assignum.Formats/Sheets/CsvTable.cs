using System.Globalization;
using System.Text;
using CsvHelper;
using CsvHelper.Configuration;

namespace Assignum.Formats.Sheets;

/// <summary>Writes a table as CSV (RFC 4180), UTF-8 with a mark, so that spreadsheets read it rightly. A text that would start a formula is put behind an
/// apostrophe.</summary>
public static class CsvTable
{
    static readonly CsvConfiguration Settings = new(CultureInfo.InvariantCulture)
    {
        // A lone line feed breaks a record too, whatever this file ends its records with.
        NewLine = "\r\n", ShouldQuote = cell => cell.Field.AsSpan().IndexOfAny("\r\n") >= 0 || ConfigurationFunctions.ShouldQuote(cell),
    };

    /// <summary>Writes it; the stream stays open.</summary>
    public static void Write(Stream to, Table table)
    {
        using var writer = new StreamWriter(to, new UTF8Encoding(encoderShouldEmitUTF8Identifier: true), leaveOpen: true);
        using var csv = new CsvWriter(writer, Settings);
        foreach (var column in table.Columns)
            csv.WriteField(FormulaSafe.Of(column));
        csv.NextRecord();
        foreach (var row in table.Rows)
        {
            foreach (var cell in row)
                WriteCell(csv, cell);
            csv.NextRecord();
        }
    }

    // Only text can start a formula; an amount keeps its sign.
    static void WriteCell(CsvWriter csv, object? cell) => csv.WriteField(cell switch
    {
        null => "",
        DateOnly day => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        bool yes => yes ? "yes" : "no",
        IFormattable number => number.ToString(null, CultureInfo.InvariantCulture),
        _ => FormulaSafe.Of(cell.ToString() ?? ""),
    });
}
