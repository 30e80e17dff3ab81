using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Changes;

/// <summary>A rule that would be copied.</summary>
/// <param name="When">The facts the copy asks for.</param>
/// <param name="Account">The account it would use, or null where there is none.</param>
/// <param name="There">The rule that stands in its place already, or null.</param>
/// <param name="Fault">Why it can't be copied, and the mend; null where it can.</param>
public sealed record CopiedRule(IReadOnlyList<FactValue> When, Account? Account, Rule? There, string? Fault)
{
    /// <summary>Whether the place says the same already.</summary>
    public bool Same => There is not null && Account is not null && Fold.Same(There.Account, Account.Number);
}

/// <summary>Copies defaults and the rules of groups: from another purpose, another group, or another company.</summary>
public static class RuleCopy
{
    /// <summary>What would be copied, by rung and facts. Rules that ask for an item or a party are exceptions and stay where they are.</summary>
    /// <param name="from">The rulebook with the rules.</param>
    /// <param name="source">Their purpose.</param>
    /// <param name="to">The rulebook they go to; it may be the same.</param>
    /// <param name="target">The purpose they get.</param>
    /// <param name="date">Rules valid on this day are copied.</param>
    /// <param name="fromGroup">With <paramref name="toGroup"/>: only rules that ask for this group are copied.</param>
    /// <param name="toGroup">What the copies ask for in its place.</param>
    public static IReadOnlyList<CopiedRule> Of(Rulebook from, Purpose source, Rulebook to, Purpose target, DateOnly date, FactValue? fromGroup = null,
        FactValue? toGroup = null)
    {
        var book = new CompiledRulebook(to with { Rules = [], TaxRules = [] });
        var (ladder, there) = (to.LadderOf(target), to.Rules.Where(r => r.Purpose == target && r.ValidOn(date)).ToLookup(r => RuleKey.TextOf("", r.When)));
        return [.. from.Rules
            .Where(r => r.Purpose == source && r.ValidOn(date) && !r.When.Any(w => w.Fact is Fact.Item or Fact.Party)
                && (fromGroup is not { } group || r.When.Any(w => Is(w, group))))
            .Select(r => Copied(r, [.. r.When.Select(w => fromGroup is { } group && toGroup is { } instead && Is(w, group) ? instead : w)]))
            .OrderBy(c => ladder.IndexOf(RungOf(c.When)) is >= 0 and var at ? at : int.MaxValue).ThenBy(c => RuleKey.TextOf("", c.When),
                StringComparer.Ordinal)];

        CopiedRule Copied(Rule rule, IReadOnlyList<FactValue> when)
        {
            var number = rule.Account;
            var account = AccountLike(from, number, to, book);
            return new(when, account, there[RuleKey.TextOf("", when)].FirstOrDefault(), Fault(when, number, account));
        }

        string? Fault(IReadOnlyList<FactValue> when, string number, Account? account)
        {
            if (!ladder.Contains(RungOf(when)))
                return $"The ladder of {target.Title.ToLowerInvariant()} has no rung {RungOf(when).InWords}. Add it to the ladder first.";
            if (when.FirstOrDefault(w => !book.Knows(w.Fact, w.Code)) is { Code: not null } unknown)
                return $"There is no {unknown.Fact.InWords()} {unknown.Code} here. Add it first.";
            if (account is null)
                return $"There is no account {number} here, nor one of its name. Add it to the chart first.";
            if (account.Kind != AccountKind.Posting)
                return $"Account {account.Number} {account.Name} is a {account.Kind.Word()} here. Nothing can be posted to it.";
            return target.Classes.Contains(account.Class) ? null
                : $"Account {account.Number} {account.Name} is {account.Class.Word()}; {target.Title.ToLowerInvariant()} needs " +
                    $"{string.Join(" or ", target.Classes.Select(c => c.Word()))}.";
        }
    }

    // The same number in another company can mean something else; the name then decides.
    static Account? AccountLike(Rulebook from, string number, Rulebook to, CompiledRulebook book)
    {
        var there = book.Accounts.TryFind(number, out var same) ? same : null;
        if (ReferenceEquals(from, to) || from.Accounts.FirstOrDefault(a => Fold.Same(a.Number, number)) is not { } was
            || (there is not null && Fold.Same(there.Name, was.Name)))
            return there;
        var named = to.Accounts.Where(a => a.Kind == AccountKind.Posting && Fold.Same(a.Name, was.Name)).Take(2).ToList();
        return named.Count == 1 ? named[0] : there;
    }

    static Rung RungOf(IReadOnlyList<FactValue> when) => new([.. when.Select(w => w.Fact)]);

    static bool Is(FactValue value, FactValue other) => value.Fact == other.Fact && Fold.Same(value.Code, other.Code);
}
