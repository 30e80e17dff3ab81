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
    /// <summary>Quantity and value of all stock, by item and location (null: said nowhere), company currency; whichever accounts it stands on.</summary>
    public async Task<IReadOnlyDictionary<(string Item, string? Location), (decimal Quantity, decimal Value)>> All(int company, CancellationToken stop) =>
        (await source.Command("""
            select i.code, l.code, sum(s.quantity), sum(s.amount) from stock_standing s join member i on i.company_id = s.company_id and i.id = s.item_id
            left join member l on l.company_id = s.company_id and l.id = s.location_id
            where s.company_id = $1 group by i.code, l.code
            """, company)
            .List(row => ((row.GetString(0), row.TextOrNull(1)), (Core.Money.Plain(row.GetDecimal(2)), Core.Money.Plain(row.GetDecimal(3)))), stop))
            .ToDictionary();

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
