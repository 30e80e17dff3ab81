using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>
/// Where what stood on an account stands now: a merge moves the whole balance, and with it every open item, stock and sum that events up to
/// then had put there. What settles or frees one of them lands on the account it stands on.
/// </summary>
public sealed class StandingMoves
{
    readonly List<(int From, int To, long UpTo, long Event)> inOrder;

    StandingMoves(List<(int, int, long, long)> inOrder) => this.inOrder = inOrder;

    /// <summary>All moves of a company.</summary>
    public static async Task<StandingMoves> Read(NpgsqlDataSource source, int company, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await Read(connection, company, stop);
    }

    internal static async Task<StandingMoves> Read(NpgsqlConnection connection, int company, CancellationToken stop) =>
        new(await connection.Command("select from_account_id, to_account_id, up_to_event, event_id from standing_move where company_id = $1 order by id",
            company)
            .List(row => (row.GetInt32(0), row.GetInt32(1), row.GetInt64(2), row.GetInt64(3)), stop));

    /// <summary>Notes that everything on one account stands on another from now on; call it under the posting lock, after the entry that moved it.</summary>
    internal static Task<int> Add(NpgsqlConnection connection, int company, int from, int to, long eventId, CancellationToken stop) =>
        connection.Command("""
            insert into standing_move (company_id, from_account_id, to_account_id, up_to_event, event_id)
            select company_id, $2, $3, last_event, $4 from posting_row where company_id = $1
            """, company, from, to, eventId).Run(stop);

    /// <summary>Ids of an account and of all that were merged into it.</summary>
    internal int[] MergedInto(int account) =>
        [account, .. inOrder.Select(move => move.From).Distinct().Where(from => from != account && AccountOf(from, 0) == account)];

    /// <summary>The account on which stands now what an event put on an account.</summary>
    /// <param name="account">Id of the account it landed on.</param>
    /// <param name="eventId">The event.</param>
    public int AccountOf(int account, long eventId)
    {
        foreach (var (from, to, upTo, mover) in inOrder)
            if (from == account && eventId <= upTo && eventId != mover)
                account = to;
        return account;
    }
}
