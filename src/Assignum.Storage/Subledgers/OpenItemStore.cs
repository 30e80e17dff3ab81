using Assignum.Core;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Storage.Subledgers;

/// <summary>By which day an open item is aged.</summary>
public enum AgedBy { Due, Document }

/// <summary>What a party owes, or is owed, by age; company currency, debit positive.</summary>
/// <param name="Party">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Items">How many items are open.</param>
/// <param name="Open">All of it.</param>
/// <param name="Ages">Not due yet, up to 30 days over, up to 60, up to 90, and older.</param>
public sealed record PartyOpen(string Party, string Name, long Items, decimal Open, IReadOnlyList<decimal> Ages);

/// <summary>An item of a party, as it was open at the end of a day.</summary>
/// <param name="Event">Id of the latest event that opened it.</param>
/// <param name="Source">Where that came from.</param>
/// <param name="SourceId">Its id there.</param>
/// <param name="Type">Its type.</param>
/// <param name="Document">What the document shows, else its id.</param>
/// <param name="Purpose">Receivable, payable, or a deposit.</param>
/// <param name="AccountId">Id of the account it stands on.</param>
/// <param name="Date">Day of the document.</param>
/// <param name="Due">When it is due.</param>
/// <param name="Currency">Its currency.</param>
/// <param name="Opened">What it was opened with, its currency, debit positive.</param>
/// <param name="Open">What is open of it.</param>
/// <param name="Company">The same in company currency, as it was booked.</param>
/// <param name="Entry">Its entry.</param>
public sealed record PartyItem(long Event, string Source, string SourceId, string Type, string Document, string Purpose, int AccountId, DateOnly Date,
    DateOnly Due, string Currency, decimal Opened, decimal Open, decimal Company, long? Entry);

/// <summary>What moved a party's balance.</summary>
/// <param name="Date">Posting date.</param>
/// <param name="Type">Type of the event.</param>
/// <param name="Document">What the document shows, else its id.</param>
/// <param name="Text">What is said of it.</param>
/// <param name="Settles">The item it belongs to; null: its own.</param>
/// <param name="Due">When it is due, of one that opened an item.</param>
/// <param name="Entry">Its entry.</param>
/// <param name="Number">Number of that.</param>
/// <param name="Currency">Its currency.</param>
/// <param name="DocumentAmount">Its amount there, debit positive.</param>
/// <param name="Amount">The same in company currency.</param>
/// <param name="IsReversal">It takes another one back.</param>
public sealed record PartyMove(DateOnly Date, string Type, string Document, string Text, string? Settles, DateOnly? Due, long? Entry, long? Number,
    string Currency, decimal DocumentAmount, decimal Amount, bool IsReversal);

/// <summary>Open items by party as of any day: what stands now, less what has moved since.</summary>
public sealed class OpenItemStore(NpgsqlDataSource source)
{
    // $1 company, $2 day, $3 subledger. A revision and what settled the one before it are one item, due as the latest says; most have no other revision, and
    // are told apart by their number alone.
    internal const string Items = """
        items as (
            select o.purpose, o.party_id, o.account_id, o.currency, max(o.item_event_id) as event_id,
                date '2000-01-01' + (max(array[o.item_event_id, (o.due_date - date '2000-01-01')::bigint]))[2]::integer as due_date,
                sum(o.document_amount) as open, sum(o.amount) as company
            from (
                select item_event_id, purpose, party_id, account_id, currency, due_date, document_amount, amount from open_item
                where company_id = $1 and subledger = $3 and (document_amount <> 0 or amount <> 0)
                union all
                select item_event_id, purpose, party_id, account_id, currency, due_date, -document_amount, -amount from party_movement
                where company_id = $1 and date > $2 and subledger = $3 and account_id is not null
                union all
                select item_event_id, purpose, party_id, unnest(array[from_account_id, to_account_id]), currency, due_date,
                    unnest(array[document_amount, -document_amount]), unnest(array[amount, -amount])
                from standing_shift where company_id = $1 and date > $2 and item_event_id is not null and purpose = any(case $3
                    when 'receivables' then array['receivable', 'customer-deposit'] else array['payable', 'supplier-deposit'] end)) o
            join event e on e.company_id = $1 and e.id = o.item_event_id
            group by case when e.revision = 1 and e.posting = 1 and e.outcome = 'landed' then e.id end,
                case when e.revision > 1 or e.posting > 1 or e.outcome <> 'landed' then e.source || '/' || e.source_id end,
                o.purpose, o.party_id, o.account_id, o.currency
            having sum(o.document_amount) <> 0 or sum(o.amount) <> 0)
        """;

    /// <summary>Every party with something open, the largest first.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="subledger">"receivables" or "payables".</param>
    /// <param name="on">At the end of this day.</param>
    /// <param name="by">What items are aged by.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<PartyOpen>> Parties(int company, string subledger, DateOnly on, AgedBy by, CancellationToken stop) => source.Command($"""
        with {Items},
        aged as (
            select i.party_id, i.company, {(by == AgedBy.Due ? "i.due_date" : "e.document_date")} as day
            from items i {(by == AgedBy.Due ? "" : "join event e on e.company_id = $1 and e.id = i.event_id")})
        select p.code, p.name, count(*), sum(a.company), coalesce(sum(a.company) filter (where a.day >= $2), 0),
            coalesce(sum(a.company) filter (where a.day < $2 and a.day >= $2 - 30), 0),
            coalesce(sum(a.company) filter (where a.day < $2 - 30 and a.day >= $2 - 60), 0),
            coalesce(sum(a.company) filter (where a.day < $2 - 60 and a.day >= $2 - 90), 0), coalesce(sum(a.company) filter (where a.day < $2 - 90), 0)
        from aged a join member p on p.company_id = $1 and p.id = a.party_id
        group by a.party_id, p.code, p.name order by abs(sum(a.company)) desc, p.code
        """, company, on, subledger).List(row => new PartyOpen(row.GetString(0), row.GetString(1), row.GetInt64(2),
            Money.Plain(row.GetDecimal(3)), [.. Enumerable.Range(4, 5).Select(i => Money.Plain(row.GetDecimal(i)))]), stop);

    /// <summary>The open items of a party, or of all of them, the oldest first.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="subledger">"receivables" or "payables".</param>
    /// <param name="party">Id of the party; null: of every one.</param>
    /// <param name="on">At the end of this day.</param>
    /// <param name="most">As many at most.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<List<(string Party, PartyItem Item)>> Of(int company, string subledger, int? party, DateOnly on, int most, CancellationToken stop)
    {
        var moves = await StandingMoves.Read(source, company, stop);
        var rows = await source.Command($"""
        with {Items}
        select p.code, i.event_id, e.source, e.source_id, e.type, coalesce(e.number, e.source_id), i.purpose, i.account_id, e.document_date, i.due_date,
            i.currency, coalesce((select sum(m.document_amount) from party_movement m where m.company_id = $1 and m.date = e.date and m.event_id = e.id
                and m.item_event_id = e.id and m.purpose = i.purpose and m.currency = i.currency), 0), i.open, i.company, n.id
        from items i join event e on e.company_id = $1 and e.id = i.event_id join member p on p.company_id = $1 and p.id = i.party_id
        left join entry n on n.company_id = $1 and n.event_id = e.id and n.reverses is null
        where $4::integer is null or i.party_id = $4
        order by i.due_date, i.event_id limit $5
        """, company, on, subledger, party, most).List(row => (row.GetString(0), new PartyItem(row.GetInt64(1), row.GetString(2), row.GetString(3),
            row.GetString(4), row.GetString(5), row.GetString(6), row.GetInt32(7), row.GetFieldValue<DateOnly>(8), row.GetFieldValue<DateOnly>(9),
            row.GetString(10), Money.Plain(row.GetDecimal(11)), Money.Plain(row.GetDecimal(12)), Money.Plain(row.GetDecimal(13)), row.LongOrNull(14))), stop);
        return rows.ConvertAll(row => (row.Item1, row.Item2 with { AccountId = moves.AccountOf(row.Item2.AccountId, row.Item2.Event) }));
    }

    const string MoveColumns = """
        select m.date, e.type, coalesce(e.number, e.source_id), coalesce(e.prepared ->> 'text', ''),
            case when i.source_id <> e.source_id then coalesce(i.number, i.source_id) end,
            case when m.item_event_id = m.event_id then m.due_date end, m.entry_id, n.number, m.currency, m.document_amount, m.amount, m.reverses is not null
        """;

    static PartyMove ReadMove(NpgsqlDataReader row) => new(row.GetFieldValue<DateOnly>(0), row.GetString(1), row.GetString(2), row.GetString(3),
        row.TextOrNull(4), row.DateOrNull(5), row.LongOrNull(6), row.LongOrNull(7), row.GetString(8), Money.Plain(row.GetDecimal(9)),
        Money.Plain(row.GetDecimal(10)), row.GetBoolean(11));

    /// <summary>What moved a party's balance from a day to a day, in order.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="subledger">"receivables" or "payables".</param>
    /// <param name="party">Id of the party.</param>
    /// <param name="from">First day.</param>
    /// <param name="to">Last day.</param>
    /// <param name="most">As many at most.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<PartyMove>> Moves(int company, string subledger, int party, DateOnly from, DateOnly to, int most, CancellationToken stop) =>
        source.Command($"""
        {MoveColumns}
        from party_movement m join event e on e.company_id = m.company_id and e.id = m.event_id
        join event i on i.company_id = m.company_id and i.id = m.item_event_id
        left join entry n on n.company_id = m.company_id and n.id = m.entry_id
        where m.company_id = $1 and m.subledger = $2 and m.party_id = $3 and m.date between $4 and $5
        order by m.date, m.event_id, m.line_no limit $6
        """, company, subledger, party, from, to, most).List(ReadMove, stop);

    /// <summary>What moved one item: what opened it, and every settlement.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="item">Id of an event that opened it.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<PartyMove>> OfItem(int company, long item, CancellationToken stop) => source.Command($"""
        {MoveColumns}
        from event o join event i on i.company_id = o.company_id and i.source = o.source and i.source_id = o.source_id
        join party_movement m on m.company_id = i.company_id and m.item_event_id = i.id
        join event e on e.company_id = m.company_id and e.id = m.event_id
        left join entry n on n.company_id = m.company_id and n.id = m.entry_id
        where o.company_id = $1 and o.id = $2
        order by m.event_id, m.line_no
        """, company, item).List(ReadMove, stop);

    /// <summary>A party's balance at the end of a day, by currency; document and company currency, debit positive.</summary>
    public Task<List<(string Currency, decimal Document, decimal Company)>> Balance(int company, string subledger, int party, DateOnly on,
        CancellationToken stop) => source.Command("""
        select currency, sum(document_amount), sum(amount) from party_movement
        where company_id = $1 and subledger = $2 and party_id = $3 and date <= $4 group by currency
        having sum(document_amount) <> 0 or sum(amount) <> 0 order by currency
        """, company, subledger, party, on).List(row => (row.GetString(0), Money.Plain(row.GetDecimal(1)), Money.Plain(row.GetDecimal(2))), stop);
}
