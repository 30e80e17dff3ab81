using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>What stands on an account of a party, or of an item at a place.</summary>
/// <param name="Purpose">What it is.</param>
/// <param name="Account">Number of the account it stands on.</param>
/// <param name="Party">Code of the party; null where it is of goods.</param>
/// <param name="Item">Code of the item; null where it is of a party.</param>
/// <param name="Location">Code of the location; null: none.</param>
/// <param name="Currency">Its currency.</param>
/// <param name="Quantity">Quantity of goods.</param>
/// <param name="Amount">Company currency, debit positive.</param>
/// <param name="DocumentAmount">The same in its currency.</param>
/// <param name="Many">How many open items or receipts it is.</param>
public sealed record StandsThere(Purpose Purpose, string Account, string? Party, string? Item, string? Location, string Currency, decimal Quantity,
    decimal Amount, decimal DocumentAmount, long Many);

/// <summary>What stands where, of the purposes that are kept item by item.</summary>
public sealed class StandingStore(NpgsqlDataSource source)
{
    /// <summary>Purposes of which every open item, every stock and every receipt is known with its account.</summary>
    public static IReadOnlyList<Purpose> KeptItemByItem { get; } = [Purpose.Receivable, Purpose.Payable, Purpose.CustomerDeposit, Purpose.SupplierDeposit,
        Purpose.Inventory, Purpose.InventoryInTransit, Purpose.GoodsReceivedNotInvoiced];

    const string Rows = """
        select o.purpose, o.account_id, o.party_id, null::integer as item_id, 0 as location_id, o.currency::text as currency, 0::numeric as quantity,
            sum(o.amount) as amount, sum(o.document_amount) as document_amount, count(*) as many
        from open_item o where o.company_id = $1 and (o.document_amount <> 0 or o.amount <> 0)
        group by o.purpose, o.account_id, o.party_id, o.currency
        union all
        select 'inventory', s.account_id, null, s.item_id, s.location_id, $2, s.quantity, s.amount, s.amount, 1
        from stock_standing s where s.company_id = $1 and (s.quantity <> 0 or s.amount <> 0) and s.account_id <> 0
        union all
        select 'goods-received-not-invoiced', r.account_id, null, r.item_id, r.location_id, $2, -sum(r.quantity), -sum(r.amount), -sum(r.amount), count(*)
        from receipt_standing r where r.company_id = $1 and (r.quantity <> 0 or r.amount <> 0) and r.account_id <> 0
        group by r.account_id, r.item_id, r.location_id
        """;

    /// <summary>Everything that stands on accounts, by party and currency or by item and place.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="labels">Codes and ids.</param>
    /// <param name="currency">The company's currency.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<StandsThere>> All(int company, Labels labels, string currency, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await Read(connection, company, labels, currency, Rows, [company, currency], stop);
    }

    /// <summary>What stands on one account.</summary>
    internal static async Task<IReadOnlyList<StandsThere>> On(NpgsqlConnection connection, int company, Labels labels, string currency, int[] accounts,
        CancellationToken stop) =>
        await Read(connection, company, labels, currency, $"select * from ({Rows}) s where s.account_id = any($3)", [company, currency, accounts], stop);

    static async Task<IReadOnlyList<StandsThere>> Read(NpgsqlConnection connection, int company, Labels labels, string currency, string sql, object[] values,
        CancellationToken stop)
    {
        var moves = await StandingMoves.Read(connection, company, stop);
        var rows = await connection.Command(sql, values).List(row => (Purpose: row.GetString(0), Account: row.GetInt32(1), Party: row.IntOrNull(2),
            Item: row.IntOrNull(3), Place: row.GetInt32(4), Currency: row.GetString(5), Quantity: Money.Plain(row.GetDecimal(6)),
            Amount: Money.Plain(row.GetDecimal(7)), Document: Money.Plain(row.GetDecimal(8)), Many: row.GetInt64(9)), stop);
        return [.. from row in rows
            let account = labels.CodeOrNull(Labels.Accounts, moves.AccountOf(row.Account, 0))
            where account is not null
            group row by (row.Purpose, account, row.Party, row.Item, row.Place, row.Currency) into one
            let first = one.Key
            select new StandsThere(Purpose.Find(first.Purpose)!, first.account, first.Party is { } party ? labels.CodeOf("party", party) : null,
                first.Item is { } item ? labels.CodeOf("item", item) : null, first.Place == 0 ? null : labels.CodeOf("location", first.Place),
                first.Currency, one.Sum(r => r.Quantity), one.Sum(r => r.Amount), one.Sum(r => r.Document), one.Sum(r => r.Many))];
    }

    /// <summary>What the books have against a transfer: what stands there moves whole, for an item is never on two accounts by halves.</summary>
    internal static async Task<IReadOnlyList<HeldReason>> Objections(NpgsqlConnection connection, int company, Labels labels, string currency,
        StandingTransfer transfer, CancellationToken stop)
    {
        if (!KeptItemByItem.Contains(transfer.Purpose) || labels.Account(transfer.From) is not { } from)
            return [];
        var moves = await StandingMoves.Read(connection, company, stop);
        var ofStock = transfer.Purpose == Purpose.InventoryInTransit ? Purpose.Inventory : transfer.Purpose;
        var there = (await On(connection, company, labels, currency, moves.MergedInto(from), stop)).Where(s => s.Purpose == ofStock).ToList();
        var reasons = new List<HeldReason>();
        foreach (var lines in transfer.Lines.Select((line, i) => (line, i)).GroupBy(l => KeyOf(l.line, transfer, currency)))
        {
            var (moved, first) = (lines.Sum(l => l.line.Amount), lines.First());
            var stands = there.Where(s => KeyOf(s) == lines.Key).Sum(s => s.Amount);
            if (moved != stands)
                reasons.Add(HeldReason.Invalid($"lines[{first.i}].amount", $"Line {first.i + 1}: {Written.NumberNow(stands)} of " +
                    $"{first.line.Party ?? first.line.Item ?? "it"} stand on {transfer.From}, and {Written.NumberNow(moved)} are moved. What stands there " +
                    "moves whole: take the amount that stands there, or leave the line out."));
        }
        return reasons;
    }

    /// <summary>What has been taken since of what a transfer moved; null where all of it stands there still.</summary>
    internal static Task<string?> SettledSince(NpgsqlConnection connection, int company, long transfer, CancellationToken stop) =>
        connection.Command("""
            select coalesce(e.number, e.source_id) from standing_shift s
            join open_item o on o.company_id = $1 and o.item_event_id = s.item_event_id and o.purpose = s.purpose and o.account_id = s.to_account_id
                and o.currency = s.currency
            join event e on e.company_id = $1 and e.id = s.item_event_id
            where s.company_id = $1 and s.event_id = $2 and s.reverses is null and (o.document_amount, o.amount) <> (s.document_amount, s.amount)
            union all
            select m.code from standing_shift s
            join stock_standing t on t.company_id = $1 and t.item_id = s.item_id and t.location_id = s.location_id and t.account_id = s.to_account_id
            join member m on m.company_id = $1 and m.id = s.item_id
            where s.company_id = $1 and s.event_id = $2 and s.reverses is null and s.receipt_event_id is null
                and (t.quantity < s.quantity or (s.amount > 0 and t.amount < s.amount))
            union all
            select m.code from standing_shift s
            join receipt_standing r on r.company_id = $1 and r.receipt_event_id = s.receipt_event_id and r.receipt_line = s.receipt_line
                and r.party_id = coalesce(s.party_id, 0) and r.item_id = s.item_id and r.location_id = s.location_id and r.account_id = s.to_account_id
            join member m on m.company_id = $1 and m.id = s.item_id
            where s.company_id = $1 and s.event_id = $2 and s.reverses is null and (r.quantity, r.amount) <> (s.quantity, s.amount)
            limit 1
            """, company, transfer).FirstOrDefault(row => (string?)row.GetString(0), stop);

    static (string Member, string Place, string Currency) KeyOf(StandingLine line, StandingTransfer transfer, string currency) =>
        line.Party is { } party ? (Fold.Of(party), "", Fold.Of(line.Currency ?? currency))
            : (Fold.Of(line.Item ?? ""), Fold.Of(line.Place.Location ?? transfer.Location ?? ""), currency);

    static (string, string, string) KeyOf(StandsThere there) =>
        there.Party is { } party ? (Fold.Of(party), "", there.Currency) : (Fold.Of(there.Item!), Fold.Of(there.Location ?? ""), there.Currency);
}
