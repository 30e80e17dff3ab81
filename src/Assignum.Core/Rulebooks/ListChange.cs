namespace Assignum.Core.Rulebooks;

/// <summary>How one list comes out of another: by reference, so that what editions share costs nothing to compare.</summary>
/// <param name="Now">By the place a thing had: the place it has now, or -1.</param>
/// <param name="Gone">Places of things that are no longer there.</param>
/// <param name="Added">Places of things that were not there.</param>
sealed record ListChange(int[] Now, IReadOnlyList<int> Gone, IReadOnlyList<int> Added)
{
    // How far behind a thing that is in the way the next known one is looked for; further off the rest counts as gone and come again, which is only slower.
    const int Ahead = 64;

    internal static ListChange Between<T>(IReadOnlyList<T> before, IReadOnlyList<T> after) where T : class
    {
        var (now, gone, added, next) = (new int[before.Count], new List<int>(), new List<int>(), 0);
        for (var was = 0; was < before.Count; was++)
        {
            var at = Find(after, before[was], next);
            now[was] = at;
            if (at < 0)
            {
                gone.Add(was);
                continue;
            }
            for (; next < at; next++)
                added.Add(next);
            next++;
        }
        for (; next < after.Count; next++)
            added.Add(next);
        return new(now, gone, added);
    }

    static int Find<T>(IReadOnlyList<T> list, T thing, int from) where T : class
    {
        for (var at = from; at < list.Count && at < from + Ahead; at++)
            if (ReferenceEquals(list[at], thing))
                return at;
        return -1;
    }
}
