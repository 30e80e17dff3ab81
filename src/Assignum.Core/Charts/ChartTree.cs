namespace Assignum.Core.Charts;

/// <summary>An account in its place in the tree, with its total.</summary>
/// <param name="Account">The account.</param>
/// <param name="Depth">0 at the top.</param>
/// <param name="Children">Accounts below it.</param>
/// <param name="Total">Its own balance and those of all accounts below it; debit positive.</param>
public sealed record ChartNode(Account Account, int Depth, int Children, decimal Total);

/// <summary>The chart as a tree: order, indentation and totals are computed, never typed.</summary>
public static class ChartTree
{
    /// <summary>Lays the accounts out, each parent before its children, siblings by number.</summary>
    /// <param name="accounts">A chart without cycles; an account whose parent is missing stands at the top.</param>
    /// <param name="balance">Own balance of an account, debit positive.</param>
    public static IReadOnlyList<ChartNode> Lay(IReadOnlyCollection<Account> accounts, Func<Account, decimal> balance)
    {
        var known = accounts.Select(a => Fold.Of(a.Number)).ToHashSet();
        var below = accounts.ToLookup(a => a.Parent is { } p && known.Contains(Fold.Of(p)) ? Fold.Of(p) : "");
        var nodes = new List<ChartNode>(accounts.Count);

        decimal Place(Account account, int depth)
        {
            var at = nodes.Count;
            var children = below[Fold.Of(account.Number)].OrderBy(a => Fold.Of(a.Number), StringComparer.Ordinal).ToList();
            nodes.Add(new ChartNode(account, depth, children.Count, 0));
            var total = balance(account) + children.Sum(child => Place(child, depth + 1));
            nodes[at] = nodes[at] with { Total = total };
            return total;
        }

        foreach (var top in below[""].OrderBy(a => Fold.Of(a.Number), StringComparer.Ordinal))
            Place(top, 0);
        return nodes;
    }
}
