using Assignum.Core.Preparation;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>Events that are already here under the identities of a batch: (source, id, revision).</summary>
sealed class Identities
{
    sealed record Known(long EventId, int Revision, int Posting, byte[] Digest, string Outcome, long? EntryId, long? EntryNumber, long Came);

    readonly Dictionary<(string Source, string Id), List<Known>> known = [];

    internal static async Task<Identities> Read(NpgsqlConnection connection, int company, PostableEvent[] batch, CancellationToken stop)
    {
        var identities = new Identities();
        var rows = await connection.Command("""
            select e.source, e.source_id, e.id, e.revision, e.digest, e.outcome, n.id, n.number, e.posting, e.came
            from unnest($2::text[], $3::text[]) asked(source, source_id)
            join event e on e.company_id = $1 and e.source = asked.source and e.source_id = any(array[asked.source_id, asked.source_id || $4])
            left join entry n on n.company_id = e.company_id and n.event_id = e.id and n.reverses is null
            order by e.revision, e.posting
            """, company, batch.Select(b => b.FoldedSource).ToArray(), batch.Select(b => b.Happened.Id).ToArray(),
            CostCorrection.Suffix)
            .List(row => (Key: (row.GetString(0), row.GetString(1)),
                Known: new Known(row.GetInt64(2), row.GetInt32(3), row.GetInt32(8), row.GetFieldValue<byte[]>(4), row.GetString(5), row.LongOrNull(6),
                    row.LongOrNull(7), row.GetInt64(9))), stop);
        foreach (var (key, one) in rows)
            identities.Of(key).Add(one);
        return identities;
    }

    /// <summary>The answer for an event that is here already or contradicts what is; null when it is new.</summary>
    internal Posted? Judge(PostableEvent posted)
    {
        var all = Of(posted);
        var (name, revision) = ($"Event {posted.Happened.Id} of {posted.FoldedSource}", posted.Happened.Revision);
        if (posted.Again is { } seen)
            return all.Exists(k => k.EventId == seen && k.Outcome is "landed" or "held") ? null
                : Posted.Refuse($"{name} does not stand any more. Look at it again.");
        if (all.FindLast(k => k.Revision == revision) is { } same)
            return same.Digest.AsSpan().SequenceEqual(posted.Digest)
                ? new Posted(PostingFate.Known, same.EventId, same.EntryId, same.EntryNumber, [], "") { StillHeld = same.Outcome == "held" }
                : Posted.Refuse($"{name} is here already with other contents under revision {revision}. Send the " +
                    "change with a higher revision.");
        return all.Find(k => k.Revision > revision) is { } later
            ? Posted.Refuse($"{name} is here already with revision {later.Revision}, and revision {revision} comes " +
                $"too late. Send a revision above {later.Revision}.")
            : null;
    }

    /// <summary>How often its revision has been posted, with this time.</summary>
    internal int PostingOf(PostableEvent posted) =>
        Of(posted).Where(k => k.Revision == posted.Happened.Revision).Select(k => k.Posting).DefaultIfEmpty(0).Max() + 1;

    /// <summary>Earlier revisions that stand in the books: what lands now takes them back.</summary>
    internal long[] Standing(PostableEvent posted) => Earlier(posted, "landed");

    /// <summary>Earlier revisions that wait: whatever becomes of a newer one, they wait no longer.</summary>
    internal long[] Waiting(PostableEvent posted) => Earlier(posted, "held");

    /// <summary>The event that came first of those it takes the place of; null: it comes first itself.</summary>
    internal long? CameWith(PostableEvent posted)
    {
        var waiting = Waiting(posted);
        return waiting.Length == 0 ? null : Of(posted).Where(k => waiting.Contains(k.EventId)).Select(k => k.Came).DefaultIfEmpty(long.MaxValue).Min();
    }

    // With the changes of cost that belong to them.
    long[] Earlier(PostableEvent posted, string outcome) =>
        [.. Of(posted).Concat(Of((posted.FoldedSource, CostCorrection.IdOf(posted.Happened.Id))))
            .Where(k => k.Revision < posted.Happened.Revision + (posted.Again is null ? 0 : 1) && k.Outcome == outcome).Select(k => k.EventId)];

    List<Known> Of(PostableEvent posted) => Of((posted.FoldedSource, posted.Happened.Id));

    List<Known> Of((string, string) key)
    {
        if (!known.TryGetValue(key, out var list))
            known[key] = list = [];
        return list;
    }
}
