using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>Where open items, stock and receipts stand that were moved from account to account, one by one, by standing transfers.</summary>
sealed class StandingShifts
{
    readonly List<Shift> inOrder;

    sealed record Shift(long Event, int From, int To, long? OpenItem, int? Item, int Place, long? Receipt, int Line);

    StandingShifts(List<Shift> inOrder) => this.inOrder = inOrder;

    /// <summary>The shifts of what events moved, and of the open items their movements belong to.</summary>
    internal static async Task<StandingShifts> Read(NpgsqlConnection connection, int company, long[] events, CancellationToken stop) =>
        new(await connection.Command("""
            select s.event_id, s.from_account_id, s.to_account_id, s.item_event_id, s.item_id, coalesce(s.location_id, 0), s.receipt_event_id,
                coalesce(s.receipt_line, 0)
            from standing_shift s
            where s.company_id = $1 and (
                s.item_event_id in (select m.item_event_id from event e join party_movement m on m.company_id = e.company_id and m.date = e.date
                    and m.event_id = e.id where e.company_id = $1 and e.id = any($2))
                or s.item_id in (select m.item_id from event e join stock_movement m on m.company_id = e.company_id and m.date = e.date
                    and m.event_id = e.id where e.company_id = $1 and e.id = any($2)))
            order by s.id
            """, company, events).List(row => new Shift(row.GetInt64(0), row.GetInt32(1), row.GetInt32(2), row.LongOrNull(3), row.IntOrNull(4),
                row.GetInt32(5), row.LongOrNull(6), row.GetInt32(7)), stop));

    /// <summary>The account on which an open item stands now.</summary>
    /// <param name="account">The account an event put it on.</param>
    /// <param name="item">The event that opened it.</param>
    /// <param name="by">The event that put it there.</param>
    internal int OfItem(int account, long item, long by) => Now(account, by, s => s.OpenItem == item);

    /// <summary>The account on which stock stands now that an event put on one.</summary>
    internal int OfStock(int account, int? item, int? place, long by) =>
        Now(account, by, s => s.Receipt is null && s.Item is not null && s.Item == item && s.Place == (place ?? 0));

    /// <summary>The account on which a line of a receipt waits now.</summary>
    internal int OfReceipt(int account, long? receipt, int line, long by) => Now(account, by,
        s => s.Receipt is not null && s.Receipt == receipt && s.Line == line);

    int Now(int account, long by, Predicate<Shift> of)
    {
        foreach (var shift in inOrder)
            if (shift.From == account && by < shift.Event && of(shift))
                account = shift.To;
        return account;
    }

    /// <summary>Carries a transfer over to what stands: whole, as its entry says, or the transaction ends.</summary>
    /// <param name="connection">Under the posting lock, after the entry and all movements before it.</param>
    /// <param name="company">Id of the company.</param>
    /// <param name="mover">The transfer's event.</param>
    /// <param name="purpose">What it moves.</param>
    /// <param name="from">Ids of the account and of those merged into it.</param>
    /// <param name="lines">What its lines are of, and where they landed.</param>
    /// <param name="stop">Cancels.</param>
    internal static Task<int> Carry(NpgsqlConnection connection, int company, long mover, Purpose purpose, int[] from, IReadOnlyList<ShiftedLine> lines,
        CancellationToken stop) =>
        connection.Command("select shift_standing($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)", company, mover, purpose.Name, from,
            lines.Select(l => l.Line).ToArray(), lines.Select(l => l.To).ToArray(), lines.Select(l => l.Party).ToArray(), lines.Select(l => l.Item).ToArray(),
            lines.Select(l => l.Place).ToArray(), lines.Select(l => l.Currency).ToArray()).Run(stop);
}

/// <summary>What a line of a transfer is of, by ids.</summary>
/// <param name="Line">Its place, from 0.</param>
/// <param name="To">The account it landed on.</param>
/// <param name="Party">The party, of a purpose that is about one.</param>
/// <param name="Item">The item, of one that is about goods.</param>
/// <param name="Place">The location; null: nowhere in particular.</param>
/// <param name="Currency">Its currency.</param>
sealed record ShiftedLine(int Line, int To, int? Party, int? Item, int? Place, string Currency);
