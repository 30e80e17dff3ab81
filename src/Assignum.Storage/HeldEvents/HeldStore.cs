using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.HeldEvents;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Storage.HeldEvents;

/// <summary>An event that waits.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Came">Id of the event that came first in its place; held events post in this order.</param>
/// <param name="Since">When that came, universal time.</param>
/// <param name="Source">How it came.</param>
/// <param name="SourceId">Its id there.</param>
/// <param name="Number">What its document shows, or null.</param>
/// <param name="Type">Its type.</param>
/// <param name="Date">Its posting date.</param>
/// <param name="Connection">The connection it names, or "OWN".</param>
/// <param name="Party">Code and name of its party, or null.</param>
/// <param name="Amount">What waits, company currency; null where nothing can be computed.</param>
/// <param name="Reasons">Why it waits.</param>
public sealed record HeldEvent(long Id, long Came, DateTime Since, string Source, string SourceId, string? Number, string Type, DateOnly Date,
    string Connection, string? Party, decimal? Amount, IReadOnlyList<KeptReason> Reasons);

/// <summary>How much waits.</summary>
/// <param name="Events">How many events.</param>
/// <param name="Amount">What they come to, company currency.</param>
public sealed record HeldTotal(long Events, decimal Amount);

/// <summary>Events that are held, with the reasons for it.</summary>
public sealed class HeldStore(NpgsqlDataSource source)
{
    /// <summary>Most events that are read to be grouped; those that came first.</summary>
    public const int Most = 20_000;

    /// <summary>How much waits, with one look at an index.</summary>
    public async Task<HeldTotal> Total(int company, CancellationToken stop) =>
        (await source.Command("select count(*), coalesce(sum(waiting_amount), 0) from event where company_id = $1 and outcome = 'held'", company)
            .FirstOrDefault(row => new HeldTotal(row.GetInt64(0), Money.Plain(row.GetDecimal(1))), stop))!;

    /// <summary>Held events in the order in which they came, up to <see cref="Most"/>.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="only">Only those of these ids; null: all.</param>
    public Task<List<HeldEvent>> All(int company, CancellationToken stop, long[]? only = null) => source.Command($"""
        select e.id, e.came, c.at, e.source, e.source_id, e.number, e.type, e.date, e.connection, m.code || ' ' || m.name, e.waiting_amount,
            (select coalesce(json_agg(json_build_object('cause', h.cause, 'purpose', h.purpose, 'facts', h.facts, 'account', h.account, 'code', h.code,
                'what', h.what, 'message', h.message) order by h.place), '[]')
             from held_reason h where h.company_id = e.company_id and h.event_id = e.id)::text
        from event e join event c on c.company_id = e.company_id and c.id = e.came
        left join member m on m.company_id = e.company_id and m.id = e.party_id
        where e.company_id = $1 and e.outcome = 'held' and ($2::bigint[] is null or e.id = any($2)) order by e.came, e.id limit {Most}
        """, company, only).List(Read, stop);

    /// <summary>A held event as it came, JSON; null where it waits no more.</summary>
    public Task<string?> Received(int company, long id, CancellationToken stop) =>
        source.Command("select jsonb_pretty(received) from event where company_id = $1 and id = $2 and outcome = 'held'", company, id).FirstOrDefault(row =>
            row.GetString(0), stop);

    static HeldEvent Read(NpgsqlDataReader row) => new(row.GetInt64(0), row.GetInt64(1), row.GetDateTime(2), row.GetString(3), row.GetString(4),
        row.TextOrNull(5), row.GetString(6), row.GetFieldValue<DateOnly>(7), row.GetString(8), row.TextOrNull(9),
        row.DecimalOrNull(10) is { } amount ? Money.Plain(amount) : null, ReasonsOf(row.GetString(11)));

    static List<KeptReason> ReasonsOf(string json)
    {
        using var reasons = JsonDocument.Parse(json);
        return [.. reasons.RootElement.EnumerateArray().Select(r => new KeptReason(Words<HeldCause>.Parse(r.GetProperty("cause").GetString()!),
            Text(r, "purpose") is { } purpose ? Purpose.Find(purpose) : null, FactsOf(r.GetProperty("facts")), Text(r, "account"), Text(r, "code"),
            Text(r, "what"), Text(r, "message")!))];
    }

    static string? Text(JsonElement of, string name) => of.GetProperty(name).GetString();

    static List<FactValue> FactsOf(JsonElement facts)
    {
        var found = new List<FactValue>();
        foreach (var one in facts.EnumerateObject())
            if (Enum.TryParse<Fact>(one.Name, ignoreCase: true, out var fact))
                found.Add(new(fact, one.Value.GetString()!));
        return [.. found.OrderBy(f => f.Fact)];
    }

    /// <summary>Ids of held events in the order in which they came.</summary>
    internal static Task<List<long>> Ids(NpgsqlDataSource source, int company, long[]? only, CancellationToken stop) =>
        source.Command("select id from event where company_id = $1 and outcome = 'held' and ($2::bigint[] is null or id = any($2)) order by came, id", company,
            only).List(row => row.GetInt64(0), stop);

    /// <summary>Held events as they came, to be tried again: in the order in which they came.</summary>
    internal static async Task<List<PostableEvent>> AsTheyCame(NpgsqlDataSource source, int company, long[] ids, EventText text, CancellationToken stop)
    {
        var rows = await source.Command("""
            select e.id, e.source, e.received::text, e.digest,
                array(select h.message from held_reason h where h.company_id = e.company_id and h.event_id = e.id order by h.place)
            from event e where e.company_id = $1 and e.outcome = 'held' and e.id = any($2) order by e.came, e.id
            """, company, ids).List(row => (Id: row.GetInt64(0), Source: row.GetString(1), Received: row.GetString(2), Digest: row.GetFieldValue<byte[]>(3),
                Reasons: row.GetFieldValue<string[]>(4)), stop);
        var sent = await Sent(source, company, ids, text, stop);
        var events = new List<PostableEvent>();
        foreach (var row in rows)
            if ((sent.GetValueOrDefault(row.Id) ?? row.Received) is var received && text.Read(received) is { } happened)
                events.Add(new PostableEvent(happened, row.Source, received, text.Write(happened), row.Digest)
                {
                    Again = row.Id, HeldFor = row.Reasons, SeenByTwo = true,
                });
        return events;
    }

    // What came through a connection has other codes of ours once it is matched.
    static async Task<Dictionary<long, string?>> Sent(NpgsqlDataSource source, int company, long[] ids, EventText text, CancellationToken stop)
    {
        if (text.ReadSent is not { } read || await Connections.InboxStore.OfHeld(source, company, ids, stop) is not { Count: > 0 } came)
            return [];
        var now = await read(company, [.. came.Select(c => (c.Connection, c.Raw))], stop);
        return came.Zip(now).DistinctBy(c => c.First.Event).ToDictionary(c => c.First.Event, c => c.Second);
    }
}
