namespace Assignum.Core.Charts;

/// <summary>An account in its place in the tree.</summary>
/// <param name="Account">The account.</param>
/// <param name="Fold">Fold of its number.</param>
/// <param name="Depth">0 at the top.</param>
/// <param name="Parent">Place of the account above it; -1 at the top.</param>
/// <param name="End">Place after the last account below it: those between stand below it.</param>
/// <param name="Children">How many accounts stand directly below it.</param>
public sealed record ChartNode(Account Account, string Fold, int Depth, int Parent, int End, int Children);

/// <summary>The chart as a tree: order, indentation and totals are computed, never typed. Immutable.</summary>
public sealed class ChartTree
{
    readonly ChartNode[] nodes;
    readonly Dictionary<string, int> places;

    ChartTree(ChartNode[] nodes)
    {
        this.nodes = nodes;
        places = new Dictionary<string, int>(nodes.Length);
        for (var i = 0; i < nodes.Length; i++)
            places.TryAdd(nodes[i].Fold, i);
    }

    /// <summary>The accounts, each parent before its children, siblings by number.</summary>
    public IReadOnlyList<ChartNode> Nodes => nodes;

    /// <summary>Place of a number, or -1.</summary>
    public int PlaceOf(string? number) => number is not null && places.TryGetValue(Core.Fold.Of(number), out var place) ? place : -1;

    /// <summary>The account of a number, or null.</summary>
    public Account? Find(string? number) => PlaceOf(number) is >= 0 and var place ? nodes[place].Account : null;

    /// <summary>Places of the accounts above one, the nearest first.</summary>
    public IEnumerable<int> Above(int place)
    {
        for (var at = nodes[place].Parent; at >= 0; at = nodes[at].Parent)
            yield return at;
    }

    /// <summary>Places of the accounts directly below one; of those at the top for -1.</summary>
    public IEnumerable<int> Below(int place)
    {
        for (var at = place + 1; at < (place < 0 ? nodes.Length : nodes[place].End); at = nodes[at].End)
            yield return at;
    }

    /// <summary>Lays the accounts out.</summary>
    /// <param name="accounts">A chart without cycles; an account whose parent is missing stands at the top.</param>
    public static ChartTree Of(IReadOnlyCollection<Account> accounts)
    {
        var folded = accounts.Select(a => (Account: a, Fold: Core.Fold.Of(a.Number), Parent: a.Parent is null ? "" : Core.Fold.Of(a.Parent))).ToArray();
        var known = folded.Select(a => a.Fold).ToHashSet();
        Array.Sort(folded, (a, b) => string.CompareOrdinal(b.Fold, a.Fold));
        var below = folded.ToLookup(a => known.Contains(a.Parent) ? a.Parent : "");

        var nodes = new List<ChartNode>(folded.Length);
        var waiting = new Stack<(Account Account, string Fold, int Depth, int Parent)>();
        Push("", 0, -1);
        while (waiting.TryPop(out var next))
        {
            nodes.Add(new ChartNode(next.Account, next.Fold, next.Depth, next.Parent, 0, below[next.Fold].Count()));
            Push(next.Fold, next.Depth + 1, nodes.Count - 1);
        }
        return new ChartTree(WithEnds(nodes));

        // The first sibling is pushed last, so that it comes off first.
        void Push(string parent, int depth, int place)
        {
            foreach (var (account, fold, _) in below[parent])
                waiting.Push((account, fold, depth, place));
        }
    }

    static ChartNode[] WithEnds(List<ChartNode> nodes)
    {
        var ends = new int[nodes.Count];
        for (var i = nodes.Count - 1; i >= 0; i--)
        {
            ends[i] = Math.Max(ends[i], i + 1);
            if (nodes[i].Parent is >= 0 and var parent)
                ends[parent] = Math.Max(ends[parent], ends[i]);
        }
        return [.. nodes.Select((n, i) => n with { End = ends[i] })];
    }

    /// <summary>
    /// Totals of all accounts: each its own amount and those of all accounts below it. A subtotal with nothing below it sums the siblings before it,
    /// back to the subtotal before; it adds nothing to the heading above.
    /// </summary>
    /// <param name="own">Own amount of each account, by its place.</param>
    public decimal[] Totals(ReadOnlySpan<decimal> own)
    {
        var totals = own.ToArray();
        for (var i = nodes.Length - 1; i >= 0; i--)
            if (nodes[i].Parent is >= 0 and var parent && !IsRunning(nodes[i]))
                totals[parent] += totals[i];
        AddRunning(totals, -1);
        for (var i = 0; i < nodes.Length; i++)
            if (nodes[i].Children > 0)
                AddRunning(totals, i);
        return totals;
    }

    void AddRunning(decimal[] totals, int parent)
    {
        var sum = 0m;
        foreach (var place in Below(parent))
        {
            if (!IsRunning(nodes[place]))
            {
                sum += totals[place];
                continue;
            }
            totals[place] += sum;
            sum = 0;
        }
    }

    static bool IsRunning(ChartNode node) => node is { Account.Kind: AccountKind.Subtotal, Children: 0 };
}
