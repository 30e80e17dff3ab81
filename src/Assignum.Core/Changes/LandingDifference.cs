using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Changes;

/// <summary>What an account would get more or less.</summary>
/// <param name="Account">Its number.</param>
/// <param name="Amount">Company currency, debit positive.</param>
public readonly record struct AccountShift(string Account, decimal Amount);

/// <summary>How events would land under one rulebook and under another.</summary>
/// <param name="Events">Events that were landed under both.</param>
/// <param name="Changed">Events that land on both sides, and differently.</param>
/// <param name="NewlyHeld">Events that only the first lands.</param>
/// <param name="NewlyLanded">Events that only the second lands.</param>
/// <param name="Shifts">What accounts would get more or less by all of them, the largest first; those that get the same are left out.</param>
public sealed record LandingDifference(int Events, int Changed, int NewlyHeld, int NewlyLanded, IReadOnlyList<AccountShift> Shifts)
{
    /// <summary>Lands events under both.</summary>
    /// <param name="before">The rulebook as it is.</param>
    /// <param name="after">The rulebook as it would be.</param>
    /// <param name="events">Events as prepared.</param>
    public static LandingDifference Of(CompiledRulebook before, CompiledRulebook after, IEnumerable<BusinessEvent> events)
    {
        var (all, changed, held, landed) = (0, 0, 0, 0);
        var shifts = new Dictionary<string, decimal>(StringComparer.Ordinal);
        foreach (var happened in events)
        {
            all++;
            var (was, now) = (Landing.Land(before, happened) as Landed, Landing.Land(after, happened) as Landed);
            if (was is not null && now is null)
                held++;
            else if (was is null && now is not null)
                landed++;
            else if (was is not null && now is not null && !Same(was.Rows, now.Rows))
                changed++;
            Add(shifts, was, -1);
            Add(shifts, now, 1);
        }
        return new(all, changed, held, landed, [.. shifts.Where(s => s.Value != 0).Select(s => new AccountShift(s.Key, s.Value))
            .OrderByDescending(s => Math.Abs(s.Amount)).ThenBy(s => s.Account, StringComparer.Ordinal)]);
    }

    static bool Same(IReadOnlyList<EntryRow> one, IReadOnlyList<EntryRow> other) =>
        one.Count == other.Count
            && one.Zip(other).All(pair => pair.First.Account.Number == pair.Second.Account.Number && pair.First.Amount == pair.Second.Amount);

    static void Add(Dictionary<string, decimal> shifts, Landed? landed, int sign)
    {
        foreach (var row in landed?.Rows ?? [])
            shifts[row.Account.Number] = shifts.GetValueOrDefault(row.Account.Number) + sign * row.Amount;
    }
}
