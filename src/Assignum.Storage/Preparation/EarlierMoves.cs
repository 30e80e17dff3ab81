using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Preparation;

/// <summary>What earlier revisions of a batch's events have moved: a revision settles and costs as if they had never been.</summary>
sealed class EarlierMoves
{
    readonly Dictionary<(string Source, string Id), List<Action<Books, int>>> moves = [];
    readonly List<StockPlace> shelves = [];

    /// <summary>Gives what an event's earlier revision moved back to the books, or takes it again.</summary>
    /// <param name="standing">What stands in the books.</param>
    /// <param name="posted">The event.</param>
    /// <param name="sign">-1 gives it back, 1 takes it again.</param>
    internal void Move(Books standing, PostableEvent posted, int sign)
    {
        foreach (var move in moves.GetValueOrDefault((posted.FoldedSource, posted.Happened.Id), []))
            move(standing, sign);
    }

    /// <summary>The books are asked for the stock that was moved.</summary>
    internal void Ask(Books asked)
    {
        foreach (var shelf in shelves)
            asked.Stock.Asked.Add((Fold.Of(shelf.Item), shelf.Location is null ? "" : Fold.Of(shelf.Location)));
    }

    internal static async Task<EarlierMoves> Read(NpgsqlConnection connection, int company, Labels labels, Books wanted, PostableEvent[] batch,
        CancellationToken stop)
    {
        var earlier = new EarlierMoves();
        var revisions = batch.Where(e => e.ComesAfterOthers).ToList();
        if (revisions.Count == 0)
            return earlier;
        object[] asked = [company, revisions.Select(e => e.FoldedSource).ToArray(), revisions.Select(e => e.Happened.Id).ToArray(),
            revisions.Select(e => e.Happened.Revision + (e.Again is null ? 0 : 1)).ToArray(), CostCorrection.Suffix];
        var accounts = await StandingMoves.Read(connection, company, stop);
        var shifts = await StandingShifts.Read(connection, company,
            [.. await connection.Command($"select e.id {Before}", asked).List(row => row.GetInt64(0), stop)], stop);
        await earlier.ReadItems(connection, labels, (accounts, shifts), asked, stop);
        await earlier.ReadStock(connection, labels, (accounts, shifts), asked, stop);
        await earlier.ReadReceipts(connection, labels, (accounts, shifts), asked, stop);
        if (wanted.Assets.Asked.Count > 0)
            await earlier.ReadAssets(connection, labels, asked, stop);
        return earlier;
    }

    const string Before = """
        from unnest($2::text[], $3::text[], $4::integer[]) asked(source, source_id, revision)
        join event e on e.company_id = $1 and e.source = asked.source and e.source_id = any(array[asked.source_id, asked.source_id || $5])
            and e.revision < asked.revision and e.outcome = 'landed'
        """;

    async Task ReadItems(NpgsqlConnection connection, Labels labels, (StandingMoves Merged, StandingShifts Shifted) now, object[] asked, CancellationToken stop)
    {
        var rows = await connection.Command($"""
            select e.source, asked.source_id, m.party_id, i.source_id, m.item_event_id, m.purpose, m.account_id, m.currency, m.document_amount, m.amount,
                coalesce(o.due_date, m.due_date), m.event_id
            {Before}
            join party_movement m on m.company_id = e.company_id and m.date = e.date and m.event_id = e.id and m.reverses is null
                and m.account_id is not null
            join event i on i.company_id = e.company_id and i.id = m.item_event_id
            left join open_item o on o.company_id = e.company_id and o.item_event_id = m.item_event_id and o.subledger = m.subledger
                and o.purpose = m.purpose and o.account_id = m.account_id and o.currency = m.currency
            order by m.event_id, m.line_no
            """, asked).List(row => (Source: row.GetString(0), Id: row.GetString(1), Party: row.GetInt32(2), Item: row.GetString(3), Of: row.GetInt64(4),
                Purpose: row.GetString(5), Account: row.GetInt32(6), Currency: row.GetString(7), Open: row.GetDecimal(8), Company: row.GetDecimal(9),
                Due: row.GetFieldValue<DateOnly>(10), By: row.GetInt64(11)), stop);
        foreach (var row in rows)
            if (Purpose.Find(row.Purpose) is { } purpose && labels.CodeOrNull(Labels.Accounts,
                now.Shifted.OfItem(now.Merged.AccountOf(row.Account, row.Of), row.Of, row.By)) is { } account)
            {
                var (party, item) = (labels.CodeOf("party", row.Party), new OpenItem(row.Item, purpose, account, row.Currency, Money.Plain(row.Open),
                    Money.Plain(row.Company), row.Due));
                Add(row.Source, row.Id, (books, sign) => books.Items.Move(party, item with { Open = sign * item.Open, Company = sign * item.Company }));
            }
    }

    async Task ReadStock(NpgsqlConnection connection, Labels labels, (StandingMoves Merged, StandingShifts Shifted) now, object[] asked, CancellationToken stop)
    {
        var rows = await connection.Command($"""
            select e.source, asked.source_id, e.id, m.item_id, m.location_id, m.account_id, m.quantity, m.amount
            {Before}
            join stock_movement m on m.company_id = e.company_id and m.date = e.date and m.event_id = e.id and m.reverses is null
                and m.subledger = 'inventory' and m.item_id is not null
            order by m.event_id, m.line_no
            """, asked).List(row => (Source: row.GetString(0), Id: row.GetString(1), Event: row.GetInt64(2), Item: row.GetInt32(3), Place: row.IntOrNull(4),
                Account: row.IntOrNull(5), Quantity: row.GetDecimal(6), Amount: row.GetDecimal(7)), stop);
        foreach (var row in rows)
        {
            var account = row.Account is { } known ? labels.CodeOrNull(Labels.Accounts,
                now.Shifted.OfStock(now.Merged.AccountOf(known, row.Event), row.Item, row.Place, row.Event)) : null;
            var (item, place) = (labels.CodeOf("item", row.Item), row.Place is { } at ? labels.CodeOf("location", at) : null);
            shelves.Add(new(item, place));
            var part = new StockPart(account ?? "", Money.Plain(row.Quantity), Money.Plain(row.Amount));
            Add(row.Source, row.Id, (books, sign) => books.Stock.Move(item, place, part with { Quantity = sign * part.Quantity, Value = sign * part.Value }));
        }
    }

    async Task ReadReceipts(NpgsqlConnection connection, Labels labels, (StandingMoves Merged, StandingShifts Shifted) now, object[] asked,
        CancellationToken stop)
    {
        var rows = await connection.Command($"""
            select e.source, asked.source_id, e.party_id, m.item_id, r.source_id, m.receipt_line, m.location_id, m.account_id, m.quantity, m.amount,
                m.receipt_event_id, m.event_id
            {Before}
            join stock_movement m on m.company_id = e.company_id and m.date = e.date and m.event_id = e.id and m.reverses is null
                and m.subledger = 'purchasing' and m.item_id is not null
            join event r on r.company_id = e.company_id and r.id = m.receipt_event_id
            order by m.event_id, m.line_no
            """, asked).List(row => (Source: row.GetString(0), Id: row.GetString(1), Party: row.IntOrNull(2), Item: row.GetInt32(3), Receipt: row.GetString(4),
                Line: row.GetInt32(5), Place: row.IntOrNull(6), Account: row.IntOrNull(7), Quantity: row.GetDecimal(8), Amount: row.GetDecimal(9),
                Of: row.GetInt64(10), By: row.GetInt64(11)), stop);
        foreach (var row in rows)
        {
            var account = row.Account is { } known ? labels.CodeOrNull(Labels.Accounts,
                now.Shifted.OfReceipt(now.Merged.AccountOf(known, 0), row.Of, row.Line, row.By)) : null;
            var (party, item) = (row.Party is { } of ? labels.CodeOf("party", of) : null, labels.CodeOf("item", row.Item));
            var line = new Waiting(row.Receipt, row.Line, row.Place is { } at ? labels.CodeOf("location", at) : null, account ?? "",
                -Money.Plain(row.Quantity), -Money.Plain(row.Amount));
            Add(row.Source, row.Id, (books, sign) => books.Receipts.Move(party, item, line with { Quantity = sign * line.Quantity,
                Amount = sign * line.Amount }));
        }
    }

    async Task ReadAssets(NpgsqlConnection connection, Labels labels, object[] asked, CancellationToken stop)
    {
        var rows = await connection.Command($"""
            select e.source, asked.source_id, m.asset_id, sum(m.amount) filter (where m.part = 'cost'), -sum(m.amount) filter (where m.part = 'depreciation')
            {Before}
            join asset_movement m on m.company_id = e.company_id and m.date = e.date and m.event_id = e.id and m.reverses is null
            group by 1, 2, 3
            """, asked).List(row => (Source: row.GetString(0), Id: row.GetString(1), Asset: row.GetInt32(2), Cost: row.DecimalOrNull(3) ?? 0,
                Accumulated: row.DecimalOrNull(4) ?? 0), stop);
        foreach (var row in rows)
        {
            var asset = labels.CodeOf("asset", row.Asset);
            Add(row.Source, row.Id, (books, sign) => books.Assets.Move(asset, sign * Money.Plain(row.Cost), sign * Money.Plain(row.Accumulated)));
        }
    }

    void Add(string source, string id, Action<Books, int> move)
    {
        if (!moves.TryGetValue((source, id), out var list))
            moves[(source, id)] = list = [];
        list.Add(move);
    }
}
