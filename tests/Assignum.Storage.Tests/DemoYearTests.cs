using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.HeldEvents;
using Assignum.Core.Timing;
using Assignum.DemoEvents.Year;
using Assignum.Formats.Events;
using Assignum.Storage.Closing;
using Assignum.Storage.Controls;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Storage.Subledgers;

namespace Assignum.Storage.Tests;

/// <summary>Thirteen months of the demo, posted: what is held, and what landed wrongly, is what the program planted, to the cent, and nothing else.</summary>
public sealed class DemoYearTests(Nursery nursery) : IClassFixture<Nursery>
{
    static readonly DateOnly Day = new(2026, 11, 30);

    static readonly JsonDocument Written = JsonDocument.Parse(File.ReadAllBytes("files/troubles.json"));

    static (int Count, decimal Amount) Planted(string trouble)
    {
        var found = Written.RootElement.GetProperty("troubles").EnumerateArray().Single(t => t.GetProperty("trouble").GetString() == trouble);
        return (found.GetProperty("count").GetInt32(), found.GetProperty("amount").GetDecimal());
    }

    static string[] DocumentsOf(params string[] troubles) => [.. Written.RootElement.GetProperty("troubles").EnumerateArray()
        .Where(t => troubles.Contains(t.GetProperty("trouble").GetString()))
        .SelectMany(t => t.GetProperty("documents").EnumerateArray().Select(d => d.GetProperty("event").GetString()!)).Distinct().Order(StringComparer.Ordinal)];

    [Fact]
    public void The_written_troubles_are_those_the_program_plants() =>
        Assert.Equal(File.ReadAllText("files/troubles.json"), Thirteen.UpTo(Nursery.Book, Day) is var year ? year.Troubles.Json(year.First, year.Last) : "");

    [Fact]
    public async Task What_is_held_and_what_landed_wrongly_is_what_was_planted_and_nothing_else()
    {
        var year = Thirteen.UpTo(Nursery.Book, Day);
        var company = (await nursery.Companies.Open("YEAR", "Quillmoss Nurseries", "EUR", default)).Id;
        foreach (var fiscal in new[] { 2025, 2026 })
            await nursery.Companies.OpenFiscalYear(company, new(fiscal, 1, 1), new(fiscal, 12, 31), default);
        for (var stage = 0; stage < year.Stages.Count; stage++)
        {
            Assert.Null((await nursery.IntoDraft.Import(company, nursery.User, year.Stages[stage].Book, default)).Refusal);
            Assert.Null(await nursery.Editions.Release(company, nursery.User, await nursery.Rulebooks.StateOf(company, default), "", default));
            await nursery.Posting.Post(company, nursery.User, [.. year.Of(stage).Select(happened =>
            {
                var json = EventWriter.Write(happened);
                return new PostableEvent(happened, happened.Connection ?? PostableEvent.Own, json, json, CanonicalJson.Digest(json));
            })], default);
        }

        Assert.Equal(DocumentsOf("one-missing-rule", "no-tax-rule", "item-nobody-made", "tax-off-by-a-euro"),
            (await nursery.AskAll($"select source_id from event where company_id = {company} and outcome = 'held'")).Order(StringComparer.Ordinal));
        Assert.Equal(Planted("revenue-on-suspense"), await Landed(company, "a.number = '1999'", -1));
        Assert.Equal(Planted("saplings-from-abroad-as-cost").Amount, (await Landed(company, "a.number = '5020' and l.purpose = 'inventory' and l.amount > 0", 1)).Amount);
        Assert.Equal(Planted("by-hand-on-receivables"), await Landed(company, "a.number = '1100' and l.purpose is null", -1));
        Assert.Equal(Planted("on-the-alternate-control-account"), await Landed(company, "a.number = '2020' and e.type = 'purchase-invoice'", -1));
        Assert.Equal(Planted("saplings-on-the-old-account").Amount, await nursery.Ask<decimal>($"""
            select sum(s.amount) from stock_standing s join account a on a.id = s.account_id join member i on i.id = s.item_id
            where s.company_id = {company} and a.number = '1360' and i.code in ('TREE-11', 'TREE-12')
            """));
        // Spring orders of March whose goods left in April, matched here from the documents themselves: each is a sale whose cost is booked a month later.
        var timing = new Timing(await new TimingStore(nursery.Source).Sales(company, year.First, year.Last, default));
        var spring = DocumentsOf("invoiced-in-march-shipped-in-april");
        var apart = timing.Apart.Where(a => a is { RevenueIn: { Month: 3 }, CostIn: { Month: 4 } }).Select(a => a.Sale).ToArray();
        var late = (await nursery.AskAll($"select source_id from event where company_id = {company} and id in ({string.Join(",", apart)})")).ToHashSet();
        Assert.Subset(late, spring.ToHashSet());
        await MatchesDocumentByDocument(company, timing);
        Assert.Equal(0L, await nursery.Ask<long>($"select count(*) from stock_standing where company_id = {company} and quantity < 0"));
        Assert.Equal(Documents("by-hand-on-receivables"), await Apart(company, Control.Receivables));
        await IsSeenWhereItBelongs(company);
        await WaitsByCause(company);
        // What was sold of those saplings left the account they stood on.
        Assert.Subset((await Apart(company, Control.Inventory)).ToHashSet(), Documents("saplings-from-abroad-as-cost").ToHashSet());
        Assert.Empty(await Apart(company, Control.Payables));
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
    }

    // The workplaces of the subledgers show what was planted, with its documents and its money.
    async Task IsSeenWhereItBelongs(int company)
    {
        var stored = await nursery.Rulebooks.Load(company, null, default);
        var late = (await new StockStore(nursery.Source).Receipts(company, Day, default)).Where(r => Day.DayNumber - r.Date.DayNumber > 60);
        Assert.Equal(Documents("receipts-without-invoice"), late.Select(r => (r.SourceId, r.Amount)).Order());
        var items = (await new OpenItemStore(nursery.Source).Of(company, "payables", null, Day, 10_000, default)).Select(i => i.Item).ToList();
        Assert.Equal(Documents("on-the-alternate-control-account"), items.Where(i => stored.NumberOf(i.AccountId) == "2020").Select(i => (i.SourceId, -i.Opened)));
        Assert.Equal(Planted("saplings-on-the-old-account").Amount, (await new StandingStore(nursery.Source).All(company, stored.Labels, "EUR", default))
            .Where(s => s.Account == "1360" && s.Item is "TREE-11" or "TREE-12").Sum(s => s.Amount));
    }

    // Held events stand under the cause that one mend answers, with their money; then the rule that is proposed lands all of them, in the order in which they came.
    async Task WaitsByCause(int company)
    {
        var stored = await nursery.Rulebooks.Load(company, null, default);
        var held = await nursery.Held.All(company, default);
        var causes = held.GroupBy(h => HeldGrouping.Of(stored.Book, h.Reasons[0]).Key).ToDictionary(g => HeldGrouping.Of(stored.Book, g.First().Reasons[0]).For, g => (Cause: HeldGrouping.Of(stored.Book, g.First().Reasons[0]), Events: g.Select(h => (h.SourceId, h.Amount ?? 0)).ToList()));
        Assert.Equal(Documents("one-missing-rule"), causes["item group BULBS"].Events.Order());
        Assert.Equal(Documents("no-tax-rule"), causes["party tax group ABROAD · item tax group REDUCED"].Events.Order());
        Assert.Equal(DocumentsOf("item-nobody-made"), causes["BENCH-OAK"].Events.Select(e => e.SourceId).Order(StringComparer.Ordinal));
        Assert.Equal(Planted("revenue-on-suspense"), await new MonthEndStore(nursery.Source).OnAccounts(company, [stored.Labels.Account("1999")!.Value], new(2025, 1, 1), Day, default) is var (lines, balance) ? ((int)lines, -balance) : default);

        var bulbs = causes["item group BULBS"].Cause;
        var proposed = RuleProposal.Of(stored.Book, bulbs.Purpose!, bulbs.When);
        Assert.Equal(("5010", "SEEDS"), (proposed.Account!.Number, proposed.Like[0].Rule.When[0].Code));
        Assert.Null(await nursery.Rules.Add(company, nursery.User, new Core.Rulebooks.Rule { Id = "", Purpose = bulbs.Purpose!, When = [.. bulbs.When], Account = "5010" }, default));
        Assert.Null(await nursery.Release(company));
        Assert.Equal(new Storage.HeldEvents.Retried(40, held.Count - 40), await nursery.Retrying.Retry(company, nursery.User, null, default));
        Assert.Equal(held.Where(h => Documents("one-missing-rule").Any(d => d.Item1 == h.SourceId)).Select(h => h.SourceId), await nursery.AskAll($"""
            select e.source_id from entry n join event e on e.company_id = n.company_id and e.id = n.event_id where e.company_id = {company} and e.posting > 1 order by n.number
            """));
        Assert.Empty((await new Proving.BooksVerifying(nursery.Source).Verify(company, "QN", [], default)).Faults);
    }

    static IEnumerable<(string, decimal)> Documents(string trouble) =>
        Written.RootElement.GetProperty("troubles").EnumerateArray().Single(t => t.GetProperty("trouble").GetString() == trouble).GetProperty("documents")
            .EnumerateArray().Select(d => (d.GetProperty("event").GetString()!, d.GetProperty("amount").GetDecimal())).Order();

    // The events that make ledger and subledger differ, with the money.
    async Task<IEnumerable<(string, decimal)>> Apart(int company, Control control)
    {
        var released = await nursery.Rulebooks.Load(company, null, default);
        var accounts = released.Book.Accounts.Where(a => a.Control == control).Select(a => released.Labels.Account(a.Number)!.Value).ToArray();
        var controls = new ControlStore(nursery.Source);
        var days = (await controls.Compare(company, [.. accounts.Select(a => (a, control.Word()))], Day, default)).Where(d => d.Of == control.Word() && d.Apart).Select(d => d.Day);
        return (await controls.Gaps(company, control.Word(), accounts, [.. days], default)).Select(g => (g.Document, Math.Abs(g.Difference))).Order();
    }

    async Task<(int Count, decimal Amount)> Landed(int company, string where, int side)
    {
        var row = await nursery.Ask<string>($"""
            select count(*) || ' ' || coalesce(sum({side} * l.amount), 0) from line l join account a on a.company_id = l.company_id and a.id = l.account_id
            join entry n on n.company_id = l.company_id and n.date = l.date and n.id = l.entry_id join event e on e.company_id = n.company_id and e.id = n.event_id
            where l.company_id = {company} and {where}
            """);
        return (int.Parse(row.Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture), decimal.Parse(row.Split(' ')[1], System.Globalization.CultureInfo.InvariantCulture));
    }

    // Every line is put to the document its own refers to, one by one, and its cost into the first month in which that has revenue.
    async Task MatchesDocumentByDocument(int company, Timing timing)
    {
        var lines = (await nursery.AskAll($"""
            select e.source_id || '|' || coalesce(e.prepared ->> 'refersTo', '') || '|' || to_char(l.date, 'YYYY-MM') || '|' || l.purpose || '|' || l.amount
            from event e join entry n on n.company_id = e.company_id and n.event_id = e.id join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id
            where e.company_id = {company} and l.purpose in ('revenue', 'sales-discount', 'sales-return', 'charge-income', 'cost-of-sales')
            """)).Select(text => text.Split('|')).Select(p => (Event: p[0], Refers: p[1], Month: p[2], Cost: p[3] == "cost-of-sales",
                Amount: decimal.Parse(p[4], System.Globalization.CultureInfo.InvariantCulture))).ToList();
        var landed = (await nursery.AskAll($"select source_id from event where company_id = {company} and outcome = 'landed'")).ToHashSet();
        string SaleOf(string of, string refers) => refers.Length > 0 && landed.Contains(refers) ? refers : of;
        var revenueIn = new Dictionary<string, string>();
        foreach (var line in lines.Where(l => !l.Cost))
            if (SaleOf(line.Event, line.Refers) is var sale && (!revenueIn.TryGetValue(sale, out var month) || string.CompareOrdinal(line.Month, month) < 0))
                revenueIn[sale] = line.Month;
        foreach (var month in timing.Months())
        {
            var name = month.Month.ToString("yyyy-MM", System.Globalization.CultureInfo.InvariantCulture);
            Assert.Equal(-lines.Where(l => !l.Cost && l.Month == name).Sum(l => l.Amount), month.Revenue);
            Assert.Equal(month.Revenue - lines.Where(l => l.Cost && revenueIn.GetValueOrDefault(SaleOf(l.Event, l.Refers), l.Month) == name).Sum(l => l.Amount), month.MarginMatched);
        }
    }
}
