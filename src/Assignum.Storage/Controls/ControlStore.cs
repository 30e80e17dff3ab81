using Assignum.Core;
using Assignum.Core.Rulebooks;
using Npgsql;

namespace Assignum.Storage.Controls;

/// <summary>An event whose ledger lines on the control accounts of a subledger are not what it moved there.</summary>
/// <param name="Event">Id of the event.</param>
/// <param name="Date">Its posting date.</param>
/// <param name="Type">Its type.</param>
/// <param name="Document">Number of its document, or its id.</param>
/// <param name="Entry">Id of its entry; null: it has moved the subledger only.</param>
/// <param name="EntryNumber">Number of the entry.</param>
/// <param name="Party">Code and name of its party; null: none.</param>
/// <param name="Text">Its text.</param>
/// <param name="Elsewhere">Numbers of accounts under another control, or none, that its movements landed on; empty: none.</param>
/// <param name="Ledger">What it has on the control accounts, company currency, debit positive.</param>
/// <param name="Subledger">What it has moved in the subledger.</param>
/// <param name="IsTakenBack">It, or what it takes back, stands no more.</param>
public sealed record ControlGap(long Event, DateOnly Date, string Type, string Document, long? Entry, long? EntryNumber, string? Party, string Text,
    string Elsewhere, decimal Ledger, decimal Subledger, bool IsTakenBack)
{
    /// <summary>Ledger less subledger.</summary>
    public decimal Difference => Ledger - Subledger;
}

/// <summary>Ledger against subledger: what stands on control accounts, and what the movements of events say, which come from the events and not from the
/// accounts.</summary>
public sealed class ControlStore(NpgsqlDataSource source)
{
    /// <summary>What stands on accounts at the end of a day, company currency, by id; accounts without a line are left out.</summary>
    public async Task<IReadOnlyDictionary<int, decimal>> Ledger(int company, int[] accounts, DateOnly on, CancellationToken stop) =>
        (await source.Command("select account_id, sum(amount) from line where company_id = $1 and account_id = any($2) and date <= $3 group by account_id",
            company, accounts, on).List(row => (row.GetInt32(0), Money.Plain(row.GetDecimal(1))), stop)).ToDictionary();

    /// <summary>What each subledger says itself at the end of a day, company currency, by its word; one without a movement is left out.</summary>
    public async Task<IReadOnlyDictionary<string, decimal>> Subledgers(int company, DateOnly on, CancellationToken stop) =>
        (await source.Command("select subledger, sum(amount) from movement where company_id = $1 and date <= $2 group by subledger", company, on)
            .List(row => (row.GetString(0), Money.Plain(row.GetDecimal(1))), stop)).ToDictionary();

    /// <summary>The events that make the difference, the largest first. Two that cancel each other are both there.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="subledger">Word of the subledger.</param>
    /// <param name="accounts">Ids of its control accounts.</param>
    /// <param name="on">Up to the end of this day.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<ControlGap>> Gaps(int company, string subledger, int[] accounts, DateOnly on, CancellationToken stop) => source.Command("""
        with ledger as (
            select n.event_id, sum(l.amount) as amount
            from line l join entry n on n.company_id = l.company_id and n.id = l.entry_id
            where l.company_id = $1 and l.account_id = any($3) and l.date <= $4 group by n.event_id),
        moved as (
            select event_id, sum(amount) as amount from movement where company_id = $1 and subledger = $2 and date <= $4 group by event_id),
        apart as (
            select coalesce(l.event_id, m.event_id) as event_id, coalesce(l.amount, 0) as ledger, coalesce(m.amount, 0) as moved
            from ledger l full join moved m on m.event_id = l.event_id where coalesce(l.amount, 0) <> coalesce(m.amount, 0))
        select a.event_id, e.date, e.type, coalesce(e.number, e.source_id), n.id, n.number, p.code || ' ' || p.name, coalesce(e.prepared ->> 'text', ''),
            coalesce((select string_agg(distinct x.number, ', ' order by x.number) from entry o
                join line l on l.company_id = o.company_id and l.date = o.date and l.entry_id = o.id
                join account x on x.company_id = l.company_id and x.id = l.account_id
                where o.company_id = $1 and o.event_id = a.event_id and l.purpose = any($5) and l.account_id <> all($3)), ''),
            a.ledger, a.moved, e.outcome <> 'landed' or e.withdrawn
        from apart a join event e on e.company_id = $1 and e.id = a.event_id
        left join member p on p.company_id = $1 and p.id = e.party_id
        left join lateral (select id, number from entry where company_id = $1 and event_id = a.event_id order by (reverses is not null), id limit 1) n on true
        order by abs(a.ledger - a.moved) desc, e.date, a.event_id
        """, company, subledger, accounts, on, Purpose.All.Where(p => p.Control?.Word() == subledger).Select(p => p.Name).ToArray())
        .List(row => new ControlGap(row.GetInt64(0), row.GetFieldValue<DateOnly>(1), row.GetString(2), row.GetString(3), row.LongOrNull(4), row.LongOrNull(5),
            row.TextOrNull(6), row.GetString(7), row.GetString(8), Money.Plain(row.GetDecimal(9)), Money.Plain(row.GetDecimal(10)), row.GetBoolean(11)), stop);
}
