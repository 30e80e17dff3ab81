using System.IO.Compression;
using System.Runtime.InteropServices;
using System.Xml;

namespace Assignum.Formats.Sheets;

/// <summary>Reads the sheets of an XLSX file (ECMA-376) as text: numbers as they are stored, with the leading zeros their format shows; merged cells each
/// carry what is written in the first.</summary>
static class XlsxSheets
{
    internal static ReadSheets Read(ReadOnlyMemory<byte> file, SheetBounds bounds)
    {
        try
        {
            using var stream = MemoryMarshal.TryGetArray(file, out var array) ? new MemoryStream(array.Array!, array.Offset, array.Count, writable: false)
                : new MemoryStream(file.ToArray(), writable: false);
            using var package = new XlsxPackage(stream, bounds);
            return Read(package, bounds);
        }
        catch (SheetTooLarge refused)
        {
            return ReadSheets.Refused(refused.Message);
        }
        catch (Exception fault) when (fault is InvalidDataException or XmlException or InvalidOperationException or FormatException or ArgumentException
            or IOException)
        {
            return ReadSheets.Refused("The file begins like an XLSX file and can't be read as one. Open it, save it once more as XLSX or CSV, and choose " +
                "that file.");
        }
    }

    static ReadSheets Read(XlsxPackage package, SheetBounds bounds)
    {
        var listed = package.Sheets();
        if (listed.Count == 0)
            return ReadSheets.Refused("The file has no sheets. Choose an XLSX file with the chart on a sheet.");
        var (strings, zeros) = (package.SharedStrings(), package.LeadingZeros());
        var written = new List<Sheet>();
        foreach (var (name, part) in listed)
        {
            using var reader = package.Open(part);
            var rows = new XlsxRows(reader, strings, zeros, bounds, name).All();
            if (rows.Count > 0)
                written.Add(new Sheet(name, rows));
        }
        return written.Count == 0 ? ReadSheets.Refused("No sheet of the file has anything written on it. Choose the file with the chart.")
            : new ReadSheets(written, null, written.Count == 1 ? $"XLSX, sheet {written[0].Name}" : $"XLSX, {written.Count} sheets");
    }
}
