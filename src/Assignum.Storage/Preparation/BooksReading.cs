using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Core.Preparation;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Storage.Subledgers;
using Npgsql;

namespace Assignum.Storage.Preparation;

/// <summary>Reads from the books what a batch of events asks for: once for all of them, and nothing else.</summary>
static class BooksReading
{
    // Stock that stands nowhere in particular, or on an account that is not known.
    const int None = 0;

    /// <summary>What events ask of the books; null where nothing of them stands there.</summary>
    internal static Books? AskedBy(CompiledRulebook book, IEnumerable<BusinessEvent> events)
    {
        var asked = new Books();
        foreach (var happened in events)
            Preparing.Prepare(book, happened, asked);
        return asked.AnyAsked ? asked : null;
    }

    /// <summary>What stands in the books, as far as it was asked for.</summary>
    /// <param name="connection">A connection; under the posting lock where something is to be posted.</param>
    /// <param name="company">Id of the company.</param>
    /// <param name="labels">Codes and ids.</param>
    /// <param name="asked">What was asked for.</param>
    /// <param name="text">How events are read.</param>
    /// <param name="stop">Cancels.</param>
    internal static async Task<Books> Read(NpgsqlConnection connection, int company, Labels labels, Books asked, EventText text, CancellationToken stop)
    {
        var books = new Books();
        if (asked.Invoices.Asked.Count > 0)
            await ReadInvoices(connection, company, asked, books, text, stop);
        if (asked.RatesAsked.Count > 0)
            await ReadRates(connection, company, asked, books, stop);
        if (asked.TermsAsked.Count > 0)
            await ReadTerms(connection, company, asked, books, labels, stop);
        if (asked.Assets.Asked.Count > 0)
            await ReadAssets(connection, company, asked, books, labels, stop);
        var moves = asked.Items.Asked.Count + asked.Stock.Asked.Count + asked.Receipts.Asked.Count > 0
            ? await StandingMoves.Read(connection, company, stop) : null;
        if (asked.Items.Asked.Count > 0)
            await ReadItems(connection, company, asked, books, labels, moves!, stop);
        if (asked.Stock.Asked.Count > 0)
            await ReadStock(connection, company, asked, books, labels, moves!, stop);
        if (asked.Receipts.Asked.Count > 0)
            await ReadReceipts(connection, company, asked, books, labels, moves!, stop);
        return books;
    }

    // The invoices, and what refers to them; a later revision comes later.
    static async Task ReadInvoices(NpgsqlConnection connection, int company, Books asked, Books books, EventText text, CancellationToken stop)
    {
        var rows = await connection.Command("""
            select prepared::text, id from event where company_id = $1 and source_id = any($2) and outcome = 'landed' and not withdrawn
            union
            select prepared::text, id from event where company_id = $1 and prepared ? 'refersTo' and prepared ->> 'refersTo' = any($2)
                and outcome = 'landed' and not withdrawn
            order by 2
            """, company, asked.Invoices.Asked.ToArray()).List(row => row.GetString(0), stop);
        foreach (var document in rows.Select(text.Read).OfType<Document>())
            books.Invoices.Set(document);
    }

    static async Task ReadRates(NpgsqlConnection connection, int company, Books asked, Books books, CancellationToken stop)
    {
        var questions = asked.RatesAsked.ToList();
        var rows = await connection.Command("""
            select asked.currency, asked.day, r.rate, r.day
            from unnest($2::text[], $3::date[]) asked(currency, day)
            cross join lateral (select rate, day from exchange_rate where company_id = $1 and currency = asked.currency and day <= asked.day
                order by day desc limit 1) r
            """, company, questions.Select(q => q.Currency).ToArray(), questions.Select(q => q.Day).ToArray())
            .List(row => (row.GetString(0), row.GetFieldValue<DateOnly>(1), row.GetDecimal(2), row.GetFieldValue<DateOnly>(3)), stop);
        foreach (var (currency, day, rate, of) in rows)
            books.SetRate(currency, day, Money.Plain(rate), of);
    }

    static async Task ReadTerms(NpgsqlConnection connection, int company, Books asked, Books books, Labels labels, CancellationToken stop)
    {
        foreach (var (party, terms) in await TermsStore.Of(connection, company,
            [.. asked.TermsAsked.Select(code => labels.IdOf("party", code)).OfType<int>()], stop))
            books.SetTerms(labels.CodeOf("party", party), terms);
    }

    static async Task ReadAssets(NpgsqlConnection connection, int company, Books asked, Books books, Labels labels, CancellationToken stop)
    {
        var rows = await connection.Command("""
            select asset_id, coalesce(sum(amount) filter (where part = 'cost'), 0), coalesce(-sum(amount) filter (where part = 'depreciation'), 0)
            from asset_movement where company_id = $1 and asset_id = any($2) group by asset_id
            """, company, asked.Assets.Asked.Select(code => labels.IdOf("asset", code)).OfType<int>().ToArray())
            .List(row => (row.GetInt32(0), Money.Plain(row.GetDecimal(1)), Money.Plain(row.GetDecimal(2))), stop);
        foreach (var (asset, cost, accumulated) in rows)
            books.Assets.Move(labels.CodeOf("asset", asset), cost, accumulated);
    }

    static async Task ReadItems(NpgsqlConnection connection, int company, Books asked, Books books, Labels labels, StandingMoves moves, CancellationToken stop)
    {
        var ids = asked.Items.Asked.Select(code => labels.IdOf("party", code)).OfType<int>().ToArray();
        var rows = await connection.Command("""
            select o.party_id, e.source_id, o.purpose, o.account_id, o.currency, o.document_amount, o.amount, o.due_date, o.item_event_id, e.source,
                o.dimension_set_id
            from open_item o join event e on e.company_id = o.company_id and e.id = o.item_event_id
            where o.company_id = $1 and o.party_id = any($2) and (o.document_amount <> 0 or o.amount <> 0)
            union all
            select o.party_id, e.source_id, o.purpose, o.account_id, o.currency, o.document_amount, o.amount, o.due_date, o.item_event_id, e.source,
                o.dimension_set_id
            from event e join open_item o on o.company_id = e.company_id and o.item_event_id = e.id
            where e.company_id = $1 and e.source_id = any($3) and (o.party_id <> all($2) or (o.document_amount = 0 and o.amount = 0))
            order by item_event_id
            """, company, ids, asked.Items.Named.ToArray())
            .List(row => (Party: row.GetInt32(0), Event: row.GetString(1), Purpose: row.GetString(2), Account: row.GetInt32(3), Currency: row.GetString(4),
                Open: row.GetDecimal(5), Company: row.GetDecimal(6), Due: row.GetFieldValue<DateOnly>(7), Item: row.GetInt64(8),
                Source: row.GetString(9), Set: row.IntOrNull(10)), stop);
        var sets = await DimensionSets.Read(connection, company, [.. rows.Select(row => row.Set).OfType<int>().Distinct()], stop);
        // What one revision opened and a payment of it has settled is one item with what the next revision opened.
        foreach (var item in rows.GroupBy(row =>
            (row.Party, row.Source, row.Event, row.Purpose, Account: moves.AccountOf(row.Account, row.Item), row.Currency)))
            if (Purpose.Find(item.Key.Purpose) is { } purpose && labels.CodeOrNull(Labels.Accounts, item.Key.Account) is { } account)
                books.Items.Set(labels.CodeOf("party", item.Key.Party), new(item.Key.Event, purpose, account, item.Key.Currency,
                    Money.Plain(item.Sum(row => row.Open)), Money.Plain(item.Sum(row => row.Company)), item.Last().Due)
                {
                    Dimensions = item.Last().Set is { } set ? sets[set] : Dimensions.None,
                });
    }

    static async Task ReadStock(NpgsqlConnection connection, int company, Books asked, Books books, Labels labels, StandingMoves moves, CancellationToken stop)
    {
        var items = asked.Stock.Asked.Select(a => labels.IdOf("item", a.Item)).OfType<int>().Distinct().ToArray();
        var rows = await connection.Command("""
            select item_id, location_id, account_id, quantity, amount, last_cost from stock_standing
            where company_id = $1 and item_id = any($2) and (quantity <> 0 or amount <> 0 or last_cost is not null)
            order by item_id, location_id, account_id
            """, company, items)
            .List(row => (Item: row.GetInt32(0), Place: row.GetInt32(1), Account: row.GetInt32(2), Quantity: row.GetDecimal(3), Amount: row.GetDecimal(4),
                LastCost: row.IsDBNull(5) ? (decimal?)null : row.GetDecimal(5)), stop);
        foreach (var row in rows)
        {
            // A merge has taken the whole balance along.
            var account = row.Account == None ? null : labels.CodeOrNull(Labels.Accounts, moves.AccountOf(row.Account, 0));
            books.Stock.Set(labels.CodeOf("item", row.Item), row.Place == None ? null : labels.CodeOf("location", row.Place),
                new(account ?? "", Money.Plain(row.Quantity), Money.Plain(row.Amount)), row.LastCost is { } last ? Money.Plain(last) : null);
        }
    }

    static async Task ReadReceipts(NpgsqlConnection connection, int company, Books asked, Books books, Labels labels, StandingMoves moves,
        CancellationToken stop)
    {
        var items = asked.Receipts.Asked.Select(a => labels.IdOf("item", a.Item)).OfType<int>().Distinct().ToArray();
        var parties = asked.Receipts.Asked.Select(a => labels.IdOf("party", a.Party) ?? None).Append(None).Distinct().ToArray();
        var rows = await connection.Command("""
            select r.party_id, r.item_id, e.source, e.source_id, r.receipt_line, r.location_id, r.account_id, r.quantity, r.amount
            from receipt_standing r join event e on e.company_id = r.company_id and e.id = r.receipt_event_id
            where r.company_id = $1 and r.item_id = any($2) and r.party_id = any($3) and (r.quantity <> 0 or r.amount <> 0)
            order by r.receipt_event_id, r.receipt_line
            """, company, items, parties)
            .List(row => (Party: row.GetInt32(0), Item: row.GetInt32(1), Source: row.GetString(2), Event: row.GetString(3), Line: row.GetInt32(4),
                Place: row.GetInt32(5), Account: row.GetInt32(6), Quantity: row.GetDecimal(7), Amount: row.GetDecimal(8)), stop);
        // What one revision received and an invoice has taken is one line with what the next revision received.
        foreach (var line in rows.GroupBy(row => (row.Party, row.Item, row.Source, row.Event, row.Line, Account: moves.AccountOf(row.Account, 0))))
            books.Receipts.Move(line.Key.Party == None ? null : labels.CodeOf("party", line.Key.Party), labels.CodeOf("item", line.Key.Item),
                new(line.Key.Event, line.Key.Line, line.Last().Place is not None and var place ? labels.CodeOf("location", place) : null,
                    labels.CodeOrNull(Labels.Accounts, line.Key.Account) ?? "", Money.Plain(line.Sum(row => row.Quantity)),
                    Money.Plain(line.Sum(row => row.Amount))));
    }
}
