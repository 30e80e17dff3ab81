using System.IO.Compression;
using System.Xml;

namespace Assignum.Formats.Sheets;

/// <summary>The parts of an XLSX file, each read as a stream, without entities and only so deep.</summary>
sealed class XlsxPackage : IDisposable
{
    readonly ZipArchive archive;
    readonly SheetBounds bounds;
    readonly Dictionary<string, ZipArchiveEntry> parts = new(StringComparer.OrdinalIgnoreCase);
    readonly string workbook;
    readonly IReadOnlyList<(string Id, string Type, string Target)> ofWorkbook;

    internal XlsxPackage(Stream stream, SheetBounds bounds)
    {
        this.bounds = bounds;
        archive = new ZipArchive(stream, ZipArchiveMode.Read);
        if (archive.Entries.Count > SheetBounds.MostParts)
            throw new SheetTooLarge($"The file has {archive.Entries.Count:N0} parts, more than any sheet needs. Save it once more as XLSX or CSV, and choose " +
                "that file.");
        foreach (var entry in archive.Entries)
            parts.TryAdd(entry.FullName.TrimStart('/'), entry);
        workbook = Relations("_rels/.rels", "").FirstOrDefault(r => r.Type == "officeDocument").Target ?? throw new InvalidDataException("No workbook.");
        var folder = workbook.Contains('/', StringComparison.Ordinal) ? workbook[..(workbook.LastIndexOf('/') + 1)] : "";
        ofWorkbook = Relations($"{folder}_rels/{workbook[folder.Length..]}.rels", folder);
    }

    /// <summary>Names of the sheets with their parts, in their order.</summary>
    internal List<(string Name, string Part)> Sheets()
    {
        var sheets = new List<(string, string)>();
        using var reader = Open(workbook);
        while (Next(reader))
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "sheet" } && Attribute(reader, "id") is { } id
                && ofWorkbook.FirstOrDefault(r => r.Id == id && r.Type == "worksheet").Target is { } part)
            {
                if (sheets.Count == SheetBounds.MostSheets)
                    throw new SheetTooLarge($"The file has more than {SheetBounds.MostSheets} sheets. Save only the one that is needed, and choose that file.");
                var name = reader.GetAttribute("name") ?? "";
                bounds.Text(name.Length, name.Length, "A sheet's name");
                sheets.Add((name, part));
            }
        return sheets;
    }

    /// <summary>Texts that cells refer to by number.</summary>
    internal List<string> SharedStrings()
    {
        var strings = new List<string>();
        if (PartOf("sharedStrings") is not { } part)
            return strings;
        using var reader = Open(part);
        while (Next(reader))
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "si" })
            {
                if (strings.Count == SheetBounds.MostStrings)
                    throw new SheetTooLarge($"The file has more than {SheetBounds.MostStrings:N0} different texts. Save only the sheet that is needed, and " +
                        "choose that file.");
                strings.Add(Text(reader, $"Text {strings.Count + 1} of the file"));
            }
        return strings;
    }

    /// <summary>For each cell format how many digits it shows: formats such as "0000" show leading zeros that are not stored.</summary>
    internal int[] LeadingZeros()
    {
        if (PartOf("styles") is not { } part)
            return [];
        var (digits, formats, inFormats) = (new Dictionary<string, int>(StringComparer.Ordinal), new List<int>(), false);
        using var reader = Open(part);
        while (Next(reader))
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "numFmt" } && reader.GetAttribute("formatCode") is { Length: > 1 and < 40 } code
                && code.All(c => c == '0'))
                digits[reader.GetAttribute("numFmtId") ?? ""] = code.Length;
            else if (reader.LocalName == "cellXfs")
                inFormats = reader is { NodeType: XmlNodeType.Element, IsEmptyElement: false };
            else if (inFormats && reader is { NodeType: XmlNodeType.Element, LocalName: "xf" })
                formats.Add(digits.GetValueOrDefault(reader.GetAttribute("numFmtId") ?? ""));
        return [.. formats];
    }

    /// <summary>Opens a part. Entities are not read, and reading ends where an element stands too deep.</summary>
    internal XmlReader Open(string part) =>
        XmlReader.Create(new Counted(parts.TryGetValue(part, out var entry) ? entry.Open() : throw new InvalidDataException($"No part {part}."), bounds),
            new XmlReaderSettings { DtdProcessing = DtdProcessing.Prohibit, XmlResolver = null, IgnoreComments = true, IgnoreProcessingInstructions = true,
                CloseInput = true });

    /// <summary>Goes on to the next node, and refuses one that stands too deep.</summary>
    internal bool Next(XmlReader reader) => Next(reader, bounds);

    internal static bool Next(XmlReader reader, SheetBounds bounds)
    {
        bounds.Go();
        if (!reader.Read())
            return false;
        return reader.Depth <= SheetBounds.DeepestElement ? true
            : throw new SheetTooLarge($"The file nests elements more than {SheetBounds.DeepestElement} deep, which no spreadsheet does. Save it once more as " +
                "XLSX or CSV, and choose that file.");
    }

    /// <summary>The text within the element the reader stands on, without readings (phonetic runs); the reader ends on its end.</summary>
    internal string Text(XmlReader reader, string where) => Text(reader, bounds, where);

    internal static string Text(XmlReader reader, SheetBounds bounds, string where)
    {
        if (reader.IsEmptyElement)
            return "";
        var (depth, text, skipped) = (reader.Depth, "", -1);
        while (Next(reader, bounds) && reader.Depth > depth)
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "rPh", IsEmptyElement: false })
                skipped = reader.Depth;
            else if (reader.NodeType == XmlNodeType.EndElement && reader.Depth == skipped)
                skipped = -1;
            else if (skipped < 0 && reader.NodeType is XmlNodeType.Text or XmlNodeType.SignificantWhitespace or XmlNodeType.Whitespace or XmlNodeType.CDATA)
            {
                text += reader.Value;
                bounds.Text(text.Length, reader.Value.Length, where);
            }
        return text;
    }

    internal static string? Attribute(XmlReader reader, string localName)
    {
        for (var i = 0; i < reader.AttributeCount; i++)
        {
            reader.MoveToAttribute(i);
            if (reader.LocalName != localName || (localName == "id" && reader.NamespaceURI.Length == 0))
                continue;
            var value = reader.Value;
            reader.MoveToElement();
            return value;
        }
        reader.MoveToElement();
        return null;
    }

    string? PartOf(string type) => ofWorkbook.FirstOrDefault(r => r.Type == type).Target;

    List<(string Id, string Type, string Target)> Relations(string part, string folder)
    {
        var relations = new List<(string, string, string)>();
        if (!parts.ContainsKey(part))
            return relations;
        using var reader = Open(part);
        while (Next(reader))
            if (reader is { NodeType: XmlNodeType.Element, LocalName: "Relationship" } && reader.GetAttribute("TargetMode") != "External"
                && reader.GetAttribute("Target") is { } target)
                relations.Add((reader.GetAttribute("Id") ?? "", (reader.GetAttribute("Type") ?? "").Split('/')[^1], target.StartsWith('/') ? target[1..]
                    : folder + target));
        return relations;
    }

    public void Dispose() => archive.Dispose();

    /// <summary>A part while it unpacks: what comes out is counted, whatever the archive says of its size.</summary>
    sealed class Counted(Stream inner, SheetBounds bounds) : Stream
    {
        public override int Read(byte[] buffer, int offset, int count)
        {
            var read = inner.Read(buffer, offset, count);
            bounds.Unpacked(read);
            return read;
        }

        public override bool CanRead => true;
        public override bool CanSeek => false;
        public override bool CanWrite => false;
        public override long Length => throw new NotSupportedException();
        public override long Position { get => throw new NotSupportedException(); set => throw new NotSupportedException(); }
        public override void Flush()
        {
        }

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();
        public override void SetLength(long value) => throw new NotSupportedException();
        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        protected override void Dispose(bool disposing)
        {
            inner.Dispose();
            base.Dispose(disposing);
        }
    }
}
