using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Consolidating;

/// <summary>A document that a company has posted for another one of its group.</summary>
/// <param name="Event">Id of its event.</param>
/// <param name="Prepared">As it was posted, JSON.</param>
/// <param name="Total">What it comes to with tax, document currency; null: it was taken back, or is not known.</param>
public sealed record PartnerDocument(long Event, string Prepared, decimal? Total);

/// <summary>The documents that a company has posted for parties that are companies of its group, in posting order.</summary>
public sealed class PartnerDocumentStore(NpgsqlDataSource source)
{
    const string Posted = """
        from event e where e.company_id = $1 and e.party_id = any($2) and e.type = any($3)
            and (e.outcome = 'landed' or e.outcome = 'reversed' or e.withdrawn) and exists (select from posted_digest d
                where d.company_id = e.company_id and d.event_id = e.id)
        """;

    /// <summary>Documents after an event.</summary>
    /// <param name="company">Id of the company that posted them.</param>
    /// <param name="parties">Ids of its parties that they are for.</param>
    /// <param name="types">Types, as the formats spell them.</param>
    /// <param name="after">Id of the last event that is known; 0: from the first.</param>
    /// <param name="from">The first day; null: all.</param>
    /// <param name="most">As many at most.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<PartnerDocument>> After(int company, int[] parties, string[] types, long after, DateOnly? from, int most, CancellationToken stop) =>
        source.Command($"""
            select e.id, e.prepared::text, (select sum(abs(m.document_amount)) from party_movement m where m.company_id = e.company_id and m.date = e.date
                and m.event_id = e.id and m.item_event_id = e.id and m.subledger = 'intercompany' and m.reverses is null and not e.withdrawn)
            {Posted} and e.id > $4 and ($5::date is null or e.date >= $5) order by e.id limit $6
            """, company, parties, types, after, from, most).List(row => new PartnerDocument(row.GetInt64(0), row.GetString(1),
                row.DecimalOrNull(2) is { } total ? Money.Plain(total) : null), stop);

    /// <summary>How many there are, and the day of the oldest.</summary>
    public async Task<(long Many, DateOnly? Oldest)> Count(int company, int[] parties, string[] types, CancellationToken stop) =>
        await source.Command($"select count(*), min(e.date) {Posted}", company, parties, types)
            .FirstOrDefault(row => (row.GetInt64(0), row.DateOrNull(1)), stop);
}
