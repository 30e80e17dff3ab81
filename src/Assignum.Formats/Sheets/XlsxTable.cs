using System.Globalization;
using System.Xml;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;

namespace Assignum.Formats.Sheets;

/// <summary>Writes a table as XLSX (ECMA-376), row by row: text cells are text and never formulas, amounts and dates are numbers.</summary>
public static class XlsxTable
{
    const int Bold = 1, Amount = 2, Day = 3;
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
            workbook.Workbook = new Workbook(new DocumentFormat.OpenXml.Spreadsheet.Sheets(
                new DocumentFormat.OpenXml.Spreadsheet.Sheet { Id = workbook.GetIdOfPart(sheet), SheetId = 1, Name = SheetName(table.Name) }));
        }
        buffer.Position = 0;
        buffer.CopyTo(to);
    }

    static string SheetName(string name)
    {
        var clean = string.Concat(name.Where(c => !"[]:*?/\\'".Contains(c, StringComparison.Ordinal))).Trim();
        if (clean.Length == 0)
            return "Sheet";
        if (clean.Length > 31)
            return clean[..31];
        return clean;
    }

    static Stylesheet Styles() => new(
        new NumberingFormats(new NumberingFormat { NumberFormatId = 164, FormatCode = "yyyy-mm-dd" }) { Count = 1 },
        new Fonts(new Font(), new Font(new Bold())) { Count = 2 },
        new Fills(new Fill(new PatternFill { PatternType = PatternValues.None }),
            new Fill(new PatternFill { PatternType = PatternValues.Gray125 })) { Count = 2 },
        new Borders(new Border()) { Count = 1 },
        new CellStyleFormats(new CellFormat()) { Count = 1 },
        new CellFormats(new CellFormat(), new CellFormat { FontId = 1, ApplyFont = true }, new CellFormat { NumberFormatId = 4, ApplyNumberFormat = true },
            new CellFormat { NumberFormatId = 164, ApplyNumberFormat = true }) { Count = 4 });

    // A sheet of a hundred thousand rows is written as it comes, without an object for each cell.
    static void WriteSheet(WorksheetPart part, Table table)
    {
        var rows = table.Rows.ToList();
        using var xml = XmlWriter.Create(part.GetStream(FileMode.Create, FileAccess.Write), new XmlWriterSettings { CloseOutput = true });
        xml.WriteStartElement("worksheet", "http://schemas.openxmlformats.org/spreadsheetml/2006/main");
        xml.WriteRaw("""<sheetViews><sheetView workbookViewId="0">"""
            + """<pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen" /></sheetView></sheetViews>""");
        xml.WriteStartElement("cols");
        for (var i = 0; i < table.Columns.Count; i++)
            xml.WriteRaw(string.Create(CultureInfo.InvariantCulture,
                $"""<col min="{i + 1}" max="{i + 1}" width="{Width(table.Columns[i], rows, i)}" customWidth="1" />"""));
        xml.WriteEndElement();
        xml.WriteStartElement("sheetData");
        WriteRow(xml, table.Columns, Bold);
        foreach (var row in rows)
            WriteRow(xml, row, 0);
        xml.WriteEndElement();
        xml.WriteEndElement();
    }

    static double Width(string heading, List<IReadOnlyList<object?>> rows, int column) =>
        Math.Clamp(rows.Take(RowsMeasured).Select(r => r[column]?.ToString()?.Length ?? 0).Append(heading.Length).Max() + 2, 6, 60);

    static void WriteRow(XmlWriter xml, IReadOnlyList<object?> cells, int textStyle)
    {
        xml.WriteStartElement("row");
        foreach (var cell in cells)
            WriteCell(xml, cell, textStyle);
        xml.WriteEndElement();
    }

    static void WriteCell(XmlWriter xml, object? value, int textStyle)
    {
        xml.WriteStartElement("c");
        switch (value)
        {
            case null: break;
            case decimal amount: Number(xml, amount.ToString(CultureInfo.InvariantCulture), Amount); break;
            case int or long: Number(xml, ((IFormattable)value).ToString(null, CultureInfo.InvariantCulture), 0); break;
            case DateOnly day: Number(xml, (day.DayNumber - new DateOnly(1899, 12, 30).DayNumber).ToString(CultureInfo.InvariantCulture), Day); break;
            case bool yes: Text(xml, yes ? "yes" : "no", textStyle); break;
            default: Text(xml, value.ToString()!, textStyle); break;
        }
        xml.WriteEndElement();
    }

    static void Number(XmlWriter xml, string value, int style)
    {
        xml.WriteAttributeString("s", style.ToString(CultureInfo.InvariantCulture));
        xml.WriteElementString("v", value);
    }

    static void Text(XmlWriter xml, string value, int style)
    {
        xml.WriteAttributeString("s", style.ToString(CultureInfo.InvariantCulture));
        xml.WriteAttributeString("t", "inlineStr");
        xml.WriteStartElement("is");
        xml.WriteStartElement("t");
        xml.WriteAttributeString("xml", "space", null, "preserve");
        xml.WriteString(Printable(value));
        xml.WriteEndElement();
        xml.WriteEndElement();
    }

    // XML has no place for other control characters.
    static string Printable(string text) => text.All(IsPrintable) ? text : string.Concat(text.Where(IsPrintable));

    static bool IsPrintable(char c) => c is '\t' or '\n' or '\r' || !char.IsControl(c);
}
