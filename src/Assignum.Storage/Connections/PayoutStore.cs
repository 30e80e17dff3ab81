using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Connections;

/// <summary>Money of a document on the clearing account of a provider.</summary>
/// <param name="Date">Posting date.</param>
/// <param name="Event">Id of the event.</param>
/// <param name="Entry">Id of its entry.</param>
/// <param name="SourceId">Id at its source.</param>
/// <param name="Type">Type of the event.</param>
/// <param name="Connection">The connection it names.</param>
/// <param name="Amount">Company currency, debit positive.</param>
/// <param name="IsPayout">It is a payout of this connection.</param>
public sealed record ClearingDocument(DateOnly Date, long Event, long Entry, string SourceId, string Type, string Connection, decimal Amount, bool IsPayout);

/// <summary>What a payout says, by kind.</summary>
/// <param name="Event">Id of the event.</param>
/// <param name="Purpose">For what: payment-clearing, processing-fee, held-funds, bank, input-tax.</param>
/// <param name="Amount">Company currency, debit positive.</param>
public sealed record PayoutPart(long Event, string? Purpose, decimal Amount);

/// <summary>What stands on the clearing accounts of a provider, document by document.</summary>
public sealed class PayoutStore(NpgsqlDataSource source)
{
    /// <summary>The accounts on which payouts of a connection clear what came, by number.</summary>
    public Task<List<(int Id, string Number, string Name)>> Accounts(int company, string connection, CancellationToken stop) => source.Command("""
        select distinct a.id, a.number, a.name from event e join entry n on n.company_id = e.company_id and n.event_id = e.id
        join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id and l.purpose = 'payment-clearing'
        join account a on a.company_id = l.company_id and a.id = l.account_id
        where e.company_id = $1 and e.type = 'payout' and e.source = $2 and e.outcome = 'landed' order by a.number
        """, company, connection).List(row => (row.GetInt32(0), row.GetString(1), row.GetString(2)), stop);

    /// <summary>Every document on an account, by day: what came, what went back, and what was paid out. Those taken back are not among them.</summary>
    public Task<List<ClearingDocument>> Documents(int company, int account, string connection, CancellationToken stop) => source.Command("""
        select l.date, e.id, n.id, e.source_id, e.type, e.connection, sum(l.amount), e.type = 'payout' and e.source = $3
        from line l join entry n on n.company_id = l.company_id and n.id = l.entry_id
        join event e on e.company_id = n.company_id and e.id = n.event_id
        where l.company_id = $1 and l.account_id = $2
        group by l.date, e.id, n.id, e.source_id, e.type, e.connection, e.source having sum(l.amount) <> 0 order by l.date, n.id
        """, company, account, connection).List(row => new ClearingDocument(row.GetFieldValue<DateOnly>(0), row.GetInt64(1), row.GetInt64(2), row.GetString(3),
            row.GetString(4), row.GetString(5), Money.Plain(row.GetDecimal(6)), row.GetBoolean(7)), stop);

    /// <summary>What payouts of a connection say, by kind.</summary>
    public Task<List<PayoutPart>> Parts(int company, string connection, CancellationToken stop) => source.Command("""
        select e.id, l.purpose, sum(l.amount) from event e join entry n on n.company_id = e.company_id and n.event_id = e.id and n.reverses is null
        join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id
        where e.company_id = $1 and e.type = 'payout' and e.source = $2 and e.outcome = 'landed' group by e.id, l.purpose, sign(l.amount)
        """, company, connection).List(row => new PayoutPart(row.GetInt64(0), row.TextOrNull(1), Money.Plain(row.GetDecimal(2))), stop);
}
