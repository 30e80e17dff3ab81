using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>An event of a chain.</summary>
/// <param name="Id">Id of the event.</param>
/// <param name="SourceId">Its id at its source.</param>
/// <param name="Type">Its type.</param>
/// <param name="Date">Its posting date.</param>
/// <param name="Number">What its document shows, or null.</param>
/// <param name="Entry">Its entry; null where it has none.</param>
/// <param name="EntryNumber">The number of that.</param>
/// <param name="Total">Document total, or the sum of debits, company currency; null without an entry.</param>
public sealed record ChainEvent(long Id, string SourceId, string Type, DateOnly Date, string? Number, long? Entry, long? EntryNumber, decimal? Total);

/// <summary>How two events of a chain hang together.</summary>
public enum ChainLink { RefersTo, Settles, Receipt }

/// <summary>Two events that hang together.</summary>
/// <param name="From">Id of the one that refers, settles or takes.</param>
/// <param name="To">Id of the one it refers to, settles or takes from.</param>
/// <param name="Kind">How.</param>
/// <param name="Amount">What is settled, document currency, or taken of a receipt, company currency; null for what only refers.</param>
public sealed record ChainTie(long From, long To, ChainLink Kind, decimal? Amount);

/// <summary>Events that hang together.</summary>
/// <param name="Events">In the order of their days.</param>
/// <param name="Ties">Between them.</param>
/// <param name="More">More hang on than are listed.</param>
public sealed record Chain(IReadOnlyList<ChainEvent> Events, IReadOnlyList<ChainTie> Ties, bool More);

/// <summary>Finds what an event refers to and settles, what refers to it and settles it, and so on.</summary>
public sealed class ChainStore(NpgsqlDataSource source)
{
    // A payment may settle a hundred invoices; a chain is read, not searched.
    const int Most = 9, Steps = 3;

    /// <summary>The chain an event is in: itself, what it hangs on, and what hangs on that.</summary>
    public async Task<Chain> Of(int company, long id, CancellationToken stop)
    {
        HashSet<long> known = [id], edge = [id];
        var ties = new HashSet<ChainTie>();
        for (var step = 0; step < Steps && edge.Count > 0 && known.Count <= Most; step++)
        {
            var found = await Ties(company, [.. edge], stop);
            ties.UnionWith(found);
            edge = [.. found.SelectMany(tie => new[] { tie.From, tie.To }).Where(one => !known.Contains(one)).Order().Take(Most + 1 - known.Count)];
            known.UnionWith(edge);
        }
        var kept = known.Take(Most).ToHashSet();
        return new(await Events(company, [.. kept], stop), [.. ties.Where(tie => kept.Contains(tie.From) && kept.Contains(tie.To))],
            ties.Any(tie => !kept.Contains(tie.From) || !kept.Contains(tie.To)));
    }

    Task<List<ChainTie>> Ties(int company, long[] of, CancellationToken stop) => source.Command("""
        with here as (select id, date, source_id, prepared ->> 'refersTo' as refers from event where company_id = $1 and id = any($2)),
        moved as (
            select m.event_id, m.item_event_id as of_event, 'settles' as kind, m.document_amount as amount
            from here h join party_movement m on m.company_id = $1 and m.date = h.date and m.event_id = h.id and m.reverses is null
            where m.item_event_id <> m.event_id
            union all
            select m.event_id, m.item_event_id, 'settles', m.document_amount
            from here h join party_movement m on m.company_id = $1 and m.item_event_id = h.id and m.reverses is null
            where m.item_event_id <> m.event_id and m.event_id <> all($2)
            union all
            select m.event_id, m.receipt_event_id, 'receipt', m.amount
            from here h join stock_movement m on m.company_id = $1 and m.date = h.date and m.event_id = h.id and m.reverses is null
            where m.receipt_event_id <> m.event_id
            union all
            select m.event_id, m.receipt_event_id, 'receipt', m.amount
            from here h join stock_movement m on m.company_id = $1 and m.receipt_event_id = h.id and m.reverses is null
            where m.receipt_event_id <> m.event_id and m.event_id <> all($2))
        select h.id, r.id, 'refers-to', null::numeric from here h join event r on r.company_id = $1 and r.source_id = h.refers and r.outcome = 'landed'
        union
        select e.id, h.id, 'refers-to', null from here h join event e on e.company_id = $1 and e.prepared ? 'refersTo'
            and e.prepared ->> 'refersTo' = h.source_id and e.outcome = 'landed'
        union
        select event_id, of_event, kind, abs(sum(amount)) from moved group by event_id, of_event, kind having sum(amount) <> 0
        """, company, of).List(row => new ChainTie(row.GetInt64(0), row.GetInt64(1), Words<ChainLink>.Parse(row.GetString(2)), row.DecimalOrNull(3)), stop);

    Task<List<ChainEvent>> Events(int company, long[] ids, CancellationToken stop) => source.Command("""
        select e.id, e.source_id, e.type, e.date, e.number, n.id, n.number, coalesce(n.document_total, n.total)
        from event e left join entry n on n.company_id = e.company_id and n.event_id = e.id and n.reverses is null
        where e.company_id = $1 and e.id = any($2) order by e.date, e.id
        """, company, ids).List(row => new ChainEvent(row.GetInt64(0), row.GetString(1), row.GetString(2), row.GetFieldValue<DateOnly>(3), row.TextOrNull(4),
            row.LongOrNull(5), row.LongOrNull(6), row.DecimalOrNull(7)), stop);
}
