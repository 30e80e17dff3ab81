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
    /// <summary>The event at its source, the same for its revisions and for what takes it back.</summary>
    public required string Identity { get; init; }
    /// <summary>Id of the event at its source.</summary>
    public required string SourceId { get; init; }
    /// <summary>The event it refers to; null: none.</summary>
    public string? RefersTo { get; init; }
    /// <summary>The account a reclassification or a transfer takes its amount from; null: it is none.</summary>
    public string? TakesFrom { get; init; }

    /// <summary>The gaps that nothing has answered yet, and how many are answered: an event taken back, a correction that refers to what it corrects, a
    /// reclassification or a transfer from the account on which events had landed. Two that merely cancel each other stay.</summary>
    public static (List<ControlGap> Open, int Answered) Split(IReadOnlyList<ControlGap> all)
    {
        var open = all.GroupBy(g => g.Identity).Where(g => g.Sum(gap => gap.Difference) != 0).SelectMany(g => g).ToList();
        foreach (var answer in open.Where(g => g.RefersTo is not null || g.TakesFrom is not null).ToList())
        {
            var answered = open.FindAll(g => g != answer && (answer.TakesFrom is { } from ? g.Elsewhere.Split(", ").Contains(from) && g.Date <= answer.Date
                : g.SourceId == answer.RefersTo));
            if (answered.Count > 0 && answered.Sum(g => g.Difference) == -answer.Difference)
                open.RemoveAll(g => g == answer || answered.Contains(g));
        }
        return ([.. open.OrderByDescending(g => Math.Abs(g.Difference)).ThenBy(g => g.Date)], all.Count - open.Count);
    }
}

/// <summary>A day of a subledger beside its control accounts.</summary>
/// <param name="Of">Word of the subledger.</param>
/// <param name="Day">The day.</param>
/// <param name="Ledger">What its lines on the control accounts come to, company currency, debit positive.</param>
/// <param name="Subledger">What its movements come to.</param>
/// <param name="Apart">An entry of it differs, also where the sums do not.</param>
public sealed record ControlDay(string Of, DateOnly Day, decimal Ledger, decimal Subledger, bool Apart);

/// <summary>What a connected system says stands there, beside what stands here.</summary>
/// <param name="Connection">The system.</param>
/// <param name="Day">The day it speaks of.</param>
/// <param name="Subledger">Word of the subledger.</param>
/// <param name="Member">Whose it is.</param>
/// <param name="Currency">Currency of the amounts; null: the company's.</param>
/// <param name="Amount">What it says; null: it says no amount.</param>
/// <param name="Quantity">What it says; null: it says no quantity.</param>
/// <param name="Here">What stands here on that day, in that currency.</param>
/// <param name="QuantityHere">The quantity here.</param>
public sealed record StatedBeside(string Connection, DateOnly Day, string Subledger, string Member, string? Currency, decimal? Amount, decimal? Quantity,
    decimal Here, decimal QuantityHere)
{
    /// <summary>It says what stands here.</summary>
    public bool Agrees => (Amount is not { } amount || amount == Here) && (Quantity is not { } quantity || quantity == QuantityHere);
}

/// <summary>Numbers of documents that a connected system has given, beside those that are here.</summary>
/// <param name="Connection">The system.</param>
/// <param name="Series">What they begin with.</param>
/// <param name="From">The first.</param>
/// <param name="To">The last.</param>
/// <param name="Count">How many it has given.</param>
/// <param name="Here">How many of them are here.</param>
/// <param name="Missing">The first that are not here.</param>
public sealed record StatedSeries(string Connection, string Series, string From, string To, int Count, long Here, IReadOnlyList<string> Missing);

/// <summary>Ledger against subledger: what stands on control accounts, and what the movements of events say, which come from the events and not from the
/// accounts.</summary>
public sealed class ControlStore(NpgsqlDataSource source)
{
    /// <summary>What stands on accounts at the end of a day, company currency, by id; accounts without a line are left out.</summary>
    public async Task<IReadOnlyDictionary<int, decimal>> Ledger(int company, int[] accounts, DateOnly on, CancellationToken stop) =>
        (await source.Command("select account_id, sum(amount) from line where company_id = $1 and account_id = any($2) and date <= $3 group by account_id",
            company, accounts, on).List(row => (row.GetInt32(0), Money.Plain(row.GetDecimal(1))), stop)).ToDictionary();

    /// <summary>Every subledger beside its control accounts, day by day, up to the end of a day: one pass over lines and movements.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="accounts">Ids of the control accounts, each with the word of its subledger.</param>
    /// <param name="on">Up to the end of this day.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<ControlDay>> Compare(int company, IReadOnlyCollection<(int Account, string Subledger)> accounts, DateOnly on,
        CancellationToken stop) =>
        await source.Command("""
        with controls as (select * from unnest($2::integer[], $3::text[]) c(account_id, subledger)),
        -- Entries weigh in by a number made of their id: what two of them have too much and too little on one day does not cancel out.
        ledger as (
            select c.subledger, l.date, sum(l.amount) as amount, sum(l.amount * hashint8extended(l.entry_id, 0)) as weighed
            from line l join controls c on c.account_id = l.account_id
            where l.company_id = $1 and l.date <= $4 group by c.subledger, l.date),
        moved as (
            select m.subledger, m.date, sum(m.amount) as amount, sum(m.amount * hashint8extended(coalesce(m.entry_id, -m.event_id), 0)) as weighed
            from (
                select date, entry_id, event_id, subledger, amount from party_movement where company_id = $1 and date <= $4
                union all select date, entry_id, event_id, subledger, amount from stock_movement where company_id = $1 and date <= $4
                union all select date, entry_id, event_id, 'tax', amount from tax_movement where company_id = $1 and date <= $4
                union all select date, entry_id, event_id, 'bank', amount from money_movement where company_id = $1 and date <= $4
                union all select date, entry_id, event_id, 'projects', amount from project_movement where company_id = $1 and date <= $4
                union all select date, entry_id, event_id, 'assets', amount from asset_movement where company_id = $1 and date <= $4) m
            group by m.subledger, m.date)
        select coalesce(l.subledger, m.subledger), coalesce(l.date, m.date), coalesce(l.amount, 0), coalesce(m.amount, 0),
            coalesce(l.weighed, 0) <> coalesce(m.weighed, 0)
        from ledger l full join moved m on m.subledger = l.subledger and m.date = l.date
        order by 1, 2
        """, company, accounts.Select(a => a.Account).ToArray(), accounts.Select(a => a.Subledger).ToArray(), on)
        .List(row => new ControlDay(row.GetString(0), row.GetFieldValue<DateOnly>(1), Money.Plain(row.GetDecimal(2)), Money.Plain(row.GetDecimal(3)),
            row.GetBoolean(4)), stop);

    /// <summary>The events that make differences and that nothing has answered yet, by subledger, up to the end of a day.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="accounts">Ids of the control accounts, each with the word of its subledger.</param>
    /// <param name="on">Up to the end of this day.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<(string Of, IReadOnlyList<ControlGap> Gaps)>> Open(int company, IReadOnlyCollection<(int Account,
        string Subledger)> accounts,
        DateOnly on, CancellationToken stop)
    {
        var found = new List<(string, IReadOnlyList<ControlGap>)>();
        foreach (var apart in (await Compare(company, accounts, on, stop)).Where(d => d.Apart).GroupBy(d => d.Of))
            if (ControlGap.Split(await Gaps(company, apart.Key, [.. accounts.Where(a => a.Subledger == apart.Key).Select(a => a.Account)],
                [.. apart.Select(d => d.Day)], stop)).Open is { Count: > 0 } open)
                found.Add((apart.Key, open));
        return found;
    }

    /// <summary>The events that make the difference, the largest first. Two that cancel each other are both there.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="subledger">Word of the subledger.</param>
    /// <param name="accounts">Ids of its control accounts.</param>
    /// <param name="days">The days on which something is apart, as <see cref="Compare"/> finds them.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<ControlGap>> Gaps(int company, string subledger, int[] accounts, DateOnly[] days,
        CancellationToken stop) => days.Length == 0
        ? [] : await source.Command("""
        with ledger as (
            select n.event_id, sum(l.amount) as amount
            from line l join entry n on n.company_id = l.company_id and n.id = l.entry_id
            where l.company_id = $1 and l.account_id = any($3) and l.date = any($4) group by n.event_id),
        moved as (
            select event_id, sum(amount) as amount from movement where company_id = $1 and subledger = $2 and date = any($4) group by event_id),
        apart as (
            select coalesce(l.event_id, m.event_id) as event_id, coalesce(l.amount, 0) as ledger, coalesce(m.amount, 0) as moved
            from ledger l full join moved m on m.event_id = l.event_id where coalesce(l.amount, 0) <> coalesce(m.amount, 0))
        select a.event_id, e.date, e.type, coalesce(e.number, e.source_id), n.id, n.number, p.code || ' ' || p.name, coalesce(e.prepared ->> 'text', ''),
            coalesce((select string_agg(distinct x.number, ', ' order by x.number) from entry o
                join line l on l.company_id = o.company_id and l.date = o.date and l.entry_id = o.id
                join account x on x.company_id = l.company_id and x.id = l.account_id
                where o.company_id = $1 and o.event_id = a.event_id and l.purpose = any($5) and l.account_id <> all($3)), ''),
            a.ledger, a.moved, e.outcome <> 'landed' or e.withdrawn, e.source || '/' || e.source_id, e.source_id, e.prepared ->> 'refersTo',
            case when e.type in ('reclassification', 'standing-transfer') then e.prepared ->> 'from' end
        from apart a join event e on e.company_id = $1 and e.id = a.event_id
        left join member p on p.company_id = $1 and p.id = coalesce(e.party_id, (select max(l.party_id) from entry o
            join line l on l.company_id = o.company_id and l.date = o.date and l.entry_id = o.id where o.company_id = $1 and o.event_id = a.event_id))
        left join lateral (select id, number from entry where company_id = $1 and event_id = a.event_id order by (reverses is not null), id limit 1) n on true
        order by abs(a.ledger - a.moved) desc, e.date, a.event_id
        """, company, subledger, accounts, days, Purpose.All.Where(p => p.Control?.Word() == subledger).Select(p => p.Name).ToArray())
        .List(row => new ControlGap(row.GetInt64(0), row.GetFieldValue<DateOnly>(1), row.GetString(2), row.GetString(3), row.LongOrNull(4), row.LongOrNull(5),
            row.TextOrNull(6), row.GetString(7), row.GetString(8), Money.Plain(row.GetDecimal(9)), Money.Plain(row.GetDecimal(10)), row.GetBoolean(11))
        {
            Identity = row.GetString(12), SourceId = row.GetString(13), RefersTo = row.TextOrNull(14), TakesFrom = row.TextOrNull(15),
        }, stop);

    // The latest of each system up to a day.
    const string Statements = """
        select distinct on (e.connection) e.connection, e.date, e.prepared from event e
        where e.company_id = $1 and e.type = 'balance-statement' and e.outcome = 'landed' and not e.withdrawn and e.date <= $2
        order by e.connection, e.date desc, e.id desc
        """;

    /// <summary>What connected systems said last, up to a day, of a subledger, beside what stood here on the day they spoke of.</summary>
    public Task<List<StatedBeside>> Stated(int company, string subledger, DateOnly on, CancellationToken stop) => source.Command($"""
        with said as ({Statements}),
        lines as (
            select s.prepared ->> 'connection' as connection, s.date, l ->> 'member' as member, upper(l ->> 'currency') as currency,
                (l ->> 'amount')::numeric as amount,
                (l ->> 'quantity')::numeric as quantity
            from said s cross join lateral jsonb_array_elements(s.prepared -> 'lines') l where l ->> 'subledger' = $3)
        select l.connection, l.date, l.member, l.currency, l.amount, l.quantity, coalesce(m.amount, 0), coalesce(m.quantity, 0)
        from lines l
        left join lateral (select sum(case when l.currency is null then m.amount else m.document_amount end) as amount, sum(m.quantity) as quantity
            from movement m where m.company_id = $1 and m.subledger = $3 and m.date <= l.date and upper(m.member) = upper(l.member)
                and (l.currency is null or m.currency = l.currency)) m on true
        order by l.connection, l.member
        """, company, on, subledger).List(row => new StatedBeside(row.TextOrNull(0) ?? "", row.GetFieldValue<DateOnly>(1), subledger, row.GetString(2),
            row.TextOrNull(3), Plain(row.DecimalOrNull(4)), Plain(row.DecimalOrNull(5)), Money.Plain(row.GetDecimal(6)), Money.Plain(row.GetDecimal(7))), stop);

    /// <summary>What they said stands in each subledger, company currency, by its word; one of which they said no amount is left out.</summary>
    public async Task<IReadOnlyDictionary<string, decimal>> StatedSums(int company, DateOnly on, CancellationToken stop) => (await source.Command($"""
        with said as ({Statements})
        select l ->> 'subledger', sum((l ->> 'amount')::numeric) from said s cross join lateral jsonb_array_elements(s.prepared -> 'lines') l
        where l ->> 'amount' is not null and l ->> 'currency' is null group by 1
        """, company, on).List(row => (row.GetString(0), Money.Plain(row.GetDecimal(1))), stop)).ToDictionary();

    static decimal? Plain(decimal? number) => number is { } known ? Money.Plain(known) : null;

    /// <summary>Numbers that connected systems said last, up to a day, that they have given, beside the documents that are here, held ones too.</summary>
    public Task<List<StatedSeries>> Series(int company, DateOnly on, CancellationToken stop) => source.Command($"""
        with said as ({Statements}),
        series as (
            select s.prepared ->> 'connection' as connection, n ->> 'series' as series, n ->> 'from' as first, n ->> 'to' as last,
                (n ->> 'count')::integer as count,
                right(substring(n ->> 'from' from '([0-9]+)$'), 15)::bigint as low, right(substring(n ->> 'to' from '([0-9]+)$'), 15)::bigint as high
            from said s cross join lateral jsonb_array_elements(s.prepared -> 'numbers') n)
        select s.connection, s.series, s.first, s.last, s.count, coalesce(h.many, 0), coalesce(g.missing, array[]::text[])
        from series s
        left join lateral (select count(distinct d.number) as many, array_agg(distinct d.number) as numbers from (
            select right(substring(coalesce(e.number, e.source_id) from '([0-9]+)$'), 15)::bigint as number from event e
            where e.company_id = $1 and e.revision = 1 and upper(coalesce(e.number, e.source_id)) like upper(s.series) || '%'
                and coalesce(e.number, e.source_id) ~ '[0-9]$' and length(coalesce(e.number,
                    e.source_id)) < 40) d where d.number between s.low and s.high) h on true
        left join lateral (select array_agg(s.series || n order by n) as missing from (
            select n from generate_series(s.low, least(s.high, s.low + 100000)) n where not n = any(coalesce(h.numbers, array[]::bigint[])) order by n
                limit 5) m) g on s.high is not null
        order by s.connection, s.series
        """, company, on).List(row => new StatedSeries(row.TextOrNull(0) ?? "", row.GetString(1), row.GetString(2), row.GetString(3), row.GetInt32(4),
            row.GetInt64(5), row.GetFieldValue<string[]>(6)), stop);
}
