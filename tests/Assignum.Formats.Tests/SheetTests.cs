using System.Text;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Formats;
using Assignum.Formats.Charts;
using Assignum.Formats.Rulebooks;
using Assignum.Formats.Sheets;
using DocumentFormat.OpenXml;
using DocumentFormat.OpenXml.Packaging;
using DocumentFormat.OpenXml.Spreadsheet;
using Control = Assignum.Core.Charts.Control;
using Table = Assignum.Formats.Sheets.Table;

namespace Assignum.Formats.Tests;

/// <summary>XLSX files as spreadsheets write them.</summary>
public class SheetTests
{
    static ReadSheets Read(Action<WorkbookPart, SheetData> fill)
    {
        using var buffer = new MemoryStream();
        using (var document = SpreadsheetDocument.Create(buffer, SpreadsheetDocumentType.Workbook))
        {
            var workbook = document.AddWorkbookPart();
            var part = workbook.AddNewPart<WorksheetPart>();
            var data = new SheetData();
            fill(workbook, data);
            part.Worksheet = new Worksheet(data);
            workbook.Workbook = new Workbook(new DocumentFormat.OpenXml.Spreadsheet.Sheets(new DocumentFormat.OpenXml.Spreadsheet.Sheet { Id = workbook.GetIdOfPart(part), SheetId = 1, Name = "Chart" }));
        }
        return SheetFile.Read(buffer.ToArray());
    }

    [Fact]
    public void Numbers_texts_booleans_results_of_formulas_and_errors_are_read_as_text()
    {
        var read = Read((workbook, data) =>
        {
            workbook.AddNewPart<SharedStringTablePart>().SharedStringTable = new SharedStringTable(new SharedStringItem(new Text("  Main   bank ")));
            data.Append(new Row(new Cell(new CellValue("1.1E3")), new Cell(new CellValue("0")) { DataType = CellValues.SharedString }, new Cell(new CellValue("1")) { DataType = CellValues.Boolean },
                new Cell(new CellFormula("A1&\"x\""), new CellValue("1100x")) { DataType = CellValues.String }, new Cell(new CellValue("#REF!")) { DataType = CellValues.Error }, new Cell(new CellValue("2.50"))) { RowIndex = 1 });
        });

        Assert.Equal(["1100", "Main bank", "yes", "1100x", "", "2.5"], read.Sheets[0].Rows[0].Cells);
    }

    [Fact]
    public void Leading_zeros_that_a_format_shows_are_read()
    {
        var read = Read((workbook, data) =>
        {
            workbook.AddNewPart<WorkbookStylesPart>().Stylesheet = new Stylesheet(new NumberingFormats(new NumberingFormat { NumberFormatId = 170, FormatCode = "0000" }), new Fonts(new Font()), new Fills(new Fill()), new Borders(new Border()),
                new CellFormats(new CellFormat(), new CellFormat { NumberFormatId = 170 }));
            data.Append(new Row(new Cell(new CellValue("27")) { StyleIndex = 1 }, new Cell(new CellValue("27"))) { RowIndex = 1 });
        });

        Assert.Equal(["0027", "27"], read.Sheets[0].Rows[0].Cells);
    }

    [Fact]
    public void Cells_that_are_left_out_keep_their_column_and_rows_their_line()
    {
        var read = Read((_, data) => data.Append(new Row(new Cell(new CellValue("5")) { CellReference = "C7" }, new Cell(new CellValue("6")) { CellReference = "AA7" }) { RowIndex = 7 }));

        Assert.Equal((7, "", "5", "6"), read.Sheets[0].Rows[0] is var row ? (row.Line, row[0], row[2], row[26]) : default);
    }

    [Fact]
    public void A_damaged_file_and_one_of_an_older_kind_are_refused_with_the_mend()
    {
        var sound = Read((_, data) => data.Append(new Row(new Cell(new CellValue("5"))) { RowIndex = 1 }));
        Assert.Null(sound.Fault);

        Assert.Contains("save it once more", SheetFile.Read("PK\u0003\u0004 and nothing more"u8.ToArray()).Fault, StringComparison.Ordinal);
        Assert.Contains("older or a protected kind", SheetFile.Read((byte[])[0xD0, 0xCF, 0x11, 0xE0, 0, 0]).Fault, StringComparison.Ordinal);
        Assert.Contains("anything written", Read((_, _) => { }).Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void Tables_go_out_and_come_back_as_they_were()
    {
        var rows = Enumerable.Range(0, 300).Select(i => (IReadOnlyList<object?>)[$"{i:0000}", $"Töpfe <{i}> & \"mehr\"", i % 2 == 0]).ToList();
        foreach (var write in new Action<Stream, Table>[] { XlsxTable.Write, CsvTable.Write })
        {
            var content = new MemoryStream();
            write(content, new Table("Chart", ["number", "name", "active"], rows));
            var read = SheetFile.Read(content.ToArray()).Sheets[0].Rows;

            Assert.Equal(301, read.Count);
            Assert.Equal(["0299", "Töpfe <299> & \"mehr\"", "no"], read[300].Cells);
        }
    }
}

/// <summary>Whatever is written as CSV, no cell of it starts a formula.</summary>
public class FormulaTests
{
    [Theory]
    [InlineData("=1+1", "'=1+1")]
    [InlineData("+49 30", "'+49 30")]
    [InlineData("-2", "'-2")]
    [InlineData("@sum", "'@sum")]
    [InlineData("\t=1", "'\t'=1")]
    [InlineData("\uFF1D1+1", "'\uFF1D1+1")]
    // A comma file that a spreadsheet reads with semicolons, bars or tabs.
    [InlineData("seeds;=cmd", "seeds;'=cmd")]
    [InlineData("seeds,-1|+2", "seeds,'-1|'+2")]
    [InlineData("two\nlines\n=x", "two\nlines\n'=x")]
    [InlineData("SEED-01", "SEED-01")]
    [InlineData("a = b", "a = b")]
    public void A_sign_that_starts_one_stands_behind_an_apostrophe(string text, string safe)
    {
        var table = new MemoryStream();
        CsvTable.Write(table, new Table("x", [text], [[text]]));
        Assert.Equal([safe, safe], SheetRecords(table.ToArray()));

        // The journal and the subledgers of the command line are written by the same writer.
        var written = new Utf8Text().AddCsv(text).Written.ToArray();
        Assert.Equal([safe], SheetRecords(written));
    }

    static List<string> SheetRecords(byte[] csv)
    {
        using var reader = new CsvHelper.CsvParser(new StreamReader(new MemoryStream(csv)), System.Globalization.CultureInfo.InvariantCulture);
        var cells = new List<string>();
        while (reader.Read())
            cells.AddRange(reader.Record!);
        return cells;
    }

    [Fact]
    public void Amounts_keep_their_sign()
    {
        var table = new MemoryStream();
        CsvTable.Write(table, new Table("x", ["amount"], [[-1.5m]]));

        Assert.Equal(["amount", "-1.5"], SheetRecords(table.ToArray()));
    }
}

/// <summary>Accounts as the rulebook has them.</summary>
public class AccountsJsonTests
{
    [Fact]
    public void What_is_written_is_read_with_every_property()
    {
        Account[] accounts =
        [
            new() { Number = "1", Name = "Assets \"here\"", Class = AccountClass.Asset, Kind = AccountKind.Heading },
            new()
            {
                Number = "1020", Name = "Dollars", Class = AccountClass.Asset, Parent = "1", Control = Control.Bank, Manual = ManualPolicy.Warn, TaxCode = "S20", ItemTaxGroup = "STANDARD", TaxRelevance = TaxRelevance.Sales,
                Active = false, ValidFrom = new(2026, 1, 1), ValidTo = new(2026, 12, 31), Suspense = true, PartyRole = PartyRole.Supplier, Currencies = ["USD"],
                Dimensions = new Dictionary<string, DimensionNeed> { ["CC"] = DimensionNeed.Required }, DimensionDefaults = new Dictionary<string, string> { ["CC"] = "100" },
            },
        ];
        var content = new MemoryStream();
        AccountsJson.Write(content, accounts);
        var read = RulebookReader.Read(Encoding.UTF8.GetBytes($$"""{"format":"assignum-rulebook/1","company":{"code":"QN","name":"","currency":"EUR"},"accounts":{{Encoding.UTF8.GetString(content.ToArray())}}}"""));

        Assert.Empty(read.Findings);
        Assert.All(accounts.Zip(read.Book!.Accounts), pair => Assert.True(pair.First.SameSetting(pair.Second) && pair.First.Name == pair.Second.Name && pair.First.Parent == pair.Second.Parent));
    }

    [Theory]
    [InlineData("\"currencies\":[\"EURO\"]", "EURO is no ISO 4217 code")]
    [InlineData("\"taxRelevance\":\"both\"", "taxRelevance is both")]
    [InlineData("\"partyRole\":\"owner\"", "partyRole is owner")]
    [InlineData("\"dimensionDefaults\":{\"CC\":\"\"}", "has no CC")]
    public void A_property_that_can_t_be_read_is_named(string property, string why)
    {
        var read = RulebookReader.Read(Encoding.UTF8.GetBytes($$"""{"format":"assignum-rulebook/1","company":{"code":"QN","name":"","currency":"EUR"},"accounts":[{"number":"1","name":"A","class":"asset","kind":"posting",{{property}}}]}"""));

        Assert.Contains(read.Findings, f => f.Message.Contains(why, StringComparison.Ordinal));
    }
}
