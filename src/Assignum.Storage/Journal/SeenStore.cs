using System.Text.Json;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>Which facts events have come with: what landed lately, and what is held for want of a rule.</summary>
public sealed class SeenStore(NpgsqlDataSource source)
{
    const int LatestLines = 50_000, MostDifferent = 2_000;

    /// <summary>What was seen for a purpose, held events first.</summary>
    public async Task<IReadOnlyList<Seen>> Of(int company, Purpose purpose, CancellationToken stop)
    {
        var held = await source.Command($"""
            select h.facts::text, count(distinct h.event_id)
            from held_reason h join event e on e.company_id = h.company_id and e.id = h.event_id and e.outcome = 'held'
            where h.company_id = $1 and h.purpose = $2 and h.cause = 'no-rule' group by 1 order by 2 desc limit {MostDifferent}
            """, company, purpose.Name).List(r => new Seen(OfJson(r.GetString(0)), r.GetInt64(1)), stop);
        var landed = await source.Command($"""
            select facts, count(*) from (
                select facts from line where company_id = $1 and purpose = $2 and answered_by = 'ladder' order by date desc,
                    entry_id desc limit {LatestLines}) latest
            group by 1 order by 2 desc limit {MostDifferent}
            """, company, purpose.Name).List(r => new Seen(FactsText.Read(r.GetString(0)), r.GetInt64(1)), stop);
        return [.. held, .. landed];
    }

    static List<FactValue> OfJson(string json) =>
        [.. JsonSerializer.Deserialize<Dictionary<string,
            string>>(json)!.Where(f => FactNames.TryParse(f.Key, out _)).Select(f =>
            new FactValue(FactNames.TryParse(f.Key, out var fact) ? fact : default, f.Value))];
}
