using System.Collections.Immutable;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Changes;

/// <summary>Combinations that another ladder sends from one account to another.</summary>
/// <param name="Where">The first of what they are, by group: "SEEDS × TRADE; POTS × TRADE …".</param>
/// <param name="From">Number of the account they land on now; null: they are held.</param>
/// <param name="To">Number of the account they would land on; null: they would be held.</param>
/// <param name="Combinations">How many they are.</param>
public sealed record Moved(string Where, string? From, string? To, long Combinations);

/// <summary>What another order of rungs does, before it is made.</summary>
/// <param name="InTheWay">Rules on rungs that would be dropped; while there are any, the change is refused.</param>
/// <param name="Moves">Combinations whose answer changes, most first.</param>
/// <param name="Purposes">The purposes looked at: the one itself, and those it stands in for.</param>
public sealed record LadderChange(IReadOnlyList<Rule> InTheWay, IReadOnlyList<(Purpose Purpose, Moved Moved)> Moves, IReadOnlyList<Purpose> Purposes)
{
    /// <summary>Holds a ladder against the one a purpose has.</summary>
    /// <param name="book">The rulebook as it is.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="ladder">The rungs it would have, distinct, first to last.</param>
    /// <param name="date">Posting date.</param>
    public static LadderChange Of(CompiledRulebook book, Purpose purpose, ImmutableArray<Rung> ladder, DateOnly date)
    {
        var inTheWay = book.Book.Rules.Where(r => r.Purpose == purpose && !ladder.Contains(r.Rung)).ToList();
        var then = new CompiledRulebook(book.Book with
        {
            Ladders = new Dictionary<Purpose, ImmutableArray<Rung>>(book.Book.Ladders) { [purpose] = ladder },
            Rules = inTheWay.Count == 0 ? book.Book.Rules : [.. book.Book.Rules.Except(inTheWay)],
        });
        var purposes = Purpose.All.Where(p => p.Chain().Contains(purpose)).ToList();
        return new LadderChange(inTheWay, inTheWay.Count > 0 ? []
            : [.. purposes.SelectMany(p => MovesOf(book, then, p, date)).OrderByDescending(m => m.Moved.Combinations)], purposes);
    }

    static IEnumerable<(Purpose Purpose, Moved Moved)> MovesOf(CompiledRulebook book, CompiledRulebook then, Purpose purpose, DateOnly date)
    {
        var moves = new Dictionary<(int From, int To), Move>();
        foreach (var combined in new Combinations(book, purpose, date, rule => book.RuleAccounts[rule], then).All())
        {
            var (from, to) = (AccountOf(book, combined.Answer), AccountOf(then, combined.Then));
            if (from == to)
                continue;
            if (!moves.TryGetValue((from, to), out var move))
                moves[(from, to)] = move = new Move();
            move.Take(book, combined);
        }
        return moves.Where(m => m.Value.Count > 0).Select(m =>
            (purpose, new Moved(m.Value.InWords, NumberOf(book, m.Key.From), NumberOf(book, m.Key.To), m.Value.Count)));
    }

    // What moves from one account to another: how much, and the first of it by name.
    sealed class Move
    {
        const int MostNamed = 3;
        readonly Dictionary<string, long> named = [];
        bool more;

        internal long Count { get; private set; }
        internal string InWords => string.Join("; ", named.Where(n => n.Value > 0).Select(n => n.Key)) + (more ? " …" : "");

        internal void Take(CompiledRulebook book, Combined combined)
        {
            Count += combined.Count;
            if (named.Count == MostNamed && combined.Count > 0)
                more = true;
            else if (named.Count < MostNamed || combined.Count < 0)
            {
                var words = LadderChange.InWords(book, combined);
                if (named.ContainsKey(words) || combined.Count > 0)
                    named[words] = named.GetValueOrDefault(words) + combined.Count;
            }
        }
    }

    static int AccountOf(CompiledRulebook book, Answer answer) => answer.Found ? book.RuleAccounts[answer.RuleAt] : 0;

    static string? NumberOf(CompiledRulebook book, int account) => account == 0 ? null : book.Accounts.ById(account).Number;

    static string InWords(CompiledRulebook book, Combined combined)
    {
        var words = new List<string>();
        if (combined.Item is { } item)
            words.Add(item.Alone ? book.Items.ById(item.Member).Code : GroupOf(book.ItemGroups, item.Group, "no item group"));
        if (combined.Party is { } party)
            words.Add(party.Alone ? book.Parties.ById(party.Member).Code : GroupOf(book.PartyGroups, party.Group, "no party group"));
        if (combined.Location is { Alone: true, Member: > 0 } location)
            words.Add(book.Locations.ById(location.Member).Code);
        return words.Count == 0 ? "everything" : string.Join(" × ", words);
    }

    static string GroupOf(CodeIndex<Groups.Group> groups, int group, string none) => group == 0 ? none : groups.ById(group).Code;
}
