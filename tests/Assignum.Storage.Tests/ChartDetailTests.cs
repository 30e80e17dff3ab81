using Assignum.Core.Charts;
using Assignum.Storage.Charts;
using Assignum.Storage.Finding;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>Smaller promises of the chart, each on a real database.</summary>
public class ChartDetailTests(Nursery nursery) : IClassFixture<Nursery>
{
    async Task<StoredRulebook> Draft(int? company = null) => await nursery.Rulebooks.Load(company ?? nursery.Company, (await nursery.Rulebooks.StateOf(company ?? nursery.Company, default)).Draft, default);

    async Task<Refusal?> Change(string number, Func<Account, Account> change)
    {
        var stored = await Draft();
        var id = stored.Labels.Account(number)!.Value;
        var described = (await nursery.Chart.Of(nursery.Company, stored, default)).DescriptionOf(number);
        return await nursery.Accounts.Change(nursery.Company, nursery.User, id, await nursery.Chart.LastChangeOf(nursery.Company, id, default), change(stored.Book.Accounts.Single(a => a.Number == number)), described, null, default);
    }

    async Task Import(int company, params ChartRow[] rows) =>
        Assert.Null((await nursery.Imports.Import(company, nursery.User, chart => ChartImport.Plan(rows, chart), wholeOrNothing: true, (_, _) => Task.CompletedTask, default)).Refusal);

    [Fact]
    public async Task A_renumbered_account_is_found_by_its_former_number_and_may_have_it_back()
    {
        Assert.Null(await Change("6330", a => a with { Number = "6335" }));
        Assert.Equal("6335", Assert.Single(await new FindStore(nursery.Source).Find(nursery.Company, "6330", 10, default)).Code);

        Assert.Null(await Change("6335", a => a with { Number = "6330" }));
        Assert.Contains((await Draft()).Book.Accounts, a => a.Number == "6330");
    }

    [Fact]
    public async Task An_import_changes_names_at_once_and_settings_in_the_draft_and_keeps_what_it_does_not_name()
    {
        await Import(nursery.Company, new ChartRow(2, "6340", "Programs", "", "", "") { Manual = "warn", ShortName = "Programs" });

        var released = (await nursery.Edition()).Accounts.Single(a => a.Number == "6340");
        Assert.Equal(("Programs", ManualPolicy.Open), (released.Name, released.Manual));
        var draft = (await Draft()).Book.Accounts.Single(a => a.Number == "6340");
        Assert.Equal((ManualPolicy.Warn, "63"), (draft.Manual, draft.Parent));
        await Import(nursery.Company, new ChartRow(2, "6340", "Programs", "", "", "") { Description = "Rented by the month." });
        var said = (await nursery.Chart.Of(nursery.Company, await Draft(), default)).DescriptionOf("6340");
        Assert.Equal(("Programs", "Rented by the month."), (said.ShortName, said.Text));
    }

    [Fact]
    public async Task An_import_that_would_change_nothing_says_so()
    {
        var done = await nursery.Imports.Import(nursery.Company, nursery.User, chart => ChartImport.Plan([new ChartRow(2, "6350", "Books and advice", "", "", "")], chart), true, (_, _) => Task.CompletedTask, default);

        Assert.Contains("nothing would change", done.Refusal!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_import_tells_how_far_it_is()
    {
        var company = (await nursery.Companies.Open("QP", "Progress", "EUR", default)).Id;
        var told = new List<(int, int)>();
        ChartRow[] rows = [.. Enumerable.Range(0, 2500).Select(i => new ChartRow(i + 2, $"{10_000 + i}", $"Account {i}", "asset", "", ""))];
        await nursery.Imports.Import(company, nursery.User, chart => ChartImport.Plan(rows, chart), true, (done, total) => { told.Add((done, total)); return Task.CompletedTask; }, default);

        Assert.Equal([(1000, 2500), (2000, 2500), (2500, 2500)], told);
    }

    [Fact]
    public async Task Accounts_are_matched_to_the_group_s_chart_and_the_match_follows_a_merge_there()
    {
        var (group, member) = ((await nursery.Companies.Open("QG1", "Group", "EUR", default)).Id, (await nursery.Companies.Open("QN1", "Member", "EUR", default)).Id);
        await nursery.Companies.SetGroup(member, nursery.User, group, default);
        await Import(group, new ChartRow(2, "G-1", "Cash", "asset", "", ""), new ChartRow(3, "G-2", "Money", "asset", "", ""));
        Assert.Null(await nursery.Accounts.Add(member, nursery.User, [new NewAccount(new Account { Number = "1000", Name = "Bank", Class = AccountClass.Asset }, new AccountDescription { GroupAccount = "g-1" })], default));
        var stored = await Draft(group);
        var (cash, money) = (stored.Labels.Account("G-1")!.Value, stored.Labels.Account("G-2")!.Value);
        Assert.Equal(("QN1", "1000"), Assert.Single(await nursery.Chart.MatchedTo(group, cash, default)) is var match ? (match.Company, match.Number) : default);
        Assert.Contains("belongs to it", (await nursery.Accounts.Delete(group, nursery.User, cash, await nursery.Chart.LastChangeOf(group, cash, default), default))!.Message, StringComparison.Ordinal);

        Assert.Null(await nursery.Merges.Merge(group, nursery.User, cash, money, stored.State.InDraft, null, default));
        Assert.Equal(1, (await nursery.Chart.MatchCounts(group, default))[money]);
        Assert.Equal("G-2", (await nursery.Chart.Of(member, await Draft(member), default)).DescriptionOf("1000").GroupAccount);
    }

    [Fact]
    public async Task A_merge_somebody_else_s_change_came_before_is_looked_at_once_more()
    {
        var stored = await Draft();
        Assert.Null(await Change("6360", a => a with { Manual = ManualPolicy.Warn }));

        var refusal = await nursery.Merges.Merge(nursery.Company, nursery.User, stored.Labels.Account("6360")!.Value, stored.Labels.Account("6390")!.Value, stored.State.InDraft, null, default);
        Assert.Contains("Look at it once more", refusal!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_last_lines_of_an_account_come_newest_first_with_their_entry()
    {
        await nursery.Post(Nursery.Invoice("L-1"));
        await nursery.Post(Nursery.Invoice("L-2", price: 3));
        var lines = await nursery.Balances.LastLines(nursery.Company, (await Draft()).Labels.Account("1100")!.Value, 2, default);

        Assert.Equal([32.40m, 27m], lines.Select(l => l.Amount));
        Assert.True(lines[0].EntryNumber > lines[1].EntryNumber);
    }

    [Fact]
    public async Task A_mapping_is_remembered_replaced_and_forgotten()
    {
        var mappings = new MappingStore(nursery.Source);
        await mappings.Remember(nursery.Company, nursery.User, "S", """{"a": 1}""", default);
        await mappings.Remember(nursery.Company, nursery.User, "S", """{"a": 2}""", default);
        Assert.Equal("""{"a": 2}""", await mappings.Find(nursery.Company, "S", default));
        await mappings.Forget(nursery.Company, "S", default);

        Assert.Null(await mappings.Find(nursery.Company, "S", default));
    }

    [Fact]
    public async Task A_range_of_a_heading_stays_with_the_heading_when_that_is_renumbered()
    {
        var company = await nursery.OpenCompany("QH");
        Assert.Null(await nursery.Numbering.Change(company, nursery.User, null, new NumberingPlan { Headings = [new("62", "6200", "6299")] }, default));
        var stored = await Draft(company);
        var id = stored.Labels.Account("62")!.Value;
        Assert.Null(await nursery.Accounts.Change(company, nursery.User, id, await nursery.Chart.LastChangeOf(company, id, default), stored.Book.Accounts.Single(a => a.Number == "62") with { Number = "620" }, AccountDescription.None, null, default));

        Assert.Equal("620", Assert.Single((await nursery.Chart.Of(company, await Draft(company), default)).Numbers.Plan.Headings).Of);
    }

    [Theory]
    [InlineData("C C", "Centre", "code")]
    [InlineData("", "Centre", "code")]
    [InlineData("CC=", "Centre", "code")]
    [InlineData("KS", "", "name")]
    public async Task A_dimension_without_a_sound_code_or_name_is_refused_at_its_field(string code, string name, string field) =>
        Assert.Equal(field, (await nursery.Dimensions.Define(nursery.Company, nursery.User, code, name, [], default))!.Field);
}
