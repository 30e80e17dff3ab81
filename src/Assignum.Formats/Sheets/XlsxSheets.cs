using System.Globalization;
using System.IO.Compression;
using System.Runtime.InteropServices;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;

namespace Assignum.Formats.Sheets;

/// <summary>Reads the sheets of an XLSX file (ECMA-376) as text: numbers as they are stored, with the leading zeros their format shows; merged cells each carry what is written in the first.</summary>
static class XlsxSheets
{
    const long LargestUnpacked = 400L << 20;
    const int MostMergedCells = 20_000;

    internal static ReadSheets Read(ReadOnlyMemory<byte> file)
    {
        try
        {
            using var stream = StreamOf(file);
            if (Unpacked(stream) > LargestUnpacked)
                return ReadSheets.Refused($"The file unpacks to more than {LargestUnpacked >> 20} MB. Save only the sheet with the chart, and choose that file.");
            stream.Position = 0;
            using var document = SpreadsheetDocument.Open(stream, isEditable: false);
            return Read(document);
        }
        catch (Exception fault) when (fault is OpenXmlPackageException or InvalidDataException or FileFormatException or System.Xml.XmlException or InvalidOperationException or FormatException or ArgumentException or KeyNotFoundException)
        {
            return ReadSheets.Refused("The file begins like an XLSX file and can't be read as one. Open it, save it once more as XLSX or CSV, and choose that file.");
        }
    }

    static MemoryStream StreamOf(ReadOnlyMemory<byte> file) =>
        MemoryMarshal.TryGetArray(file, out var array) ? new MemoryStream(array.Array!, array.Offset, array.Count, writable: false) : new MemoryStream(file.ToArray(), writable: false);

    static long Unpacked(Stream stream)
    {
        using var archive = new ZipArchive(stream, ZipArchiveMode.Read, leaveOpen: true);
        return archive.Entries.Sum(e => e.Length);
    }

    static ReadSheets Read(SpreadsheetDocument document)
    {
        if (document.WorkbookPart is not { Workbook.Sheets: { } listed } workbook)
            return ReadSheets.Refused("The file has no sheets. Choose an XLSX file with the chart on a sheet.");
        var strings = workbook.SharedStringTablePart?.SharedStringTable?.Elements<SharedStringItem>().Select(s => s.InnerText).ToArray() ?? [];
        var zeros = LeadingZeros(workbook);
        var sheets = new List<Sheet>();
        foreach (var sheet in listed.Elements<DocumentFormat.OpenXml.Spreadsheet.Sheet>())
        {
            if (sheet.Id?.Value is not { } id || workbook.GetPartById(id) is not WorksheetPart part)
                continue;
            var rows = Rows(part, strings, zeros);
            if (rows.Count > SheetFile.MostRows + 1)
                return ReadSheets.Refused(SheetFile.TooManyRows);
            sheets.Add(new Sheet(sheet.Name?.Value ?? "", [.. rows.Where(r => !r.IsBlank)]));
        }
        var written = sheets.Where(s => s.Rows.Count > 0).ToList();
        return written.Count == 0 ? ReadSheets.Refused("No sheet of the file has anything written on it. Choose the file with the chart.")
            : new ReadSheets(written, null, written.Count == 1 ? $"XLSX, sheet {written[0].Name}" : $"XLSX, {written.Count} sheets");
    }

    // Formats such as "0000" show a number with leading zeros that are not stored.
    static int[] LeadingZeros(WorkbookPart workbook)
    {
        var styles = workbook.WorkbookStylesPart?.Stylesheet;
        var formats = styles?.NumberingFormats?.Elements<NumberingFormat>().Where(f => f.NumberFormatId is not null && f.FormatCode?.Value is { Length: > 1 } code && code.All(c => c == '0'))
            .ToDictionary(f => f.NumberFormatId!.Value, f => f.FormatCode!.Value!.Length) ?? [];
        return styles?.CellFormats?.Elements<CellFormat>().Select(f => f.NumberFormatId is { } id ? formats.GetValueOrDefault(id.Value) : 0).ToArray() ?? [];
    }

    static List<SheetRow> Rows(WorksheetPart part, string[] strings, int[] zeros)
    {
        var rows = new List<SheetRow>();
        var merged = new List<string>();
        using var reader = OpenXmlReader.Create(part);
        while (reader.Read())
        {
            if (reader.ElementType == typeof(Row) && reader.IsStartElement)
            {
                var row = (Row)reader.LoadCurrentElement()!;
                rows.Add(new SheetRow((int)(row.RowIndex?.Value ?? (uint)rows.Count + 1), Cells(row, strings, zeros)));
                if (rows.Count > SheetFile.MostRows + 1)
                    break;
            }
            else if (reader.ElementType == typeof(MergeCell) && reader.IsStartElement && reader.Attributes.FirstOrDefault(a => a.LocalName == "ref").Value is { } reference)
                merged.Add(reference);
        }
        foreach (var reference in merged)
            Fill(rows, reference);
        return rows;
    }

    static List<string> Cells(Row row, string[] strings, int[] zeros)
    {
        var cells = new List<string>();
        foreach (var cell in row.Elements<Cell>())
        {
            var column = cell.CellReference?.Value is { } reference ? ColumnOf(reference) : cells.Count;
            if (column >= SheetFile.MostColumns)
                break;
            while (cells.Count < column)
                cells.Add("");
            cells.Add(SheetFile.Cleaned(TextOf(cell, strings, zeros)));
        }
        return cells;
    }

    static string TextOf(Cell cell, string[] strings, int[] zeros)
    {
        var value = cell.CellValue?.Text ?? "";
        if (cell.DataType?.Value is not { } type || type == CellValues.Number)
            return Numeral(value, cell.StyleIndex?.Value is { } style && style < zeros.Length ? zeros[style] : 0);
        if (type == CellValues.SharedString)
            return int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out var at) && at < strings.Length ? strings[at] : "";
        if (type == CellValues.InlineString)
            return cell.InlineString?.InnerText ?? "";
        return type == CellValues.Boolean ? value == "1" ? "yes" : "no" : type == CellValues.Error ? "" : value;
    }

    // 1100, 1100.0 and 1.1E3 are stored for the same number.
    static string Numeral(string value, int digits) =>
        decimal.TryParse(value, NumberStyles.Float, CultureInfo.InvariantCulture, out var number)
            ? (number % 1 == 0 ? decimal.Truncate(number).ToString(CultureInfo.InvariantCulture).PadLeft(digits, '0') : number.ToString("0.############", CultureInfo.InvariantCulture))
            : value;

    static int ColumnOf(string reference)
    {
        var column = 0;
        foreach (var c in reference.TakeWhile(char.IsAsciiLetter))
            column = (column * 26) + (char.ToUpperInvariant(c) - 'A' + 1);
        return column - 1;
    }

    static int RowOf(string reference) => int.Parse(reference.AsSpan(reference.TakeWhile(char.IsAsciiLetter).Count()), NumberStyles.None, CultureInfo.InvariantCulture);

    static void Fill(List<SheetRow> rows, string reference)
    {
        if (reference.Split(':') is not [var first, var last])
            return;
        var (left, right, top, bottom) = (ColumnOf(first), ColumnOf(last), RowOf(first), RowOf(last));
        if ((long)(right - left + 1) * (bottom - top + 1) > MostMergedCells || right >= SheetFile.MostColumns)
            return;
        var value = rows.Find(r => r.Line == top)?[left] ?? "";
        for (var i = 0; i < rows.Count; i++)
        {
            if (rows[i].Line < top || rows[i].Line > bottom)
                continue;
            var cells = rows[i].Cells.ToList();
            while (cells.Count <= right)
                cells.Add("");
            for (var column = left; column <= right; column++)
                cells[column] = value;
            rows[i] = rows[i] with { Cells = cells };
        }
    }
}
