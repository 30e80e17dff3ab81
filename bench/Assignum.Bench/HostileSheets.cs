using System.IO.Compression;
using System.Text;

namespace Assignum.Bench;

/// <summary>Files of sheets, made by hand so that nothing keeps them from being wrong.</summary>
static class HostileSheets
{
    const string Main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main",
        Relations = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
    const int Columns = 10, CellLength = 57;

    static readonly (string Name, string Text)[] Parts =
    [
        ("_rels/.rels", $"<Relationships xmlns='http://schemas.openxmlformats.org/package/2006/relationships'><Relationship Id='r1' Type='{Relations}/officeDocument' Target='xl/workbook.xml'/></Relationships>"),
        ("xl/_rels/workbook.xml.rels",
            $"<Relationships xmlns='http://schemas.openxmlformats.org/package/2006/relationships'><Relationship Id='s1' Type='{Relations}/worksheet' Target='worksheets/sheet1.xml'/><Relationship Id='t1' Type='{Relations}/sharedStrings' Target='sharedStrings.xml'/></Relationships>"),
        ("xl/workbook.xml", $"<workbook xmlns='{Main}' xmlns:r='{Relations}'><sheets><sheet name='Chart' sheetId='1' r:id='s1'/></sheets></workbook>"),
        ("xl/sharedStrings.xml", $"<sst xmlns='{Main}'><si><t>Number</t></si><si><t>Name</t></si><si><t>Class</t></si><si><r><t>Main</t></r><r><t> bank</t></r></si></sst>"),
        ("xl/worksheets/sheet1.xml", $"<worksheet xmlns='{Main}'><sheetData>{Rows()}</sheetData><mergeCells><mergeCell ref='A9:B9'/></mergeCells></worksheet>"),
    ];

    /// <summary>A chart of sixty accounts.</summary>
    internal static byte[] Sound() => WithParts(part => part);

    /// <summary>The same with each part changed before it is packed.</summary>
    internal static byte[] WithParts(Func<byte[], byte[]> change)
    {
        using var file = new MemoryStream();
        using (var archive = new ZipArchive(file, ZipArchiveMode.Create, leaveOpen: true))
            foreach (var (name, text) in Parts)
            {
                var part = Encoding.UTF8.GetBytes(text);
                using var to = archive.CreateEntry(name).Open();
                to.Write(name.StartsWith("xl/", StringComparison.Ordinal) && !name.EndsWith(".rels", StringComparison.Ordinal) ? change(part) : part);
            }
        return file.ToArray();
    }

    /// <summary>A part with something in it that no spreadsheet writes.</summary>
    internal static byte[] Worse(byte[] part, Mutations mutate)
    {
        var text = Encoding.UTF8.GetString(part);
        string[] bad =
        [
            Tower("is", 30_000), Tower("row", 5_000), "<c r='ZZZZ99999999' t='s'><v>-7</v></c>", "<c t='s'><v>99999999999</v></c>",
                "<row r='0'><c r='A0'><v>1</v></c></row>", "<row r='5'/><row r='5'/>",
            "<c r='A1' t='inlineStr'><is><t>" + new string('x', 200_000) + "</t></is></c>", "<!DOCTYPE x [<!ENTITY a 'b'>]>", "&a;",
                "<mergeCells>" + string.Concat(Enumerable.Repeat("<mergeCell ref='A1:XFD1048576'/>", 2_000)) + "</mergeCells>", "]]>", "<?xml version='1.1'?>",
        ];
        var places = Enumerable.Range(0, text.Length).Where(i => text[i] is '<').ToList();
        return Encoding.UTF8.GetBytes(text.Insert(places[mutate.Below(places.Count)], bad[mutate.Below(bad.Length)]));
    }

    /// <summary>A file of random texts that comes close to a size, with no more text than a file may have.</summary>
    internal static void WriteLarge(string path, int size)
    {
        var chance = new Random(4);
        var bytes = new byte[CellLength * 3 / 4];
        using var file = File.Create(path);
        using var archive = new ZipArchive(file, ZipArchiveMode.Create);
        foreach (var (name, text) in Parts.SkipLast(1))
        {
            using var to = archive.CreateEntry(name).Open();
            to.Write(Encoding.UTF8.GetBytes(text));
        }
        using var sheet = new StreamWriter(archive.CreateEntry("xl/worksheets/sheet1.xml", CompressionLevel.Fastest).Open());
        sheet.Write($"<worksheet xmlns='{Main}'><sheetData>");
        for (var row = 1; row <= 100_000 && file.Length < size - (1 << 20); row++)
        {
            sheet.Write($"<row r='{row}'>");
            for (var column = 0; column < Columns; column++)
            {
                chance.NextBytes(bytes);
                sheet.Write($"<c r='{(char)('A' + column)}{row}' t='inlineStr'><is><t>{Convert.ToBase64String(bytes)}</t></is></c>");
            }
            sheet.Write("</row>");
        }
        sheet.Write("</sheetData></worksheet>");
    }

    static string Tower(string element, int depth) =>
        string.Concat(Enumerable.Repeat($"<{element}>", depth)) + string.Concat(Enumerable.Repeat($"</{element}>", depth));

    static string Rows() =>
        "<row r='1'><c r='A1' t='s'><v>0</v></c><c r='B1' t='s'><v>1</v></c><c r='C1' t='s'><v>2</v></c></row>"
        + string.Concat(Enumerable.Range(2, 60).Select(r =>
            $"<row r='{r}'><c r='A{r}'><v>{1000 + r}</v></c><c r='B{r}' t='s'><v>3</v></c><c r='C{r}' t='inlineStr'><is><t>asset</t></is></c></row>"));
}
