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
    public string InWords => Where.Count + Lacking.Count == 0 ? "everything"
        : string.Join(" × ", [.. Where.Select(w => w.Code), .. Lacking.Select(l => "no " + l.InWords())]);
}

/// <summary>Facts that events have come with.</summary>
/// <param name="Facts">The facts.</param>
/// <param name="Times">How many lines or held events had them.</param>
public sealed record Seen(IReadOnlyList<FactValue> Facts, long Times);

/// <summary>Finds the gaps of a purpose: the same count as <see cref="Coverage"/>, gathered by group.</summary>
public static class Gaps
{
    // One side of a combination as a gap names it, packed: 0 is "any", else the number of a member or a group (0: none), and which of the two.
    readonly record struct Key(int Item, int Party, int Location)
    {
        internal Key Shared(int sides) => new((sides & 1) == 0 ? 0 : Item, (sides & 2) == 0 ? 0 : Party, (sides & 4) == 0 ? 0 : Location);
    }

    const int AllSides = 7, Kinds = 5;

    /// <summary>The gaps of a purpose, what would be held first, the largest first.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="date">Posting date.</param>
    public static IReadOnlyList<Gap> Of(CompiledRulebook book, Purpose purpose, DateOnly date)
    {
        var counts = new Dictionary<Key, long[]>();
        var space = new Combinations(book, purpose, date, rule => (int)Coverage.OutcomeOf(book, rule, date));
        var any = false;
        foreach (var combined in space.All())
        {
            var key = new Key(SideOf(combined.Item, grouped: true), SideOf(combined.Party, grouped: true), SideOf(combined.Location, grouped: false));
            if (!counts.TryGetValue(key, out var kinds))
                counts[key] = kinds = new long[Kinds];
            var kind = KindOf(book, combined.Answer, date);
            any |= kind != Covered;
            kinds[(int)kind] += combined.Count;
        }
        if (!any)
            return [];
        var totals = Totals(counts);
        return [.. Enum.GetValues<GapKind>().SelectMany(kind => Gathered(counts, totals, kind)
            .Select(g => Made(book, purpose, kind, g.Key, g.Count)).OrderByDescending(g => g.Combinations))];
    }

    /// <summary>Gaps that no list of members shows, because they hang on what only events bring: connection, method, money account, project. By kind, the most
    /// often seen first.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="seen">What events have come with.</param>
    /// <param name="date">Posting date.</param>
    public static IReadOnlyList<Gap> OfSeen(CompiledRulebook book, Purpose purpose, IEnumerable<Seen> seen, DateOnly date)
    {
        var asked = purpose.Chain().SelectMany(p => book.Book.LadderOf(p)).SelectMany(r => r.Facts).ToHashSet();
        bool OfEvents(FactValue value) => value.Fact is not (Fact.Item or Fact.ItemGroup or Fact.ItemKind or Fact.Party or Fact.PartyGroup or Fact.Location)
            && (value.Fact != Fact.Currency || !Fold.Same(value.Code, book.Book.Company.Currency));
        var gaps = new Dictionary<(GapKind, string), (List<FactValue> Where, long Times)>();
        foreach (var (facts, times) in seen)
        {
            var where = facts.Where(f => asked.Contains(f.Fact) && f.Fact is not (Fact.Item or Fact.Party or Fact.ItemKind)
                && (f.Fact != Fact.Currency || OfEvents(f))).ToList();
            var kind = KindOf(book, book.Resolve(purpose, book.FactsOf(facts), date), date);
            if (kind == Covered || !where.Exists(OfEvents))
                continue;
            var key = (kind, RuleKey.TextOf("", where));
            gaps[key] = (where, gaps.GetValueOrDefault(key).Times + times);
        }
        return [.. gaps.OrderBy(g => g.Key.Item1).ThenByDescending(g => g.Value.Times).Select(g =>
            new Gap(g.Key.Item1, g.Value.Where, [], g.Value.Times, MendOf(book, purpose, g.Value.Where)))];
    }

    /// <summary>The facts of the one rule that mends a gap, the group of an item or a party standing in for what the rung asks; null where the ladder has no
    /// rung for it.</summary>
    public static IReadOnlyList<FactValue>? MendingRule(CompiledRulebook book, Gap gap)
    {
        var when = new List<FactValue>();
        foreach (var fact in gap.Mend.Facts)
        {
            if ((gap.Where.FirstOrDefault(w => w.Fact == fact).Code
                ?? gap.Where.Where(w => GroupFact(w.Fact) == fact).Select(w => GroupOf(book, w.Fact, w.Code)).FirstOrDefault()) is not { } code)
                return null;
            when.Add(new(fact, code));
        }
        return when;
    }

    const GapKind Covered = (GapKind)(Kinds - 1);

    static GapKind KindOf(CompiledRulebook book, Answer answer, DateOnly date) =>
        !answer.Found ? GapKind.Nothing
        : Coverage.OutcomeOf(book, answer.RuleAt, date) switch
        {
            Coverage.Outcome.NotPostable => GapKind.NotPostable,
            Coverage.Outcome.Suspense => GapKind.Suspense,
            _ => book.RungOf(answer).Facts.IsEmpty ? GapKind.Default : Covered,
        };

    static int SideOf(Alike? alike, bool grouped)
    {
        if (alike is not { } known)
            return 0;
        if (grouped && !known.Alone)
            return known.Group * 2 + 1;
        return known.Member * 2 + 2;
    }

    // Where every location, every party or every item shares the gap, it is named without it.
    static List<(Key Key, long Count)> Gathered(Dictionary<Key, long[]> counts, Dictionary<Key, long> totals, GapKind kind)
    {
        var gaps = new Dictionary<Key, long>();
        foreach (var (key, kinds) in counts)
            if (kinds[(int)kind] > 0)
                gaps[key] = kinds[(int)kind];
        foreach (var sides in new[] { AllSides - 4, AllSides - 2, AllSides - 1 })
            gaps = Without(gaps, totals, sides);
        return [.. gaps.Select(g => (g.Key, g.Value))];
    }

    // How many combinations share the sides of a key, for every key that names fewer sides.
    static Dictionary<Key, long> Totals(Dictionary<Key, long[]> counts)
    {
        var totals = new Dictionary<Key, long>();
        Span<Key> seen = stackalloc Key[AllSides + 1];
        foreach (var (key, kinds) in counts)
        {
            var sum = kinds.Sum();
            for (var sides = 0; sides <= AllSides; sides++)
            {
                seen[sides] = key.Shared(sides);
                // A side that nothing asks for is "any" already, and must not count twice.
                if (!seen[..sides].Contains(seen[sides]))
                    System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(totals, seen[sides], out _) += sum;
            }
        }
        return totals;
    }

    static Dictionary<Key, long> Without(Dictionary<Key, long> gaps, Dictionary<Key, long> totals, int sides)
    {
        var sums = new Dictionary<Key, long>();
        foreach (var (key, gap) in gaps)
            System.Runtime.InteropServices.CollectionsMarshal.GetValueRefOrAddDefault(sums, key.Shared(sides), out _) += gap;
        var gathered = new Dictionary<Key, long>();
        foreach (var (key, gap) in gaps)
            if (key.Shared(sides) is var shared && sums[shared] == totals[shared])
                gathered[shared] = sums[shared];
            else
                gathered[key] = gap;
        return gathered;
    }

    static Gap Made(CompiledRulebook book, Purpose purpose, GapKind kind, Key key, long count)
    {
        var (where, lacking) = (new List<FactValue>(), new List<Fact>());
        foreach (var (side, member, group) in new[] { (key.Item, Fact.Item, Fact.ItemGroup), (key.Party, Fact.Party, Fact.PartyGroup),
            (key.Location, Fact.Location, Fact.Location) })
        {
            if (side == 0)
                continue;
            var (fact, id) = ((side & 1) == 0 ? member : group, (side - 1) / 2);
            if (id == 0)
                lacking.Add(fact);
            else
                where.Add(new(fact, book.SpellingOf(fact, id)));
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

    static string? GroupOf(CompiledRulebook book, Fact fact, string code)
    {
        if (fact == Fact.Item)
            return book.Items.TryFind(code, out var item) ? item.Group : null;
        if (book.Parties.TryFind(code, out var party))
            return party.Group;
        return null;
    }
}
