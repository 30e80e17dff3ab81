using Severity = Assignum.Core.Findings.Severity;
using Assignum.Core.Groups;
using Assignum.Storage.Checks;
using Assignum.Storage.Finding;
using Assignum.Storage.Journal;

namespace Assignum.Storage.Tests;

/// <summary>Findings that may stand, things that are found by typing, a journal that is summed, and stock that stayed behind.</summary>
public sealed class AcceptedAndFoundTests(Nursery nursery) : IClassFixture<Nursery>
{
    static readonly DateOnly Today = new(2026, 3, 20);
    static readonly Core.Findings.Finding Mismatch = new("class-mismatch", Severity.Warning, "revenue|itemGroup=SEEDS", "4010 is of class asset.", "4010");

    AcceptedFindings Accepted => new(nursery.Source);

    Task<Storage.Settings.Refusal?> Accept(Core.Findings.Finding finding, string reason = "Agreed with the auditor", DateOnly? until = null) =>
        Accepted.Accept(nursery.Company, nursery.User, finding, reason, until ?? Today.AddDays(10), Today, default);

    [Fact]
    public async Task An_acceptance_holds_for_the_finding_and_account_it_was_given_for_and_ends_when_it_is_opened()
    {
        Assert.Null(await Accept(Mismatch));
        Assert.Null(await Accept(Mismatch, "Agreed again"));
        var one = Assert.Single(await Accepted.Of(nursery.Company, default));
        Assert.Equal(("Agreed again", Today.AddDays(10), AcceptedFindings.KeyOf(Mismatch)), (one.Reason, one.Until, one.Key));
        Assert.NotEqual(one.Key, AcceptedFindings.KeyOf(Mismatch with { Account = "4020" }));

        Assert.True(await Accepted.End(nursery.Company, nursery.User, one.Id, default));
        Assert.False(await Accepted.End(nursery.Company, nursery.User, one.Id, default));
        Assert.Empty(await Accepted.Of(nursery.Company, default));
    }

    [Fact]
    public async Task Errors_days_gone_by_and_acceptances_without_a_reason_are_refused()
    {
        Assert.Contains("can't be accepted", (await Accept(Mismatch with { Severity = Severity.Error }))!.Message, StringComparison.Ordinal);
        Assert.Equal("reason", (await Accept(Mismatch, "  "))!.Field);
        Assert.Equal("until", (await Accept(Mismatch, until: Today.AddDays(-1)))!.Field);
    }

    [Theory]
    [InlineData("meadow 50", "item SEED-04")]
    [InlineData("MIX, meadow", "item SEED-04")]
    [InlineData("sales seeds", "account 4010")]
    [InlineData("seeds-of sales", "account 4010")]
    [InlineData("larkfield", "party C-10")]
    public async Task Things_are_found_by_words_in_any_order_whatever_stands_between(string typed, string found) =>
        Assert.Contains(found, (await new FindStore(nursery.Source).Find(nursery.Company, typed, 10, default)).Select(f => $"{f.Kind} {f.Code}"));

    [Fact]
    public async Task Documents_and_entries_are_found_by_their_numbers()
    {
        var posted = await nursery.Post(Nursery.Invoice("FOUND-1", more: "\"number\":\"2026-0815\","));
        var find = new FindStore(nursery.Source);

        Assert.Contains((await find.Find(nursery.Company, "2026-08", 10, default)), f => (f.Kind, f.Code, f.Id) == ("document", "2026-0815", posted.EntryId));
        Assert.Contains((await find.Find(nursery.Company, "found-1", 10, default)), f => (f.Kind, f.Id) == ("document", posted.EntryId));
        Assert.Contains((await find.Find(nursery.Company, posted.EntryNumber!.Value.ToString(System.Globalization.CultureInfo.InvariantCulture), 10, default)),
            f => (f.Kind, f.Id) == ("entry", posted.EntryId));
    }

    [Fact]
    public async Task The_sum_of_a_filter_is_that_of_all_its_pages()
    {
        var company = await nursery.OpenCompany("SUM");
        await nursery.Posting.Post(company, nursery.User,
            [.. Enumerable.Range(1, 30).Select(i => Nursery.Invoice($"{(i % 3 == 0 ? "A" : "B")}-{i}", price: i))], default);
        await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("A-3", price: 50, more: "\"revision\":2,")], default);
        var labels = (await nursery.Rulebooks.Load(company, null, default)).Labels;
        var everything = new JournalFilter(null, null, null, null, null, null);
        JournalFilter[] filters =
        [
            everything, everything with { Document = "a-" }, everything with { Type = "sales-invoice" }, everything with { Amount = 54m },
                everything with { Account = labels.Account("1320") },
            everything with { Account = labels.Account("1320"), Document = "B-1" }, everything with { Purpose = "revenue", Amount = 50m },
                everything with { Document = "no such" }, everything with { Document = "A_3" },
        ];
        foreach (var filter in filters)
        {
            var (seen, after) = (new List<EntryListed>(), default(JournalPlace?));
            while (await nursery.Journal.Page(company, filter, after, 7, default) is { Count: > 0 } page)
            {
                seen.AddRange(page);
                after = new JournalPlace(page[^1].Date, page[^1].Id);
            }
            Assert.Equal(new JournalSum(seen.Count, seen.Sum(e => e.Matching ?? e.Total)), await nursery.Journal.Sum(company, filter, default));
        }
        // An invoice of 10 at price i comes to 10.8 i: the sum of 1 to 30, and what the revision made of 3.
        Assert.Equal(new JournalSum(32, 10.8m * (465 - 3 + 50)), await nursery.Journal.Sum(company, everything, default));
        Assert.Equal(new JournalSum(12, 10.8m * (165 - 3 + 50)), await nursery.Journal.Sum(company, everything with { Document = "a-" }, default));
    }

    [Fact]
    public async Task A_credit_note_takes_from_the_sum_what_its_party_is_owed_and_a_withdrawal_takes_the_document_back()
    {
        var company = await nursery.OpenCompany("OWED");
        var note = Nursery.Event("""{"id":"N-1","type":"sales-credit-note","date":"2026-03-14","party":"C-10","lines":[{"item":"SEED-01","quantity":4,"price":2.5}]}""");
        await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("OWED-1"), Nursery.Invoice("OWED-2"), note], default);
        await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("OWED-2", more: "\"revision\":2,\"withdrawn\":true,")], default);

        // 27 owed, 10.80 given back; OWED-2 and what took it back are nothing together.
        Assert.Equal(new JournalSum(4, 27m - 10.8m), await nursery.Journal.Sum(company, new JournalFilter(null, null, null, null, null, null), default));
    }

    [Fact]
    public async Task Stock_stays_on_the_account_it_landed_on_when_its_item_moves_to_another_group()
    {
        var company = await nursery.OpenCompany("STAY");
        await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("STAY-1")], default);
        var seed = (await nursery.Rulebooks.Load(company, null, default)).Labels.IdOf("item", "SEED-01")!.Value;
        Assert.Null(await nursery.Groups.Move(company, nursery.User, "item", ["SEED-01"], "POTS", default));

        Assert.Equal([new StockStanding("SEED-01", "1320", "Seeds", -8.5m)], await new StandingStock(nursery.Source).Of(company, [seed], default));
    }

    [Fact]
    public async Task A_group_that_begins_as_a_copy_has_all_the_rules_of_the_other()
    {
        var company = await nursery.OpenCompany("COPY");
        Assert.Null(await nursery.Groups.AddGroup(company, nursery.User, "item", new Group("HERBS", "Herbs", "REDUCED"), default, copyOf: "SEEDS"));
        var book = (await nursery.Rulebooks.Load(company, (await nursery.Rulebooks.StateOf(company, default)).Draft, default)).Book;

        string[] Of(string group) => [.. book.Rules.Where(r => r.When.Any(w => w.Code == group)).Select(r =>
            $"{r.Purpose.Name} {string.Join(',', r.When.Select(w => w.Code == group ? "*" : w.Code))} {r.Account}").Order(StringComparer.Ordinal)];
        Assert.NotEmpty(Of("SEEDS"));
        Assert.Equal(Of("SEEDS"), Of("HERBS"));
        Assert.Equal("copyOf", (await nursery.Groups.AddGroup(company, nursery.User, "item", new Group("MORE", "More"), default, copyOf: "NONE"))!.Field);
    }
}
