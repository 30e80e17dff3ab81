using Assignum.Core.Timing;
using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>The document a sale is known by.</summary>
/// <param name="Sale">Id of its event.</param>
/// <param name="Type">Type of the event.</param>
/// <param name="Number">What the document shows, else its id.</param>
/// <param name="PartyCode">Its party.</param>
/// <param name="PartyName">Name of that.</param>
/// <param name="Date">Its posting date.</param>
/// <param name="Entry">Its entry; null where it has none.</param>
public sealed record SaleDocument(long Sale, string Type, string Number, string? PartyCode, string? PartyName, DateOnly Date, long? Entry);

/// <summary>Revenue and cost by sale and month. Entries that were taken back, and those that took them back, are left out.</summary>
public sealed class TimingStore(NpgsqlDataSource source)
{
    /// <summary>What landed from a day to a day, by the event that its documents refer to and by month.</summary>
    public Task<List<SaleInMonth>> Sales(int company, DateOnly from, DateOnly to, CancellationToken stop) => source.Command("""
        with recursive landed as (
            select e.id, n.date, n.id as entry_id, e.source, e.prepared ->> 'refersTo' as refers
            from entry n join event e on e.company_id = n.company_id and e.id = n.event_id
            where n.company_id = $1 and n.date between $2 and $3 and n.reverses is null
              and not exists (select from entry r where r.company_id = n.company_id and r.reverses = n.id)),
        hangs as (
            select l.id, l.id as root, l.refers, 0 as step from landed l
            union all
            select h.id, r.id, r.prepared ->> 'refersTo', h.step + 1
            from hangs h join event r on r.company_id = $1 and r.source_id = h.refers and r.outcome = 'landed' and not r.withdrawn
            where h.refers is not null and h.step < 5),
        rooted as (select distinct on (id) id, root from hangs order by id, step desc, root)
        select o.root, date_trunc('month', d.date)::date, coalesce(sum(-x.amount) filter (where x.purpose <> 'cost-of-sales'), 0),
            coalesce(sum(x.amount) filter (where x.purpose = 'cost-of-sales'), 0),
            coalesce(sum(-x.amount) filter (where x.purpose <> 'cost-of-sales' and i.item_kind = 'stock'), 0)
        from landed d join rooted o on o.id = d.id
        join line x on x.company_id = $1 and x.date = d.date and x.entry_id = d.entry_id
            and x.purpose in ('revenue', 'sales-discount', 'sales-return', 'charge-income', 'cost-of-sales')
        left join lateral (select s.item_kind from member_setting s where s.company_id = $1 and s.member_id = x.item_id and s.item_kind is not null
            order by s.id desc limit 1) i on true
        group by 1, 2
        """, company, from, to).List(row => new SaleInMonth(row.GetInt64(0), row.GetFieldValue<DateOnly>(1), row.GetDecimal(2), row.GetDecimal(3),
            row.GetDecimal(4)), stop);

    /// <summary>The documents of sales.</summary>
    public Task<List<SaleDocument>> Documents(int company, IEnumerable<long> sales, CancellationToken stop) => source.Command("""
        select e.id, e.type, coalesce(e.number, e.source_id), p.code, p.name, e.date, n.id
        from event e left join entry n on n.company_id = e.company_id and n.event_id = e.id and n.reverses is null
        left join member p on p.company_id = e.company_id and p.id = e.party_id
        where e.company_id = $1 and e.id = any($2)
        """, company, sales.Distinct().ToArray()).List(row => new SaleDocument(row.GetInt64(0), row.GetString(1), row.GetString(2), row.TextOrNull(3),
            row.TextOrNull(4), row.GetFieldValue<DateOnly>(5), row.LongOrNull(6)), stop);
}
