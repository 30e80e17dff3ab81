using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Consolidating;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Web.Connections;

namespace Assignum.Web.Pages.GroupChart;

/// <summary>An account that waits, with the group's accounts that are like it, best first.</summary>
/// <param name="Account">The account.</param>
/// <param name="Near">Up to three of the group's, each with why.</param>
public sealed record WaitingAccount(Account Account, IReadOnlyList<(Account Group, Suggestion Why)> Near)
{
    /// <summary>The best of them; null: nothing of the group's is like it.</summary>
    public (Account Group, Suggestion Why)? Best => Near.Count > 0 ? Near[0] : null;
    /// <summary>The best of them is good enough to be accepted.</summary>
    public bool IsGood => Best is { Why.Score: >= Suggesting.Good };
}

/// <summary>The accounts of a company beside the group's chart: what is matched, what waits, what is suggested. Many accounts may go to one.</summary>
public sealed class GroupBoard
{
    /// <summary>Lays it out.</summary>
    /// <param name="own">The company's draft.</param>
    /// <param name="group">The group's rulebook.</param>
    /// <param name="matches">Where accounts go, by the folds of their numbers.</param>
    /// <param name="company">Id of the company.</param>
    /// <param name="cache">Where suggestions are kept while somebody matches.</param>
    public GroupBoard(Rulebook own, Rulebook group, IReadOnlyDictionary<string, GroupMatch> matches, int company, SuggestionCache cache)
    {
        Group = [.. group.Accounts.Where(a => a.Kind == AccountKind.Posting)];
        var accounts = own.Accounts.Where(a => a.Kind == AccountKind.Posting).ToList();
        Decided = [.. accounts.Where(a => matches.ContainsKey(Fold.Of(a.Number))).Select(a => (a, matches[Fold.Of(a.Number)]))];
        var waiting = accounts.Where(a => !matches.ContainsKey(Fold.Of(a.Number))).ToList();
        var cached = cache.For((company, "group"), [.. waiting.Select(Entry)], [.. Group.Select(Entry)]);
        var byNumber = Group.ToDictionary(g => Fold.Of(g.Number));
        Waiting = [.. waiting.Select(account => new WaitingAccount(account, Near(account, cached, byNumber)))];
        Equal = [.. waiting.Where(a => byNumber.ContainsKey(Fold.Of(a.Number)))];
    }

    // One to one is for lists of equals: in a group's chart several accounts come together, so the likest stands first. What is of another class must be like it
    // in earnest. What was suggested before may be there no more.
    static List<(Account Group, Suggestion Why)> Near(Account account, CachedSuggestions cached, Dictionary<string, Account> group) =>
        [.. cached.Suggestions.Near[cached.PlaceOf[Fold.Of(account.Number)]]
            .Select(s => (Group: group.GetValueOrDefault(Fold.Of(cached.Ours[s.Ours].Code))!, Why: s))
            .Where(s => s.Group is { } there && (s.Why.Score >= Suggesting.Good || there.Class == account.Class))
            .OrderByDescending(s => s.Why.Score).ThenBy(s => s.Group.Number, StringComparer.Ordinal).Take(3)];

    /// <summary>The group's accounts that take balances.</summary>
    public IReadOnlyList<Account> Group { get; }
    /// <summary>Accounts that are matched.</summary>
    public IReadOnlyList<(Account Account, GroupMatch Match)> Decided { get; }
    /// <summary>Accounts that wait.</summary>
    public IReadOnlyList<WaitingAccount> Waiting { get; }
    /// <summary>Accounts that wait and have the number of an account of the group.</summary>
    public IReadOnlyList<Account> Equal { get; }
    /// <summary>Accounts that wait and have a good suggestion.</summary>
    public IReadOnlyList<WaitingAccount> Good => [.. Waiting.Where(w => w.IsGood)];

    /// <summary>Where an account goes; null: it waits.</summary>
    public GroupMatch? Of(string account) => Decided.FirstOrDefault(d => Fold.Same(d.Account.Number, account)).Match;

    static MatchEntry Entry(Account account) => new(account.Number, account.Name, account.Class.Word());
}
