namespace Assignum.Core.Matching;

/// <summary>What is suggested for two lists.</summary>
/// <param name="Best">For each of their entries the pairing that is best for all together, one to one; null where nothing of ours is like it.</param>
/// <param name="Near">For each of their entries what is most like it, best first, up to six; the best pairing stands first.</param>
public sealed record Suggestions(IReadOnlyList<Suggestion?> Best, IReadOnlyList<IReadOnlyList<Suggestion>> Near);

/// <summary>Suggests which entries of two lists belong together.</summary>
public static class Suggesting
{
    /// <summary>From this score on a suggestion is offered to be accepted; set by the labelled pairs of the tests.</summary>
    public const double Good = 0.6;
    // Below it two entries have nothing worth showing in common.
    const double Least = 0.2;
    const int Kept = 6;
    const double Finest = 1_000_000;

    /// <summary>Suggestions for their entries among ours.</summary>
    /// <param name="theirs">The other system's entries that wait.</param>
    /// <param name="ours">Our entries that are still free.</param>
    public static Suggestions For(IReadOnlyList<MatchEntry> theirs, IReadOnlyList<MatchEntry> ours)
    {
        Wording[] their = [.. theirs.Select(e => new Wording(e))], our = [.. ours.Select(e => new Wording(e))];
        var likeness = new Likeness(our);
        var candidates = new Candidates(our, likeness);
        var all = new List<Suggestion>[theirs.Count];
        for (var i = 0; i < theirs.Count; i++)
        {
            all[i] = [];
            foreach (var place in candidates.For(their[i]))
                if (likeness.Of(theirs[i], their[i], ours[place], our[place]) is { Score: >= Least } like)
                    all[i].Add(new(i, place, Math.Round(like.Score, 6), like.Reason));
        }
        var pairing = Assignment.Best(theirs.Count, ours.Count, all.SelectMany(list => list.Select(s => new Edge(s.Theirs, s.Ours, (long)(s.Score * Finest)))));
        Suggestion?[] best = [.. pairing.Select((place, i) => all[i].Find(s => s.Ours == place))];
        return new(best, [.. all.Select((list, i) => (IReadOnlyList<Suggestion>)
            [.. list.OrderByDescending(s => s == best[i]).ThenByDescending(s => s.Score).ThenBy(s => s.Ours).Take(Kept)])]);
    }
}
