using System.Text.Json;
using Assignum.DemoEvents.Year;
using Assignum.Formats.Events;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;

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
        Assert.Equal(0L, await nursery.Ask<long>($"select count(*) from stock_standing where company_id = {company} and quantity < 0"));
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
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
}
