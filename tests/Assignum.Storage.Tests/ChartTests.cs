using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Formats.Charts;
using Assignum.Formats.Events;
using Assignum.Storage.Charts;
using Assignum.Storage.Jobs;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Testing;

namespace Assignum.Storage.Tests;

/// <summary>The chart on a real database: descriptions, plans, merges, imports and jobs.</summary>
public class ChartTests(Nursery nursery) : IClassFixture<Nursery>
{
    async Task<StoredRulebook> Draft(int? company = null) => await nursery.Rulebooks.Load(company ?? nursery.Company, (await nursery.Rulebooks.StateOf(company ?? nursery.Company, default)).Draft, default);

    async Task<ChartBook> Chart(int? company = null) => await nursery.Chart.Of(company ?? nursery.Company, await Draft(company), default);

    async Task<Refusal?> Change(string number, Func<Account, Account> change, AccountDescription? description = null, string? replacement = null)
    {
        var stored = await Draft();
        var account = stored.Book.Accounts.Single(a => a.Number == number);
        var id = stored.Labels.Account(number)!.Value;
        return await nursery.Accounts.Change(nursery.Company, nursery.User, id, await nursery.Chart.LastChangeOf(nursery.Company, id, default), change(account), description ?? (await Chart()).DescriptionOf(number), replacement, default);
    }

    async Task<Refusal?> Delete(string number)
    {
        var id = (await Draft()).Labels.Account(number)!.Value;
        return await nursery.Accounts.Delete(nursery.Company, nursery.User, id, await nursery.Chart.LastChangeOf(nursery.Company, id, default), default);
    }

    Task<Refusal?> Add(params Account[] accounts) => nursery.Accounts.Add(nursery.Company, nursery.User, [.. accounts.Select(a => new NewAccount(a, AccountDescription.None))], default);

    static Account New(string number, string parent = "62") => new() { Number = number, Name = "Account " + number, Class = AccountClass.Expense, Parent = parent };

    [Fact]
    public async Task What_is_said_of_an_account_is_kept_and_holds_without_a_release()
    {
        var said = new AccountDescription { ShortName = "Stands", Text = "Fees for stands.", Side = UsualSide.Debit, Activity = "47", Reporting = [new("Annual", "12"), new("Bank", "A")] };
        var before = await nursery.Rulebooks.StateOf(nursery.Company, default);
        Assert.Null(await Change("6210", a => a, said));

        Assert.True((await Chart()).DescriptionOf("6210").SaysTheSame(said));
        Assert.Equal(before.InDraft, (await nursery.Rulebooks.StateOf(nursery.Company, default)).InDraft);
        Assert.Null((await nursery.Editions.History(nursery.Company, "account", (await Draft()).Labels.Account("6210")!.Value, default))[0].Edition);
    }

    [Fact]
    public async Task Settings_of_every_kind_come_back_as_they_went()
    {
        var limits = new Account
        {
            Number = "6281", Name = "Limits", Class = AccountClass.Expense, Parent = "62", TaxRelevance = TaxRelevance.CapitalPurchases, PartyRole = Core.Groups.PartyRole.Supplier, Currencies = ["EUR", "USD"],
            Dimensions = new Dictionary<string, DimensionNeed> { ["CC"] = DimensionNeed.Required }, DimensionDefaults = new Dictionary<string, string> { ["CC"] = "100" },
        };
        Assert.Null(await Add(limits));

        Assert.True(limits.SameSetting((await nursery.DraftBook()).Accounts.Single(a => a.Number == "6281")));
    }

    [Fact]
    public async Task Several_accounts_are_added_all_or_none()
    {
        Assert.Contains("6210", (await Add(New("6291"), New("6210")))!.Message, StringComparison.Ordinal);

        Assert.DoesNotContain((await nursery.DraftBook()).Accounts, a => a.Number == "6291");
    }

    [Fact]
    public async Task An_account_in_use_is_not_deleted_and_the_message_says_by_what()
    {
        Assert.Contains("revenue", (await Delete("4010"))!.Message, StringComparison.Ordinal);
        Assert.Contains("below it", (await Delete("62"))!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_account_only_the_draft_ever_had_goes_whole_and_its_number_is_free_again()
    {
        Assert.Null(await Add(New("6292")));
        Assert.Null(await Delete("6292"));
        Assert.Null(await Add(New("6292")));
    }

    [Fact]
    public async Task A_released_account_that_nothing_uses_ends_with_the_draft_and_keeps_its_number()
    {
        Assert.Null(await Delete("8030"));

        Assert.DoesNotContain((await nursery.DraftBook()).Accounts, a => a.Number == "8030");
        Assert.Contains((await nursery.Edition()).Accounts, a => a.Number == "8030");
        Assert.Contains("earlier editions", (await Add(New("8030")))!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_account_with_rules_becomes_inactive_only_when_another_answers_in_its_place()
    {
        Assert.Equal("active", (await Change("4050", a => a with { Active = false }))!.Field);
        Assert.Null(await Change("4050", a => a with { Active = false }, replacement: "4040"));

        var book = await nursery.DraftBook();
        Assert.False(book.Accounts.Single(a => a.Number == "4050").Active);
        Assert.DoesNotContain(book.Rules, r => r.Account == "4050");
        Assert.Contains((await nursery.Edition()).Rules, r => r.Account == "4050");
    }

    [Fact]
    public async Task A_plan_is_refused_while_accounts_do_not_fit_and_renumbers_them_when_that_was_seen()
    {
        var company = await nursery.OpenCompany("QR");
        var plan = new NumberingPlan { Pattern = "#####", Classes = [new("income", "40000", "49999")], Headings = [new("62", "62000", "62999")] };
        Assert.Equal("misfits", (await nursery.Numbering.Change(company, nursery.User, null, plan, default))!.Field);
        Assert.Null(await nursery.Numbering.Change(company, nursery.User, (await Draft(company)).State.InDraft, plan, default));

        var chart = await Chart(company);
        Assert.Empty(chart.Numbers.Plan.Misfits(chart.Tree));
        Assert.Equal("Sales of seeds", chart.Tree.Find("40100")!.Name);
        Assert.Equal(Nursery.Book.Rules.Count(r => r.Account == "4010"), chart.Book.Rules.Count(r => r.Account == "40100"));
        Assert.Contains("once", chart.Numbers.TakenBy("4010"), StringComparison.Ordinal);
        Assert.Equal(plan.Classes, chart.Numbers.Plan.Classes);
    }

    [Fact]
    public async Task A_dimension_an_account_asks_for_is_not_taken_away()
    {
        Assert.Null(await nursery.Dimensions.Define(nursery.Company, nursery.User, "CC", "Cost centre", [("100", "Glasshouse"), ("200", "Crew")], default));

        Assert.Equal(["100", "200"], Assert.Single(await nursery.Dimensions.All(nursery.Company, default)).Values.Select(v => v.Code));
        Assert.Contains("asks for it", (await nursery.Dimensions.Remove(nursery.Company, nursery.User, "cc", default))!.Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Notes_are_kept_with_author_and_time()
    {
        var id = (await Draft()).Labels.Account("6210")!.Value;
        Assert.Null(await nursery.Accounts.AddNote(nursery.Company, nursery.User, id, " Check the fair in May. ", default));

        Assert.Equal(("Ines", "Check the fair in May."), Assert.Single(await nursery.Chart.NotesOf(nursery.Company, id, default)) is var note ? (note.By, note.Text) : default);
        Assert.NotNull(await nursery.Accounts.AddNote(nursery.Company, nursery.User, id, " ", default));
    }

    [Fact]
    public async Task Seventeen_hundred_messy_rows_are_in_place_with_their_tree()
    {
        var company = (await nursery.Companies.Open("QM", "Messy", "EUR", default)).Id;
        var done = await Import(company, MessyChart.Csv(), wholeOrNothing: false);

        Assert.Null(done.Refusal);
        var chart = await Chart(company);
        Assert.Equal(MessyChart.Sound, chart.Tree.Nodes.Count);
        Assert.Equal("110000", chart.Tree.Find("110010")!.Parent);
        var again = await Import(company, MessyChart.Xlsx(), wholeOrNothing: false);
        Assert.Equal(MessyChart.Sound, again.Plan.Count(ChartRowFate.Unchanged));
    }

    [Fact]
    public async Task With_a_refused_row_all_or_nothing_takes_nothing()
    {
        var company = (await nursery.Companies.Open("QW", "Whole", "EUR", default)).Id;

        Assert.Contains("nothing was imported", (await Import(company, MessyChart.Csv(), wholeOrNothing: true)).Refusal!.Message, StringComparison.Ordinal);
        Assert.Empty((await Chart(company)).Tree.Nodes);
    }

    [Fact]
    public async Task An_import_that_is_cancelled_leaves_nothing()
    {
        var company = (await nursery.Companies.Open("QX", "Cancelled", "EUR", default)).Id;
        var sheet = Formats.Sheets.SheetFile.Read(MessyChart.Csv()).Sheets[0];
        var rows = ChartSheet.Rows(sheet, MappingProposal.For(sheet));
        await Assert.ThrowsAsync<OperationCanceledException>(() => nursery.Imports.Import(company, nursery.User, chart => ChartImport.Plan(rows, chart), false, (_, _) => throw new OperationCanceledException(), default));

        Assert.Empty((await Chart(company)).Tree.Nodes);
    }

    async Task<ChartImported> Import(int company, byte[] file, bool wholeOrNothing)
    {
        var sheets = Formats.Sheets.SheetFile.Read(file).Sheets;
        var mapping = MappingProposal.For(sheets);
        var rows = ChartSheet.Rows(sheets.Single(s => s.Name == mapping.Sheet), mapping);
        return await nursery.Imports.Import(company, nursery.User, chart => ChartImport.Plan(rows, chart, mapping.Placing, mapping.KindsGiven), wholeOrNothing, (_, _) => Task.CompletedTask, default);
    }

    [Fact]
    public async Task A_merge_moves_rules_in_the_draft_and_the_balance_by_one_entry()
    {
        var company = await nursery.OpenCompany("QD");
        Assert.Equal(PostingFate.Landed, Assert.Single(await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("M-INV", more: "\"dimensions\":{\"CC\":\"300\"},")], default)).Fate);
        var stored = await Draft(company);
        var from = stored.Book.Accounts.Single(a => a.Number == "4015");
        var (source, target) = (stored.Labels.Account(from.Number)!.Value, stored.Labels.Account("4040")!.Value);
        var parts = await nursery.Merges.BalanceOf(company, source, byParty: false, default);
        Assert.Equal("CC=300", Assert.Single(parts).Dimensions.ToString());

        Assert.Null(await nursery.Merges.Merge(company, nursery.User, source, target, stored.State.InDraft, Move, default));

        var book = (await Draft(company)).Book;
        Assert.DoesNotContain(book.Rules, r => r.Account == from.Number);
        Assert.False(book.Accounts.Single(a => a.Number == from.Number).Active);
        Assert.Empty(await nursery.Merges.BalanceOf(company, source, byParty: false, default));
        Assert.Equal(parts.Sum(p => p.Amount), (await nursery.Merges.BalanceOf(company, target, byParty: false, default)).Sum(p => p.Amount));
        Assert.Equal("4040", (await nursery.Chart.MergedInto(company, source, default))?.Number);
        Assert.Null(await nursery.Release(company));
    }

    [Fact]
    public async Task What_stood_on_a_merged_account_stands_on_the_other_now()
    {
        var company = await nursery.OpenCompany("QS");
        var before = Assert.Single(await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("BEFORE")], default));
        var stored = await Draft(company);
        var (from, to) = (stored.Labels.Account("1100")!.Value, stored.Labels.Account("1120")!.Value);
        Assert.Null(await nursery.Merges.Merge(company, nursery.User, from, to, stored.State.InDraft, Move, default));
        // The rule in force still sends new invoices to the old account, until the draft is released.
        var after = Assert.Single(await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("AFTER")], default));

        async Task<string?> Now(Posted posted) => (await nursery.Journal.Entry(company, posted.EntryId!.Value, default))!.Lines[^1].Now?.Number;
        Assert.Equal("1120", await Now(before));
        Assert.Null(await Now(after));

        // Taken back, it leaves the account it stands on, and not the one it landed on.
        await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("BEFORE", more: "\"revision\":2,\"withdrawn\":true,")], default);
        var standing = await nursery.Merges.BalanceOf(company, to, byParty: false, default);
        Assert.Empty(standing);
        Assert.Equal(27m, Assert.Single(await nursery.Merges.BalanceOf(company, from, byParty: false, default)).Amount);
    }

    [Fact]
    public async Task A_merge_whose_balance_can_t_move_changes_nothing()
    {
        var company = await nursery.OpenCompany("QE");
        await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("M-INV")], default);
        var stored = await Draft(company);
        var control = stored.Book.Accounts.Single(a => a.Number == "1100");
        var refusal = await nursery.Merges.Merge(company, nursery.User, stored.Labels.Account("1100")!.Value, stored.Labels.Account("1120")!.Value,
            stored.State.InDraft, (from, to, parts) => Move(from, to, parts, new DateOnly(2027, 3, 31)), default);

        Assert.StartsWith("The balance can't be moved, so nothing was merged: 2027-03-31 lies after the last fiscal year", refusal!.Message, StringComparison.Ordinal);
        Assert.Equal(stored.Book.Rules.Count(r => r.Account == "1100"), (await Draft(company)).Book.Rules.Count(r => r.Account == "1100"));
        Assert.True(control.Active);
    }

    static PostableEvent Move(Account from, Account to, IReadOnlyList<MovedBalance> parts) => Move(from, to, parts, new DateOnly(2026, 3, 31));

    static PostableEvent Move(Account from, Account to, IReadOnlyList<MovedBalance> parts, DateOnly date)
    {
        var moved = new Reclassification { Id = "MERGE", Date = date, From = from.Number, To = to.Number, Lines = parts };
        var json = EventWriter.Write(moved);
        return new PostableEvent(moved, PostableEvent.Own, json, json, CanonicalJson.Digest(json));
    }

    [Fact]
    public async Task Balances_and_movements_over_a_span_come_from_the_balances_by_period()
    {
        var company = await nursery.OpenCompany("QB");
        await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("B-1"), Nursery.Event("""{"id":"B-2","type":"sales-invoice","date":"2026-05-02","party":"C-10","lines":[{"item":"SEED-01","quantity":10,"price":10}]}""")], default);
        var periods = await nursery.Balances.Periods(company, default);
        var receivable = (await Draft(company)).Labels.Account("1100")!.Value;

        var march = await nursery.Balances.Over(company, periods, periods[2], periods[2], default);
        var may = await nursery.Balances.Over(company, periods, periods[4], periods[4], default);
        Assert.Equal((27m, 27m), (march[receivable].Balance, march[receivable].Movement));
        Assert.Equal((135m, 108m), (may[receivable].Balance, may[receivable].Movement));
        Assert.Equal([(periods[2].Id, 27m), (periods[4].Id, 108m)], (await nursery.Balances.ByPeriod(company, [receivable], [.. periods.Select(p => p.Id)], default))[receivable].Order());
        Assert.Equal(periods[4].Id, await nursery.Balances.LastPosted(company, default));
    }

    [Fact]
    public async Task A_job_is_claimed_once_told_of_and_ended()
    {
        var id = await nursery.Jobs.Ask(nursery.Company, nursery.User, "nothing", "{}", default);
        var job = (await nursery.Jobs.Claim(default))!;
        Assert.Null(await nursery.Jobs.Claim(default));

        Assert.True(await nursery.Jobs.Tell(job, 3, 10, "Working", default));
        Assert.Equal((JobState.Running, 3, 10), await nursery.Jobs.Find(nursery.Company, id, default) is { } running ? (running.State, running.Done, running.Total) : default);
        await nursery.Jobs.Cancel(nursery.Company, id, default);
        Assert.False(await nursery.Jobs.Tell(job, 4, 10, "Working", default));
        await nursery.Jobs.End(job, JobState.Cancelled, "Cancelled.", null, default);
        Assert.True((await nursery.Jobs.Find(nursery.Company, id, default))!.Ended);
    }

    async Task LeaseRunsOut(long id)
    {
        await using var command = nursery.Source.CreateCommand($"update job set lease_until = now() - interval '1 second' where id = {id}");
        await command.ExecuteNonQueryAsync();
    }

    [Fact]
    public async Task A_job_that_ends_its_process_twice_is_set_aside_and_says_why()
    {
        var id = await nursery.Jobs.Ask(nursery.Company, nursery.User, "deadly", "{}", default);
        for (var i = 0; i < JobStore.MostCrashes; i++)
        {
            Assert.Equal(id, (await nursery.Jobs.Claim(default))!.Id);
            await LeaseRunsOut(id);
        }

        Assert.Null(await nursery.Jobs.Claim(default));
        var job = (await nursery.Jobs.Find(nursery.Company, id, default))!;
        Assert.Equal(JobState.Failed, job.State);
        Assert.Contains("the program ended 2 times while it worked on it", job.Said, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_job_that_fails_is_tried_three_times_and_then_says_why()
    {
        var id = await nursery.Jobs.Ask(nursery.Company, nursery.User, "faulty", "{}", default);
        for (var i = 0; i < JobStore.MostFailures; i++)
        {
            Assert.False((await nursery.Jobs.Find(nursery.Company, id, default))!.Ended);
            await nursery.Jobs.Fail((await nursery.Jobs.Claim(default))!, "The disk is full.", default);
        }

        Assert.Null(await nursery.Jobs.Claim(default));
        Assert.Equal("It has failed 3 times and is not tried again. The disk is full. Nothing of it was kept.",
            (await nursery.Jobs.Find(nursery.Company, id, default))!.Said);
    }

    [Fact]
    public async Task A_lease_that_is_renewed_is_not_taken_over_and_a_job_given_back_is_no_crash()
    {
        var id = await nursery.Jobs.Ask(nursery.Company, nursery.User, "long", "{}", default);
        var job = (await nursery.Jobs.Claim(default))!;
        await LeaseRunsOut(id);
        Assert.True(await nursery.Jobs.Renew(job, default));
        Assert.Null(await nursery.Jobs.Claim(default));

        for (var i = 0; i < 3; i++)
        {
            await nursery.Jobs.GiveBack(job, default);
            job = (await nursery.Jobs.Claim(default))!;
        }
        await nursery.Jobs.Cancel(nursery.Company, id, default);
        Assert.False(await nursery.Jobs.Renew(job, default));
        await nursery.Jobs.End(job, JobState.Cancelled, "", null, default);
    }

    [Fact]
    public async Task A_job_whose_worker_is_gone_is_taken_over_and_the_first_one_no_longer_holds_it()
    {
        var id = await nursery.Jobs.Ask(nursery.Company, nursery.User, "nothing", "{}", default);
        var first = (await nursery.Jobs.Claim(default))!;
        await using var command = nursery.Source.CreateCommand($"update job set lease_until = now() - interval '1 second' where id = {id}");
        await command.ExecuteNonQueryAsync();
        var second = (await nursery.Jobs.Claim(default))!;

        Assert.Equal((first.Id, false), (second.Id, first.Lease == second.Lease));
        Assert.False(await nursery.Jobs.Tell(first, 1, 1, "", default));
        Assert.Equal(1, await nursery.Jobs.End(second, JobState.Done, "", null, default));
    }
}
