using System.Text.Json;
using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Storage.Posting;

namespace Assignum.Storage.Tests;

/// <summary>Events of every type in the books: posted, found again, and taken back without a trace in any balance.</summary>
public sealed class EveryEventPostedTests(Nursery nursery) : IClassFixture<Nursery>
{
    public static TheoryData<string> Types => [.. EventTypes.All.Select(type => type.Name)];

    [Theory]
    [MemberData(nameof(Types))]
    public async Task It_is_posted_as_it_landed_and_taken_back_to_the_last_cent_and_piece(string type)
    {
        // Books of its own, so that nothing in them is filled in.
        var company = await nursery.OpenCompany("P" + EventTypes.All.ToList().FindIndex(t => t.Name == type));
        async Task<Posted> Post(string sent) => Assert.Single(await nursery.Posting.Post(company, nursery.User, [Any(sent)], default));
        var json = EventSamples.Of(type)!.Replace("\"id\":\"", "\"id\":\"POSTED-", StringComparison.Ordinal);
        if (type == StandingTransfer.Name)
            Assert.Equal(PostingFate.Landed, (await Post("""
                {"id":"STANDS","type":"stock-adjustment","date":"2026-04-29","location":"NORTH","lines":[{"item":"TREE-01","quantity":10,"unitCost":4,"reason":"count","standsOn":"1360"}]}
                """)).Fate);
        if (TakenBy(Any(json).Happened) is { } deposit)
            Assert.Equal(PostingFate.Landed, (await Post(deposit)).Fate);
        var posted = await Post(json);
        Assert.Equal(PostingFate.Landed, posted.Fate);
        if (type != BalanceStatement.Name)
        {
            var entry = (await nursery.Journal.Entry(company, posted.EntryId!.Value, default))!;
            var landed = (Landed)Landing.Land(new Core.Rulebooks.CompiledRulebook(Nursery.Book), Any(json).Happened);
            Assert.Equal(landed.Rows.Select(r => (r.Account.Number, r.Amount)), entry.Lines.Select(l => (l.Account, l.Amount)));
            Assert.Equal(landed.Subledger.Select(m => (m.Member, m.Amount)), entry.Subledger.Select(m => (m.Place is { Length: > 0 } ? $"{m.Member}@{m.Place}" : m.Member, m.Amount))
                .Zip(landed.Subledger, (kept, m) => (m.Member, kept.Amount)));
        }

        Assert.Equal(PostingFate.Landed, (await Post(json.Replace("\"type\"", "\"revision\":2,\"withdrawn\":true,\"type\"", StringComparison.Ordinal))).Fate);
        var id = Any(json).Happened.Id;
        Assert.Equal(0L, await nursery.Ask<long>($"""
            select count(*) from (
                select l.account_id from line l join entry n on (n.company_id, n.id) = (l.company_id, l.entry_id) join event e on (e.company_id, e.id) = (n.company_id, n.event_id)
                where e.source_id = '{id}' group by l.account_id, l.currency, l.dimension_set_id having sum(l.amount) <> 0 or sum(l.document_amount) <> 0) left_over
            """));
        Assert.Equal(0L, await nursery.Ask<long>($"""
            select count(*) from (
                select m.member from movement m join event e on (e.company_id, e.id) = (m.company_id, m.event_id)
                where e.source_id = '{id}' group by m.subledger, m.member having sum(m.amount) <> 0 or sum(m.document_amount) <> 0 or coalesce(sum(m.quantity), 0) <> 0 or coalesce(sum(m.base), 0) <> 0) left_over
            """));
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
    }

    [Fact]
    public async Task A_payment_takes_away_the_item_its_invoice_opened_also_in_one_batch_and_a_revision_moves_it()
    {
        var invoice = await nursery.Post(Nursery.Invoice("ITEM-1"));
        await nursery.Post(Pays("ITEM-PAY", 10, "ITEM-1"));
        await nursery.Posting.Post(nursery.Company, nursery.User, [Nursery.Invoice("ITEM-2"), Pays("ITEM-PAY-2", 27, "ITEM-2")], default);

        Assert.Equal(17m, await Open(invoice.EventId!.Value));
        Assert.Equal(0m, await Open(await nursery.Ask<long>("select id from event where source_id = 'ITEM-2'")));
        await nursery.Post(Any("""{"id":"ITEM-PAY","type":"customer-payment","date":"2026-04-02","revision":2,"party":"C-10","moneyAccount":"MAIN","amount":27,"settles":[{"event":"ITEM-1","amount":27}]}"""));
        Assert.Equal(0m, await Open(invoice.EventId!.Value));
    }

    [Fact]
    public async Task What_settles_an_item_that_nobody_knows_opens_one_of_its_own()
    {
        var paid = await nursery.Post(Pays("LOST-PAY", 10, "NOT-HERE"));

        Assert.Equal(-10m, await Open(paid.EventId!.Value));
    }

    [Fact]
    public async Task An_adjustment_is_posted_in_the_adjustment_period_of_its_fiscal_year()
    {
        var posted = await nursery.Post(Any("""{"id":"ADJUST","type":"manual-journal","date":"2026-12-31","adjustment":true,"lines":[{"account":"6110","debit":5},{"account":"6120","credit":5}]}"""));

        Assert.True(await nursery.Ask<bool>($"select p.adjustment from entry n join period p on (p.company_id, p.id) = (n.company_id, n.period_id) where n.company_id = {nursery.Company} and n.id = {posted.EntryId}"));
    }

    static PostableEvent Pays(string id, int amount, string item) => Any($$"""
        {"id":"{{id}}","type":"customer-payment","date":"2026-04-02","party":"C-10","moneyAccount":"MAIN","amount":{{amount}},"settles":[{"event":"{{item}}","amount":{{amount}}}]}
        """);

    Task<decimal> Open(long item) => nursery.Ask<decimal>($"select coalesce(sum(amount), 0) from party_movement where company_id = {nursery.Company} and item_event_id = {item}");

    // What is taken of an asset or a deposit has to be there.
    static string? TakenBy(BusinessEvent happened) => happened switch
    {
        AssetDisposal disposal => Asset(disposal.Asset, disposal.Cost, disposal.Accumulated),
        AssetTransfer transfer => Asset(transfer.From, transfer.Cost, transfer.Accumulated),
        _ => DepositTakenBy(happened),
    };

    static string Asset(string asset, decimal cost, decimal accumulated) =>
        JsonSerializer.Serialize(new { id = "AHEAD", type = "opening-item", date = "2026-01-01", kind = "asset", asset, cost, accumulated });

    static string? DepositTakenBy(BusinessEvent happened)
    {
        var (kind, amount) = happened switch
        {
            Deposit { Ends: true } deposit => (deposit.IsCustomers ? "customer-deposit" : "supplier-deposit", deposit.Amount),
            Applied { Type: not AppliedType.GiftCardUsed } applied =>
                (applied.Type == AppliedType.DepositApplied ? "customer-deposit" : "supplier-deposit", applied.Amount),
            _ => (null, 0m),
        };
        return kind is null ? null : JsonSerializer.Serialize(new
        {
            id = happened.RefersTo ?? "AHEAD", type = "opening-item", date = "2026-01-01", kind, party = happened.Party, amount, currency = happened.Currency,
            rate = happened.Rate,
        });
    }

    static PostableEvent Any(string json) => Nursery.Event(json);
}
