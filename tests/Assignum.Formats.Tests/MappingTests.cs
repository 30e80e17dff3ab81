using System.Text;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Charts;
using Assignum.Formats.Sheets;
using Assignum.Testing;

namespace Assignum.Formats.Tests;

/// <summary>Foreign charts are understood: headings, columns and codes.</summary>
public class MappingTests
{
    static readonly ChartBook Empty = new(new Rulebook { Company = new Company("QN", "", "EUR", new CompanyOptions()) });

    static (Sheet Sheet, ChartMapping Mapping) Propose(string text)
    {
        var sheets = SheetFile.Read(Encoding.UTF8.GetBytes(text)).Sheets;
        return (sheets[0], MappingProposal.For(sheets));
    }

    static string Columns(ChartMapping mapping) => string.Join(' ', mapping.Columns.OrderBy(c => c.Value).Select(c => $"{c.Key}={c.Value}"));

    [Theory]
    [InlineData("Konto;Bezeichnung;Kontoart\n1000;Kasse;Aktiv\n1200;Bank;Aktiv\n", "number=0 name=1 class=2")]
    [InlineData("Compte,Intitulé,Nature,Compte parent\n512,Banque,Actif,51\n51,Banques,Actif,\n", "number=0 name=1 class=2 parent=3")]
    [InlineData("Nombre;Código;Tipo\nCaja;570;Activo\nBancos;572;Activo\n", "name=0 number=1 class=2")]
    [InlineData("No.\tAccount name\tAccount type\tStands under\n10\tMoney\tasset\t\n", "number=0 name=1 class=2 parent=3")]
    [InlineData("GL-Nr;Omschrijving;Soort;BTW-code\n1000;Kas;activa;\n", "number=0 name=1 class=2 taxCode=3")]
    public void Headings_of_several_languages_are_understood(string text, string columns) => Assert.Equal(columns, Columns(Propose(text).Mapping));

    [Fact]
    public void Without_headings_columns_are_known_by_what_stands_in_them()
    {
        var (sheet, mapping) = Propose("6215\tParking at markets\n6216\tTolls and ferries\n6217\tHire of trailers\n");

        Assert.Equal((0, "number=0 name=1", 3), (mapping.HeaderLine, Columns(mapping), ChartSheet.Rows(sheet, mapping).Count));
    }

    [Fact]
    public void One_heading_that_is_known_is_enough_above_figures() => Assert.Equal((1, "class=2"), Propose("Schl;Wert;Kontoart\n8000;Was auch immer;08\n1000;Kasse;Aktiv\n").Mapping is var m ? (m.HeaderLine, Columns(m)) : default);

    [Fact]
    public void A_column_that_names_other_rows_is_where_an_account_stands_whatever_its_heading() =>
        Assert.Equal("number=0 name=1 parent=2", Columns(Propose("Konto;Bezeichnung;Xyz\n1;Alles;\n10;Geld;1\n11;Forderungen;1\n100;Kasse;10\n101;Bank;10\n110;Kunden;11\n").Mapping));

    [Theory]
    [InlineData("Rek;Sammelkonto", "number=0 name=1 parent=2 control=3")]
    [InlineData("Sammelkonto;Xyz", "number=0 name=1 parent=2")]
    public void What_a_column_holds_says_more_of_the_tree_than_its_heading(string headings, string columns) =>
        Assert.Equal(columns, Columns(Propose($"Konto;Bezeichnung;{headings}\n1;Alles;;\n10;Geld;1;\n11;Forderungen;1;D\n100;Kasse;10;\n101;Bank;10;B\n110;Kunden;11;D\n111;Lager;11;L\n").Mapping));

    [Fact]
    public void Titles_above_the_table_and_headings_over_two_lines_do_no_harm()
    {
        var (_, mapping) = Propose("Chart of 2025;;\nprinted on Monday;;\nAccount;;Tax\nNo.;Label;key\n10;Money;\n11;Goods;\n");

        Assert.Equal((4, "number=0 name=1 taxCode=2"), (mapping.HeaderLine, Columns(mapping)));
    }

    [Fact]
    public void Codes_are_understood_by_their_word_or_by_the_names_that_carry_them()
    {
        var (_, mapping) = Propose("Konto;Bezeichnung;Kontoart;Zeilenart\n1000;Kasse;Aktiv;K\n1;Vermögen;Aktiv;Ü\n7000;Miete der Halle;07;K\n7010;Löhne;07;K\n7020;Strom;07;K\n8000;Was auch immer;08;K\n");

        Assert.Equal(("asset", "expense", null), (ChartSheet.MeaningOf(mapping.Classes, "AKTIV"), ChartSheet.MeaningOf(mapping.Classes, "07"), ChartSheet.MeaningOf(mapping.Classes, "08")));
        Assert.Equal(("posting", "heading"), (ChartSheet.MeaningOf(mapping.Kinds, "k"), ChartSheet.MeaningOf(mapping.Kinds, "Ü")));
    }

    [Fact]
    public void A_code_nobody_has_mapped_refuses_its_rows_at_the_cell()
    {
        var (sheet, mapping) = Propose("Konto;Bezeichnung;Kontoart\n8000;Was auch immer;08\n1000;Kasse;Aktiv\n");
        var plan = ChartImport.Plan(ChartSheet.Rows(sheet, mapping), Empty);

        Assert.Equal([("class", ChartRowFate.Refused), ("", ChartRowFate.New)], plan.Rows.Select(r => (r.Field, r.Fate)));
        Assert.Equal(2, ChartImport.Plan(ChartSheet.Rows(sheet, mapping with { Classes = new Dictionary<string, string>(mapping.Classes) { ["08"] = "expense" } }), Empty).Count(ChartRowFate.New));
    }

    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public void A_messy_chart_is_understood_whole_as_CSV_and_as_XLSX(bool xlsx)
    {
        var read = SheetFile.Read(xlsx ? MessyChart.Xlsx() : MessyChart.Csv());
        var mapping = MappingProposal.For(read.Sheets);
        var sheet = read.Sheets.Single(s => s.Name == mapping.Sheet);
        var plan = ChartImport.Plan(ChartSheet.Rows(sheet, mapping), Empty, mapping.Placing, mapping.KindsGiven);

        Assert.Equal((MessyChart.Rows, MessyChart.Sound, MessyChart.Refused), (plan.Rows.Count, plan.Count(ChartRowFate.New), plan.Count(ChartRowFate.Refused)));
        Assert.Equal(["number", "number", "parent"], plan.Rows.Where(r => r.Fate == ChartRowFate.Refused).Select(r => r.Field));
        Assert.Equal("110000", plan.Rows.First(r => r.Row.Number == "110010").Account!.Parent);
    }

    [Fact]
    public void The_refused_rows_come_back_with_the_reason_and_are_understood_when_they_are_mended()
    {
        var read = SheetFile.Read(MessyChart.Csv());
        var mapping = MappingProposal.For(read.Sheets);
        var content = new MemoryStream();
        CsvTable.Write(content, RefusedRows.Of(read.Sheets[0], mapping, ChartImport.Plan(ChartSheet.Rows(read.Sheets[0], mapping), Empty)));
        var again = SheetFile.Read(content.ToArray()).Sheets[0];

        Assert.Equal(MessyChart.Refused + 1, again.Rows.Count);
        Assert.Equal(RefusedRows.Reason, again.Rows[0].Cells[^1]);
        Assert.Equal(Columns(mapping), Columns(MappingProposal.For(again)));
    }

    [Fact]
    public void Meanings_of_codes_and_what_becomes_of_the_unknown_are_written_with_the_mapping()
    {
        var (sheet, mapping) = Propose("Number;Name;Control;Manual;Active\n1000;Cash;Debtors;locked;J\n1200;Bank;;;N\n");
        mapping = mapping with
        {
            Values = new Dictionary<string, IReadOnlyDictionary<string, string>>
            {
                ["control"] = new Dictionary<string, string> { ["Debtors"] = "receivables" }, ["manual"] = new Dictionary<string,
                    string> { ["locked"] = "block" },
                ["active"] = new Dictionary<string, string> { ["J"] = "yes", ["N"] = "no" },
            },
            Lenience = new(Unknown.LeftOut, Unknown.Made),
        };
        var read = MappingJson.Read(Encoding.UTF8.GetBytes(MappingJson.Write(sheet, mapping)), [sheet], out var fault)!;
        var rows = ChartSheet.Rows(sheet, read);

        Assert.Null(fault);
        Assert.Equal((mapping.Lenience, "receivables", "block", "yes", "no"), (read.Lenience, rows[0].Control, rows[0].Manual, rows[0].Active, rows[1].Active));
    }

    [Theory]
    [InlineData("\"values\": { \"name\": { \"a\": \"b\" } }", "not in name")]
    [InlineData("\"values\": { \"manual\": { \"locked\": \"shut\" } }", "shut is no meaning for code locked of manual. Write one of open, warn, block, none.")]
    [InlineData("\"unknown\": { \"tax\": \"refused\", \"parents\": \"guessed\" }", "guessed")]
    public void A_meaning_that_does_not_exist_is_named_with_those_that_do(string property, string says)
    {
        var (sheet, mapping) = Propose("Number;Name;Manual\n1000;Cash;locked\n");
        var json = MappingJson.Write(sheet, mapping).TrimEnd().TrimEnd('}') + ", " + property + "}";

        Assert.Null(MappingJson.Read(Encoding.UTF8.GetBytes(json), [sheet], out var fault));
        Assert.Contains(says, fault, StringComparison.Ordinal);
    }

    [Fact]
    public void A_mapping_is_written_by_headings_and_read_for_the_next_file_where_they_stand_elsewhere()
    {
        var (sheet, mapping) = Propose("Konto;Bezeichnung;Kontoart\n1000;Kasse;Aktiv\n1200;Bank;Aktiv\n");
        var json = MappingJson.Write(sheet, mapping with { Classes = new Dictionary<string, string> { ["X9"] = "equity" } });
        var (next, _) = Propose("Titel;;;\nKontoart;Notiz;Konto;Bezeichnung\nX9;;1000;Kasse\n");
        var read = MappingJson.Read(Encoding.UTF8.GetBytes(json), [next], out var fault);

        Assert.Null(fault);
        Assert.Equal((2, "class=0 number=2 name=3"), (read!.HeaderLine, Columns(read)));
        Assert.Equal("equity", ChartSheet.Rows(next, read)[0].Class);
    }

    [Theory]
    [InlineData("{}", "format")]
    [InlineData("""{"format":"assignum-chart-mapping/1","columns":{"colour":"Konto"}}""", "no field colour")]
    [InlineData("""{"format":"assignum-chart-mapping/1","headerLine":1,"columns":{"number":"Nummer"}}""", "no column Nummer")]
    [InlineData("""{"format":"assignum-chart-mapping/1","sheet":"Other"}""", "no sheet Other")]
    [InlineData("[", "can't be read as JSON")]
    public void A_mapping_that_does_not_do_says_why(string json, string why)
    {
        var (sheet, _) = Propose("Konto;Bezeichnung\n1000;Kasse\n");

        Assert.Null(MappingJson.Read(Encoding.UTF8.GetBytes(json), [sheet], out var fault));
        Assert.Contains(why, fault, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("trading")]
    [InlineData("services")]
    [InlineData("growing-and-building")]
    public void Every_template_is_a_chart_without_a_refused_row(string template)
    {
        var plan = ChartImport.Plan(ChartTemplates.RowsOf(template)!, Empty);

        Assert.True(plan.Rows.Count > 80);
        Assert.All(plan.Rows, r => Assert.Equal(ChartRowFate.New, r.Fate));
        Assert.Empty(Core.Findings.RulebookChecks.Errors(Empty.Book with { Accounts = [.. plan.Rows.Select(r => r.Account!)] }));
    }

    [Fact]
    public void The_file_to_be_filled_in_can_be_brought_in_as_it_is()
    {
        var content = new MemoryStream();
        XlsxTable.Write(content, ChartTemplates.ToFillIn);
        var sheet = SheetFile.Read(content.ToArray()).Sheets[0];
        var mapping = MappingProposal.For(sheet);

        Assert.Equal(ChartFields.All.Count, mapping.Columns.Count);
        Assert.All(ChartImport.Plan(ChartSheet.Rows(sheet, mapping), Empty).Rows, r => Assert.Equal(ChartRowFate.New, r.Fate));
    }

    [Fact]
    public void The_open_list_of_activities_has_all_sections_and_divisions()
    {
        Assert.Equal((21, 88), (Activities.All.Count(a => a.Section is null), Activities.All.Count(a => a.Section is not null)));
        Assert.Equal("A", Activities.Find("01")!.Section);
    }
}

/// <summary>Tables that are taken away.</summary>
public class TableTests
{
    static readonly Table Sample = new("Chart: [all]", ["number", "name", "balance", "day"], [["=1+1", "@sum", -12.50m, new DateOnly(2026, 3, 14)], ["0100", "Töpfe; \"groß\"", 3, null]]);

    [Fact]
    public void A_text_never_starts_a_formula_in_CSV_and_an_amount_keeps_its_sign()
    {
        var content = new MemoryStream();
        CsvTable.Write(content, Sample);

        Assert.Equal("\uFEFFnumber,name,balance,day\r\n'=1+1,'@sum,-12.50,2026-03-14\r\n0100,\"Töpfe; \"\"groß\"\"\",3,\r\n", Encoding.UTF8.GetString(content.ToArray()));
    }

    [Fact]
    public void XLSX_keeps_text_as_text_and_numbers_as_numbers()
    {
        var content = new MemoryStream();
        XlsxTable.Write(content, Sample);
        var rows = SheetFile.Read(content.ToArray()).Sheets[0].Rows;

        Assert.Equal(["number", "name", "balance", "day"], rows[0].Cells);
        Assert.Equal(["=1+1", "@sum", "-12.5", "46095"], rows[1].Cells);
        Assert.Equal("0100", rows[2].Cells[0]);
    }
}

/// <summary>Reclassifications as events.</summary>
public class ReclassificationJsonTests
{
    [Fact]
    public void What_is_written_is_read()
    {
        var read = new Events.EventReader().Read("""{"id":"M-1","type":"reclassification","date":"2026-03-14","text":"Merge","from":"4010","to":"4030","lines":[{"amount":-12.5,"currency":"USD","documentAmount":-14,"party":"C-10","dimensions":{"CC":"100"}}]}"""u8, 1);
        var moved = Assert.IsType<Core.Posting.Reclassification>(read.Event);

        Assert.Equal(("4010", "4030", -12.5m, "CC=100"), (moved.From, moved.To, moved.Lines[0].Amount, moved.Lines[0].Dimensions.ToString()));
        Assert.Equal(moved.Lines[0].Currency, Assert.IsType<Core.Posting.Reclassification>(new Events.EventReader().Read(Encoding.UTF8.GetBytes(Events.EventWriter.Write(moved)), 1).Event).Lines[0].Currency);
    }

    [Theory]
    [InlineData("""{"id":"M-1","type":"reclassification","date":"2026-03-14","from":"4010","to":"4030","lines":[{}]}""", "amount")]
    [InlineData("""{"id":"M-1","type":"reclassification","from":"4010","to":"4030","lines":[]}""", "date")]
    [InlineData("""{"id":"M-1","type":"reclassification","date":"2026-03-14","from":"4010","to":"4030","colour":1,"lines":[]}""", "colour")]
    public void What_is_malformed_is_named(string json, string what) => Assert.Contains(what, new Events.EventReader().Read(Encoding.UTF8.GetBytes(json), 1).Fault!.Message, StringComparison.Ordinal);
}
