using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>What an event leaves out is filled in from the books, in posting order; what it says itself stays.</summary>
public sealed class PreparingTests(Nursery nursery) : IClassFixture<Nursery>, IAsyncLifetime
{
    int company;

    public async Task InitializeAsync() => company = await nursery.OpenCompany("R" + Guid.NewGuid().ToString("N")[..8]);

    public Task DisposeAsync() => Task.CompletedTask;

    static PostableEvent Any(string json) => Nursery.Event(json);

    async Task<EntryWhole> Post(params string[] events)
    {
        var posted = await nursery.Posting.Post(company, nursery.User, [.. events.Select(Any)], default);
        Assert.All(posted, p => Assert.True(p.Fate == PostingFate.Landed, p.Message + string.Join(" ", p.Reasons.Select(r => r.Message))));
        await Kept();
        return (await nursery.Journal.Entry(company, posted[^1].EntryId!.Value, default))!;
    }

    // Open items and stock are what the movements come to, item by item and shelf by shelf.
    async Task Kept()
    {
        Assert.Equal(0L, await nursery.Ask<long>($"""
            select count(*) from (select item_event_id, purpose, account_id, currency, sum(document_amount) d, sum(amount) a from party_movement
                where company_id = {company} and account_id is not null group by 1, 2, 3, 4) m
            full join (select * from open_item where company_id = {company}) o using (item_event_id, purpose, account_id, currency)
            where m.d is distinct from o.document_amount or m.a is distinct from o.amount
            """));
        Assert.Equal(0L, await nursery.Ask<long>($"""
            select count(*) from (select item_id, coalesce(location_id, 0) as location_id, coalesce(account_id, 0) as account_id, sum(quantity) q, sum(amount) a from stock_movement
                where company_id = {company} and subledger = 'inventory' and item_id is not null group by 1, 2, 3) m
            full join (select * from stock_standing where company_id = {company}) s using (item_id, location_id, account_id)
            where m.q is distinct from s.quantity or m.a is distinct from s.amount
            """));
        Assert.Equal(0L, await nursery.Ask<long>($"""
            select count(*) from (select receipt_event_id, receipt_line, item_id, coalesce(account_id, 0) as account_id, -sum(quantity) q, -sum(amount) a from stock_movement
                where company_id = {company} and subledger = 'purchasing' and item_id is not null group by 1, 2, 3, 4) m
            full join (select * from receipt_standing where company_id = {company}) s using (receipt_event_id, receipt_line, item_id, account_id)
            where m.q is distinct from s.quantity or m.a is distinct from s.amount
            """));
    }

    async Task<string> Waiting() => string.Join("; ", await nursery.AskAll($"""
        select e.source_id || '/' || r.receipt_line || ' ' || trim_scale(r.quantity) || ' ' || trim_scale(r.amount)
        from receipt_standing r join event e on e.company_id = r.company_id and e.id = r.receipt_event_id
        where r.company_id = {company} and (r.quantity <> 0 or r.amount <> 0) order by r.receipt_event_id, r.receipt_line
        """));

    static string Invoiced(string id, int quantity, string price, string more = "") =>
        $$"""{"id":"{{id}}","type":"purchase-invoice","date":"2026-03-10","party":"S-12","currency":"EUR"{{more}},"lines":[{"item":"TREE-01","quantity":{{quantity}},"price":{{price}},"taxCode":"O0"}]}""";

    [Fact]
    public async Task An_invoice_takes_what_was_received_before_at_what_it_came_the_oldest_first()
    {
        await Post(Came("R1", 10, "4"), Came("R2", 10, "5"));
        // 10 × 4 and 2 × 5 are 50.00; the invoice says 12 × 4.50.
        var entry = await Post(Invoiced("B1", 12, "4.50"));
        Assert.Equal("2050 50.00 standing; 5110 4.00; 2010 -54.00", Written(entry));
        Assert.Equal("R2/1 8 40", await Waiting());
        // Eight are there; three more have not come yet, and wait at what the invoice says.
        Assert.Equal("2050 56.50 standing; 5110 4.00; 2010 -60.50", Written(await Post(Invoiced("B2", 11, "5.50"))));
        Assert.Equal("B2/1 -3 -16.5", await Waiting());
        // They come at what they were invoiced for.
        Assert.Equal("1310 16.50; 2050 -16.50", Written(await Post("""{"id":"R3","type":"purchase-receipt","date":"2026-03-12","party":"S-12","lines":[{"item":"TREE-01","quantity":3}]}""")));
        Assert.Equal("", await Waiting());
    }

    [Fact]
    public async Task What_belongs_together_is_found_from_any_of_it()
    {
        await Post(Came("R1", 10, "4"), Came("R2", 4, "5"), Invoiced("B1", 12, "4.50"));
        await Post("""{"id":"P1","type":"supplier-payment","date":"2026-04-02","party":"S-12","moneyAccount":"MAIN","amount":20,"refersTo":"B1"}""", Left("S1", 1));

        foreach (var from in new[] { "R2", "B1", "P1" })
        {
            var chain = await new ChainStore(nursery.Source).Of(company, await nursery.Ask<long>($"select id from event where company_id = {company} and source_id = '{from}'"), default);
            var names = chain.Events.ToDictionary(e => e.Id, e => e.SourceId);
            Assert.Equal(["R1", "R2", "B1", "P1"], chain.Events.Select(e => e.SourceId));
            Assert.Equal(["B1 Receipt R1 40.00", "B1 Receipt R2 10.00", "P1 RefersTo B1 ", "P1 Settles B1 20.00"],
                chain.Ties.Select(t => FormattableString.Invariant($"{names[t.From]} {t.Kind} {names[t.To]} {t.Amount:0.00}")).Order(StringComparer.Ordinal));
            Assert.False(chain.More);
        }
    }

    [Fact]
    public async Task Looking_says_what_posting_does_and_keeps_nothing()
    {
        await Post(Came("R1", 4, "4"));
        var events = new[] { Came("R1", 4, "4"), Came("R1", 5, "4"), Left("S1", 3), """{"id":"X1","type":"shipment","date":"2031-03-05","lines":[{"item":"TREE-01","quantity":1}]}""",
            """{"id":"X2","type":"sales-invoice","date":"2026-03-05","party":"C-70","lines":[{"item":"SEED-01","quantity":1,"price":1}]}""" }.Select(Any).ToArray();
        var before = await nursery.Ask<long>($"select count(*) from event where company_id = {company}");

        var looked = await nursery.Posting.Look(company, events, default);

        Assert.Equal(before, await nursery.Ask<long>($"select count(*) from event where company_id = {company}"));
        var posted = await nursery.Posting.Post(company, nursery.User, events, default);
        Assert.Equal([PostingFate.Known, PostingFate.Refused, PostingFate.Landed, PostingFate.Held, PostingFate.Held], posted.Select(p => p.Fate));
        Assert.Equal(posted.Select(p => (p.Fate, p.Message, string.Join(' ', p.Reasons.Select(r => r.Message)))), looked.Select(p => (p.Fate, p.Message, string.Join(' ', p.Reasons.Select(r => r.Message)))));
    }

    [Fact]
    public async Task An_invoice_that_names_a_receipt_takes_that_one_and_a_revision_gives_it_back()
    {
        await Post(Came("R1", 5, "4"), Came("R2", 5, "6"));
        Assert.Equal("2050 30.00 standing; 5110 5.00; 2010 -35.00", Written(await Post(Invoiced("B1", 5, "7", ",\"refersTo\":\"R2\""))));
        Assert.Equal("R1/1 5 20", await Waiting());
        Assert.Equal("2050 8.00 standing; 5110 6.00; 2010 -14.00", Written(await Post(Invoiced("B1", 2, "7", ",\"revision\":2"))));
        Assert.Equal("R1/1 3 12; R2/1 5 30", await Waiting());
        // Another supplier's invoice takes nothing of them.
        Assert.Equal("2050 14.00; 2010 -14.00", Written(await Post(Invoiced("B9", 2, "7").Replace("S-12", "S-10", StringComparison.Ordinal))));
    }

    static string Written(EntryWhole entry) =>
        string.Join("; ", entry.Lines.Select(l => FormattableString.Invariant($"{l.Account} {l.Amount:0.00}{(l.Rung == "standing" ? " standing" : "")}")));

    static string Came(string id, int quantity, string cost) =>
        $$"""{"id":"{{id}}","type":"purchase-receipt","date":"2026-03-01","party":"S-12","location":"NORTH","lines":[{"item":"TREE-01","quantity":{{quantity}},"unitCost":{{cost}}}]}""";

    static string Left(string id, int quantity, string more = "") =>
        $$"""{"id":"{{id}}","type":"shipment","date":"2026-03-05","party":"C-10","location":"NORTH","lines":[{"item":"TREE-01","quantity":{{quantity}}{{more}}}]}""";

    [Fact]
    public async Task Stock_leaves_at_the_moving_average_also_of_what_came_in_the_same_batch()
    {
        await Post(Came("R1", 10, "4"));
        var entry = await Post(Came("R2", 30, "5"), Left("S1", 8));

        // 10 × 4 + 30 × 5 = 190.00 over 40 is 4.75; 8 of them are 38.00.
        Assert.Equal("5020 38.00; 1310 -38.00 standing", Written(entry));
        Assert.Contains("\"unitCost\":4.75", (await nursery.Ask<string>($"select prepared::text from event where company_id = {company} and source_id = 'S1'")).Replace(" ", "", StringComparison.Ordinal), StringComparison.Ordinal);
        Assert.DoesNotContain("unitCost", await nursery.Ask<string>($"select received::text from event where company_id = {company} and source_id = 'S1'"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_an_event_says_itself_stays_and_what_is_not_in_stock_leaves_at_the_last_cost()
    {
        await Post(Came("R1", 4, "4"));
        Assert.Equal("5020 6.00; 1310 -6.00 standing", Written(await Post(Left("S1", 2, ",\"unitCost\":3"))));
        // Two of five are there, at what is left of their value; the other three at the cost at which they last came.
        Assert.Equal("5020 10.00; 1310 -10.00 standing; 5020 12.00; 1310 -12.00", Written(await Post(Left("S2", 5))));
    }

    [Fact]
    public async Task Stock_on_two_accounts_leaves_the_old_one_first_and_the_invoice_over_it_stays_what_it_is()
    {
        await Post(Came("R1", 3, "4"));
        await Rule("inventory", "SAPLINGS", "1310", "1360");
        await Post(Came("R2", 10, "6"));
        Assert.Equal("5020 8.00; 1310 -8.00 standing", Written(await Post(Left("S1", 2))));

        var entry = await Post("""{"id":"I1","type":"sales-invoice","date":"2026-03-06","party":"C-10","location":"NORTH","lines":[{"item":"TREE-01","quantity":3,"price":9.99,"discountPercent":5,"shipped":true}]}""");
        // One is left on the old account, two come off the new one; revenue, tax and total are those of one line.
        Assert.Equal(["1310 -4.00", "1360 -12.00"], entry.Lines.Where(l => l.Purpose == "inventory").Select(l => FormattableString.Invariant($"{l.Account} {l.Amount:0.00}")));
        Assert.Equal(-28.47m, Assert.Single(entry.Lines, l => l.Purpose == "revenue").Amount);
    }

    async Task Rule(string purpose, string? group, string was, string account)
    {
        var draft = await nursery.Rulebooks.Load(company, (await nursery.Rulebooks.StateOf(company, default)).Draft, default);
        var own = draft.Book.Rules.Single(r => r.Purpose.Name == purpose && r.When.Select(w => w.Code).SequenceEqual(group is null ? [] : [group]));
        Assert.Empty(await nursery.Cells.Set(company, nursery.User, Purpose.Find(purpose)!, [new CellEdit(own.When, account, own.Id, was)], new DateOnly(2026, 3, 2), default));
        Assert.Null(await nursery.Release(company));
    }

    static string Invoice(string id, string due, int price, string more = "") =>
        $$"""{"id":"{{id}}","type":"sales-invoice","date":"2026-03-01","dueDate":"{{due}}","party":"C-10",{{more}}"lines":[{"account":"4110","price":{{price}},"taxCode":"O0"}]}""";

    static string Pays(string id, string amount, string more = "") =>
        $$"""{"id":"{{id}}","type":"customer-payment","date":"2026-04-01","party":"C-10",{{more}}"moneyAccount":"MAIN","amount":{{amount}}}""";

    [Fact]
    public async Task A_payment_that_names_nothing_settles_the_oldest_first_each_on_the_account_it_stands_on()
    {
        await Post(Invoice("I1", "2026-03-31", 100));
        await Rule("receivable", null, "1100", "1120");
        await Post(Invoice("I2", "2026-03-15", 50));
        Assert.Equal("1000 80.00; 1120 -50.00 standing; 1100 -30.00 standing", Written(await Post(Pays("P1", "80"))));
        // The rest of the other is taken next, and what is over stands on account, by the rule of today.
        Assert.Equal("1000 90.00; 1100 -70.00 standing; 1120 -20.00", Written(await Post(Pays("P2", "90"))));
        Assert.Equal(-20m, await nursery.Ask<decimal>($"select sum(amount) from open_item where company_id = {company}"));
    }

    [Fact]
    public async Task An_item_that_is_named_is_settled_where_it_stands_at_what_it_was_booked_and_its_last_part_frees_all_that_is_left()
    {
        await Post(Invoice("I1", "2026-03-31", 100, "\"currency\":\"USD\",\"rate\":0.923456,"));
        var entry = await Post(Pays("P1", "33.33", "\"currency\":\"USD\",\"rate\":0.9,\"settles\":[{\"event\":\"I1\",\"amount\":33.33}],"));
        // Booked at 92.35; a third of it is 30.78, and the money is worth 30.00.
        Assert.Equal("1020 30.00; 1100 -30.78 standing; 8020 0.78", Written(entry));
        await Post(Pays("P2", "66.67", "\"currency\":\"USD\",\"rate\":0.95,"));
        Assert.Equal(0L, await nursery.Ask<long>($"select count(*) from open_item where company_id = {company} and (amount <> 0 or document_amount <> 0)"));
    }

    [Fact]
    public async Task A_deposit_is_applied_where_it_stands_at_what_it_was_booked()
    {
        await Post("""{"id":"D1","type":"deposit-received","date":"2026-02-01","party":"C-10","moneyAccount":"MAIN","currency":"USD","rate":0.95,"amount":100}""",
            Invoice("I1", "2026-03-31", 100, "\"currency\":\"USD\",\"rate\":0.92,"));

        Assert.Equal("2110 95.00 standing; 1100 -92.00 standing; 7030 -3.00",
            Written(await Post("""{"id":"A1","type":"deposit-applied","date":"2026-04-01","party":"C-10","currency":"USD","rate":0.9,"amount":100}""")));
        Assert.Equal(0L, await nursery.Ask<long>($"select count(*) from open_item where company_id = {company} and (amount <> 0 or document_amount <> 0)"));
    }

    [Fact]
    public async Task The_rate_of_the_day_or_the_last_one_before_it_is_filled_in()
    {
        await nursery.Ask<int>($"insert into exchange_rate (company_id, currency, day, rate) values ({company}, 'USD', '2026-02-20', 0.9), ({company}, 'USD', '2026-03-02', 0.8) returning company_id");

        Assert.Equal("4110 -90.00; 1100 90.00", Written(await Post(Invoice("I1", "2026-03-31", 100, "\"currency\":\"USD\","))));
        var held = await nursery.Posting.Post(company, nursery.User, [Any(Invoice("I2", "2026-03-31", 100, "\"currency\":\"GBP\","))], default);
        Assert.Equal(("rate", PostingFate.Held), (held[0].Reasons.Single().Field, held[0].Fate));
    }

    [Fact]
    public async Task What_would_be_filled_in_is_said_before_anything_is_posted()
    {
        await Post(Came("R1", 10, "4"));
        var prepared = await nursery.Posting.Prepare(company, new LandingBook(await nursery.Rulebooks.Load(company, null, default)), Any(Left("S1", 2)).Happened, default);

        Assert.Equal([("Line 1", "cost of one unit", "4"), ("Line 1", "stands on", "1310")], prepared.Filled.Select(f => (f.Where, f.What, f.Value)));
        Assert.Equal("the average of TREE-01 at NORTH", prepared.Filled[0].From);
        Assert.Equal(0L, await nursery.Ask<long>($"select count(*) from event where company_id = {company} and source_id = 'S1'"));
    }

    static string Revised(string json, int revision, string more = "") => json.Replace("\"type\"", $"\"revision\":{revision},{more}\"type\"", StringComparison.Ordinal);

    [Fact]
    public async Task A_revised_payment_settles_again_what_the_earlier_one_had_settled()
    {
        await Post(Invoice("I1", "2026-03-31", 100), Invoice("I2", "2026-04-30", 100));
        await Post(Pays("P1", "120"));
        Assert.Equal("1000 90.00; 1100 -90.00 standing", Written(await Post(Revised(Pays("P1", "90"), 2))));
        Assert.Equal(["I1 10.00", "I2 100.00"], await Open());
        await Post(Revised(Pays("P1", "90"), 3, "\"withdrawn\":true,"), Pays("P2", "150"));
        Assert.Equal(["I2 50.00"], await Open());
    }

    [Fact]
    public async Task Of_an_invoice_that_is_revised_after_it_was_paid_in_part_the_rest_is_open()
    {
        await Post(Invoice("I1", "2026-03-31", 100));
        await Post(Pays("P1", "60"));
        await Post(Revised(Invoice("I1", "2026-04-30", 90), 2));
        // Of the 90 that it is now, 60 are paid; what is over is settled with nothing.
        Assert.Equal("1000 50.00; 1100 -30.00 standing; 1100 -20.00", Written(await Post(Pays("P2", "50"))));
    }

    [Fact]
    public async Task A_revised_shipment_costs_what_its_goods_cost_and_leaves_where_they_stood()
    {
        await Post(Came("R1", 10, "4"));
        await Rule("inventory", "SAPLINGS", "1310", "1360");
        await Post(Left("S1", 10));
        await Post(Came("R2", 10, "6"));
        // The ten of the old account are there again, as if they had not left.
        Assert.Equal("5020 28.00; 1310 -28.00 standing", Written(await Post(Revised(Left("S1", 7), 2))));
        Assert.Equal("5020 12.00; 1310 -12.00 standing; 5020 6.00; 1360 -6.00 standing", Written(await Post(Left("S2", 4))));
    }

    [Fact]
    public async Task What_is_here_already_or_does_not_land_changes_nothing_for_what_comes_after_it_in_its_batch()
    {
        await Post(Came("R1", 2, "4"), Left("S1", 1));
        var late = Came("R9", 50, "9").Replace("2026-03-01", "2019-03-01", StringComparison.Ordinal);
        var posted = await nursery.Posting.Post(company, nursery.User, [Any(Came("R1", 2, "4")), Any(late), Any(Left("S2", 2))], default);

        Assert.Equal([PostingFate.Known, PostingFate.Held, PostingFate.Landed], posted.Select(p => p.Fate));
        // One is left at 4; the other is not there, and comes at the last cost.
        Assert.Equal("5020 4.00; 1310 -4.00 standing; 5020 4.00; 1310 -4.00",
            Written((await nursery.Journal.Entry(company, posted[2].EntryId!.Value, default))!));
    }

    [Fact]
    public async Task A_revision_that_is_held_leaves_the_earlier_one_in_the_books()
    {
        await Post(Came("R1", 10, "4"));
        await Post(Left("S1", 10));
        var posted = await nursery.Posting.Post(company, nursery.User, [Any(Revised(Left("S1", 3, ",\"unitCost\":4,\"standsOn\":\"9999\""), 2)), Any(Left("S2", 1))], default);

        Assert.Equal([PostingFate.Held, PostingFate.Landed], posted.Select(p => p.Fate));
        // Nothing is there: not of a known account, at the last cost.
        Assert.Equal("5020 4.00; 1310 -4.00", Written((await nursery.Journal.Entry(company, posted[1].EntryId!.Value, default))!));
    }

    [Fact]
    public async Task Goods_that_left_before_they_came_cost_what_they_come_at_by_a_change_that_goes_with_the_receipt()
    {
        await Post(Came("R1", 2, "4"), Left("S1", 5));
        // Three had left at 4 and come at 6: 6.00 are missing from what they cost.
        await Post(Came("R2", 10, "6"));
        Assert.Equal("1310 -6.00 standing; 5130 6.00", await ChangeOf("R2"));
        Assert.Equal("7 42.00", await InStock());
        // What is looked at before it is posted says so too.
        await Post(Left("S2", 9));
        var looked = await nursery.Posting.Prepare(company, new LandingBook(await nursery.Rulebooks.Load(company, null, default)), Any(Came("R3", 2, "7")).Happened, default);
        Assert.Equal([-2m], looked.CostChange!.Lines.Select(line => line.Amount!.Value));
        await Post(Came("R3", 2, "7"));
        Assert.Equal("0 0.00", await InStock());
    }

    [Fact]
    public async Task A_receipt_that_is_revised_or_taken_back_takes_its_change_of_cost_along()
    {
        await Post(Came("R1", 2, "4"), Left("S1", 5));
        await Post(Came("R2", 10, "6"));
        await Post(Revised(Came("R2", 10, "9"), 2));
        Assert.Equal("1310 -15.00 standing; 5130 15.00", await ChangeOf("R2"));
        Assert.Equal("7 63.00", await InStock());
        await Withdraw(Revised(Came("R2", 10, "9"), 3, "\"withdrawn\":true,"));
        Assert.Equal("", await ChangeOf("R2"));
        Assert.Equal("-3 -12.00", await InStock());
        Assert.Equal(0m, await nursery.Ask<decimal>($"select coalesce(sum(l.amount), 0) from line l join account a on (a.company_id, a.id) = (l.company_id, l.account_id) where l.company_id = {company} and a.number = '5130'"));
    }

    [Fact]
    public async Task What_a_source_sent_is_posted_again_and_taken_back_by_hand_and_its_next_revision_lands_all_the_same()
    {
        PostableEvent Sent(string json) => Any(json) with { Source = "stock-room" };
        async Task<Posted> Send(PostableEvent sent)
        {
            var posted = (await nursery.Posting.Post(company, nursery.User, [sent], default))[0];
            await Kept();
            return posted;
        }

        await Post(Came("R1", 10, "4"));
        var first = await Send(Sent(Left("S1", 3)));
        await Rule("cost-of-sales", "SAPLINGS", "5020", "5010");
        var again = await Send(Sent(Left("S1", 3)) with { Again = first.EventId });
        Assert.Equal("5010 12.00; 1310 -12.00 standing", Written((await nursery.Journal.Entry(company, again.EntryId!.Value, default))!));
        Assert.Equal("7 28.00", await InStock());
        // Twice is once, and the source's own sending of it is known.
        Assert.Equal(PostingFate.Refused, (await Send(Sent(Left("S1", 3)) with { Again = first.EventId })).Fate);
        var known = await Send(Sent(Left("S1", 3)));
        Assert.Equal((PostingFate.Known, again.EventId), (known.Fate, known.EventId));

        var back = Sent(Left("S1", 3)) with { Again = again.EventId };
        Assert.Equal(PostingFate.Landed, (await Send(back with { Happened = back.Happened with { Withdrawn = true } })).Fate);
        Assert.Equal("10 40.00", await InStock());
        Assert.Equal(PostingFate.Landed, (await Send(Sent(Revised(Left("S1", 2), 2)))).Fate);
        Assert.Equal("8 32.00", await InStock());
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
    }

    [Fact]
    public async Task What_arrives_costs_what_it_left_at_and_leaves_nothing_on_the_way()
    {
        static string Moves(string id, string half) => $$"""
            {"id":"{{id}}","type":"stock-transfer","date":"2026-03-06","location":"NORTH","toLocation":"SHOP","onTheWay":"{{half}}","lines":[{"item":"TREE-01","quantity":3}]}
            """;
        await Post(Came("R1", 10, "4.5"), Moves("T1", "dispatch"));
        Assert.Equal("1310 13.50; 1380 -13.50 standing", Written(await Post(Moves("T2", "arrival"))));
        Assert.Equal("", await ChangeOf("T2"));
    }

    [Fact]
    public async Task A_value_that_taking_back_leaves_on_no_goods_goes_with_what_was_taken_back()
    {
        await Post(Came("R1", 1, "4"), Came("R2", 1, "8"), Left("S1", 1));
        // One left at 6, and the one that came at 4 was never there: 2 are left on nothing.
        await Withdraw(Revised(Came("R1", 1, "4"), 2, "\"withdrawn\":true,"));
        Assert.Equal("1310 -2.00 standing; 5130 2.00", await ChangeOf("R1"));
        Assert.Equal("0 0.00", await InStock());
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
    }

    async Task Withdraw(string json)
    {
        Assert.Equal(PostingFate.Landed, (await nursery.Posting.Post(company, nursery.User, [Any(json)], default))[0].Fate);
        await Kept();
    }

    async Task<string> InStock() => await nursery.Ask<string>($"select trim_scale(sum(quantity)) || ' ' || round(sum(amount), 2) from stock_standing where company_id = {company}");

    // The change of cost that stands in the books for an event.
    async Task<string> ChangeOf(string id)
    {
        var entry = await nursery.Ask<long>($"""
            select coalesce(max(n.id), 0) from event e join entry n on n.company_id = e.company_id and n.event_id = e.id and n.reverses is null
            where e.company_id = {company} and e.source_id = '{id}#cost' and e.outcome = 'landed'
            """);
        return entry == 0 ? "" : Written((await nursery.Journal.Entry(company, entry, default))!);
    }

    async Task<IReadOnlyList<string>> Open() => (await nursery.Ask<string[]>($"""
        select array_agg(e.source_id || ' ' || round(o.document_amount, 2) order by e.source_id)
        from open_item o join event e on e.company_id = o.company_id and e.id = o.item_event_id where o.company_id = {company} and o.document_amount <> 0
        """))!;
}
