using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>Money that went from a connection, by a purpose, to an account.</summary>
/// <param name="Connection">Where the events came from.</param>
/// <param name="Purpose">Name of the purpose; null for lines given by hand.</param>
/// <param name="Account">Number of the account.</param>
/// <param name="AccountName">Its name.</param>
/// <param name="Amount">Debits and credits together, company currency.</param>
/// <param name="Lines">How many lines.</param>
public sealed record Flow(string Connection, string? Purpose, string Account, string AccountName, decimal Amount, long Lines);

/// <summary>Events that wait for a missing setting.</summary>
/// <param name="Connection">Where they came from.</param>
/// <param name="Purpose">The purpose that has no answer, or null.</param>
/// <param name="Events">How many.</param>
/// <param name="Amount">What their documents come to, document currency.</param>
public sealed record HeldFlow(string Connection, string? Purpose, long Events, decimal Amount);

/// <summary>Where the money of a span landed, summed. Entries that were taken back, and those that took them back, are left out.</summary>
public sealed class FlowStore(NpgsqlDataSource source)
{
    /// <summary>What landed from a day to a day.</summary>
    public Task<List<Flow>> Landed(int company, DateOnly from, DateOnly to, CancellationToken stop) =>
        source.Command("""
            select e.connection, l.purpose, a.number, a.name, sum(abs(l.amount)), count(*)
            from entry n
            join event e on e.company_id = n.company_id and e.id = n.event_id
            join line l on l.company_id = n.company_id and l.entry_id = n.id and l.date = n.date
            join account a on a.company_id = l.company_id and a.id = l.account_id
            where n.company_id = $1 and n.date between $2 and $3 and l.date between $2 and $3 and n.reverses is null
              and not exists (select from entry r where r.company_id = n.company_id and r.reverses = n.id)
            group by 1, 2, 3, 4
            """, company, from, to).List(r => new Flow(r.GetString(0), r.TextOrNull(1), r.GetString(2), r.GetString(3), r.GetDecimal(4), r.GetInt64(5)), stop);

    /// <summary>What is held from a day to a day, by the first reason.</summary>
    public Task<List<HeldFlow>> Held(int company, DateOnly from, DateOnly to, CancellationToken stop) =>
        source.Command("""
            select e.connection, h.purpose, count(*), coalesce(sum(abs(e.total)), 0)
            from event e
            left join lateral (select purpose from held_reason h where h.company_id = e.company_id and h.event_id = e.id order by place limit 1) h on true
            where e.company_id = $1 and e.outcome = 'held' and e.date between $2 and $3
            group by 1, 2
            """, company, from, to).List(r => new HeldFlow(r.GetString(0), r.TextOrNull(1), r.GetInt64(2), r.GetDecimal(3)), stop);

    /// <summary>First days of the months with entries or held events, newest first.</summary>
    public Task<List<DateOnly>> Months(int company, CancellationToken stop) =>
        source.Command("""
            select p.starts from period p
            where p.company_id = $1 and not p.adjustment
              and (exists (select from entry n where n.company_id = $1 and n.date between p.starts and p.ends) or exists (select from event e
                  where e.company_id = $1 and e.outcome = 'held' and e.date between p.starts and p.ends))
            order by 1 desc
            """, company).List(r => r.GetFieldValue<DateOnly>(0), stop);
}
