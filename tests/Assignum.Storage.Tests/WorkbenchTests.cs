using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Charts;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>The draft as a workbench: cells, ladders, taking back, releasing some, bringing back, four eyes.</summary>
public sealed class WorkbenchTests(Nursery nursery) : IClassFixture<Nursery>, IAsyncLifetime
{
    static readonly DateOnly Day = new(2026, 3, 14);
    int company, other;

    public async Task InitializeAsync()
    {
        var code = "W" + Guid.NewGuid().ToString("N")[..8];
        company = await nursery.OpenCompany(code);
        other = await nursery.People.Add("t" + code, "Tomas", "hash", default);
    }

    public Task DisposeAsync() => Task.CompletedTask;

    static CellEdit Cell(string? account, params (Fact Fact, string Code)[] when) => new([.. when.Select(w => new FactValue(w.Fact, w.Code))], account, null, null);

    async Task<(StoredRulebook Released, StoredRulebook Draft, IReadOnlyList<SettingChange> Changes)> Now()
    {
        var state = await nursery.Rulebooks.StateOf(company, default);
        var (released, draft) = (await nursery.Rulebooks.Load(company, null, default), await nursery.Rulebooks.Load(company, state.Draft, default));
        return (released, draft, RulebookDifference.Between(released.Book, draft.Book));
    }

    async Task<Refusal?> Release(int? user = null, params string[] chosen) =>
        await nursery.Editions.Release(company, user ?? nursery.User, await nursery.Rulebooks.StateOf(company, default), "", default, chosen.Length == 0 ? null : chosen);

    static string Written(Rulebook book)
    {
        var to = new MemoryStream();
        RulebookWriter.Write(to, book);
        return System.Text.Encoding.UTF8.GetString(to.ToArray());
    }

    static Rule RuleFor(StoredRulebook stored, Purpose purpose, params string[] codes) =>
        stored.Book.Rules.Single(r => r.Purpose == purpose && r.When.Select(w => w.Code).SequenceEqual(codes));

    [Fact]
    public async Task What_is_read_over_a_known_edition_is_what_is_read_whole()
    {
        // Groups, moves, accounts, ladders and rules come and go over several editions; a fresh store reads every edition whole.
        Assert.Null(await nursery.Groups.AddGroup(company, nursery.User, "item", new Group("HERBS", "Herbs", "REDUCED"), default));
        Assert.Null(await nursery.Groups.AddItem(company, nursery.User, new Item { Code = "HERB-1", Name = "Thyme", Kind = ItemKind.Stock, Group = "HERBS" }, default));
        Assert.Null(await nursery.Groups.Move(company, nursery.User, "item", ["SEED-01"], "HERBS", default));
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Cell("4030", (Fact.ItemGroup, "HERBS"))], Day, default));
        await Compare();
        Assert.Null(await Release());
        await Compare();
        Assert.Null(await nursery.Groups.Move(company, nursery.User, "item", ["SEED-01"], "POTS", default));
        Assert.Null(await nursery.Ladders.Set(company, nursery.User, Purpose.Bank, [new Rung(Fact.Currency), new Rung(Fact.MoneyAccount), Rung.Default], Purpose.Bank.DefaultLadder, default));
        var (_, draft, changes) = await Now();
        Assert.Null(await nursery.Rules.End(company, nursery.User, draft.Labels.RuleRow(RuleFor(draft, Purpose.Revenue, "HERBS").Id)!.Value, null, default));
        await Compare();
        Assert.Equal(2, changes.Count);
        Assert.Null(await Release());
        await Compare();

        async Task Compare()
        {
            var last = (await nursery.Rulebooks.StateOf(company, default)).Draft;
            for (var edition = 2; edition <= last; edition++)
                Assert.Equal(Written((await new RulebookStore(nursery.Source).Load(company, edition, default)).Book), Written((await nursery.Rulebooks.Load(company, edition, default)).Book));
        }
    }

    [Fact]
    public async Task A_cell_takes_an_account_falls_back_and_says_when_somebody_else_was_there()
    {
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Cell("4015", (Fact.ItemGroup, "POTS"), (Fact.PartyGroup, "COUNCIL")), Cell("4015", (Fact.ItemGroup, "TOOLS"), (Fact.PartyGroup, "COUNCIL"))], Day, default));
        var (_, draft, changes) = await Now();
        var rule = RuleFor(draft, Purpose.Revenue, "POTS", "COUNCIL");
        Assert.Equal(2, changes.Count);

        var stale = Assert.Single(await nursery.Cells.Set(company, other, Purpose.Revenue, [Cell("4030", (Fact.ItemGroup, "POTS"), (Fact.PartyGroup, "COUNCIL"))], Day, default));
        Assert.Contains("Somebody else has changed this cell: it is 4015 now", stale.Message, StringComparison.Ordinal);

        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Cell(null, (Fact.ItemGroup, "POTS"), (Fact.PartyGroup, "COUNCIL")) with { Seen = rule.Id, SeenAccount = "4015" }], Day, default));
        Assert.Single((await Now()).Changes);
    }

    [Fact]
    public async Task Cells_are_changed_all_or_none()
    {
        var fault = Assert.Single(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Cell("4015", (Fact.ItemGroup, "POTS"), (Fact.PartyGroup, "COUNCIL")), Cell("4", (Fact.ItemGroup, "TOOLS"), (Fact.PartyGroup, "COUNCIL"))], Day, default), f => f.Edit == 1);
        Assert.Contains("is a heading", fault.Message, StringComparison.Ordinal);
        Assert.Empty((await Now()).Changes);
    }

    [Fact]
    public async Task A_cell_that_goes_back_to_what_is_released_changes_nothing()
    {
        var rule = RuleFor((await Now()).Released, Purpose.Revenue, "SEEDS");
        CellEdit Seen(string? account, string? seen, string? seenAccount) => new(rule.When, account, seen, seenAccount);
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Seen("4030", rule.Id, rule.Account)], Day, default));
        Assert.Single((await Now()).Changes);
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Seen(rule.Account, rule.Id, "4030")], Day, default));
        Assert.Empty((await Now()).Changes);
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Seen(null, rule.Id, rule.Account)], Day, default));
        Assert.Equal(ChangeKind.Ended, Assert.Single((await Now()).Changes).Kind);
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Seen(rule.Account, null, null)], Day, default));
        Assert.Empty((await Now()).Changes);
    }

    [Fact]
    public async Task A_rung_with_rules_is_not_dropped_before_they_end_in_the_same_draft()
    {
        var ladder = Purpose.Receivable.DefaultLadder;
        var without = ladder.Remove(new Rung(Fact.PartyGroup));
        var refused = await nursery.Ladders.Set(company, nursery.User, Purpose.Receivable, without, ladder, default);
        Assert.Contains("on the rung party group", refused!.Message, StringComparison.Ordinal);

        var (_, draft, _) = await Now();
        foreach (var rule in draft.Book.Rules.Where(r => r.Purpose == Purpose.Receivable && r.Rung.Equals(new Rung(Fact.PartyGroup))))
            Assert.Null(await nursery.Rules.End(company, nursery.User, draft.Labels.RuleRow(rule.Id)!.Value, null, default));
        Assert.Null(await nursery.Ladders.Set(company, nursery.User, Purpose.Receivable, without, ladder, default));
        Assert.Equal("Somebody else", (await nursery.Ladders.Set(company, other, Purpose.Receivable, ladder, ladder, default))!.Message[..13]);

        // The dropped rung can be released only with the ends of its rules, and takes them along.
        Assert.Null(await Release(null, "ladders/receivable"));
        Assert.Equal(without.AsEnumerable(), (await Now()).Released.Book.LadderOf(Purpose.Receivable));
        Assert.Empty((await Now()).Changes);
    }

    [Fact]
    public async Task One_change_is_released_with_what_it_needs_and_the_rest_waits()
    {
        Assert.Null(await nursery.Groups.AddGroup(company, nursery.User, "item", new Group("HERBS", "Herbs", "REDUCED"), default));
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Cell("4030", (Fact.ItemGroup, "HERBS")), Cell("4015", (Fact.ItemGroup, "POTS"), (Fact.PartyGroup, "COUNCIL"))], Day, default));
        Assert.Null(await nursery.Groups.Move(company, nursery.User, "item", ["SEED-02"], "HERBS", default));
        var (_, draft, changes) = await Now();
        Assert.Equal(4, changes.Count);

        Assert.Null(await Release(null, "rules/" + RuleFor(draft, Purpose.Revenue, "HERBS").Id));
        var (released, rest, left) = await Now();
        Assert.NotNull(RuleFor(released, Purpose.Revenue, "HERBS"));
        Assert.Contains(released.Book.ItemGroups, g => g.Code == "HERBS");
        Assert.DoesNotContain(released.Book.Rules, r => r.When.Count == 2 && r.When[1].Code == "COUNCIL" && r.When[0].Code == "POTS");
        Assert.Equal(["items/SEED-02", "rules/" + RuleFor(rest, Purpose.Revenue, "POTS", "COUNCIL").Id], left.Select(c => c.Where).Order(StringComparer.Ordinal));
        Assert.Null(await Release());
        Assert.Empty((await Now()).Changes);
    }

    [Fact]
    public async Task A_new_account_is_not_taken_back_from_under_its_rule()
    {
        var (before, _, _) = await Now();
        Assert.Null(await nursery.Accounts.Add(company, nursery.User, [new NewAccount(new Account { Number = "4070", Name = "Sales of wax", Class = AccountClass.Income }, AccountDescription.None)], default));
        var rule = RuleFor(before, Purpose.Revenue, "SEEDS");
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [new CellEdit(rule.When, "4070", rule.Id, rule.Account)], Day, default));

        var refused = await nursery.Drafts.Undo(company, nursery.User, ["accounts/4070"], default);
        Assert.StartsWith("Account 4070 Sales of wax is new. It can't be taken back alone, because the draft uses it: Rule for revenue, SEEDS", refused!.Message, StringComparison.Ordinal);
        var left = (await Now()).Changes;
        Assert.Equal(2, left.Count);
        Assert.Null(await nursery.Drafts.Undo(company, nursery.User, [.. left.Select(c => c.Where)], default));
        Assert.Empty((await Now()).Changes);
    }

    [Fact]
    public async Task A_change_is_taken_back_and_a_needed_one_is_not()
    {
        var (before, _, _) = await Now();
        Assert.Null(await nursery.Groups.AddGroup(company, nursery.User, "item", new Group("HERBS", "Herbs", "REDUCED"), default));
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Cell("4030", (Fact.ItemGroup, "HERBS"))], Day, default));
        var rule = RuleFor(before, Purpose.Revenue, "SEEDS");
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [new CellEdit(rule.When, "4030", rule.Id, rule.Account)], Day, default));

        var refused = (await nursery.Drafts.Undo(company, nursery.User, ["itemGroups/HERBS"], default))!.Message;
        Assert.Contains("can't be taken back alone, because the draft uses it: Rule for revenue, HERBS", refused, StringComparison.Ordinal);
        Assert.Null(await nursery.Drafts.Undo(company, nursery.User, ["rules/" + rule.Id], default));
        Assert.Equal(2, (await Now()).Changes.Count);
        Assert.Null(await nursery.Drafts.Discard(company, nursery.User, (await nursery.Rulebooks.StateOf(company, default)).InDraft, default));
        Assert.Empty((await Now()).Changes);
        Assert.Equal(Written(before.Book), Written((await Now()).Draft.Book));
        // The code is free again, as if it had never been.
        Assert.Null(await nursery.Groups.AddGroup(company, nursery.User, "item", new Group("herbs", "Herbs"), default));
    }

    [Fact]
    public async Task An_earlier_edition_comes_back_as_a_draft_without_losing_what_came_later()
    {
        var first = (await Now()).Released;
        var rule = RuleFor(first, Purpose.Revenue, "SEEDS");
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [new CellEdit(rule.When, "4030", rule.Id, rule.Account), Cell("4015", (Fact.ItemGroup, "POTS"), (Fact.PartyGroup, "COUNCIL"))], Day, default));
        Assert.Null(await nursery.Groups.AddItem(company, nursery.User, new Item { Code = "LATER", Name = "Later", Kind = ItemKind.Stock, Group = "POTS" }, default));
        Assert.Null(await Release());

        Assert.Null(await nursery.Drafts.BringBack(company, nursery.User, first.Edition, default));
        var (_, draft, changes) = await Now();
        Assert.Equal(2, changes.Count);
        Assert.Equal(rule.Account, RuleFor(draft, Purpose.Revenue, "SEEDS").Account);
        Assert.Contains(draft.Book.Items, i => i.Code == "LATER");
        Assert.Contains("has changes of its own", (await nursery.Drafts.BringBack(company, nursery.User, first.Edition, default))!.Message, StringComparison.Ordinal);
        Assert.Null(await Release());
    }

    [Fact]
    public async Task With_four_eyes_neither_the_maker_nor_the_last_hand_releases()
    {
        await nursery.Companies.SetFourEyes(company, nursery.User, true, default);
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Cell("4015", (Fact.ItemGroup, "POTS"), (Fact.PartyGroup, "COUNCIL"))], Day, default));
        Assert.Contains("four eyes", (await Release())!.Message, StringComparison.Ordinal);
        var rule = RuleFor((await Now()).Draft, Purpose.Revenue, "POTS", "COUNCIL");
        Assert.Empty(await nursery.Cells.Set(company, other, Purpose.Revenue, [new CellEdit(rule.When, "4030", rule.Id, "4015")], Day, default));
        Assert.Contains("four eyes", (await Release())!.Message, StringComparison.Ordinal);
        Assert.Contains("four eyes", (await Release(other))!.Message, StringComparison.Ordinal);
        var third = await nursery.People.Add("third" + company, "Third", "hash", default);
        Assert.Null(await Release(third));
    }

    [Fact]
    public async Task A_release_touches_no_row_of_a_rule()
    {
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Revenue, [Cell("4015", (Fact.ItemGroup, "POTS"), (Fact.PartyGroup, "COUNCIL"))], Day, default));
        var before = await nursery.Ask<string>($"select string_agg(xmin::text || ctid::text, ',' order by id) from rule where company_id = {company}");
        Assert.Null(await Release());
        Assert.Equal(before, await nursery.Ask<string>($"select string_agg(xmin::text || ctid::text, ',' order by id) from rule where company_id = {company}"));
    }
}
