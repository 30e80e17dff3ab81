using System.Diagnostics;
using System.IO.Compression;
using System.Text;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Tests;

/// <summary>XLSX files that no spreadsheet writes: refused quickly, by name, with the fix.</summary>
public class HostileSheetTests
{
    const string Main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main",
        Relations = "http://schemas.openxmlformats.org/officeDocument/2006/relationships";

    /// <summary>A file whose one sheet has these contents, with further parts.</summary>
    internal static byte[] File(string sheetData, string after = "", string before = "", Action<ZipArchive>? more = null)
    {
        var file = new MemoryStream();
        using (var archive = new ZipArchive(file, ZipArchiveMode.Create, leaveOpen: true))
        {
            Write("_rels/.rels", $"<Relationships xmlns='http://schemas.openxmlformats.org/package/2006/relationships'><Relationship Id='r1' Type='{Relations}/officeDocument' Target='xl/workbook.xml'/></Relationships>");
            Write("xl/_rels/workbook.xml.rels",
                $"<Relationships xmlns='http://schemas.openxmlformats.org/package/2006/relationships'><Relationship Id='s1' Type='{Relations}/worksheet' Target='worksheets/sheet1.xml'/><Relationship Id='t1' Type='{Relations}/sharedStrings' Target='sharedStrings.xml'/></Relationships>");
            Write("xl/workbook.xml", $"<workbook xmlns='{Main}' xmlns:r='{Relations}'><sheets><sheet name='Chart' sheetId='1' r:id='s1'/></sheets></workbook>");
            Write("xl/sharedStrings.xml", $"<sst xmlns='{Main}'><si><t>Main</t><rPh sb='0' eb='1'><t>not read</t></rPh><r><t> bank</t></r></si></sst>");
            Write("xl/worksheets/sheet1.xml", $"{before}<worksheet xmlns='{Main}'><sheetData>{sheetData}</sheetData>{after}</worksheet>");
            more?.Invoke(archive);

            void Write(string name, string content)
            {
                using var to = archive.CreateEntry(name, CompressionLevel.Fastest).Open();
                to.Write(Encoding.UTF8.GetBytes(content));
            }
        }
        return file.ToArray();
    }

    static string Cell(string reference, string text) => $"<c r='{reference}' t='inlineStr'><is><t>{text}</t></is></c>";

    static string Row(int number, params string[] cells) => $"<row r='{number}'>{string.Concat(cells)}</row>";

    static string Fault(byte[] file)
    {
        var began = Stopwatch.GetTimestamp();
        var read = SheetFile.Read(file);
        // Nothing here takes as long as a person would notice; a minute would be a hang.
        Assert.True(Stopwatch.GetElapsedTime(began) < TimeSpan.FromSeconds(20));
        Assert.Empty(read.Sheets);
        return read.Fault!;
    }

    [Fact]
    public void Cells_stand_where_their_address_says_and_readings_are_left_out()
    {
        var read = SheetFile.Read(File(Row(3, Cell("C3", "third"), Cell("A3", "first"), "<c r='B3' t='s'><v>0</v></c>"))).Sheets[0];

        Assert.Equal(["first", "Main bank", "third"], read.Rows[0].Cells);
        Assert.Equal(3, read.Rows[0].Line);
    }

    [Theory]
    [InlineData("<c r='A1' t='inlineStr'><is>", "</is></c>", "r", "nests elements")]
    [InlineData("<c r='A1'>", "</c>", "v", "nests elements")]
    [InlineData("", "", "row", "nests elements")]
    public void Nested_elements_end_no_process(string open, string close, string element, string why)
    {
        var tower = string.Concat(Enumerable.Repeat($"<{element}>", 20_000)) + string.Concat(Enumerable.Repeat($"</{element}>", 20_000));

        Assert.Contains(why, Fault(File($"<row r='1'>{open}{tower}{close}</row>")), StringComparison.Ordinal);
    }

    [Fact]
    public void Entities_are_not_read()
    {
        var bomb = "<!DOCTYPE x [<!ENTITY a 'ha'>" + string.Concat(Enumerable.Range(1, 20).Select(i =>
            $"<!ENTITY a{i} '&a{(i == 1 ? "" : i - 1)};&a{(i == 1 ? "" : i - 1)};'>")) + "]>";

        Assert.Contains("can't be read as one", Fault(File(Row(1, Cell("A1", "&a20;")), before: bomb)), StringComparison.Ordinal);
    }

    [Fact]
    public void What_unpacks_to_more_than_it_may_is_refused_whatever_it_says_of_itself()
    {
        var cell = "<c t='inlineStr'><is><t>" + new string('x', 32_000) + "</t></is></c>";

        Assert.Contains("million characters", Fault(File(Row(1, [.. Enumerable.Repeat(cell, 2_000)]))), StringComparison.Ordinal);
    }

    [Fact]
    public void A_cell_longer_than_a_cell_can_be_is_named() =>
        Assert.Contains("Cell B1 of sheet Chart has 40,000 characters", Fault(File(Row(1, Cell("A1", "short"), Cell("B1", new string('x', 40_000))))),
            StringComparison.Ordinal);

    [Theory]
    [InlineData("<row r='1'><c r='A1'><v>1</v></c><c r='A1'><v>2</v></c></row>", "Cell A1 of sheet Chart stands there twice")]
    [InlineData("<row r='1'/><row r='1'/>", "Row 1 stands twice")]
    [InlineData("<row r='1048577'/>", "Row 1048577 of sheet Chart lies beyond any sheet")]
    [InlineData("<row r='0'/>", "lies beyond any sheet")]
    [InlineData("<row r='99999999999999'/>", "lies beyond any sheet")]
    [InlineData("<row r='1'><c r='XFE1'><v>1</v></c></row>", "Cell XFE1 of sheet Chart lies beyond any sheet")]
    [InlineData("<row r='1'><c r='ZZZZZZZZZZZZZZZZ1'><v>1</v></c></row>", "lies beyond any sheet")]
    [InlineData("<row r='1'><c r='A2'><v>1</v></c></row>", "Cell A2 stands in row 1")]
    public void Cells_that_repeat_an_address_or_lie_beyond_the_sheet_are_refused_by_name(string rows, string why) =>
        Assert.Contains(why, Fault(File(rows)), StringComparison.Ordinal);

    [Fact]
    public void Thousands_of_merged_ranges_are_refused() =>
        Assert.Contains("more than 5,000 merged ranges",
            Fault(File(Row(1, Cell("A1", "x")),
            "<mergeCells>" + string.Concat(Enumerable.Range(1, 6_000).Select(i => $"<mergeCell ref='A{i}:B{i}'/>")) + "</mergeCells>")),
            StringComparison.Ordinal);

    [Fact]
    public void A_range_merged_over_the_whole_sheet_costs_what_the_sheet_has()
    {
        var read = SheetFile.Read(File(Row(1, Cell("A1", "over all")) + Row(7, Cell("B7", "x")), "<mergeCells><mergeCell ref='A1:C1048576'/></mergeCells>"));

        Assert.Equal(["over all", "over all", "over all"], read.Sheets[0].Rows[1].Cells);
    }

    [Fact]
    public void Thousands_of_parts_are_refused() =>
        Assert.Contains("parts, more than any sheet needs", Fault(File("", more: archive =>
        {
            for (var i = 0; i < 2_000; i++)
                archive.CreateEntry($"xl/media/{i}.png");
        })), StringComparison.Ordinal);

    [Fact]
    public void A_quotation_mark_that_is_never_closed_is_no_cell_of_a_million_signs() =>
        Assert.Contains("never closed",
            SheetFile.Read(Encoding.UTF8.GetBytes("number;name\n1;\"" + string.Concat(Enumerable.Repeat("abc;def\n", 20_000)))).Fault,
            StringComparison.Ordinal);

    [Fact]
    public void Whoever_cancels_ends_the_reading()
    {
        using var stop = new CancellationTokenSource();
        stop.Cancel();

        Assert.Throws<OperationCanceledException>(() => SheetFile.Read(File(Row(1, Cell("A1", "x"))), stop.Token));
    }
}
