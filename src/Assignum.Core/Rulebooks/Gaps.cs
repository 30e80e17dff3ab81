namespace Assignum.Core.Rulebooks;

/// <summary>What is amiss with combinations: they would be held, reach suspense, or fall to the company default.</summary>
public enum GapKind { Nothing, NotPostable, Suspense, Default }

/// <summary>Combinations that no rule of their own answers, as few facts as say which.</summary>
/// <param name="Kind">What they reach.</param>
/// <param name="Where">The facts they share; none means all.</param>
/// <param name="Lacking">Facts that they share by not having them: no item group, no location.</param>
/// <param name="Combinations">How many they are.</param>
/// <param name="Mend">The rung on which one rule mends them all, or nearly: it asks for facts they share.</param>
public sealed record Gap(GapKind Kind, IReadOnlyList<FactValue> Where, IReadOnlyList<Fact> Lacking, long Combinations, Rung Mend)
{
    /// <summary>"SEEDS × TRADE", "no item group", or "everything".</summary>
    public string InWords => Where.Count + Lacking.Count == 0 ? "everything" : string.Join(" × ", [.. Where.Select(w => w.Code), .. Lacking.Select(l => "no " + l.InWords())]);
}

/// <summary>Finds the gaps of a purpose: the same count as <see cref="Coverage"/>, gathered by group.</summary>
public static class Gaps
{
    // One side of a combination as a gap names it; null for "any".
    readonly record struct Side(Fact Fact, int Id);

    /// <summary>The gaps of a purpose, what would be held first, the largest first.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="date">Posting date.</param>
    public static IReadOnlyList<Gap> Of(CompiledRulebook book, Purpose purpose, DateOnly date)
    {
        var counts = new Dictionary<(Side?, Side?, Side?), Dictionary<GapKind, long>>();
        var space = new Combinations(book, purpose, date, rule => (int)Coverage.OutcomeOf(book, rule, date));
        foreach (var combined in space.All())
        {
            var key = (ItemSide(combined.Item), PartySide(combined.Party), combined.Location is { } place ? new Side(Fact.Location, place.Member) : (Side?)null);
            if (!counts.TryGetValue(key, out var kinds))
                counts[key] = kinds = [];
            var kind = KindOf(book, combined.Answer, date);
            kinds[kind] = kinds.GetValueOrDefault(kind) + combined.Count;
        }
        return [.. Enum.GetValues<GapKind>().SelectMany(kind => Gathered(counts, kind)
            .Select(g => Made(book, purpose, kind, g.Key, g.Count)).OrderByDescending(g => g.Combinations))];
    }

    /// <summary>The facts of the one rule that mends a gap, the group of an item or a party standing in for what the rung asks; null where the ladder has no rung for it.</summary>
    public static IReadOnlyList<FactValue>? MendingRule(CompiledRulebook book, Gap gap)
    {
        var when = new List<FactValue>();
        foreach (var fact in gap.Mend.Facts)
        {
            if ((gap.Where.FirstOrDefault(w => w.Fact == fact).Code ?? gap.Where.Where(w => GroupFact(w.Fact) == fact).Select(w => GroupOf(book, w.Fact, w.Code)).FirstOrDefault()) is not { } code)
                return null;
            when.Add(new(fact, code));
        }
        return when;
    }

    const GapKind Covered = (GapKind)(-1);

    static GapKind KindOf(CompiledRulebook book, Answer answer, DateOnly date) =>
        !answer.Found ? GapKind.Nothing
        : Coverage.OutcomeOf(book, answer.RuleAt, date) switch
        {
            Coverage.Outcome.NotPostable => GapKind.NotPostable,
            Coverage.Outcome.Suspense => GapKind.Suspense,
            _ => book.RungOf(answer).Facts.IsEmpty ? GapKind.Default : Covered,
        };

    static Side? ItemSide(Alike? item) => item is { } alike ? alike.Alone ? new(Fact.Item, alike.Member) : new(Fact.ItemGroup, alike.Group) : null;

    static Side? PartySide(Alike? party) => party is { } alike ? alike.Alone ? new(Fact.Party, alike.Member) : new(Fact.PartyGroup, alike.Group) : null;

    // Where every location, every party or every item shares the gap, it is named without it.
    static List<((Side? Item, Side? Party, Side? Location) Key, long Count)> Gathered(Dictionary<(Side?, Side?, Side?), Dictionary<GapKind, long>> counts, GapKind kind)
    {
        var totals = Totals(counts);
        var gaps = counts.Select(c => (c.Key, Gap: c.Value.GetValueOrDefault(kind))).Where(g => g.Gap > 0).ToDictionary(g => g.Key, g => g.Gap);
        gaps = Without(gaps, totals, k => (k.Item1, k.Item2, null));
        gaps = Without(gaps, totals, k => (k.Item1, null, k.Item3));
        gaps = Without(gaps, totals, k => (null, k.Item2, k.Item3));
        return [.. gaps.Select(g => (g.Key, g.Value))];
    }

    // How many combinations share the sides of a key, for every key that names fewer sides.
    static Dictionary<(Side?, Side?, Side?), long> Totals(Dictionary<(Side?, Side?, Side?), Dictionary<GapKind, long>> counts)
    {
        var totals = new Dictionary<(Side?, Side?, Side?), long>();
        foreach (var ((item, party, location), kinds) in counts)
        {
            var sum = kinds.Values.Sum();
            HashSet<(Side?, Side?, Side?)> fewer = [(item, party, location), (item, party, null), (item, null, location), (null, party, location), (item, null, null), (null, party, null), (null, null, location), (null, null, null)];
            foreach (var key in fewer)
                totals[key] = totals.GetValueOrDefault(key) + sum;
        }
        return totals;
    }

    static Dictionary<(Side?, Side?, Side?), long> Without(Dictionary<(Side?, Side?, Side?), long> gaps, Dictionary<(Side?, Side?, Side?), long> totals, Func<(Side?, Side?, Side?), (Side?, Side?, Side?)> drop)
    {
        var gathered = new Dictionary<(Side?, Side?, Side?), long>();
        foreach (var same in gaps.GroupBy(g => drop(g.Key)))
        {
            var gap = same.Sum(g => g.Value);
            if (gap == totals[same.Key])
                gathered[same.Key] = gap;
            else
                foreach (var one in same)
                    gathered[one.Key] = one.Value;
        }
        return gathered;
    }

    static Gap Made(CompiledRulebook book, Purpose purpose, GapKind kind, (Side? Item, Side? Party, Side? Location) key, long count)
    {
        var (where, lacking) = (new List<FactValue>(), new List<Fact>());
        foreach (var side in new[] { key.Item, key.Party, key.Location })
        {
            if (side is { Id: > 0 } known)
                where.Add(new(known.Fact, book.SpellingOf(known.Fact, known.Id)));
            else if (side is { } lacked)
                lacking.Add(lacked.Fact);
        }
        return new Gap(kind, where, lacking, count, MendOf(book, purpose, where));
    }

    // The rung with most of the facts that are shared.
    static Rung MendOf(CompiledRulebook book, Purpose purpose, List<FactValue> where)
    {
        var present = where.Select(w => w.Fact).ToHashSet();
        foreach (var (fact, group, code) in where.Select(w => (w.Fact, GroupFact(w.Fact), w.Code)))
            if (group is { } known && GroupOf(book, fact, code) is not null)
                present.Add(known);
        var ladder = book.Book.LadderOf(purpose);
        var fitting = ladder.Where(r => r.Facts.All(present.Contains)).ToList();
        return fitting.Count == 0 ? ladder[^1] : fitting.MaxBy(r => r.Facts.Length)!;
    }

    static Fact? GroupFact(Fact fact) => fact switch { Fact.Item => Fact.ItemGroup, Fact.Party => Fact.PartyGroup, _ => null };

    static string? GroupOf(CompiledRulebook book, Fact fact, string code) =>
        fact == Fact.Item ? book.Items.TryFind(code, out var item) ? item.Group : null : book.Parties.TryFind(code, out var party) ? party.Group : null;
}
