using Assignum.Core.Groups;

namespace Assignum.Core.Rulebooks;

/// <summary>Members that a purpose can't tell apart: the same group and kind, and the same rules of their own.</summary>
/// <param name="Member">One of them, by its number; 0 for "none", as with "no location".</param>
/// <param name="Group">Number of their group, 0 for none.</param>
/// <param name="Count">How many they are.</param>
/// <param name="Alone">They have rules of their own, so that it matters which they are.</param>
readonly record struct Alike(int Member, int Group, long Count, bool Alone);

/// <summary>Combinations with one answer.</summary>
/// <param name="Item">The items; null where the purpose does not ask for items.</param>
/// <param name="Party">The parties; null where the purpose does not ask for parties.</param>
/// <param name="Location">The locations; null where the purpose does not ask for locations.</param>
/// <param name="Count">How many combinations; negative where earlier ones are taken back.</param>
/// <param name="Answer">What answers.</param>
/// <param name="Then">What would answer by the other rulebook, where two are held against each other.</param>
readonly record struct Combined(Alike? Item, Alike? Party, Alike? Location, long Count, Answer Answer, Answer Then);

/// <summary>The combinations of items, parties and locations that can meet a purpose, gathered by what its rules can tell apart, so that a million members
/// cost no more than their groups and exceptions.</summary>
/// <remarks>
/// Rules that ask for one member put it into a class with those that have the same rules. Rules that ask for an item together with a party or a location would
/// make a class of each,
/// so they are left out first, and the combinations they name are counted anew after.
/// </remarks>
sealed class Combinations
{
    readonly CompiledRulebook book;
    readonly Purpose purpose;
    readonly DateOnly date;
    readonly Func<int, int> outcomeOf;
    readonly List<(Purpose Purpose, bool[] Left)> chain = [], thenChain = [];
    readonly CompiledRulebook? then;
    readonly HashSet<Fact> asked;
    readonly Members items, parties, locations;
    // What rules ask of an item together with a party or a location: by item, the parties and locations.
    readonly Dictionary<int, (HashSet<int> Parties, HashSet<int> Locations)> together = [];

    /// <param name="book">The rulebook.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="date">Posting date.</param>
    /// <param name="outcomeOf">What matters of a rule's answer, by the rule's place: rules with the same outcome may be taken for each other.</param>
    /// <param name="then">A rulebook with the same members and rules but other ladders, to be held against the first; or null.</param>
    internal Combinations(CompiledRulebook book, Purpose purpose, DateOnly date, Func<int, int> outcomeOf, CompiledRulebook? then = null)
    {
        (this.book, this.purpose, this.date, this.outcomeOf, this.then) = (book, purpose, date, outcomeOf, then);
        (items, parties, locations) = (new(book.Items.Count), new(book.Parties.Count), new(book.Locations.Count));
        asked = [.. Asked(book), .. then is null ? [] : Asked(then)];
        foreach (var link in purpose.Chain())
        {
            TakeRules(book, link, chain);
            if (then is not null)
                TakeRules(then, link, thenChain);
        }
        Items = AsksItems ? items.Classes(ItemsThatMeet()) : null;
        Parties = AsksParties ? parties.Classes(PartiesThatMeet()) : null;
        Locations = AsksLocations ? locations.Classes(Enumerable.Range(0, book.Locations.Count + 1).Select(id => (id, 0, id == 0 ? 1 : 0))) : null;
    }

    IEnumerable<(int Member, int Group, int Kind)> ItemsThatMeet()
    {
        var (byGroup, byKind, meets) = (asked.Contains(Fact.ItemGroup), asked.Contains(Fact.ItemKind),
            Array.ConvertAll(Enum.GetValues<ItemKind>(), kind => kind.CanMeet(purpose)));
        for (var id = 1; id <= book.Items.Count; id++)
            if ((int)book.Items.ById(id).Kind is var kind && meets[kind])
                yield return (id, byGroup ? book.ItemGroupOf(id) : 0, byKind ? kind + 1 : 0);
    }

    IEnumerable<(int Member, int Group, int Kind)> PartiesThatMeet()
    {
        var (byGroup, meets) = (asked.Contains(Fact.PartyGroup), Array.ConvertAll(Enum.GetValues<PartyRole>(), role => role.CanMeet(purpose)));
        for (var id = 1; id <= book.Parties.Count; id++)
            if (meets[(int)book.Parties.ById(id).Role])
                yield return (id, byGroup ? book.PartyGroupOf(id) : 0, 0);
    }

    internal IReadOnlyList<Alike>? Items { get; }
    internal IReadOnlyList<Alike>? Parties { get; }
    internal IReadOnlyList<Alike>? Locations { get; }

    IEnumerable<Fact> Asked(CompiledRulebook of) => purpose.Chain().SelectMany(p => of.Book.LadderOf(p)).SelectMany(r => r.Facts);

    bool AsksItems => asked.Overlaps([Fact.Item, Fact.ItemGroup, Fact.ItemKind]);
    bool AsksParties => asked.Overlaps([Fact.Party, Fact.PartyGroup]);
    bool AsksLocations => asked.Contains(Fact.Location);

    /// <summary>How many combinations there are.</summary>
    internal long Count => Sum(Items) * Sum(Parties) * Sum(Locations);

    /// <summary>All combinations, those with one answer together.</summary>
    internal IEnumerable<Combined> All()
    {
        var facts = new Facts();
        book.Set(facts, Fact.Currency, book.Book.Company.Currency);
        foreach (var item in Each(Items))
            foreach (var party in Each(Parties))
                foreach (var location in Each(Locations))
                {
                    Lay(facts, item, party, location);
                    yield return new(item, party, location, Times(item, party, location), book.ResolveWithout(chain, facts, date),
                        then?.ResolveWithout(thenChain, facts, date) ?? Answer.None);
                }
        foreach (var again in CountedAnew(facts))
            yield return again;
    }

    IEnumerable<Combined> CountedAnew(Facts facts)
    {
        foreach (var (itemId, with) in together)
        {
            if (!book.Items.ById(itemId).Kind.CanMeet(purpose))
                continue;
            var item = new Alike(itemId, book.ItemGroupOf(itemId), 1, true);
            var ownParties = with.Parties.Where(p => book.Parties.ById(p).Role.CanMeet(purpose)).Select(p =>
                new Alike(p, book.PartyGroupOf(p), 1, true)).ToList();
            var ownLocations = with.Locations.Select(l => new Alike(l, 0, 1, true)).ToList();
            // A party named with the item meets every location; every other party only the locations named with it.
            foreach (var party in ownParties)
                foreach (var location in Each(Locations is null ? null : [.. ownLocations, .. Rest(Locations, locations, with.Locations)]))
                    foreach (var changed in Anew(facts, item, party, location))
                        yield return changed;
            foreach (var location in ownLocations)
                foreach (var party in Each(Parties is null ? null : Rest(Parties, parties, with.Parties)))
                    foreach (var changed in Anew(facts, item, party, location))
                        yield return changed;
        }
    }

    IEnumerable<Combined> Anew(Facts facts, Alike item, Alike? party, Alike? location)
    {
        Lay(facts, item, party, location);
        var count = Times(item, party, location);
        if (count == 0)
            yield break;
        // What is taken back was counted with the classes.
        yield return new(ClassOf(Items, items, item), ClassOf(Parties, parties, party), ClassOf(Locations, locations, location), -count,
            book.ResolveWithout(chain, facts, date), then?.ResolveWithout(thenChain, facts, date) ?? Answer.None);
        yield return new(item, party, location, count, book.Resolve(purpose, facts, date), then?.Resolve(purpose, facts, date) ?? Answer.None);
    }

    static Alike? ClassOf(IReadOnlyList<Alike>? classes, Members members, Alike? alike) => alike is { } known ? classes![members.ClassOf(known.Member)] : null;

    // The classes without the members that are counted one by one.
    static List<Alike> Rest(IReadOnlyList<Alike> classes, Members members, HashSet<int> named) =>
        [.. classes.Select((c, i) => c with { Count = c.Count - named.Count(n => members.ClassOf(n) == i) }).Where(c => c.Count > 0)
            .Select(c => named.Contains(c.Member) && members.Another(c.Member, named) is { } other ? c with { Member = other } : c)];

    void Lay(Facts facts, Alike? item, Alike? party, Alike? location)
    {
        if (item is { } i)
        {
            book.SetItem(facts, i.Member);
            facts[Fact.ItemKind] = (int)book.Items.ById(i.Member).Kind + 1;
        }
        if (party is { } p)
            book.SetParty(facts, p.Member);
        facts[Fact.Location] = location?.Member ?? 0;
    }

    void TakeRules(CompiledRulebook of, Purpose link, List<(Purpose, bool[])> links)
    {
        var ladder = of.Book.LadderOf(link);
        var left = new bool[ladder.Length];
        for (var i = 0; i < left.Length; i++)
            left[i] = ladder[i].Facts.Contains(Fact.Item) && ladder[i].Facts.Any(f => f is Fact.Party or Fact.Location);
        links.Add((link, left));
        var currency = new Facts();
        book.Set(currency, Fact.Currency, book.Book.Company.Currency);
        var asks = ladder.Select(r => (Possible: r.Facts.All(CanBePresent), Currency: r.Facts.IndexOf(Fact.Currency))).ToArray();
        foreach (var rule in of.ValuesOf(link))
        {
            if (rule.From > date.DayNumber || rule.To < date.DayNumber)
                continue;
            var (possible, at) = asks[rule.Rung];
            if (!possible || (at >= 0 && rule.Values[at] != currency[Fact.Currency]))
                continue;
            if (left[rule.Rung])
                TakeTogether(rule, ladder[rule.Rung].Facts);
            else
                TakeAlone(rule, ladder[rule.Rung], link);
        }
    }

    void TakeTogether(CompiledLadder.RuleValues rule, System.Collections.Immutable.ImmutableArray<Fact> facts)
    {
        var item = rule.Values[facts.IndexOf(Fact.Item)];
        if (!together.TryGetValue(item, out var with))
            together[item] = with = ([], []);
        // With a party and a location it is enough to count the party anew, at every location.
        if (facts.IndexOf(Fact.Party) is var party and >= 0)
            with.Parties.Add(rule.Values[party]);
        if (facts.IndexOf(Fact.Location) is var location and >= 0)
            with.Locations.Add(rule.Values[location]);
    }

    void TakeAlone(CompiledLadder.RuleValues rule, Rung rung, Purpose link)
    {
        for (var at = 0; at < rung.Facts.Length; at++)
            if (MembersOf(rung.Facts[at]) is { } members)
                members.Take(rule.Values[at], new Mark(link.Index, rung.GetHashCode(), outcomeOf(rule.Index), Others(rule.Values, at)));
    }

    Members? MembersOf(Fact fact) => fact switch { Fact.Item => items, Fact.Party => parties, Fact.Location => locations, _ => null };

    // What a rule asks beside one of its facts; most ask one thing more, or nothing.
    static string Others(int[] values, int at) => values.Length == 1 ? "" : string.Join(',', values.Where((_, i) => i != at));

    // What can be told of a rule of one member: two members with the same marks are alike.
    readonly record struct Mark(int Link, int Rung, int Outcome, string Others);

    static bool CanBePresent(Fact fact) =>
        fact is Fact.Item or Fact.ItemGroup or Fact.ItemKind or Fact.Party or Fact.PartyGroup or Fact.Location or Fact.Currency;

    static IEnumerable<Alike?> Each(IReadOnlyList<Alike>? classes) => classes is null ? [null] : classes.Select(c => (Alike?)c);

    static long Sum(IReadOnlyList<Alike>? classes) => classes?.Sum(c => c.Count) ?? 1;

    static long Times(Alike? item, Alike? party, Alike? location) => (item?.Count ?? 1) * (party?.Count ?? 1) * (location?.Count ?? 1);

    /// <summary>Members of one kind while they are put into classes.</summary>
    /// <param name="count">How many members there are.</param>
    sealed class Members(int count)
    {
        readonly Dictionary<Mark, int> marks = [];
        readonly Dictionary<string, int> sets = [];
        // By a member's number, from 1; a class one higher than its place, so that 0 is none.
        readonly List<int>?[] own = new List<int>?[count + 1];
        readonly int[] classOf = new int[count + 1];
        readonly Dictionary<(int, int, int), int> places = [];
        readonly List<List<int>> members = [];

        internal void Take(int member, Mark mark)
        {
            if (!marks.TryGetValue(mark, out var id))
                marks[mark] = id = marks.Count + 1;
            (own[member] ??= []).Add(id);
        }

        internal List<Alike> Classes(IEnumerable<(int Member, int Group, int Kind)> all)
        {
            var classes = new List<Alike>();
            foreach (var (member, group, kind) in all)
            {
                var rules = own[member] is { } list ? SetOf(list) : 0;
                if (!places.TryGetValue((group, kind, rules), out var place))
                {
                    places[(group, kind, rules)] = place = classes.Count;
                    classes.Add(new Alike(member, group, 0, rules != 0));
                    members.Add([]);
                }
                classes[place] = classes[place] with { Count = classes[place].Count + 1 };
                classOf[member] = place + 1;
                members[place].Add(member);
            }
            return classes;
        }

        // One mark is its own number; several together get one below zero.
        int SetOf(List<int> own)
        {
            if (own.Count == 1)
                return own[0];
            var key = string.Join(',', own.Order());
            if (!sets.TryGetValue(key, out var set))
                sets[key] = set = -1 - sets.Count;
            return set;
        }

        internal int ClassOf(int member) => classOf[member] - 1;

        internal int? Another(int member, HashSet<int> but) => members[ClassOf(member)].Find(m => !but.Contains(m)) is var other and not 0 ? other : null;
    }
}
