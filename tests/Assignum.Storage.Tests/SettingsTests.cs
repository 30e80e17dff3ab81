using Assignum.Storage.Settings;
using Assignum.Storage.Charts;
using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Npgsql;

namespace Assignum.Storage.Tests;

/// <summary>Settings by edition: what is kept is what was put in, and a released edition never changes.</summary>
public sealed class SettingsTests(Nursery nursery) : IClassFixture<Nursery>
{
    static Rule Rule(string account, params (Fact, string)[] when) => new() { Id = "", Purpose = Purpose.Revenue, Account = account, When = [.. when.Select(w => new FactValue(w.Item1, w.Item2))] };

    async Task<long> RowOf(string id) => (await nursery.Rulebooks.Load(nursery.Company, (await nursery.Rulebooks.StateOf(nursery.Company, default)).Draft, default)).Labels.RuleRow(id)!.Value;

    [Fact]
    public async Task A_change_of_the_draft_leaves_the_released_edition_alone()
    {
        Assert.Null(await nursery.Rules.Add(nursery.Company, nursery.User, Rule("4040", (Fact.Item, "TOOL-01")), default));

        Assert.DoesNotContain((await nursery.Edition()).Rules, r => r.InWords == "TOOL-01");
        Assert.Contains((await nursery.DraftBook()).Rules, r => r.InWords == "TOOL-01");
    }

    [Fact]
    public async Task A_changed_rule_keeps_its_id_and_the_earlier_edition_its_answer()
    {
        Assert.Null(await nursery.Rules.Change(nursery.Company, nursery.User, await RowOf("r5"), Rule("4015", (Fact.ItemGroup, "SEEDS")), default));

        Assert.Equal("4015", (await nursery.DraftBook()).Rules.Single(r => r.Id == "r5").Account);
        Assert.Equal("4010", (await nursery.Edition(2)).Rules.Single(r => r.Id == "r5").Account);
    }

    [Fact]
    public async Task A_change_of_a_rule_that_somebody_else_has_changed_is_refused()
    {
        var seen = await RowOf("r7");
        Assert.Null(await nursery.Rules.Change(nursery.Company, nursery.User, seen, Rule("4040", (Fact.ItemGroup, "POTS")), default));

        Assert.NotNull(await nursery.Rules.Change(nursery.Company, nursery.User, seen, Rule("4050", (Fact.ItemGroup, "POTS")), default));
        Assert.NotNull(await nursery.Rules.End(nursery.Company, nursery.User, seen, null, default));
    }

    [Fact]
    public async Task A_rule_ends_after_a_day_or_altogether()
    {
        Assert.Null(await nursery.Rules.End(nursery.Company, nursery.User, await RowOf("r8"), new DateOnly(2026, 6, 30), default));
        Assert.Null(await nursery.Rules.End(nursery.Company, nursery.User, await RowOf("r9"), null, default));
        var draft = await nursery.DraftBook();

        Assert.Equal(new DateOnly(2026, 6, 30), draft.Rules.Single(r => r.Id == "r8").To);
        Assert.DoesNotContain(draft.Rules, r => r.Id == "r9");
    }

    [Fact]
    public async Task Two_rules_with_the_same_facts_never_overlap_and_both_are_named()
    {
        var refusal = await nursery.Rules.Add(nursery.Company, nursery.User, Rule("4020", (Fact.PartyGroup, "trade"), (Fact.ItemGroup, "seeds")), default);

        Assert.Contains("Revenue, Trade customers × Seeds: two rules, with 4015 and with 4020,", refusal!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_database_itself_forbids_overlapping_rules()
    {
        var copy = """
            insert into rule (company_id, name, purpose, rung, keys, account_id, rule_key, validity, introduced_in)
            select company_id, 'again', purpose, rung, keys, account_id, rule_key, daterange('2026-05-01', null), (select edition from draft_row where company_id = rule.company_id) from rule where name = 'r4' limit 1
            """;
        var fault = await Assert.ThrowsAsync<PostgresException>(() => nursery.Ask<object>(copy));

        Assert.Equal(("23P01", "rule_no_overlap"), (fault.SqlState, fault.ConstraintName));
    }

    [Theory]
    [InlineData("update rule set account_id = account_id + 1 where name = 'r1'")]
    [InlineData("delete from rule where name = 'r1'")]
    [InlineData("update member_setting set tax_area = 'X' where introduced_in = 2")]
    [InlineData("update rule set introduced_in = 1 where name = 'r1'")]
    public async Task Of_a_released_row_only_its_end_ever_changes(string sql) =>
        Assert.Equal("P0001", (await Assert.ThrowsAsync<PostgresException>(() => nursery.Ask<object>(sql))).SqlState);

    [Fact]
    public async Task A_member_s_first_group_holds_at_once_and_later_ones_with_the_release()
    {
        Assert.Null(await nursery.Groups.AddItem(nursery.Company, nursery.User, new Item { Code = "NEW-1", Name = "New", Kind = ItemKind.Stock }, default));
        Assert.Null((await nursery.Edition()).Items.Single(i => i.Code == "NEW-1").Group);

        Assert.Null(await nursery.Groups.Move(nursery.Company, nursery.User, "item", ["NEW-1"], "SEEDS", default));
        Assert.Equal("SEEDS", (await nursery.Edition()).Items.Single(i => i.Code == "NEW-1").Group);

        Assert.Null(await nursery.Groups.Move(nursery.Company, nursery.User, "item", ["new-1", "POT-12"], "tools", default));
        Assert.Equal(["SEEDS", "POTS"], (await nursery.Edition()).Items.Where(i => i.Code is "NEW-1" or "POT-12").Select(i => i.Group!));
        Assert.Equal(["TOOLS", "TOOLS"], (await nursery.DraftBook()).Items.Where(i => i.Code is "NEW-1" or "POT-12").Select(i => i.Group!));
    }

    [Fact]
    public async Task A_first_group_that_is_itself_in_the_draft_holds_once_that_group_does()
    {
        Assert.Null(await nursery.Groups.AddGroup(nursery.Company, nursery.User, "item", new Group("CORMS", "Corms"), default));
        Assert.Null(await nursery.Groups.AddItem(nursery.Company, nursery.User, new Item { Code = "CORM-1", Name = "Crocus", Kind = ItemKind.Stock, Group = "CORMS" }, default));

        Assert.Null((await nursery.Edition()).Items.Single(i => i.Code == "CORM-1").Group);
        Assert.Equal("CORMS", (await nursery.DraftBook()).Items.Single(i => i.Code == "CORM-1").Group);
    }

    [Fact]
    public async Task A_refused_move_moves_nobody()
    {
        Assert.NotNull(await nursery.Groups.Move(nursery.Company, nursery.User, "item", ["SEED-02", "NIX"], "POTS", default));

        Assert.Equal("SEEDS", (await nursery.DraftBook()).Items.Single(i => i.Code == "SEED-02").Group);
    }

    [Fact]
    public async Task A_group_with_a_tax_group_serves_its_members_in_the_draft()
    {
        Assert.Null(await nursery.Groups.AddGroup(nursery.Company, nursery.User, "item", new Group("BULBS", "Bulbs", "REDUCED"), default));
        Assert.NotNull(await nursery.Groups.AddGroup(nursery.Company, nursery.User, "item", new Group("bulbs", "Again"), default));
        Assert.NotNull(await nursery.Groups.AddGroup(nursery.Company, nursery.User, "item", new Group("TUBERS", "Tubers", "NIX"), default));

        Assert.Equal("REDUCED", (await nursery.DraftBook()).ItemGroups.Single(g => g.Code == "BULBS").TaxGroup);
        Assert.DoesNotContain((await nursery.Edition()).ItemGroups, g => g.Code == "BULBS");
    }

    [Fact]
    public async Task An_account_s_name_holds_at_once_and_its_settings_with_the_release()
    {
        var (id, seen) = await Seen("6210");
        var account = (await nursery.DraftBook()).Accounts.Single(a => a.Number == "6210");
        Assert.Null(await nursery.Accounts.Change(nursery.Company, nursery.User, id, seen, account with { Name = "Markets", Manual = ManualPolicy.Warn }, AccountDescription.None, null, default));

        var released = (await nursery.Edition()).Accounts.Single(a => a.Number == "6210");
        Assert.Equal(("Markets", ManualPolicy.Open), (released.Name, released.Manual));
        Assert.Equal(ManualPolicy.Warn, (await nursery.DraftBook()).Accounts.Single(a => a.Number == "6210").Manual);
    }

    [Fact]
    public async Task A_stale_save_says_what_the_other_did()
    {
        var (id, seen) = await Seen("6220");
        var account = (await nursery.DraftBook()).Accounts.Single(a => a.Number == "6220");
        Assert.Null(await nursery.Accounts.Change(nursery.Company, nursery.User, id, seen, account with { Name = "Boxes" }, AccountDescription.None, null, default));

        Assert.Contains("changed", (await nursery.Accounts.Change(nursery.Company, nursery.User, id, seen, account with { Name = "Crates" }, AccountDescription.None, null, default))!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_old_number_is_an_alias_that_is_never_given_again()
    {
        var (id, seen) = await Seen("6250");
        var account = (await nursery.DraftBook()).Accounts.Single(a => a.Number == "6250");
        Assert.Null(await nursery.Accounts.Change(nursery.Company, nursery.User, id, seen, account with { Number = "6255" }, AccountDescription.None, null, default));

        Assert.Contains("once", (await nursery.Accounts.Add(nursery.Company, nursery.User, [new NewAccount(account with { Name = "Other" }, AccountDescription.None)], default))!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_import_of_a_chart_takes_parents_before_children_and_is_whole()
    {
        ChartRow[] rows = [new(2, "9110", "Deep", "", "", "911"), new(3, "911", "Deeper", "", "heading", "9"), new(4, "9", "Others", "expense", "heading", ""), new(5, "9200", "", "expense", "", "")];
        Assert.Null((await nursery.Imports.Import(nursery.Company, nursery.User, chart => ChartImport.Plan(rows, chart), wholeOrNothing: false, (_, _) => Task.CompletedTask, default)).Refusal);

        Assert.Equal(["9", "911", "9110"], (await nursery.DraftBook()).Accounts.Where(a => a.Number.StartsWith('9')).Select(a => a.Number));
    }

    async Task<(int Id, long Seen)> Seen(string number)
    {
        var stored = await nursery.Rulebooks.Load(nursery.Company, null, default);
        var id = stored.Labels.Account(number)!.Value;
        return (id, await nursery.Chart.LastChangeOf(nursery.Company, id, default));
    }
}

/// <summary>Releasing a draft.</summary>
public sealed class ReleaseTests(Nursery nursery) : IClassFixture<Nursery>
{
    [Fact]
    public async Task A_draft_with_changes_becomes_the_edition_in_force_and_one_that_was_not_seen_does_not()
    {
        Assert.NotNull(await nursery.Release());

        await nursery.SetTax("ABROAD", "REDUCED", "Z0");
        var seen = await nursery.Rulebooks.StateOf(nursery.Company, default);
        await nursery.SetTax("ABROAD", "STANDARD", "E0");
        Assert.NotNull(await nursery.Editions.Release(nursery.Company, nursery.User, seen, "", default));

        Assert.Null(await nursery.Release());
        Assert.Equal((3, 4), (await nursery.Rulebooks.StateOf(nursery.Company, default)) is var now ? (now.Edition, now.Draft) : default);
        Assert.Equal(["E0", "Z0"], (await nursery.Edition()).TaxRules.Where(r => r.PartyTaxGroup == "ABROAD").Select(r => r.TaxCode).Order(StringComparer.Ordinal));
        Assert.Equal(["Z0"], (await nursery.Edition(2)).TaxRules.Where(r => r.PartyTaxGroup == "ABROAD").Select(r => r.TaxCode));
    }
}

/// <summary>A draft that the checks refuse.</summary>
public sealed class RefusedReleaseTests(Nursery nursery) : IClassFixture<Nursery>
{
    [Fact]
    public async Task A_draft_with_an_error_is_not_released()
    {
        var stored = await nursery.Rulebooks.Load(nursery.Company, null, default);
        var id = stored.Labels.Account("1999")!.Value;
        // Past the form, as two people could do it at once: the heading answers a rule.
        await nursery.Draft.Change(nursery.Company, nursery.User, async change =>
        {
            await SettingTables.Accounts.Reset(change, stored.Labels, [(id, stored.AccountOf(id)! with { Kind = Core.Charts.AccountKind.Heading })]);
            return null;
        }, default);

        Assert.Contains("heading", (await nursery.Release())!.Message, StringComparison.Ordinal);
    }
}

/// <summary>A rulebook brought in whole.</summary>
public sealed class RulebookImportTests(Nursery nursery) : IClassFixture<Nursery>
{
    [Fact]
    public async Task A_rulebook_comes_back_as_it_was_brought_in()
    {
        var kept = await nursery.Edition(2);

        Assert.Empty(RulebookDifference.Between(Nursery.Book, kept));
        Assert.Empty(RulebookDifference.Between(kept, Nursery.Book));
        Assert.Equal(Nursery.Book.Accounts.OrderBy(a => a.Number, StringComparer.Ordinal).Select(a => (a.Number, a.Name, a.Class, a.Parent)), kept.Accounts.Select(a => (a.Number, a.Name, a.Class, a.Parent)));
        Assert.Equal(Nursery.Book.Items.Count, kept.Items.Count);
        Assert.Equal(Nursery.Book.Items.Sum(i => i.Cost), kept.Items.Sum(i => i.Cost));
    }
}
