using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>How far the rules of a purpose reach over the groups that can occur, and which rules say what a lower rung says already.</summary>
static class ReachFindings
{
    internal static IEnumerable<Finding> Of(CompiledRulebook compiled) =>
        [.. compiled.Book.Rules.Select(r => r.Purpose).Distinct().OrderBy(p => p.Index).SelectMany(p => Reach(compiled, p)), .. Strangers(compiled.Book), .. Redundant(compiled)];

    // Over groups, not members: exceptions for single items and parties only ever make the reach greater.
    static IEnumerable<Finding> Reach(CompiledRulebook compiled, Purpose purpose)
    {
        var asked = new HashSet<Fact>(Chain(purpose).SelectMany(p => compiled.Book.LadderOf(p)).SelectMany(r => r.Facts));
        if (Chain(purpose).Any(p => compiled.Book.LadderOf(p).Any(r => r.Facts.Any(f => f is Fact.Project or Fact.ProjectGroup or Fact.Task or Fact.TaxCode or Fact.Authority or Fact.AssetGroup or Fact.Partner or Fact.MoneyAccount or Fact.Method or Fact.Reason))))
            yield break;
        var (none, defaults, suspense, all) = (new List<string>(), new List<string>(), new List<string>(), 0);
        foreach (var combination in Combinations(compiled.Book, purpose, asked))
        {
            all++;
            var answer = compiled.Resolve(purpose, compiled.FactsOf(combination), DateOnly.MaxValue);
            var account = answer.Found ? compiled.AccountOf(answer) : null;
            var list = account is null || account.Kind != AccountKind.Posting ? none : account.Suspense ? suspense : compiled.RungOf(answer).Facts.IsEmpty ? defaults : null;
            list?.Add(string.Join(" × ", combination.Where(f => f.Fact != Fact.Currency).Select(f => f.Code)));
        }
        if (none.Count > 0)
            yield return Say("uncovered", Severity.Warning, purpose, none, all, "reach no rule and would be held", $"Add a rule for {purpose}, or a default.");
        if (suspense.Count > 0)
            yield return Say("suspense-only", Severity.Info, purpose, suspense, all, "reach suspense", "Add rules for them where that is not on purpose.");
        if (defaults.Count > 0 && defaults.Count < all)
            yield return Say("default-only", Severity.Info, purpose, defaults, all, "fall to the company default", "Add rules for them where they belong on an account of their own.");
    }

    static Finding Say(string check, Severity severity, Purpose purpose, List<string> hit, int all, string what, string mend) =>
        new(check, severity, "purposes/" + purpose.Name, $"{purpose}: {hit.Count} of {all} combinations of groups {what}, first {(hit[0].Length == 0 ? "what has no group" : hit[0])}. {mend}");

    static IEnumerable<Purpose> Chain(Purpose purpose)
    {
        for (Purpose? p = purpose; p is not null; p = p.StandIn)
            yield return p;
    }

    static IEnumerable<List<FactValue>> Combinations(Rulebook book, Purpose purpose, HashSet<Fact> asked)
    {
        var items = asked.Contains(Fact.ItemGroup) ? book.Items.Where(i => i.Kind.CanMeet(purpose)).Select(i => i.Group).Distinct().ToList() : [null];
        var parties = asked.Contains(Fact.PartyGroup) ? book.Parties.Where(p => p.Role.CanMeet(purpose)).Select(p => p.Group).Distinct().ToList() : [null];
        foreach (var item in items)
            foreach (var party in parties)
            {
                var facts = new List<FactValue>(3);
                if (item is not null)
                    facts.Add(new(Fact.ItemGroup, item));
                if (party is not null)
                    facts.Add(new(Fact.PartyGroup, party));
                facts.Add(new(Fact.Currency, book.Company.Currency));
                yield return facts;
            }
    }

    // A rule for a group whose members never meet its purpose: customers in a rule for payables, services in one for inventory.
    static IEnumerable<Finding> Strangers(Rulebook book)
    {
        var kinds = book.Items.Where(i => i.Group is not null).ToLookup(i => Fold.Of(i.Group!), i => i.Kind);
        var roles = book.Parties.Where(p => p.Group is not null).ToLookup(p => Fold.Of(p.Group!), p => p.Role);
        foreach (var rule in book.Rules)
            foreach (var (fact, code) in rule.When)
            {
                var stranger = fact == Fact.ItemGroup ? kinds[Fold.Of(code)].Any() && !kinds[Fold.Of(code)].Any(k => k.CanMeet(rule.Purpose))
                    : fact == Fact.PartyGroup && roles[Fold.Of(code)].Any() && !roles[Fold.Of(code)].Any(r => r.CanMeet(rule.Purpose));
                if (stranger)
                    yield return new("family-mismatch", Severity.Warning, "rules/" + rule.Id, $"Rule {rule.Id} for {rule.Purpose} asks for {fact.InWords()} {code}, whose members never meet {rule.Purpose}. End the rule, or ask for another group.", rule.Account);
            }
    }

    static IEnumerable<Finding> Redundant(CompiledRulebook compiled)
    {
        var filled = compiled.Book.Rules.Select(r => (r.Purpose, r.Rung)).ToHashSet();
        foreach (var rule in compiled.Book.Rules.Where(r => r.When.Count > 0))
            if (BelowIt(compiled, rule, filled) is { } lower && Fold.Same(lower.Account, rule.Account) && lower is { From: null, To: null })
                yield return new("rule-redundant", Severity.Info, "rules/" + rule.Id, $"Rule {rule.Id} for {rule.Purpose} and {rule.InWords} answers as rule {lower.Id} below it does. End it, unless it is there for a change to come.", rule.Account);
    }

    // The rule that would answer in its place; null where that depends on facts the rule does not ask for.
    static Rule? BelowIt(CompiledRulebook compiled, Rule rule, HashSet<(Purpose, Rung)> filled)
    {
        var facts = compiled.FactsOf(WithGroups(compiled, rule.When));
        var ladder = compiled.Book.LadderOf(rule.Purpose);
        foreach (var rung in ladder.Skip(ladder.IndexOf(rule.Rung) + 1).Where(r => filled.Contains((rule.Purpose, r))))
        {
            if (!rung.Facts.All(facts.Has))
                return null;
            if (compiled.RuleOn(rule.Purpose, rung, facts, DateOnly.MaxValue) is { } found)
                return found;
        }
        return null;
    }

    static List<FactValue> WithGroups(CompiledRulebook compiled, IReadOnlyList<FactValue> when)
    {
        var facts = when.ToList();
        foreach (var (fact, code) in when)
        {
            if (fact == Fact.Item && compiled.Items.TryFind(code, out var item) && item.Group is { } itemGroup)
                facts.Add(new(Fact.ItemGroup, itemGroup));
            if (fact == Fact.Party && compiled.Parties.TryFind(code, out var party) && party.Group is { } partyGroup)
                facts.Add(new(Fact.PartyGroup, partyGroup));
        }
        return facts;
    }
}
