namespace Assignum.Core.Rulebooks;

/// <summary>A rule that says what a lower rung says already.</summary>
/// <param name="Rule">The rule that could go.</param>
/// <param name="Lower">The rule that would answer the same in its place.</param>
public sealed record Redundant(Rule Rule, Rule Lower);

/// <summary>Finds rules that could go without any landing changing.</summary>
public static class Redundancy
{
    /// <summary>All redundant rules of a rulebook.</summary>
    /// <remarks>Where two rules are redundant only because of each other, the lower one is found alone: each is held against what stands below it.</remarks>
    public static IEnumerable<Redundant> Of(CompiledRulebook book)
    {
        var filled = book.Book.Rules.Select(r => (r.Purpose, r.Rung)).ToHashSet();
        foreach (var rule in book.Book.Rules)
            if (rule.When.Count > 0 && BelowIt(book, rule, filled) is { From: null, To: null } lower && Fold.Same(lower.Account, rule.Account))
                yield return new(rule, lower);
    }

    // The rule that would answer in its place; null where that depends on facts the rule does not ask for.
    static Rule? BelowIt(CompiledRulebook book, Rule rule, HashSet<(Purpose, Rung)> filled)
    {
        var facts = book.FactsOf(WithGroups(book, rule.When));
        var ladder = book.Book.LadderOf(rule.Purpose);
        foreach (var rung in ladder.Skip(ladder.IndexOf(rule.Rung) + 1).Where(r => filled.Contains((rule.Purpose, r))))
        {
            if (!rung.Facts.All(facts.Has))
                return null;
            if (book.RuleOn(rule.Purpose, rung, facts, DateOnly.MaxValue) is { } found)
                return found;
        }
        return null;
    }

    static List<FactValue> WithGroups(CompiledRulebook book, IReadOnlyList<FactValue> when)
    {
        var facts = when.ToList();
        foreach (var (fact, code) in when)
        {
            if (fact == Fact.Item && book.Items.TryFind(code, out var item) && item.Group is { } itemGroup)
                facts.Add(new(Fact.ItemGroup, itemGroup));
            if (fact == Fact.Party && book.Parties.TryFind(code, out var party) && party.Group is { } partyGroup)
                facts.Add(new(Fact.PartyGroup, partyGroup));
        }
        return facts;
    }
}
