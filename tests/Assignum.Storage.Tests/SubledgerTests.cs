using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Controls;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Storage.Subledgers;

namespace Assignum.Storage.Tests;

/// <summary>What stands of whom and where: ages, terms, moves from account to account, and what speaks against a journal.</summary>
public sealed class SubledgerTests(Nursery nursery) : IClassFixture<Nursery>
{
    static readonly DateOnly Day = new(2026, 6, 30);

    OpenItemStore Items => new(nursery.Source);
    StandingStore Standing => new(nursery.Source);
    ControlStore Controls => new(nursery.Source);
    TermsStore Terms => new(nursery.Source);

    async Task<IReadOnlyList<Posted>> Post(int company, params string[] events) =>
        await nursery.Posting.Post(company, nursery.User, [.. events.Select(json => Nursery.Event(json))], default);

    async Task Lands(int company, params string[] events) => Assert.All(await Post(company, events), p => Assert.True(p.Fate == PostingFate.Landed, p.WhyNot));

    static string Invoice(string id, decimal price, string more = "", string party = "C-10", string date = "2026-03-14") => FormattableString.Invariant(
        $$"""{"id":"{{id}}","type":"sales-invoice","date":"{{date}}","party":"{{party}}",{{more}}"lines":[{"account":"4110","price":{{price}},"taxCode":"E0"}]}""");

    static string Pays(string id, decimal amount, string item, string date = "2026-04-02") => FormattableString.Invariant(
        $$"""{"id":"{{id}}","type":"customer-payment","date":"{{date}}","party":"C-10","moneyAccount":"MAIN","amount":{{amount}},"settles":[{"event":"{{item}}","amount":{{amount}}}]}""");

    async Task<string> AccountOf(int company, string item)
    {
        var found = Assert.Single(await Items.Of(company, "receivables", null, new(2026, 12, 31), 100, default), i => i.Item.SourceId == item);
        return (await nursery.Rulebooks.Load(company, null, default)).NumberOf(found.Item.AccountId)!;
    }

    [Fact]
    public async Task What_is_open_is_aged_by_the_day_it_is_due_or_by_its_document()
    {
        var company = await nursery.OpenCompany("AGES");
        await Lands(company, Invoice("A", 1, "\"dueDate\":\"2026-06-30\","), Invoice("B", 2, "\"dueDate\":\"2026-06-29\","), Invoice("C", 4, "\"dueDate\":\"2026-05-31\","),
            Invoice("D", 8, "\"dueDate\":\"2026-05-30\","), Invoice("E", 16, "\"dueDate\":\"2026-05-01\","), Invoice("F", 32, "\"dueDate\":\"2026-04-30\","),
            Invoice("G", 64, "\"dueDate\":\"2026-03-31\","));
        Assert.Equal([1, 6, 24, 32, 64], Assert.Single(await Items.Parties(company, "receivables", Day, AgedBy.Due, default)).Ages);
        Assert.Equal([0, 0, 0, 0, 127], Assert.Single(await Items.Parties(company, "receivables", Day, AgedBy.Document, default)).Ages);
        Assert.Empty(await Items.Parties(company, "receivables", new(2026, 3, 13), AgedBy.Due, default));
    }

    [Fact]
    public async Task An_invoice_is_due_by_the_terms_of_its_party_else_of_its_group_and_by_its_own_day_before_both()
    {
        var company = await nursery.OpenCompany("TERMS");
        var labels = (await nursery.Rulebooks.Load(company, null, default)).Labels;
        Assert.Null(await Terms.Set(company, nursery.User, (null, labels.IdOf(Labels.Family("party"), "TRADE"), "TRADE"), null, new(30, 2, 10, 0.5m), default));
        Assert.Null(await Terms.Set(company, nursery.User, (labels.IdOf("party", "C-11"), null, "C-11"), null, new(7, 0, 0, 0), default));
        await Lands(company, Invoice("GROUP", 5), Invoice("OWN", 5, party: "C-11"), Invoice("SAYS", 5, "\"dueDate\":\"2026-03-20\","), Invoice("NONE", 5, party: "C-50"));
        Assert.Equal([("GROUP", new DateOnly(2026, 4, 13)), ("NONE", new(2026, 3, 14)), ("OWN", new(2026, 3, 21)), ("SAYS", new(2026, 3, 20))],
            (await Items.Of(company, "receivables", null, Day, 100, default)).Select(i => (i.Item.SourceId, i.Item.Due)).Order());
    }

    [Fact]
    public async Task Terms_that_somebody_has_changed_since_are_not_written_over()
    {
        var company = await nursery.OpenCompany("STALE");
        var of = ((int?)null, (await nursery.Rulebooks.Load(company, null, default)).Labels.IdOf(Labels.Family("party"), "TRADE"), "TRADE");
        Assert.Null(await Terms.Set(company, nursery.User, of, null, new(30, 0, 0, 0), default));
        Assert.Contains("within 30 days", (await Terms.Set(company, nursery.User, of, null, new(60, 0, 0, 0), default))!.Message, StringComparison.Ordinal);
        Assert.Null(await Terms.Set(company, nursery.User, of, new(30, 0, 0, 0), null, default));
        Assert.Empty(await Terms.All(company, default));
    }

    [Fact]
    public async Task The_dimensions_of_an_item_go_with_its_settlement()
    {
        var company = await nursery.OpenCompany("DIMS");
        await Lands(company, Invoice("WITH", 30, "\"dimensions\":{\"CC\":\"100\"},"), Pays("PART", 10, "WITH"),
            """{"id":"REST","type":"customer-payment","date":"2026-04-03","party":"C-10","moneyAccount":"MAIN","amount":20}""");
        Assert.Equal(["CC=100 0.0000"], await nursery.AskAll($"""
            select d.text || ' ' || sum(l.amount) from line l join account a on a.id = l.account_id join dimension_set d on d.company_id = l.company_id and d.id = l.dimension_set_id
            where l.company_id = {company} and l.purpose = 'receivable' group by d.text
            """));
    }

    static string Transfer(string id, string purpose, string from, string lines) => $$"""{"id":"{{id}}","type":"standing-transfer","date":"2026-05-02","purpose":"{{purpose}}","from":"{{from}}","lines":[{{lines}}]}""";

    /// <summary>Invoices on 1100 whose rule sends them to 1120 from now on.</summary>
    async Task<int> Moved(string code, params string[] events)
    {
        var company = await nursery.OpenCompany(code);
        await Lands(company, events);
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Receivable, [new CellEdit([new FactValue(Fact.Party, "C-10")], "1120", null, null)], Day, default));
        Assert.Null(await nursery.Release(company));
        return company;
    }

    [Fact]
    public async Task What_a_transfer_moves_is_settled_and_taken_back_on_the_new_account_from_then_on()
    {
        var company = await Moved("SHIFT", Invoice("OLD", 100), Invoice("OTHER", 7, party: "C-11"), Pays("SOME", 40, "OLD"));
        await Lands(company, Invoice("NEW", 5), Transfer("MOVE", "receivable", "1100", """{"party":"C-10","amount":60}"""));
        Assert.Equal(("1120", "1100", "1120"), (await AccountOf(company, "OLD"), await AccountOf(company, "OTHER"), await AccountOf(company, "NEW")));
        await Lands(company, Pays("MORE", 10, "OLD", "2026-05-03"), Invoice("OLD", 100, "\"revision\":2,\"withdrawn\":true,", date: "2026-05-10"));
        Assert.Equal(["1100 7.0000", "1120 -45.0000"], await nursery.AskAll($"""
            select a.number || ' ' || sum(l.amount) from line l join account a on a.id = l.account_id
            where l.company_id = {company} and l.purpose = 'receivable' group by a.number order by 1
            """));
        Assert.Equal(-50, Assert.Single(await Items.Of(company, "receivables", null, new(2026, 12, 31), 100, default), i => i.Item.SourceId == "OLD").Item.Open);
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
        // As of the day before, all of it stood where it was.
        Assert.DoesNotContain(await Items.Of(company, "receivables", null, new(2026, 5, 1), 100, default), i => i.Item is { SourceId: "OLD" } && i.Item.AccountId
            == Account(company, "1120").Result);
    }

    async Task<int> Account(int company, string number) => (await nursery.Rulebooks.Load(company, null, default)).Labels.Account(number)!.Value;

    [Fact]
    public async Task A_transfer_moves_what_stands_there_whole_or_is_held()
    {
        var company = await Moved("WHOLE", Invoice("OLD", 100));
        var held = Assert.Single(await Post(company, Transfer("HALF", "receivable", "1100", """{"party":"C-10","amount":60}""")));
        Assert.Equal(PostingFate.Held, held.Fate);
        Assert.Contains("100 of C-10 stand on 1100, and 60 are moved", held.WhyNot, StringComparison.Ordinal);
        Assert.Equal("1100", await AccountOf(company, "OLD"));
    }

    [Fact]
    public async Task A_transfer_is_taken_back_until_something_of_what_it_moved_is_settled()
    {
        var company = await Moved("BACK", Invoice("OLD", 100));
        var move = Transfer("MOVE", "receivable", "1100", """{"party":"C-10","amount":100}""");
        var back = move.Replace("\"type\"", "\"revision\":2,\"withdrawn\":true,\"type\"", StringComparison.Ordinal);
        await Lands(company, move, back);
        Assert.Equal("1100", await AccountOf(company, "OLD"));
        var again = Transfer("AGAIN", "receivable", "1100", """{"party":"C-10","amount":100}""");
        await Lands(company, again, Pays("SOME", 40, "OLD"));
        var refused = Assert.Single(await Post(company, again.Replace("\"type\"", "\"revision\":2,\"withdrawn\":true,\"type\"", StringComparison.Ordinal)));
        Assert.Equal(PostingFate.Refused, refused.Fate);
        Assert.Contains("does not stand there whole any more: OLD", refused.WhyNot, StringComparison.Ordinal);
        Assert.Equal("1120", await AccountOf(company, "OLD"));
    }

    [Fact]
    public async Task Stock_and_receipts_leave_the_account_they_were_moved_to()
    {
        var company = await nursery.OpenCompany("GOODS");
        await Lands(company, """{"id":"CAME","type":"stock-adjustment","date":"2026-04-29","location":"NORTH","lines":[{"item":"TREE-01","quantity":10,"unitCost":4,"reason":"count","standsOn":"1360"}]}""",
            Transfer("MOVE", "inventory", "1360", """{"item":"TREE-01","location":"NORTH","amount":40}"""),
            """{"id":"LEFT","type":"shipment","date":"2026-05-03","location":"NORTH","lines":[{"item":"TREE-01","quantity":4}]}""");
        var there = Assert.Single(await Standing.All(company, (await nursery.Rulebooks.Load(company, null, default)).Labels, "EUR", default));
        Assert.Equal(("1310", 6m, 24m), (there.Account, there.Quantity, there.Amount));
        Assert.Equal(0m, await nursery.Ask<decimal>($"select sum(l.amount) from line l join account a on a.id = l.account_id where l.company_id = {company} and a.number = '1360'"));
    }

    [Fact]
    public async Task A_journal_onto_an_account_of_parties_says_whose_amount_it_is_where_the_policy_lets_it_through()
    {
        var company = await nursery.OpenCompany("WHOSE");
        var id = await Account(company, "1100");
        Assert.Null(await nursery.Accounts.Change(company, nursery.User, id, await nursery.Chart.LastChangeOf(company, id, default), (await nursery.Rulebooks.Load(company, null, default)).AccountOf(id)! with { Manual = ManualPolicy.Open },
            Core.Charts.AccountDescription.None, null, default));
        Assert.Null(await nursery.Release(company));
        string Journal(string id, string party) => $$"""{"id":"{{id}}","type":"manual-journal","date":"2026-04-30","lines":[{"account":"6110","debit":5},{"account":"1100","credit":5{{party}}}]}""";
        var held = Assert.Single(await Post(company, Journal("NOBODY", "")));
        Assert.Contains("Line 2: 1100 Trade receivables is a control account of receivables. Name the party", held.WhyNot, StringComparison.Ordinal);
        await Lands(company, Journal("SOMEBODY", ",\"party\":\"C-10\""));
    }

    static ControlGap Gap(string id, decimal ledger, decimal moved, string? refersTo = null, string elsewhere = "", string? takesFrom = null) =>
        new(1, Day, "x", id, null, null, null, "", elsewhere, ledger, moved, false) { Identity = "own/" + id, SourceId = id, RefersTo = refersTo, TakesFrom = takesFrom };

    [Fact]
    public void Two_gaps_that_cancel_each_other_are_both_found() =>
        Assert.Equal((2, 0), ControlGap.Split([Gap("A", 5, 0), Gap("B", 0, 5)]) is var (open, answered) ? (open.Count, answered) : default);

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    public async Task Of_many_events_exactly_those_are_found_whose_lines_no_movement_answers_also_where_they_cancel_each_other_on_one_day(int seed)
    {
        var (chance, company) = (new Random(seed), await nursery.OpenCompany("GAPS" + seed));
        var (events, apart) = (new List<string>(), new Dictionary<string, decimal>());
        for (var i = 0; i < 60; i++)
        {
            var (day, amount) = ($"2026-04-{chance.Next(1, 6):00}", chance.Next(1, 4) * (chance.Next(2) * 2 - 1));
            var (side, other, sum) = (amount > 0 ? "debit" : "credit", amount > 0 ? "credit" : "debit", Math.Abs(amount));
            // By money account there is a movement; by the account of the bank there is none.
            var byHand = chance.Next(3) == 0;
            var on = byHand ? "\"account\":\"1000\"" : "\"moneyAccount\":\"MAIN\"";
            events.Add($$"""{"id":"J{{i}}","type":"manual-journal","date":"{{day}}","lines":[{ {{on}}, "{{side}}": {{sum}} }, { "account": "6110", "{{other}}": {{sum}} }]}""");
            if (byHand)
                apart[$"J{i}"] = amount;
        }
        await Lands(company, [.. events]);
        var accounts = new List<int>();
        foreach (var account in Nursery.Book.Accounts.Where(a => a.Control == Control.Bank))
            accounts.Add(await Account(company, account.Number));
        var days = (await Controls.Compare(company, [.. accounts.Select(a => (a, "bank"))], Day, default)).Where(d => d is { Of: "bank", Apart: true }).Select(d => d.Day);
        Assert.Equal(apart.Select(a => (a.Key, a.Value)).Order(), (await Controls.Gaps(company, "bank", [.. accounts], [.. days], default)).Select(g => (g.SourceId, g.Difference)).Order());
    }

    [Fact]
    public void What_a_correction_answers_is_no_gap_any_more()
    {
        Assert.Equal((0, 2), Split(Gap("MOVED", 0, 5), Gap("BY-HAND", 5, 0, refersTo: "MOVED")));
        Assert.Equal((2, 0), Split(Gap("MOVED", 0, 5), Gap("BY-HAND", 4, 0, refersTo: "MOVED")));
        Assert.Equal((0, 3), Split(Gap("IN", 0, 9, elsewhere: "5020"), Gap("OUT", -1, -3, elsewhere: "5020, 5060"), Gap("MOVE", 7, 0, takesFrom: "5020")));
        Assert.Equal((1, 2), Split(Gap("TWICE", 5, 0), Gap("TWICE", -5, 0), Gap("ONE", 1, 0)));

        static (int, int) Split(params ControlGap[] all) => ControlGap.Split(all) is var (open, answered) ? (open.Count, answered) : default;
    }

    [Fact]
    public async Task What_a_connected_system_states_stands_beside_what_is_here_and_a_number_it_gave_that_is_not_here_is_named()
    {
        var company = await nursery.OpenCompany("STATED");
        string Ships(string number) => $$"""{"id":"{{number}}","type":"purchase-receipt","date":"2026-04-01","location":"NORTH","connection":"stock-room","lines":[{"item":"TREE-01","quantity":10,"unitCost":4}]}""";
        await Lands(company, Ships("RCP-7"), Ships("RCP-8"), Ships("RCP-10"), """
            {"id":"COUNT","type":"balance-statement","date":"2026-04-30","connection":"stock-room","lines":[{"subledger":"inventory","member":"TREE-01@NORTH","quantity":28,"amount":120}],"numbers":[{"series":"RCP-","from":"RCP-7","to":"RCP-10","count":4}]}
            """.Trim());
        var said = Assert.Single(await Controls.Stated(company, "inventory", Day, default));
        Assert.Equal((28m, 30m, 120m, 120m, false), (said.Quantity, said.QuantityHere, said.Amount, said.Here, said.Agrees));
        Assert.Equal(120m, (await Controls.StatedSums(company, Day, default))["inventory"]);
        var series = Assert.Single(await Controls.Series(company, Day, default));
        Assert.Equal((4, 3L), (series.Count, series.Here));
        Assert.Equal(["RCP-9"], series.Missing);
        Assert.Empty(await Controls.Stated(company, "inventory", new(2026, 4, 29), default));
    }
}
