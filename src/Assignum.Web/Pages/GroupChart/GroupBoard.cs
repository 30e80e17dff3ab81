using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Consolidating;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;

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
    public GroupBoard(Rulebook own, Rulebook group, IReadOnlyDictionary<string, GroupMatch> matches)
    {
        Group = [.. group.Accounts.Where(a => a.Kind == AccountKind.Posting)];
        var accounts = own.Accounts.Where(a => a.Kind == AccountKind.Posting).ToList();
        Decided = [.. accounts.Where(a => matches.ContainsKey(Fold.Of(a.Number))).Select(a => (a, matches[Fold.Of(a.Number)]))];
        var waiting = accounts.Where(a => !matches.ContainsKey(Fold.Of(a.Number))).ToList();
        var suggestions = Suggesting.For([.. waiting.Select(Entry)], [.. Group.Select(Entry)]);
        // One to one is for lists of equals: in a group's chart several accounts come together, so the likest stands first. What is of another class must be
        // like it in earnest.
        Waiting = [.. waiting.Select((account, i) => new WaitingAccount(account, [.. suggestions.Near[i]
            .Where(s => s.Score >= Suggesting.Good || Group[s.Ours].Class == account.Class).OrderByDescending(s => s.Score).Take(3)
            .Select(s => (Group[s.Ours], s))]))];
        var numbers = Group.Select(g => Fold.Of(g.Number)).ToHashSet(StringComparer.Ordinal);
        Equal = [.. waiting.Where(a => numbers.Contains(Fold.Of(a.Number)))];
    }

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
