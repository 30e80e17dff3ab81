using Assignum.Core;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Storage.Subledgers;

/// <summary>Stock of an item at a place.</summary>
/// <param name="ItemId">Id of the item.</param>
/// <param name="Item">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Group">Code of its posting group.</param>
/// <param name="LocationId">Id of the location; 0: none.</param>
/// <param name="Location">Its code; null: none.</param>
/// <param name="AccountId">Id of the account it stands on; 0: not known.</param>
/// <param name="Quantity">Quantity, below 0 where more has left than came.</param>
/// <param name="Value">Company currency.</param>
/// <param name="Last">The last day something moved.</param>
public sealed record StockOf(int ItemId, string Item, string Name, string? Group, int LocationId, string? Location, int AccountId, decimal Quantity,
    decimal Value, DateOnly? Last)
{
    /// <summary>What one is worth; null where there is none.</summary>
    public decimal? Average => Quantity > 0 ? Money.Round(Value / Quantity, 6) : null;
}

/// <summary>Goods received and not invoiced, or invoiced and not received: a line of a receipt.</summary>
/// <param name="Event">Id of the event that opened it.</param>
/// <param name="Type">Its type.</param>
/// <param name="SourceId">Its id at its source.</param>
/// <param name="Document">What the document shows, else its id.</param>
/// <param name="Date">Its day.</param>
/// <param name="Entry">Its entry.</param>
/// <param name="Line">The line there, from 1; 0: of none.</param>
/// <param name="Party">Code of the supplier; null: none is named.</param>
/// <param name="PartyName">Name of that.</param>
/// <param name="Item">Code of the item.</param>
/// <param name="ItemName">Name of that.</param>
/// <param name="Location">Code of the location; null: none.</param>
/// <param name="AccountId">Id of the account it waits on.</param>
/// <param name="Received">Quantity that came.</param>
/// <param name="Invoiced">Quantity that was invoiced.</param>
/// <param name="Waits">Quantity: above 0 received and not invoiced, below invoiced and not received.</param>
/// <param name="Amount">What waits, company currency, with its sign.</param>
public sealed record ReceiptOf(long Event, string Type, string SourceId, string Document, DateOnly Date, long? Entry, int Line, string? Party,
    string? PartyName, string Item, string ItemName, string? Location, int AccountId, decimal Received, decimal Invoiced, decimal Waits, decimal Amount);

/// <summary>Money in an account, or under way by a method.</summary>
/// <param name="MoneyAccount">Code of the money account; null where it is under way.</param>
/// <param name="Connection">Through which connection it comes; null: said nowhere.</param>
/// <param name="Method">Payment method; null for a money account.</param>
/// <param name="Currency">Its currency.</param>
/// <param name="Document">What stands there, its currency.</param>
/// <param name="Company">The same, company currency.</param>
/// <param name="Last">The last day something moved.</param>
/// <param name="Many">How many movements.</param>
public sealed record MoneyOf(string? MoneyAccount, string? Connection, string? Method, string Currency, decimal Document, decimal Company, DateOnly Last,
    long Many);

/// <summary>A movement of stock or money with its event.</summary>
/// <param name="Date">Posting date.</param>
/// <param name="Type">Type of the event.</param>
/// <param name="Document">What the document shows, else its id.</param>
/// <param name="Party">Its party, code and name.</param>
/// <param name="Entry">Its entry.</param>
/// <param name="Number">Number of that.</param>
/// <param name="Quantity">Quantity of goods.</param>
/// <param name="Currency">Its currency.</param>
/// <param name="DocumentAmount">Amount in that currency, debit positive.</param>
/// <param name="Amount">Company currency.</param>
/// <param name="IsReversal">It takes another one back.</param>
public sealed record SubledgerMove(DateOnly Date, string Type, string Document, string? Party, long? Entry, long? Number, decimal Quantity, string Currency,
    decimal DocumentAmount, decimal Amount, bool IsReversal);

/// <summary>Stock, receipts and money as of any day.</summary>
public sealed class StockStore(NpgsqlDataSource source)
{
    /// <summary>All stock at the end of a day.</summary>
    public async Task<List<StockOf>> All(int company, DateOnly on, CancellationToken stop)
    {
        var moves = await StandingMoves.Read(source, company, stop);
        var rows = await source.Command("""
        select s.item_id, i.code, i.name, g.code, s.location_id, l.code, s.account_id, s.quantity, s.amount, last.day
        from (
            select item_id, location_id, account_id, sum(quantity) as quantity, sum(amount) as amount from (
                select item_id, location_id, account_id, quantity, amount from stock_standing where company_id = $1
                union all
                select item_id, coalesce(location_id, 0), coalesce(account_id, 0), -quantity, -amount from stock_movement
                where company_id = $1 and date > $2 and subledger = 'inventory' and item_id is not null
                union all
                select item_id, location_id, unnest(array[from_account_id, to_account_id]), unnest(array[quantity, -quantity]), unnest(array[amount, -amount])
                from standing_shift where company_id = $1 and date > $2 and item_id is not null and receipt_event_id is null) m
            group by item_id, location_id, account_id having sum(quantity) <> 0 or sum(amount) <> 0) s
        join member i on i.company_id = $1 and i.id = s.item_id
        left join member l on l.company_id = $1 and l.id = s.location_id
        left join lateral (select t.group_id as grouping_id from member_setting t where t.company_id = $1 and t.member_id = s.item_id
            and t.group_id is not null order by t.id desc limit 1) t on true
        left join grouping g on g.company_id = $1 and g.id = t.grouping_id
        left join lateral (select max(m.date) as day from stock_movement m where m.company_id = $1 and m.subledger = 'inventory' and m.item_id = s.item_id
            and m.location_id is not distinct from nullif(s.location_id, 0) and m.date <= $2) last on true
        order by i.code, l.code nulls first, s.account_id
        """, company, on).List(row => new StockOf(row.GetInt32(0), row.GetString(1), row.GetString(2), row.TextOrNull(3), row.GetInt32(4), row.TextOrNull(5),
            row.GetInt32(6), Money.Plain(row.GetDecimal(7)), Money.Plain(row.GetDecimal(8)), row.DateOrNull(9)), stop);
        return rows.ConvertAll(row => row with { AccountId = moves.AccountOf(row.AccountId, 0) });
    }

    /// <summary>Movements of an item at a place, the latest first.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="item">Id of the item.</param>
    /// <param name="location">Id of the location; 0: none.</param>
    /// <param name="on">Up to this day.</param>
    /// <param name="most">As many at most.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<SubledgerMove>> Moves(int company, int item, int location, DateOnly on, int most, CancellationToken stop) => source.Command("""
        select m.date, e.type, coalesce(e.number, e.source_id), p.code || ' ' || p.name, m.entry_id, n.number, m.quantity, m.currency, m.document_amount,
            m.amount, m.reverses is not null
        from stock_movement m join event e on e.company_id = m.company_id and e.id = m.event_id
        left join entry n on n.company_id = m.company_id and n.id = m.entry_id
        left join member p on p.company_id = e.company_id and p.id = e.party_id
        where m.company_id = $1 and m.subledger = 'inventory' and m.item_id = $2 and m.location_id is not distinct from nullif($3, 0) and m.date <= $4
        order by m.date desc, m.event_id desc, m.line_no desc limit $5
        """, company, item, location, on, most).List(Read, stop);

    /// <summary>Receipts of which something waits at the end of a day, the oldest first.</summary>
    public async Task<List<ReceiptOf>> Receipts(int company, DateOnly on, CancellationToken stop)
    {
        var moves = await StandingMoves.Read(source, company, stop);
        var rows = await source.Command("""
        with waits as (
            select receipt_event_id, receipt_line, party_id, item_id, location_id, account_id, sum(quantity) as quantity, sum(amount) as amount from (
                select receipt_event_id, receipt_line, party_id, item_id, location_id, account_id, quantity, amount from receipt_standing
                where company_id = $1 and (quantity <> 0 or amount <> 0)
                union all
                select m.receipt_event_id, m.receipt_line, coalesce(r.party_id, 0), m.item_id, coalesce((select f.location_id from stock_movement f
                    where f.company_id = $1 and f.date = r.date and f.event_id = r.id and f.subledger = 'purchasing' and f.item_id = m.item_id
                        and f.receipt_event_id = r.id and f.receipt_line = m.receipt_line order by f.line_no limit 1), 0), coalesce(m.account_id, 0),
                    m.quantity, m.amount
                from stock_movement m join event r on r.company_id = $1 and r.id = m.receipt_event_id
                where m.company_id = $1 and m.date > $2 and m.subledger = 'purchasing' and m.item_id is not null
                union all
                select receipt_event_id, receipt_line, coalesce(party_id, 0), item_id, location_id, unnest(array[from_account_id, to_account_id]),
                    unnest(array[quantity, -quantity]), unnest(array[amount, -amount])
                from standing_shift where company_id = $1 and date > $2 and receipt_event_id is not null) m
            group by receipt_event_id, receipt_line, party_id, item_id, location_id, account_id having sum(quantity) <> 0 or sum(amount) <> 0)
        select e.id, e.type, e.source_id, coalesce(e.number, e.source_id), e.date, n.id, w.receipt_line, p.code, p.name, i.code, i.name, l.code, w.account_id,
            coalesce(b.received, 0), coalesce(b.invoiced, 0), w.quantity, w.amount
        from waits w join event e on e.company_id = $1 and e.id = w.receipt_event_id
        join member i on i.company_id = $1 and i.id = w.item_id
        left join entry n on n.company_id = $1 and n.event_id = e.id and n.reverses is null
        left join member p on p.company_id = $1 and p.id = w.party_id
        left join member l on l.company_id = $1 and l.id = w.location_id
        left join lateral (
            select -sum(m.quantity) filter (where d.type not in ('purchase-invoice', 'purchase-credit-note')) as received,
                sum(m.quantity) filter (where d.type in ('purchase-invoice', 'purchase-credit-note')) as invoiced
            from stock_movement m join event d on d.company_id = $1 and d.id = m.event_id
            where m.company_id = $1 and m.receipt_event_id = w.receipt_event_id and m.receipt_line = w.receipt_line and m.item_id = w.item_id
                and m.subledger = 'purchasing' and m.date <= $2) b on true
        order by e.date, e.id, w.receipt_line
        """, company, on).List(row => new ReceiptOf(row.GetInt64(0), row.GetString(1), row.GetString(2), row.GetString(3), row.GetFieldValue<DateOnly>(4),
            row.LongOrNull(5), row.GetInt32(6), row.TextOrNull(7), row.TextOrNull(8), row.GetString(9), row.GetString(10), row.TextOrNull(11),
            row.GetInt32(12), Money.Plain(row.GetDecimal(13)), Money.Plain(row.GetDecimal(14)), Money.Plain(row.GetDecimal(15)),
            Money.Plain(row.GetDecimal(16))), stop);
        return rows.ConvertAll(row => row with { AccountId = moves.AccountOf(row.AccountId, 0) });
    }

    /// <summary>Every money account, and what is under way by connection and method, at the end of a day.</summary>
    public Task<List<MoneyOf>> OfMoney(int company, DateOnly on, CancellationToken stop) => source.Command("""
        select m.money_account, m.connection, m.method, m.currency, sum(m.document_amount), sum(m.amount), max(m.date), count(*)
        from money_movement m where m.company_id = $1 and m.date <= $2
        group by m.money_account, m.connection, m.method, m.currency order by m.money_account nulls last, m.connection, m.method, m.currency
        """, company, on).List(row => new MoneyOf(row.TextOrNull(0), row.TextOrNull(1), row.TextOrNull(2), row.GetString(3), Money.Plain(row.GetDecimal(4)),
            Money.Plain(row.GetDecimal(5)), row.GetFieldValue<DateOnly>(6), row.GetInt64(7)), stop);

    /// <summary>Movements of a money account, or of a connection and method, the latest first.</summary>
    public Task<List<SubledgerMove>> MoneyMoves(int company, string? account, string? connection, string? method, DateOnly on, int most,
        CancellationToken stop) =>
        source.Command("""
        select m.date, e.type, coalesce(e.number, e.source_id), p.code || ' ' || p.name, m.entry_id, n.number, 0::numeric, m.currency, m.document_amount,
            m.amount, m.reverses is not null
        from money_movement m join event e on e.company_id = m.company_id and e.id = m.event_id
        left join entry n on n.company_id = m.company_id and n.id = m.entry_id
        left join member p on p.company_id = e.company_id and p.id = e.party_id
        where m.company_id = $1 and m.money_account is not distinct from $2 and m.connection is not distinct from $3 and m.method is not distinct from $4
            and m.date <= $5
        order by m.date desc, m.event_id desc, m.line_no desc limit $6
        """, company, account, connection, method, on, most).List(Read, stop);

    static SubledgerMove Read(NpgsqlDataReader row) => new(row.GetFieldValue<DateOnly>(0), row.GetString(1), row.GetString(2), row.TextOrNull(3),
        row.LongOrNull(4),
        row.LongOrNull(5), Money.Plain(row.GetDecimal(6)), row.GetString(7), Money.Plain(row.GetDecimal(8)), Money.Plain(row.GetDecimal(9)),
        row.GetBoolean(10));
}
