using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>Stock of an item that stands on an account.</summary>
/// <param name="Item">Code of the item.</param>
/// <param name="Account">Number of the account, as it is now.</param>
/// <param name="Name">Its name.</param>
/// <param name="Amount">Its value, company currency; not 0.</param>
public sealed record StockStanding(string Item, string Account, string Name, decimal Amount);

/// <summary>On which accounts the stock of items stands: whatever the rules say today, it stays where it landed until it is moved.</summary>
public sealed class StandingStock(NpgsqlDataSource source)
{
    /// <summary>What stands there of some items.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="items">Ids of the items.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<StockStanding>> Of(int company, IReadOnlyCollection<int> items, CancellationToken stop) =>
        source.Command("""
            select m.code, a.number, a.name, s.amount
            from (select item_id, account_id, sum(amount) as amount from line where company_id = $1 and item_id = any($2) and purpose = 'inventory'
                group by item_id, account_id having sum(amount) <> 0) s
            join member m on m.company_id = $1 and m.id = s.item_id
            join account a on a.company_id = $1 and a.id = s.account_id
            order by m.code, a.number
            """, company, items.ToArray()).List(row => new StockStanding(row.GetString(0), row.GetString(1), row.GetString(2), row.GetDecimal(3)), stop);
}
