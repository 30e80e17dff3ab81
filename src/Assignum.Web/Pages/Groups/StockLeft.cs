using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.Groups;

/// <summary>Stock stays where it landed when its item moves to another group; whoever moves it hears where that is.</summary>
public sealed class StockLeft(StandingStock stock)
{
    /// <summary>A sentence for each item and account where moved stock stands elsewhere than its new group's would.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="draft">The draft that the items move in.</param>
    /// <param name="moves">Items with the groups they move to.</param>
    /// <param name="today">Posting date.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<List<string>> Of(int company, LandingBook draft, IEnumerable<(string Item, string Group)> moves, DateOnly today, CancellationToken stop)
    {
        var groups = moves.ToDictionary(m => Fold.Of(m.Item), m => m.Group);
        var ids = groups.Keys.Select(item => draft.Stored.Labels.IdOf("item", item)).OfType<int>().ToList();
        var decimals = Money.MinorUnits(draft.Stored.Book.Company.Currency);
        var left = new List<string>();
        foreach (var standing in ids.Count == 0 ? [] : await stock.Of(company, ids, stop))
        {
            // As the item lands in its new group, an exception of its own included.
            var then = Whereabouts.Of(draft.Shown, Purpose.Inventory, Whereabouts.FactsInGroup(draft.Shown, standing.Item, groups[Fold.Of(standing.Item)]),
                today).Account;
            if (then is not null && !Fold.Same(then.Number, standing.Account))
                left.Add($"Stock of {standing.Item}, {Show.Amount(standing.Amount, decimals)}, stands on {standing.Account} {standing.Name}, and the group's " +
                    $"account is {then.Number} {then.Name}. It stays there until it is moved.");
        }
        return left;
    }
}
