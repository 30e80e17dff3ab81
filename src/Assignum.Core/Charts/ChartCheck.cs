namespace Assignum.Core.Charts;

/// <summary>Rules that bind a whole chart.</summary>
public static class ChartCheck
{
    /// <summary>Accounts that reach themselves by going up from parent to parent.</summary>
    /// <param name="parents">Folded number to folded number of the parent; accounts without a parent may be left out.</param>
    /// <returns>Folded numbers on a cycle, in the order given.</returns>
    public static IReadOnlyList<string> OnCycles(IReadOnlyDictionary<string, string> parents)
    {
        var clear = new HashSet<string>();
        var cyclic = new HashSet<string>();
        foreach (var start in parents.Keys)
        {
            var path = new List<string>();
            var seen = new HashSet<string>();
            var at = start;
            while (parents.TryGetValue(at, out var up) && !clear.Contains(at) && !cyclic.Contains(at) && seen.Add(at))
            {
                path.Add(at);
                at = up;
            }
            if (seen.Contains(at) && !clear.Contains(at))
                cyclic.UnionWith(path.Skip(path.IndexOf(at)));
            clear.UnionWith(path.Where(p => !cyclic.Contains(p)));
        }
        return [.. parents.Keys.Where(cyclic.Contains)];
    }
}
