using Assignum.Core.Charts;

namespace Assignum.Core.Rulebooks;

/// <summary>How many combinations a rung answers.</summary>
/// <param name="Purpose">The purpose whose ladder it is on: the one covered, or a stand-in.</param>
/// <param name="Rung">The rung.</param>
/// <param name="Combinations">How many it answers with an account that can be posted to.</param>
public sealed record RungShare(Purpose Purpose, Rung Rung, long Combinations);

/// <summary>How the combinations that can occur for a purpose are answered.</summary>
/// <param name="Purpose">The purpose.</param>
/// <param name="Combinations">Items, parties and locations whose facts its ladder and its stand-ins' ask for, "no location" counting as one more
/// location.</param>
/// <param name="ByRung">What each rung answers, in the order they are tried; rungs that answer nothing are left out.</param>
/// <param name="Suspense">How many of the answers are suspense accounts.</param>
/// <param name="None">How many reach nothing, or an account that can't be posted to.</param>
public sealed record Coverage(Purpose Purpose, long Combinations, IReadOnlyList<RungShare> ByRung, long Suspense, long None)
{
    /// <summary>How many fall to the company default.</summary>
    public long Defaults => ByRung.Where(r => r.Rung.Facts.IsEmpty).Sum(r => r.Combinations);

    /// <summary>How many a rule answers that is not suspense, of all, 0 to 1; 1 where nothing can occur.</summary>
    public double Share => Combinations == 0 ? 1 : (double)(Combinations - None - Suspense) / Combinations;

    /// <summary>Counts over groups and exceptions, never member by member.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="date">Posting date.</param>
    public static Coverage Of(CompiledRulebook book, Purpose purpose, DateOnly date)
    {
        var space = new Combinations(book, purpose, date, rule => (int)OutcomeOf(book, rule, date));
        var byRung = new Dictionary<(int Purpose, int Rung), (RungShare Share, long Count)>();
        var (suspense, none) = (0L, 0L);
        foreach (var combined in space.All())
        {
            var outcome = combined.Answer.Found ? OutcomeOf(book, combined.Answer.RuleAt, date) : Outcome.NotPostable;
            if (outcome == Outcome.NotPostable)
            {
                none += combined.Count;
                continue;
            }
            if (outcome == Outcome.Suspense)
                suspense += combined.Count;
            // Stand-ins come after the purpose's own rungs.
            var key = (combined.Answer.Purpose == purpose ? -1 : combined.Answer.Purpose!.Index, combined.Answer.RungAt);
            if (!byRung.TryGetValue(key, out var so))
                so = (new RungShare(combined.Answer.Purpose!, book.RungOf(combined.Answer), 0), 0);
            byRung[key] = (so.Share, so.Count + combined.Count);
        }
        var order = purpose.Chain().Select((p, i) => (p, i)).ToDictionary(x => x.p, x => x.i);
        return new Coverage(purpose, space.Count,
            [.. byRung.Where(r => r.Value.Count != 0).OrderBy(r => order[r.Value.Share.Purpose]).ThenBy(r => r.Key.Rung).Select(r =>
                r.Value.Share with { Combinations = r.Value.Count })], suspense, none);
    }

    internal enum Outcome { NotPostable, Account, Suspense }

    internal static Outcome OutcomeOf(CompiledRulebook book, int rule, DateOnly date)
    {
        var id = book.RuleAccounts[rule];
        var account = id == 0 ? null : book.Accounts.ById(id);
        if (account?.TakesPostingsOn(date) != true)
            return Outcome.NotPostable;
        if (account.Suspense)
            return Outcome.Suspense;
        return Outcome.Account;
    }
}
