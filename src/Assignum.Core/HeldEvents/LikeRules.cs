using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.HeldEvents;

/// <summary>Where the same purpose lands for a group like the one that has no rule.</summary>
/// <param name="Rule">The rule of the like group.</param>
/// <param name="Account">Its account.</param>
/// <param name="InCommon">On how many other purposes the two groups share an account.</param>
public sealed record LikeRule(Rule Rule, Account Account, int InCommon);

/// <summary>Accounts proposed for a rule that is missing.</summary>
/// <param name="Like">Rules of like groups, the most alike first.</param>
/// <param name="Account">The account that is proposed; null where nothing speaks for one more than for another.</param>
/// <param name="Why">What speaks for it, in a sentence; empty where none is proposed.</param>
public sealed record RuleProposal(IReadOnlyList<LikeRule> Like, Account? Account, string Why)
{
    const int MostLike = 6, ShortestWord = 4;

    /// <summary>What is proposed for a purpose where some facts hold.</summary>
    /// <param name="book">The draft.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="when">The facts of the rule that is missing.</param>
    public static RuleProposal Of(Rulebook book, Purpose purpose, IReadOnlyList<FactValue> when)
    {
        var accounts = book.Accounts.Where(a => a.Kind == AccountKind.Posting && a.Active).ToDictionary(a => Fold.Of(a.Number));
        var rung = new Rung([.. when.Select(w => w.Fact)]);
        var own = AccountsOf(book, when);
        var like = book.Rules.Where(r => r.Purpose == purpose && r.Rung.Equals(rung) && accounts.ContainsKey(Fold.Of(r.Account)))
            .Select(r => new LikeRule(r, accounts[Fold.Of(r.Account)], own.Intersect(AccountsOf(book, r.When)).Count()))
            .OrderByDescending(l => l.InCommon).ThenByDescending(l => l.Rule.When.Count(when.Contains)).Take(MostLike).ToList();
        if (NamedLike(book, purpose, when, accounts.Values) is { } named)
            return new(like, named, $"{named.Number} {named.Name} has the name of the group.");
        if (like is [{ InCommon: > 0 } first, ..] && (like.Count == 1 || like[1].InCommon < first.InCommon || Same(like[1], first)))
            return new(like, first.Account,
                $"{first.Rule.InWords} lands there, and both share {(first.InCommon == 1 ? "an account" : $"{first.InCommon} accounts")} for other purposes.");
        return like.Count > 0 && like.TrueForAll(l => Same(l, like[0])) ? new(like, like[0].Account, "Every group like it lands there.") : new(like, null, "");
    }

    static bool Same(LikeRule one, LikeRule other) => ReferenceEquals(one.Account, other.Account);

    // What else lands where by rules that ask for nothing but these facts.
    static HashSet<(Purpose, string)> AccountsOf(Rulebook book, IReadOnlyList<FactValue> when) =>
        [.. book.Rules.Where(r => r.When.Count > 0 && r.When.All(w => when.Any(o => o.Fact == w.Fact && Fold.Same(o.Code, w.Code))))
            .Select(r => (r.Purpose, Fold.Of(r.Account)))];

    static Account? NamedLike(Rulebook book, Purpose purpose, IReadOnlyList<FactValue> when, IEnumerable<Account> accounts)
    {
        var words = when.SelectMany(w => WordsOf($"{w.Code} {NameOf(book, w)}")).ToHashSet(StringComparer.Ordinal);
        var named = accounts.Where(a => purpose.Classes.Contains(a.Class) && a.Control == purpose.Control && !a.Suspense && WordsOf(a.Name).Any(words.Contains))
            .Take(2).ToList();
        return named.Count == 1 ? named[0] : null;
    }

    static string NameOf(Rulebook book, FactValue value) => value.Fact switch
    {
        Fact.ItemGroup => book.ItemGroups.FirstOrDefault(g => Fold.Same(g.Code, value.Code))?.Name ?? "",
        Fact.PartyGroup => book.PartyGroups.FirstOrDefault(g => Fold.Same(g.Code, value.Code))?.Name ?? "",
        _ => "",
    };

    static IEnumerable<string> WordsOf(string text) =>
        Fold.Of(text).Split([' ', ',', '-', '.', '/'], StringSplitOptions.RemoveEmptyEntries).Where(w => w.Length >= ShortestWord);
}
