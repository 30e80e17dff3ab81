using System.Text;
using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Groups;
using Assignum.Formats.Landing;
using Assignum.Formats.Rulebooks;
using Assignum.Formats.Sheets;
using CsCheck;

namespace Assignum.Formats.Tests;

/// <summary>Members as a sheet, the rulebook file, and the grid against landing.</summary>
public class MemberSheetTests
{
    static readonly DateOnly Day = new(2026, 3, 14);
    static readonly Rulebook Demo = RulebookReader.Read(File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "files", "rulebook.json"))).Book!;
    static readonly CompiledRulebook Compiled = new(Demo);

    static List<List<string>> Taken(CompiledRulebook book, string family = "item", string kind = "csv")
    {
        var table = MemberSheet.Of(book, family, family == "item" ? [Purpose.Revenue, Purpose.Inventory] : [Purpose.Receivable], Day);
        using var file = new MemoryStream();
        if (kind == "csv")
            CsvTable.Write(file, table);
        else
            XlsxTable.Write(file, table);
        var sheet = SheetFile.Read(file.ToArray()).Sheets[0];
        return [.. sheet.Rows.Select(r => Enumerable.Range(0, table.Columns.Count).Select(i => r[i]).ToList())];
    }

    static MemberPlan Back(List<List<string>> rows, CompiledRulebook book, string family = "item") => MemberPlan.Of(new Sheet("", [.. rows.Select((r, i) => new SheetRow(i + 1, r))]), book, family, Day);

    static List<string> RowOf(List<List<string>> rows, string code) => rows.First(r => r[0] == code);

    static int Column(List<List<string>> rows, string heading) => rows[0].IndexOf(heading);

    [Theory]
    [InlineData("item", "csv")]
    [InlineData("item", "xlsx")]
    [InlineData("party", "csv")]
    public void A_sheet_brought_back_as_it_was_taken_changes_nothing(string family, string kind)
    {
        var plan = Back(Taken(Compiled, family, kind), Compiled, family);

        Assert.Equal((family == "item" ? Demo.Items.Count : Demo.Parties.Count, 0, 0, 0), (plan.Rows, plan.Members.Count, plan.Rules.Count, plan.Refused.Count));
    }

    [Fact]
    public void A_row_says_what_each_purpose_lands_on_and_which_rung_decides()
    {
        var rows = Taken(Compiled);
        var row = RowOf(rows, "DES-P");

        Assert.Equal("4120 · Planting work", row[Column(rows, "revenue")]);
        Assert.Equal("item", row[Column(rows, "revenue by")]);
        Assert.Equal(("", "4010 · Sales of seeds", "item group"), (RowOf(rows, "SEED-01")[Column(rows, "revenue")], RowOf(rows, "SEED-01")[Column(rows, "revenue lands on")], RowOf(rows, "SEED-01")[Column(rows, "revenue by")]));
    }

    [Fact]
    public void Filled_cells_become_moves_and_rules_whichever_way_they_are_written()
    {
        var rows = Taken(Compiled);
        RowOf(rows, "SEED-01")[Column(rows, "group")] = "pots";
        RowOf(rows, "SEED-02")[Column(rows, "taxGroup")] = "standard";
        RowOf(rows, "SEED-03")[Column(rows, "revenue")] = "4015";
        RowOf(rows, "SEED-04")[Column(rows, "revenue lands on")] = "seeds, TRADE";
        RowOf(rows, "DES-P")[Column(rows, "revenue")] = "";
        RowOf(rows, "SEED-05")[Column(rows, "kind")] = "service";
        var plan = Back(rows, Compiled);

        Assert.Empty(plan.Refused);
        Assert.Equal([new("SEED-01", null, "POTS", null), new("SEED-02", null, null, "STANDARD"), new("SEED-05", "service", null, null)], plan.Members.OrderBy(m => m.Code, StringComparer.Ordinal));
        Assert.Equal([("DES-P", null), ("SEED-03", "4015"), ("SEED-04", "4015")], plan.Rules.Select(r => (r.Code, r.Account)).OrderBy(r => r.Code, StringComparer.Ordinal));
    }

    [Theory]
    [InlineData("group", "", "can't be without a group again")]
    [InlineData("group", "s", "fits several")]
    [InlineData("revenue", "no such account", "There is no posting account")]
    [InlineData("kind", "shelf", "The kind is one of")]
    [InlineData("name", "Another", "Names are changed on the member itself")]
    public void A_cell_that_can_t_be_taken_is_refused_with_its_place_and_the_mend(string column, string typed, string why)
    {
        var rows = Taken(Compiled);
        RowOf(rows, "SEED-01")[Column(rows, column)] = typed;
        var refused = Assert.Single(Back(rows, Compiled).Refused);

        Assert.Equal(("SEED-01", column, rows.FindIndex(r => r[0] == "SEED-01") + 1), (refused.Code, refused.Column, refused.Line));
        Assert.Contains(why, refused.Why, StringComparison.Ordinal);
    }

    [Fact]
    public void A_row_that_was_not_taken_away_brings_a_new_member_with_its_group_and_rules()
    {
        var rows = Taken(Compiled);
        rows.Add(NewRow(rows, ("code", "SEED-77"), ("name", "Bee mix"), ("kind", "stock"), ("group", "seeds"), ("revenue", "4015")));
        var plan = Back(rows, Compiled);

        Assert.Empty(plan.Refused);
        Assert.Equal(new SheetMember("SEED-77", "Bee mix", "stock", "SEEDS", null), Assert.Single(plan.Added));
        Assert.Equal(("SEED-77", "4015"), (Assert.Single(plan.Rules).Code, plan.Rules[0].Account));
    }

    [Theory]
    [InlineData("name", "", "SEED-77 is new and has no name")]
    [InlineData("kind", "shelf", "its kind is one of stock")]
    [InlineData("group", "nowhere", "nowhere")]
    [InlineData("as taken", "kind=stock", "There is no item SEED-77 any more")]
    public void A_new_member_is_taken_whole_or_refused_at_the_cell(string column, string typed, string why)
    {
        var rows = Taken(Compiled);
        rows.Add(NewRow(rows, [.. new[] { ("code", "SEED-77"), ("name", "Bee mix"), ("kind", "stock"), ("group", "SEEDS"), ("revenue", "4015") }.Where(c =>
            c.Item1 != column), (column, typed)]));
        var plan = Back(rows, Compiled);

        Assert.Contains(why, Assert.Single(plan.Refused).Why, StringComparison.Ordinal);
        Assert.Equal((0, 0), (plan.Added.Count, plan.Rules.Count));
    }

    [Fact]
    public void A_cell_whose_account_does_not_suit_is_taken_with_a_warning_and_a_blocked_control_account_is_refused()
    {
        var rows = Taken(Compiled);
        RowOf(rows, "SEED-01")[Column(rows, "revenue")] = "1000";
        RowOf(rows, "SEED-02")[Column(rows, "revenue")] = "1100";
        var plan = Back(rows, Compiled);

        Assert.Equal("1000", Assert.Single(plan.Rules).Account);
        Assert.Contains(plan.Warnings, w => w.Contains("1000", StringComparison.Ordinal) && w.Contains("belongs on", StringComparison.Ordinal));
        Assert.Contains("1100 Trade receivables is a control account of receivables and blocked", Assert.Single(plan.Refused).Why, StringComparison.Ordinal);
    }

    static List<string> NewRow(List<List<string>> rows, params (string Column, string Value)[] cells)
    {
        var row = Enumerable.Repeat("", rows[0].Count).ToList();
        foreach (var (column, value) in cells)
            row[Column(rows, column)] = value;
        return row;
    }

    [Fact]
    public void What_somebody_else_has_changed_since_is_never_overwritten_and_what_the_sheet_left_alone_stays()
    {
        var rows = Taken(Compiled);
        RowOf(rows, "SEED-01")[Column(rows, "group")] = "POTS";
        var meanwhile = new CompiledRulebook(Demo with
        {
            Items = [.. Demo.Items.Select(i => i.Code is "SEED-01" or "SEED-02" ? i with { Group = "TOOLS" } : i)],
            Rules = [.. Demo.Rules.Select(r => r.Purpose == Purpose.Revenue && r.When is [{ Code: "POTS" }] ? r with { Account = "4040" } : r)],
        });
        var plan = Back(rows, meanwhile);

        Assert.Contains("somebody has changed it to TOOLS since", Assert.Single(plan.Refused).Why, StringComparison.Ordinal);
        Assert.Equal((0, 0), (plan.Members.Count, plan.Rules.Count));
    }

    [Fact]
    public void Rows_of_nobody_twice_or_without_a_code_are_refused_and_a_sheet_without_codes_whole()
    {
        var rows = Taken(Compiled);
        rows.Add([.. RowOf(rows, "SEED-01")]);
        rows.Add(["NOPE"]);
        Assert.Equal(2, Back(rows, Compiled).Refused.Count);
        Assert.Contains("no column code", Back([["number", "name"]], Compiled).Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void The_rulebook_file_written_and_read_is_the_same_rulebook_and_the_same_bytes()
    {
        var once = Written(Demo);
        var read = RulebookReader.Read(once).Book!;

        Assert.Empty(Core.Changes.RulebookDifference.Between(Demo, read));
        Assert.Equal(once, Written(read));

        static byte[] Written(Rulebook book)
        {
            using var file = new MemoryStream();
            RulebookWriter.Write(file, book);
            return file.ToArray();
        }
    }

    [Fact]
    public void The_grids_answers_are_those_of_landing()
    {
        var customers = Demo.Parties.Where(p => p.Role != PartyRole.Supplier).ToList();
        var items = Demo.Items.Where(i => i.Kind != ItemKind.Charge).ToList();
        var events = string.Concat(items.SelectMany(i => customers.Select(c => $$"""{"id":"{{i.Code}}|{{c.Code}}","type":"sales-invoice","date":"2026-03-14","party":"{{c.Code}}","lines":[{"item":"{{i.Code}}","price":10,"unitCost":1,"taxCode":"O0","shipped":true}]}""" + "\n")));
        using var journal = new MemoryStream();
        using var held = new MemoryStream();
        LandingRun.Run(Compiled, new MemoryStream(Encoding.UTF8.GetBytes(events)), new LandingOutputs(journal, held, null, null));
        Assert.Equal(0, held.Length);

        var landed = Encoding.UTF8.GetString(journal.ToArray()).Split('\n', StringSplitOptions.RemoveEmptyEntries).Skip(1).Select(l => l.Split(',')).ToList();
        Assert.True(landed.Count > 2 * items.Count * customers.Count);
        foreach (var purpose in new[] { Purpose.Revenue, Purpose.CostOfSales, Purpose.Inventory })
        {
            var grid = new RuleGrid(Compiled, purpose, Fact.Item, Fact.Party, [], Day);
            foreach (var line in landed.Where(l => l[8] == purpose.Name))
            {
                var (item, party) = line[0].Split('|') is [var i, var p] ? (i, p) : default;
                Assert.Equal(line[3], grid.At(item, party).Account!.Number);
                // By group, unless the item has a rule of its own.
                if (line[9] != "item")
                    Assert.Equal(line[3], new RuleGrid(Compiled, purpose, Fact.ItemGroup, Fact.PartyGroup, [], Day).At(Demo.Items.First(x => x.Code == item).Group, Demo.Parties.First(x => x.Code == party).Group).Account!.Number);
            }
        }
    }
}
