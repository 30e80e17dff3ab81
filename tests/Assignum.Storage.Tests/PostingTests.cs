using Assignum.Core.Posting;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Storage.Tests;

/// <summary>Posting: one transaction, gapless numbers, each event once.</summary>
public sealed class PostingTests(Nursery nursery) : IClassFixture<Nursery>
{
    static readonly JournalFilter Everything = new(null, null, null, null, null, null);

    async Task<EntryWhole> Entry(Posted posted) => (await nursery.Journal.Entry(nursery.Company, posted.EntryId!.Value, default))!;

    async Task InOrder()
    {
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(nursery.Company, default));
        Assert.Equal(0m, await nursery.Ask<decimal>("select coalesce(sum(amount), 0) from line"));
        Assert.Equal(0L, await nursery.Ask<long>("select count(*) from (select company_id, fiscal_year_id, count(*) n, max(number) m, min(number) f from entry group by 1, 2) g where n <> m or f <> 1"));
    }

    [Fact]
    public async Task An_entry_keeps_event_lines_facts_rules_and_subledgers()
    {
        var entry = await Entry(await nursery.Post(Nursery.Invoice("KEPT", more: "\"location\":\"NORTH\",\"dueDate\":\"2026-04-13\",\"dimensions\":{\"CC\":\"100\"},")));

        Assert.Equal(["4015 -25.0000 itemGroup+partyGroup r12", "5010 8.5000 itemGroup r54", "1320 -8.5000 itemGroup r48", "2210 -2.0000 taxCode r27", "1100 27.0000 default r1"],
            entry.Lines.Select(l => FormattableString.Invariant($"{l.Account} {l.Amount} {l.Rung} {l.RuleName}")));
        Assert.Equal(["inventory SEED-01 NORTH", "tax R8 output", "receivables C-10 "], entry.Subledger.Select(s => $"{s.Subledger} {s.Member} {s.Place}"));
        Assert.Equal(("CC=100", new DateOnly(2026, 4, 13), 2), (entry.Lines[0].Dimensions, entry.DueDate, entry.Edition));
        Assert.Contains(entry.Lines[0].Facts, f => f is { Fact: Core.Rulebooks.Fact.PartyGroup, Code: "TRADE" });
        await InOrder();
    }

    [Fact]
    public async Task The_same_event_again_is_answered_with_its_first_outcome()
    {
        var first = await nursery.Post(Nursery.Invoice("TWICE"));
        var again = await nursery.Post(Nursery.Invoice("TWICE"));

        Assert.Equal((PostingFate.Known, first.EntryId, first.EntryNumber), (again.Fate, again.EntryId, again.EntryNumber));
        await InOrder();
    }

    [Fact]
    public async Task The_same_event_with_other_contents_is_refused()
    {
        await nursery.Post(Nursery.Invoice("OTHER"));

        Assert.Equal(PostingFate.Refused, (await nursery.Post(Nursery.Invoice("OTHER", price: 3))).Fate);
    }

    [Fact]
    public async Task A_higher_revision_takes_the_earlier_entry_back_and_lands_anew()
    {
        var first = await nursery.Post(Nursery.Invoice("REVISED"));
        var second = await nursery.Post(Nursery.Invoice("REVISED", price: 3, more: "\"revision\":2,"));
        var third = await nursery.Post(Nursery.Invoice("REVISED", price: 4, more: "\"revision\":3,"));

        Assert.Equal(-27m, (await Entry(first)).ReversedBy is { } by ? (await nursery.Journal.Entry(nursery.Company, by, default))!.Lines[^1].Amount : 0);
        Assert.Equal(32.4m, (await Entry(second)).Lines[^1].Amount);
        Assert.NotNull((await Entry(second)).ReversedBy);
        Assert.Null((await Entry(third)).ReversedBy);
        Assert.Equal(43.2m, await nursery.Ask<decimal>("select sum(s.amount) from movement s join event e on (e.company_id, e.id) = (s.company_id, s.event_id) where e.source_id = 'REVISED' and s.subledger = 'receivables'"));
        Assert.Equal(PostingFate.Refused, (await nursery.Post(Nursery.Invoice("REVISED", price: 9, more: "\"revision\":2,"))).Fate);
        await InOrder();
    }

    [Fact]
    public async Task A_withdrawn_event_is_taken_back_and_nothing_takes_its_place()
    {
        await nursery.Post(Nursery.Invoice("WITHDRAWN"));
        var withdrawn = await nursery.Post(Nursery.Invoice("WITHDRAWN", more: "\"revision\":2,\"withdrawn\":true,"));

        Assert.Equal((PostingFate.Landed, (long?)null), (withdrawn.Fate, withdrawn.EntryId));
        Assert.Equal(0m, await nursery.Ask<decimal>("select sum(s.amount) from movement s join event e on (e.company_id, e.id) = (s.company_id, s.event_id) where e.source_id = 'WITHDRAWN'"));
        await InOrder();
    }

    [Fact]
    public async Task Revisions_in_one_delivery_land_in_their_order()
    {
        var posted = await nursery.Posting.Post(nursery.Company, nursery.User, [Nursery.Invoice("BOTH"), Nursery.Invoice("BOTH", price: 5, more: "\"revision\":2,")], default);

        Assert.NotNull((await Entry(posted[0])).ReversedBy);
        Assert.Null((await Entry(posted[1])).ReversedBy);
    }

    [Fact]
    public async Task What_is_held_is_kept_with_its_reasons_and_has_no_entry()
    {
        var posted = await nursery.Post(Nursery.Event("""{"id":"HELD","type":"sales-invoice","date":"2026-03-14","party":"C-70","lines":[{"item":"SEED-01","price":1}]}"""));

        Assert.Equal((PostingFate.Held, HeldCause.NoTaxRule), (posted.Fate, posted.Reasons.Single().Cause));
        Assert.Equal("no-tax-rule", await nursery.Ask<string>("select cause from held_reason h join event e on (e.company_id, e.id) = (h.company_id, h.event_id) where source_id = 'HELD'"));
        Assert.Equal(0L, await nursery.Ask<long>("select count(*) from entry n join event e on (e.company_id, e.id) = (n.company_id, n.event_id) where source_id = 'HELD'"));
    }

    [Fact]
    public async Task A_date_outside_an_opened_year_or_in_a_closed_period_is_held()
    {
        Assert.Null(await nursery.Periods.Close(nursery.Company, nursery.User, await nursery.PeriodOf(nursery.Company, 1), null, default));
        foreach (var date in new[] { "2025-12-31", "2026-01-15", "2027-01-01" })
        {
            var posted = await nursery.Post(Nursery.Event($$"""{"id":"D{{date}}","type":"sales-invoice","date":"{{date}}","party":"C-10","lines":[{"item":"SEED-01","price":1}]}"""));
            Assert.Equal(HeldCause.ClosedPeriod, posted.Reasons.Single().Cause);
        }
    }

    [Fact]
    public async Task A_period_closes_only_when_whoever_is_posting_has_ended()
    {
        var company = await nursery.OpenCompany("CLOSING");
        var february = await nursery.PeriodOf(company, 2);
        await using var posting = await nursery.Source.OpenConnectionAsync();
        await using var transaction = await posting.BeginTransactionAsync();
        await PostingStore.Lock(posting, company, default);
        var closing = nursery.Periods.Close(company, nursery.User, february, null, default);

        Assert.NotSame(closing, await Task.WhenAny(closing, Task.Delay(300)));
        await transaction.CommitAsync();
        Assert.Null(await closing);
        Assert.Contains("already", (await nursery.Periods.Close(company, nursery.User, february, null, default))!.Message, StringComparison.Ordinal);
        Assert.Equal("Period 2026-02-01 to 2026-02-28 closed.",
            await nursery.Ask<string>($"select sentence from change_log where company_id = {company} and subject = 'period'"));
    }

    [Fact]
    public async Task A_dimension_value_that_the_list_lacks_is_held_with_the_nearest_ones()
    {
        var company = await nursery.OpenCompany("LISTS");
        Assert.Null(await nursery.Dimensions.Define(company, nursery.User, "CC", "Cost centre", [("100", "Sales"), ("110", "Shop"), ("900", "Office")],
            default));
        Assert.Null(await nursery.Dimensions.Define(company, nursery.User, "SITE", "Site", [], default));
        async Task<Posted> Post(string id, string name, string value) =>
            Assert.Single(await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice(id, more: $"\"dimensions\":{{\"{name}\":\"{value}\"}},")],
                default));

        Assert.Equal(PostingFate.Landed, (await Post("KNOWN", "cc", "110")).Fate);
        Assert.Equal(PostingFate.Landed, (await Post("FREE", "SITE", "anything")).Fate);
        var reason = Assert.Single((await Post("LACKS", "CC", "101")).Reasons);
        Assert.Equal((HeldCause.UnknownCode, "dimensions.CC"), (reason.Cause, reason.Field));
        Assert.Equal("Dimension CC has no value 101 (dimensions.CC). Nearest: 100, 110. Add the value, or correct it.", reason.Message);
        Assert.Contains("no dimension CCC", Assert.Single((await Post("NAME", "CCC", "100")).Reasons).Message, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_event_that_names_a_connection_is_not_that_connections_event()
    {
        var sent = Nursery.Event("{\"id\":\"SAME\",\"type\":\"sales-invoice\",\"date\":\"2026-03-14\",\"party\":\"C-10\",\"connection\":\"web-shop\",\"lines\":[{\"item\":\"SEED-01\",\"price\":1}]}", source: "web-shop");
        var typed = sent with { Source = PostableEvent.Own };

        Assert.Equal([PostingFate.Landed, PostingFate.Landed], new[] { (await nursery.Post(sent)).Fate, (await nursery.Post(typed)).Fate });
        Assert.Equal(PostingFate.Known, (await nursery.Post(sent with { Source = "Web-Shop" })).Fate);
        Assert.Equal("OWN WEB-SHOP", await nursery.Ask<string>("select string_agg(source, ' ' order by source) from event where source_id = 'SAME' and connection = 'WEB-SHOP'"));
    }

    [Fact]
    public async Task A_bad_event_leaves_its_batch_and_the_rest_goes_on()
    {
        PostableEvent[] batch = [.. Enumerable.Range(0, 9).Select(i => Nursery.Invoice("BATCH-" + i))];
        // No text of PostgreSQL can hold a NUL.
        batch[4] = batch[4] with { Received = """{"id":"\u0000"}""" };
        var posted = await nursery.Posting.Post(nursery.Company, nursery.User, batch, default);

        Assert.Equal(PostingFate.Refused, posted[4].Fate);
        Assert.Equal(8, posted.Count(p => p.Fate == PostingFate.Landed));
        await InOrder();
    }

    [Theory]
    [InlineData("update line set amount = 0")]
    [InlineData("delete from entry")]
    [InlineData("truncate party_movement")]
    [InlineData("update change_log set sentence = ''")]
    [InlineData("update entry set number = 1")]
    [InlineData("update event set received = '{}'")]
    [InlineData("drop table line")]
    [InlineData("update balance set debit = 0")]
    [InlineData("insert into balance select * from balance")]
    [InlineData("update draft_row set edition = 1")]
    [InlineData("update posting_row set edition = 1")]
    [InlineData("update edition set note = ''")]
    [InlineData("insert into edition (company_id, number) select id, 99 from company")]
    [InlineData("update balance_row set last_entry = 0")]
    [InlineData("insert into company (code, code_fold, name, currency) values ('X', 'X', 'X', 'EUR')")]
    [InlineData("update app_user set name = 'x'")]
    [InlineData("alter table rule disable trigger all")]
    public async Task The_application_s_role_can_t_change_what_is_posted(string sql) =>
        Assert.Equal("42501", (await Assert.ThrowsAsync<PostgresException>(() => nursery.Ask<object>(sql))).SqlState);

    [Theory]
    [InlineData("insert into rule (company_id, name, purpose, rung, keys, account_id, rule_key, validity, introduced_in) select company_id, 'x', 'bank', '{}', '{}', min(id), gen_random_uuid(), '(,)', 1 from account group by company_id")]
    [InlineData("insert into member_setting (company_id, member_id, role, introduced_in, retired_in) select company_id, member_id, role, 1, 2 from member_setting where role is not null limit 1")]
    [InlineData("update rule set account_id = account_id + 1 where introduced_in = 2")]
    [InlineData("delete from tax_rule where introduced_in = 2")]
    public async Task Nothing_of_a_released_edition_changes_and_nothing_comes_into_it(string sql) =>
        Assert.Equal("P0001", (await Assert.ThrowsAsync<PostgresException>(() => nursery.Ask<object>(sql))).SqlState);

    [Fact]
    public async Task An_application_of_another_version_than_the_database_says_so()
    {
        await using var empty = await Testing.FreshDatabase.Make();
        await using var source = Database.Open(empty.Owner);
        Assert.Contains("has not been made ready", await Database.WhyNot(source, default), StringComparison.Ordinal);
        Database.Migrate(empty.Owner);
        Assert.Null(await Database.WhyNot(source, default));

        await using var owner = NpgsqlDataSource.Create(empty.Owner);
        await owner.CreateCommand("insert into schemaversions (scriptname, applied) values ('Assignum.Storage.Migrations.9999_from_the_future.sql', now())").ExecuteNonQueryAsync();
        Assert.Contains("newer than the application: it has 9999_from_the_future", await Database.WhyNot(source, default), StringComparison.Ordinal);
        await owner.CreateCommand("delete from schemaversions where scriptname like '%9999%' or scriptname like '%0012%'").ExecuteNonQueryAsync();
        Assert.Contains("older than the application: it lacks 0012_people_and_sessions", await Database.WhyNot(source, default), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_journal_is_paged_and_filtered()
    {
        await nursery.Posting.Post(nursery.Company, nursery.User, [.. Enumerable.Range(0, 25).Select(i => Nursery.Invoice("PAGE-" + i))], default);
        var labels = (await nursery.Rulebooks.Load(nursery.Company, null, default)).Labels;
        var filter = Everything with { Account = labels.Account("1320"), Party = labels.IdOf("party", "C-10") };
        var seen = new HashSet<long>();
        JournalPlace? after = null;
        while (await nursery.Journal.Page(nursery.Company, filter, after, 7, default) is { Count: > 0 } page)
        {
            Assert.All(page, e => Assert.True(seen.Add(e.Id) && e.Matching is not null));
            after = new JournalPlace(page[^1].Date, page[^1].Id);
        }

        Assert.Equal(await nursery.Ask<long>("select count(distinct entry_id) from line l join account a on (a.company_id, a.id) = (l.company_id, l.account_id) where a.number = '1320'"), seen.Count);
        Assert.Empty(await nursery.Journal.Page(nursery.Company, Everything with { Purpose = "bank" }, null, 10, default));
        Assert.Empty(await nursery.Journal.Page(nursery.Company, Everything with { To = new DateOnly(2026, 3, 13) }, null, 10, default));
    }
}

/// <summary>Many at once.</summary>
public sealed class ConcurrentPostingTests(Nursery nursery) : IClassFixture<Nursery>
{
    [Fact]
    public async Task Eight_connections_at_once_leave_no_gap_no_double_and_balances_equal_to_lines()
    {
        var others = await nursery.OpenCompany("QX");
        // Each event is sent by two of the eight; a draft is changed and released meanwhile.
        await Task.WhenAll(Enumerable.Range(0, 8).Select(worker => Task.Run(async () =>
        {
            var posting = nursery.Posting;
            for (var i = 0; i < 12; i++)
                foreach (var company in new[] { nursery.Company, others })
                    await posting.Post(company, nursery.User, [.. Enumerable.Range(0, 5).Select(k => Nursery.Invoice($"W{worker / 2}-{i}-{k}"))], default);
        })).Append(Task.Run(async () =>
        {
            for (var i = 0; i < 6; i++)
            {
                await nursery.SetTax("ABROAD", "REDUCED", i % 2 == 0 ? "Z0" : "E0");
                await nursery.Release();
            }
        })));

        foreach (var company in new[] { nursery.Company, others })
        {
            Assert.Equal(240L, await nursery.Ask<long>($"select count(*) from entry where company_id = {company}"));
            Assert.Equal(240L, await nursery.Ask<long>($"select max(number) from entry where company_id = {company}"));
            Assert.Equal(240L, await nursery.Ask<long>($"select count(distinct source_id) from event where company_id = {company}"));
            Assert.Equal(0m, await nursery.Ask<decimal>($"select sum(amount) from line where company_id = {company}"));
            Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
        }
        Assert.Equal(8, (await nursery.Rulebooks.StateOf(nursery.Company, default)).Edition);
    }

    [Fact]
    public async Task Several_instances_may_migrate_at_once()
    {
        await using var empty = await Testing.FreshDatabase.Make();
        await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Task.Run(() => Database.Migrate(empty.Owner))));
        await using var source = Database.Open(empty.Owner);

        // Whoever has migrated keeps nothing that the next instance would wait for.
        await using var locks = source.CreateCommand("select count(*) from pg_locks l join pg_database d on d.oid = l.database where d.datname = current_database() and locktype = 'advisory'");
        Assert.Equal(0L, await locks.ExecuteScalarAsync());
        Assert.Empty(await new Companies.CompanyStore(source).All(default));
    }
}
