using System.Text;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;

namespace Assignum.Testing;

/// <summary>
/// A chart of 1,700 rows as somebody might hand it over: titles above the table, headings over two lines, another language, own codes for class and kind,
/// numbers as text, needless spaces, two numbers twice, an account whose parent is missing. Made up; the same every time.
/// </summary>
public static class MessyChart
{
    /// <summary>Rows below the headings, how many of them can be taken in, and how many are refused.</summary>
    public const int Rows = 1700, Sound = 1697, Refused = 3;

    static readonly (string Digit, string Class, string[] Names)[] Parts =
    [
        ("1", "Aktiv", ["Kasse", "Bank", "Forderungen", "Maschinen", "Vorräte"]), ("2", "Passiv", ["Verbindlichkeiten", "Darlehen", "Rückstellungen"]), ("3", "EK", ["Kapital", "Rücklagen"]),
        ("4", "Erl", ["Erlöse", "Verkaufserlöse"]), ("5", "WE", ["Wareneinsatz", "Fremdleistungen"]), ("6", "Aufw", ["Miete", "Löhne", "Strom", "Versicherungen"]),
    ];

    /// <summary>Semicolons, Windows-1252, CRLF.</summary>
    public static byte[] Csv()
    {
        Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);
        var text = new StringBuilder();
        foreach (var row in Table())
            text.AppendJoin(';', row.Select(c => c.Contains(';', StringComparison.Ordinal) ? $"\"{c}\"" : c)).Append("\r\n");
        return Encoding.GetEncoding(1252).GetBytes(text.ToString());
    }

    /// <summary>An XLSX with an empty first sheet, merged headings, and numbers stored as numbers and as text by turns.</summary>
    public static byte[] Xlsx()
    {
        using var buffer = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(buffer, SpreadsheetDocumentType.Workbook))
        {
            var workbook = document.AddWorkbookPart();
            var cover = workbook.AddNewPart<WorksheetPart>();
            cover.Worksheet = new Worksheet(new SheetData(new Row(TextCell("Deckblatt")) { RowIndex = 1 }));
            var sheet = workbook.AddNewPart<WorksheetPart>();
            var data = new SheetData();
            uint line = 0;
            foreach (var row in Table())
                data.Append(new Row(row.Select((cell, i) => CellOf(cell, i, line))) { RowIndex = ++line });
            sheet.Worksheet = new Worksheet(data, new MergeCells(new MergeCell { Reference = "A1:F1" }, new MergeCell { Reference = "A4:B4" }, new MergeCell { Reference = "C4:E4" }));
            workbook.Workbook = new Workbook(new Sheets(new Sheet { Id = workbook.GetIdOfPart(cover), SheetId = 1, Name = "Deckblatt" }, new Sheet { Id = workbook.GetIdOfPart(sheet), SheetId = 2, Name = "Kontenplan" }));
        }
        return buffer.ToArray();
    }

    static Cell CellOf(string text, int column, uint line) =>
        column is 0 or 4 && line % 2 == 0 && long.TryParse(text, out _) ? new Cell(new CellValue(text.Trim() + ".0")) { DataType = CellValues.Number } : TextCell(text);

    static Cell TextCell(string text) => new(new InlineString(new Text(text) { Space = SpaceProcessingModeValues.Preserve })) { DataType = CellValues.InlineString };

    static IEnumerable<string[]> Table()
    {
        yield return ["Kontenplan der alten Gärtnerei", "", "", "", "", ""];
        yield return ["Stand 30.09.2026; gedruckt", "", "", "", "", ""];
        yield return ["", "", "", "", "", ""];
        yield return ["Konto", "", "Einordnung", "", "", "Steuer"];
        yield return ["Konto-Nr.", "Bezeichnung", "Kontoart", "Zeilenart", "Summenkonto", "Bemerkung"];
        var written = 0;
        string[]? twice = null;
        foreach (var (digit, code, names) in Parts)
        {
            yield return Row(digit + "00000", names[0] + " gesamt", code, "Ü", "");
            for (var group = 1; group <= 9; group++)
            {
                yield return Row($"{digit}{group}0000", $"{names[group % names.Length]} Gruppe {group} ", code, "Ü", digit + "00000");
                for (var i = 0; i < 30 && written < Rows - Refused; i++)
                    yield return twice = Row($"{digit}{group}{i:00}10", $"  {names[i % names.Length]}  {digit}{group}-{i}", code, "K", $"{digit}{group}0000 ");
            }
        }
        for (var i = 0; written < Rows - Refused; i++)
            yield return Row($"69{i:00}50", $"Sonstige Kosten {i}", "Aufw", "K", "690000");
        yield return Row(twice![0], twice[1], twice[2], twice[3], twice[4]);
        yield return Row(" 110010", "Noch einmal", "Aktiv", "K", "110000");
        yield return Row("999999", "Ohne Oberkonto", "Aufw", "K", "990000");

        string[] Row(string number, string name, string accountClass, string kind, string parent)
        {
            written++;
            return [number, name, accountClass, kind, parent, ""];
        }
    }
}
