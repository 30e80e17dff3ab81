using Assignum.Core.Posting;
using Assignum.Storage.Posting;

namespace Assignum.Storage.Tests;

/// <summary>
/// Long sequences of landed, held, revised, withdrawn and repeated events, against a small model of what must stand: of each event the latest
/// revision that landed, unless it was withdrawn.
/// </summary>
public sealed class StandingModelTests(Nursery nursery) : IClassFixture<Nursery>
{
    enum Kind { Priced, OnlyQuantity, Held, Withdrawn }

    sealed record Sent(string Id, int Revision, Kind Kind, int Quantity)
    {
        internal PostableEvent Event => Nursery.Event(FormattableString.Invariant(
            $$"""{"id":"{{Id}}","type":"sales-invoice","date":"2026-03-14","revision":{{Revision}},"withdrawn":{{(Kind == Kind.Withdrawn ? "true" : "false")}},"party":"{{(Kind == Kind.Held ? "C-70" : "C-10")}}","lines":[{"item":"SEED-01","quantity":{{Quantity}},"price":{{(Kind == Kind.OnlyQuantity ? 0 : 1)}},"unitCost":0,"shipped":true,"taxCode":{{(Kind == Kind.Held ? "null" : "\"Z0\"")}}}]}"""));
    }

    sealed class Model
    {
        readonly Dictionary<string, SortedDictionary<int, (Sent Sent, string Outcome)>> known = [];

        internal PostingFate Take(Sent sent)
        {
            var all = known.TryGetValue(sent.Id, out var list) ? list : known[sent.Id] = [];
            if (all.TryGetValue(sent.Revision, out var same))
                return same.Sent == sent ? PostingFate.Known : PostingFate.Refused;
            if (all.Keys.Any(r => r > sent.Revision))
                return PostingFate.Refused;
            foreach (var (revision, (earlier, outcome)) in all.ToList())
                if (outcome == "held" || (outcome == "landed" && sent.Kind != Kind.Held))
                    all[revision] = (earlier, "superseded");
            all[sent.Revision] = (sent, sent.Kind == Kind.Held ? "held" : "landed");
            return sent.Kind == Kind.Held ? PostingFate.Held : PostingFate.Landed;
        }

        internal int LastOf(string id) => known.TryGetValue(id, out var all) ? all.Keys.Last() : 0;

        internal Sent? AnyOf(string id, Random chance) => known.TryGetValue(id, out var all) ? all.Values.ElementAt(chance.Next(all.Count)).Sent : null;

        internal IEnumerable<string> Outcomes =>
            known.SelectMany(k => k.Value.Values).Select(v => $"{v.Sent.Id}/{v.Sent.Revision} {v.Outcome}").Order(StringComparer.Ordinal);

        /// <summary>What stands of each event: receivable and quantity that has left.</summary>
        internal IEnumerable<string> Standing =>
            from id in known
            let stands = id.Value.Values.Where(v => v.Outcome == "landed" && v.Sent.Kind != Kind.Withdrawn).Select(v => v.Sent).LastOrDefault()
            where stands is not null
            select FormattableString.Invariant($"{id.Key}: {(stands.Kind == Kind.Priced ? stands.Quantity : 0)} for {-stands.Quantity}");
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    [InlineData(6)]
    public async Task Of_each_event_the_latest_revision_that_landed_stands(int seed)
    {
        var chance = new Random(seed);
        var company = await nursery.OpenCompany("MODEL" + seed);
        var model = new Model();
        for (var delivery = 0; delivery < 30; delivery++)
        {
            var batch = Enumerable.Range(0, chance.Next(1, 6)).Select(_ => Next(model, chance)).ToList();
            List<PostingFate> expected = [.. batch.Select(model.Take)];
            var posted = await nursery.Posting.Post(company, nursery.User, [.. batch.Select(b => b.Event)], default);
            Assert.Equal(expected, posted.Select(p => p.Fate));
        }

        Assert.Equal(model.Outcomes, await Read(company, "select source_id || '/' || revision || ' ' || outcome from event where company_id = $1"));
        Assert.Equal(model.Standing.Order(StringComparer.Ordinal), await Read(company, """
            select e.source_id || ': ' || coalesce(sum(s.amount) filter (where s.subledger = 'receivables'), 0)::bigint || ' for ' || coalesce(sum(s.quantity), 0)::bigint
            from movement s join event e on (e.company_id, e.id) = (s.company_id, s.event_id) where s.company_id = $1
            group by e.source_id having coalesce(sum(s.quantity), 0) <> 0
            """));
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));
        Assert.Equal(0L, await nursery.Ask<long>($"select count(*) from (select fiscal_year_id, count(*) n, max(number) m from entry where company_id = {company} group by 1) g where n <> m"));
    }

    static Sent Next(Model model, Random chance)
    {
        var id = "E" + chance.Next(5);
        var sent = new Sent(id, model.LastOf(id) + 1, (Kind)chance.Next(4), chance.Next(1, 20));
        return chance.Next(6) switch
        {
            0 => model.AnyOf(id, chance) ?? sent,
            1 => sent with { Revision = Math.Max(1, sent.Revision - 2) },
            2 => sent with { Revision = sent.Revision + 1 },
            _ => sent,
        };
    }

    async Task<List<string>> Read(int company, string sql)
    {
        await using var command = nursery.Source.CreateCommand(sql);
        command.Parameters.Add(new() { Value = company });
        await using var reader = await command.ExecuteReaderAsync();
        var rows = new List<string>();
        while (await reader.ReadAsync())
            rows.Add(reader.GetString(0));
        rows.Sort(StringComparer.Ordinal);
        return rows;
    }

    async Task<decimal?> Sum(string id, string what, string subledger)
    {
        await using var command = nursery.Source.CreateCommand($"select sum(s.{what}) from movement s join event e on (e.company_id, e.id) = (s.company_id, s.event_id) where e.source_id = $1 and s.subledger = $2");
        command.Parameters.Add(new() { Value = id });
        command.Parameters.Add(new() { Value = subledger });
        return await command.ExecuteScalarAsync() as decimal?;
    }

    [Fact]
    public async Task A_held_revision_between_two_landed_ones_leaves_only_the_last_standing()
    {
        foreach (var sent in new[] { new Sent("BETWEEN", 1, Kind.Priced, 10), new Sent("BETWEEN", 2, Kind.Held, 11), new Sent("BETWEEN", 3, Kind.Priced, 12) })
            await nursery.Post(sent.Event);

        Assert.Equal(12m, await Sum("BETWEEN", "amount", "receivables"));
    }

    [Fact]
    public async Task A_withdrawal_after_a_held_revision_takes_back_what_stood()
    {
        foreach (var sent in new[] { new Sent("GONE", 1, Kind.Priced, 10), new Sent("GONE", 2, Kind.Held, 11), new Sent("GONE", 3, Kind.Withdrawn, 11) })
            await nursery.Post(sent.Event);

        Assert.Equal(0m, await Sum("GONE", "amount", "receivables"));
        Assert.Equal(0L, await nursery.Ask<long>("select count(*) from event where source_id = 'GONE' and outcome = 'held'"));
    }

    [Fact]
    public async Task A_correction_of_what_moved_only_a_subledger_takes_back_that_and_no_more()
    {
        foreach (var (revision, quantity) in new[] { (1, 10), (2, 5), (3, 7) })
            await nursery.Post(new Sent("FREE", revision, Kind.OnlyQuantity, quantity).Event);

        Assert.Equal(-7m, await Sum("FREE", "quantity", "inventory"));
    }
}
