using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Connections;

/// <summary>What became of something that came.</summary>
public enum InboxState
{
    /// <summary>It is here and not looked at yet.</summary>
    Waiting,
    /// <summary>Somebody has to look at it before it posts.</summary>
    Review,
    /// <summary>It is in the books.</summary>
    Posted,
    /// <summary>It waits, whole, for a missing setting.</summary>
    Held,
    /// <summary>It contradicts what came before it.</summary>
    Refused,
    /// <summary>It is not taken from this connection.</summary>
    Left,
    /// <summary>It can't be read; it is kept as it came.</summary>
    Unreadable,
}

/// <summary>How something came.</summary>
public enum Via
{
    /// <summary>We fetched it.</summary>
    Feed,
    /// <summary>The other system called us.</summary>
    Hook,
    /// <summary>It was sent over the API.</summary>
    Api,
    /// <summary>Somebody has sent it once more, mended.</summary>
    Again,
}

/// <summary>Something that came, as the worker sees it.</summary>
public sealed record Came(long Id, string Raw, byte[] Digest);

/// <summary>What became of one of them.</summary>
public sealed record Settled(long Id, InboxState State, string? Message)
{
    /// <summary>Its id there.</summary>
    public string? SourceId { get; init; }
    /// <summary>Its revision.</summary>
    public int? Revision { get; init; }
    /// <summary>Its day.</summary>
    public DateOnly? Date { get; init; }
    /// <summary>Its type.</summary>
    public string? Type { get; init; }
    /// <summary>Id of the event it became.</summary>
    public long? Event { get; init; }
    /// <summary>The event with our codes, JSON.</summary>
    public string? Translated { get; init; }
    /// <summary>How many lines landed by their category.</summary>
    public int ByCategory { get; init; }
    /// <summary>Number of its entry; null: it has none, or not yet.</summary>
    public long? EntryNumber { get; init; }
    /// <summary>What somebody is shown to look at, JSON.</summary>
    public string? Reviewed { get; init; }
}

/// <summary>A row of the inbox.</summary>
public sealed record InboxRow(long Id, string Raw, Via Via, DateTime CameAt, string? SourceId, int? Revision, DateOnly? Date, string? Type, decimal? Amount,
    InboxState State, string? Message, long? Event, string? Translated, int ByCategory, string? Reviewed, int Times, long? Entry, long? EntryNumber);

/// <summary>How much of a connection is in which state.</summary>
public sealed record InboxCount(int Connection, InboxState State, long Events, DateTime Oldest);

/// <summary>What connections have sent: kept before it is answered, once however often it comes, and settled in the order in which it came.</summary>
public sealed class InboxStore(NpgsqlDataSource source)
{
    static readonly TimeSpan Claim = TimeSpan.FromSeconds(60);

    /// <summary>Takes what came, and with it how far the feed is; what has come before is counted, not taken again.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="connection">Id of the connection.</param>
    /// <param name="via">How it came.</param>
    /// <param name="came">Texts with their digests, in their order.</param>
    /// <param name="stop">Cancels; nothing is taken.</param>
    /// <param name="cursor">How far the feed is with them; null: it is no feed.</param>
    /// <returns>Their ids, in the same order; what has come before has the id it had.</returns>
    public async Task<long[]> Take(int company, int connection, Via via, IReadOnlyList<(string Raw, byte[] Digest)> came, CancellationToken stop,
        string? cursor = null)
    {
        await using var open = await source.OpenConnectionAsync(stop);
        await using var transaction = await open.BeginTransactionAsync(stop);
        var ids = came.Count == 0 ? [] : await Keep(open, company, connection, via, came, stop);
        if (cursor is not null)
            await open.Command("update connection set cursor = $3, fed_at = now(), failing_since = null, fault = null where company_id = $1 and id = $2",
                company, connection, cursor).Run(stop);
        await transaction.CommitAsync(stop);
        return ids;
    }

    static async Task<long[]> Keep(NpgsqlConnection open, int company, int connection, Via via, IReadOnlyList<(string Raw, byte[] Digest)> came,
        CancellationToken stop)
    {
        // A character that no text of the database holds is written as people see that something was there.
        string[] raws = [.. came.Select(c => c.Raw.Replace('\0', '\uFFFD'))];
        var rows = await open.Command("""
            with sent as (select r, d, min(n) as n, count(*) as times from unnest($4::text[], $5::bytea[]) with ordinality as s (r, d, n) group by r, d),
            once as (select distinct on (d) d, r, n from sent order by d, n),
            kept as (
                insert into inbox (company_id, connection_id, via, raw, digest, claimed_until)
                select $1, $2, $3, r, d, now() + $6 from once order by n
                on conflict (company_id, connection_id, digest) do update set times = inbox.times + 1
                returning id, digest)
            select id, digest from kept
            """, company, connection, Words<Via>.Of(via), raws, came.Select(c => c.Digest).ToArray(), via is Via.Api or Via.Again ? Claim : null)
            .List(row => (Id: row.GetInt64(0), Digest: Convert.ToHexString(row.GetFieldValue<byte[]>(1))), stop);
        var byDigest = rows.ToDictionary(r => r.Digest, r => r.Id);
        return [.. came.Select(c => byDigest[Convert.ToHexString(c.Digest)])];
    }

    /// <summary>What waits to be looked at, in the order in which it came.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="connection">Id of the connection.</param>
    /// <param name="most">Most of them.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="only">Only these; null: all.</param>
    public Task<List<Came>> Waiting(int company, int connection, int most, CancellationToken stop, long[]? only = null) =>
        source.Command("select id, raw, digest from inbox where company_id = $1 and connection_id = $2 and state = 'waiting' and case when " +
            "$4::bigint[] is null then coalesce(claimed_until < now(), true) else id = any($4) end order by id limit $3", company, connection, most, only)
            .List(row => new Came(row.GetInt64(0), row.GetString(1), row.GetFieldValue<byte[]>(2)), stop);

    /// <summary>Companies and connections with something that waits.</summary>
    public Task<List<(int Company, int Connection)>> Open(CancellationToken stop) =>
        source.Command("select distinct company_id, connection_id from inbox where state = 'waiting' and coalesce(claimed_until < now(), true)").List(row =>
            (row.GetInt32(0), row.GetInt32(1)), stop);

    /// <summary>Notes what became of many; what somebody else has settled stays as it is.</summary>
    public async Task Settle(int company, IReadOnlyList<Settled> all, CancellationToken stop)
    {
        if (all.Count == 0)
            return;
        await using var connection = await source.OpenConnectionAsync(stop);
        await connection.Command("""
            update inbox i set state = s.state, message = coalesce(s.message, (select string_agg(h.message, ' ' order by h.place) from held_reason h
                    where s.state = 'held' and h.company_id = i.company_id and h.event_id = s.event)), source_id = coalesce(s.source_id, i.source_id),
                revision = coalesce(s.revision, i.revision),
                date = coalesce(s.date, i.date), type = coalesce(s.type, i.type), event_id = coalesce(s.event, i.event_id),
                translated = coalesce(s.translated, i.translated), by_category = s.by_category, reviewed = s.reviewed::jsonb,
                settled_at = now()
            from unnest($2::bigint[], $3::text[], $4::text[], $5::text[], $6::integer[], $7::date[], $8::text[], $9::bigint[], $10::text[], $11::integer[],
                $12::text[]) as s (id, state, message, source_id, revision, date, type, event, translated, by_category, reviewed)
            where i.company_id = $1 and i.id = s.id and (i.state = 'waiting' or s.state = 'review')
            """, company, Array(all, s => s.Id), Array(all, s => Words<InboxState>.Of(s.State)), Array(all, s => s.Message), Array(all, s => s.SourceId),
            Array(all, s => s.Revision), Array(all, s => s.Date), Array(all, s => s.Type), Array(all, s => s.Event), Array(all, s => s.Translated),
            Array(all, s => s.ByCategory), Array(all, s => s.Reviewed)).Run(stop);
    }

    static T[] Array<T>(IReadOnlyList<Settled> all, Func<Settled, T> value) => [.. all.Select(value)];

    const string Row = """
        select i.id, i.raw, i.via, i.came_at, i.source_id, i.revision, i.date, i.type, e.total,
            i.state, i.message, i.event_id, i.translated, i.by_category, i.reviewed::text, i.times, n.id, n.number
        from inbox i
        left join event e on e.company_id = i.company_id and e.id = i.event_id
        left join lateral (select x.id, x.outcome from event x where x.company_id = e.company_id and x.source = e.source and x.source_id = e.source_id
            and x.revision = e.revision order by x.posting desc limit 1) now_ on true
        left join entry n on n.company_id = i.company_id and n.event_id = now_.id and n.reverses is null
        """;

    static InboxRow Read(NpgsqlDataReader row) => new(row.GetInt64(0), row.GetString(1), Words<Via>.Parse(row.GetString(2)), row.GetDateTime(3),
        row.TextOrNull(4), row.IntOrNull(5), row.DateOrNull(6), row.TextOrNull(7), row.DecimalOrNull(8), Words<InboxState>.Parse(row.GetString(9)),
        row.TextOrNull(10), row.LongOrNull(11), row.TextOrNull(12), row.GetInt32(13), row.TextOrNull(14), row.GetInt32(15), row.LongOrNull(16),
        row.LongOrNull(17));

    /// <summary>Rows of the inbox, the latest first.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="connection">Id of a connection; null: all.</param>
    /// <param name="state">Only those in this state; null: all.</param>
    /// <param name="sought">Part of an id there; null: all.</param>
    /// <param name="before">Only ids below this one; null: from the latest on.</param>
    /// <param name="most">Most of them.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<InboxRow>> List(int company, int? connection, InboxState? state, string? sought, long? before, int most, CancellationToken stop) =>
        source.Command($"""
            {Row} where i.company_id = $1 and ($2::integer is null or i.connection_id = $2) and ($3::text is null or i.state = $3)
                and ($4::text is null or upper(i.source_id) like '%' || upper($4) || '%') and ($5::bigint is null or i.id < $5)
            order by i.id desc limit $6
            """, company, connection, state is { } of ? Words<InboxState>.Of(of) : null, sought, before, most).List(Read, stop);

    /// <summary>One row; null: there is none.</summary>
    public Task<InboxRow?> Find(int company, long id, CancellationToken stop) =>
        source.Command(Row + " where i.company_id = $1 and i.id = $2", company, id).FirstOrDefault(Read, stop);

    /// <summary>Rows of these ids.</summary>
    public Task<List<InboxRow>> Rows(int company, long[] ids, CancellationToken stop) =>
        source.Command(Row + " where i.company_id = $1 and i.id = any($2)", company, ids).List(Read, stop);

    /// <summary>Rows by their ids there, the latest revision of each.</summary>
    public Task<InboxRow?> OfSource(int company, int connection, string sourceId, CancellationToken stop) =>
        source.Command(Row + " where i.company_id = $1 and i.connection_id = $2 and i.source_id = $3 order by i.revision desc, i.id desc limit 1", company,
            connection, sourceId).FirstOrDefault(Read, stop);

    /// <summary>How much is in which state, by connection.</summary>
    public Task<List<InboxCount>> Counts(int company, CancellationToken stop) =>
        source.Command("select connection_id, state, count(*), min(came_at) from inbox where company_id = $1 group by 1, 2", company)
            .List(row => new InboxCount(row.GetInt32(0), Words<InboxState>.Parse(row.GetString(1)), row.GetInt64(2), row.GetDateTime(3)), stop);

    /// <summary>How much somebody has to look at.</summary>
    public Task<long> ToReview(int company, CancellationToken stop) =>
        source.Command("select count(*) from inbox where company_id = $1 and state = 'review'", company).Value<long>(stop);

    /// <summary>How many came and how many were settled in each hour of the last two days, by hours ago.</summary>
    public Task<List<(int Hour, long Came)>> Rate(int company, int connection, CancellationToken stop) =>
        source.Command("select floor(extract(epoch from now() - came_at) / 3600)::integer, count(*) from inbox where company_id = $1 and connection_id = $2 " +
            "and came_at > now() - interval '48 hours' group by 1 order by 1", company, connection).List(row => (row.GetInt32(0), row.GetInt64(1)), stop);

    /// <summary>Puts rows back among those that wait, to be looked at again; those of another state stay.</summary>
    public Task<int> Again(int company, long[] ids, InboxState from, CancellationToken stop) =>
        source.Command("update inbox set state = 'waiting', claimed_until = now() + interval '1 minute' where company_id = $1 and id = any($2) and state " +
            "= $3", company, ids,
            Words<InboxState>.Of(from)).Run(stop);

    /// <summary>Does not take what waits for review, with the reason.</summary>
    public Task<int> Leave(int company, long[] ids, string why, CancellationToken stop) =>
        source.Command("update inbox set state = 'left', message = $3, settled_at = now() where company_id = $1 and id = any($2) and state = 'review'", company,
            ids, why).Run(stop);

    /// <summary>What waited and is in the books since, or was taken back, says so.</summary>
    internal static Task<int> Refresh(NpgsqlDataSource source, int company, CancellationToken stop) => source.Command("""
        update inbox i set state = case e.outcome when 'landed' then 'posted' else 'left' end,
            message = case e.outcome when 'landed' then null else 'Set aside, or replaced by a later revision.' end, settled_at = now()
        from event h join event e on e.company_id = h.company_id and e.source = h.source and e.source_id = h.source_id
            and (e.revision, e.posting) = (select x.revision, x.posting from event x where x.company_id = h.company_id and x.source = h.source
                and x.source_id = h.source_id and x.revision = h.revision order by x.posting desc limit 1)
        where i.company_id = $1 and i.state = 'held' and h.company_id = i.company_id and h.id = i.event_id and e.outcome <> 'held'
        """, company).Run(stop);

    /// <summary>What came for events that are held, as it came, by id of the event that came first in their place.</summary>
    internal static Task<List<(long Event, int Connection, string Raw)>> OfHeld(NpgsqlDataSource source, int company, long[] events, CancellationToken stop) =>
        source.Command("select e.id, i.connection_id, i.raw from event e join inbox i on i.company_id = e.company_id and i.event_id = e.came where " +
            "e.company_id = $1 and e.id = any($2)", company, events).List(row => (row.GetInt64(0), row.GetInt32(1), row.GetString(2)), stop);
}
