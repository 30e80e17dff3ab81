using System.Globalization;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;

namespace Assignum.Formats.Sheets;

/// <summary>Writes a table as XLSX (ECMA-376), row by row: text cells are text and never formulas, amounts and dates are numbers.</summary>
public static class XlsxTable
{
    const uint Bold = 1, Amount = 2, Day = 3;
    const int RowsMeasured = 200;

    /// <summary>Writes it; the stream stays open.</summary>
    public static void Write(Stream to, Table table)
    {
        using var buffer = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(buffer, SpreadsheetDocumentType.Workbook))
        {
            var workbook = document.AddWorkbookPart();
            workbook.AddNewPart<WorkbookStylesPart>().Stylesheet = Styles();
            var sheet = workbook.AddNewPart<WorksheetPart>();
            WriteSheet(sheet, table);
            workbook.Workbook = new Workbook(new DocumentFormat.OpenXml.Spreadsheet.Sheets(new DocumentFormat.OpenXml.Spreadsheet.Sheet { Id = workbook.GetIdOfPart(sheet), SheetId = 1, Name = SheetName(table.Name) }));
        }
        buffer.Position = 0;
        buffer.CopyTo(to);
    }

    static string SheetName(string name)
    {
        var clean = string.Concat(name.Where(c => !"[]:*?/\\'".Contains(c, StringComparison.Ordinal))).Trim();
        return clean.Length == 0 ? "Sheet" : clean.Length > 31 ? clean[..31] : clean;
    }

    static Stylesheet Styles() => new(
        new NumberingFormats(new NumberingFormat { NumberFormatId = 164, FormatCode = "yyyy-mm-dd" }) { Count = 1 },
        new Fonts(new Font(), new Font(new Bold())) { Count = 2 },
        new Fills(new Fill(new PatternFill { PatternType = PatternValues.None }), new Fill(new PatternFill { PatternType = PatternValues.Gray125 })) { Count = 2 },
        new Borders(new Border()) { Count = 1 },
        new CellStyleFormats(new CellFormat()) { Count = 1 },
        new CellFormats(new CellFormat(), new CellFormat { FontId = 1, ApplyFont = true }, new CellFormat { NumberFormatId = 4, ApplyNumberFormat = true }, new CellFormat { NumberFormatId = 164, ApplyNumberFormat = true }) { Count = 4 });

    static void WriteSheet(WorksheetPart part, Table table)
    {
        var rows = table.Rows.ToList();
        using var writer = OpenXmlWriter.Create(part);
        writer.WriteStartElement(new Worksheet());
        writer.WriteElement(new SheetViews(new SheetView(new Pane { VerticalSplit = 1, TopLeftCell = "A2", ActivePane = PaneValues.BottomLeft, State = PaneStateValues.Frozen }) { WorkbookViewId = 0 }));
        writer.WriteElement(new Columns(table.Columns.Select((heading, i) => new Column { Min = (uint)i + 1, Max = (uint)i + 1, CustomWidth = true, Width = Width(heading, rows, i) })));
        writer.WriteStartElement(new SheetData());
        WriteRow(writer, [.. table.Columns], Bold);
        foreach (var row in rows)
            WriteRow(writer, row, 0);
        writer.WriteEndElement();
        writer.WriteEndElement();
    }

    static double Width(string heading, List<IReadOnlyList<object?>> rows, int column) =>
        Math.Clamp(rows.Take(RowsMeasured).Select(r => r[column]?.ToString()?.Length ?? 0).Append(heading.Length).Max() + 2, 6, 60);

    static void WriteRow(OpenXmlWriter writer, IReadOnlyList<object?> cells, uint textStyle)
    {
        writer.WriteStartElement(new Row());
        foreach (var cell in cells)
            writer.WriteElement(CellOf(cell, textStyle));
        writer.WriteEndElement();
    }

    static Cell CellOf(object? value, uint textStyle) => value switch
    {
        null => new Cell(),
        decimal amount => Number(amount.ToString(CultureInfo.InvariantCulture), Amount),
        int or long => Number(((IFormattable)value).ToString(null, CultureInfo.InvariantCulture), 0),
        DateOnly day => Number((day.DayNumber - new DateOnly(1899, 12, 30).DayNumber).ToString(CultureInfo.InvariantCulture), Day),
        bool yes => Text(yes ? "yes" : "no", textStyle),
        _ => Text(value.ToString()!, textStyle),
    };

    static Cell Number(string value, uint style) => new(new CellValue(value)) { DataType = CellValues.Number, StyleIndex = style };

    static Cell Text(string value, uint style) => new(new InlineString(new Text(Printable(value)) { Space = SpaceProcessingModeValues.Preserve })) { DataType = CellValues.InlineString, StyleIndex = style };

    // XML has no place for other control characters.
    static string Printable(string text) => string.Concat(text.Where(c => c is '\t' or '\n' or '\r' || !char.IsControl(c)));
}
