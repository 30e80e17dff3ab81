using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>How far the rules of a purpose reach over the groups that can occur, and which rules say what a lower rung says already.</summary>
static class ReachFindings
{
    internal static IEnumerable<Finding> Of(CompiledRulebook compiled) =>
        [.. compiled.Book.Rules.Select(r => r.Purpose).Distinct().OrderBy(p => p.Index).SelectMany(p => Reach(compiled, p)), .. Strangers(compiled.Book), .. Redundant(compiled)];

    // Facts that only an event can have say nothing while they are absent.
    static readonly HashSet<Fact> OfEvents = [Fact.Project, Fact.ProjectGroup, Fact.Task, Fact.TaxCode, Fact.Authority, Fact.AssetGroup, Fact.Partner, Fact.MoneyAccount, Fact.Method, Fact.Reason];

    static IEnumerable<Finding> Reach(CompiledRulebook compiled, Purpose purpose)
    {
        if (purpose.Chain().Any(p => compiled.Book.LadderOf(p).Any(r => r.Facts.Any(OfEvents.Contains))))
            yield break;
        var coverage = Coverage.Of(compiled, purpose, DateOnly.MaxValue);
        if (coverage.None == 0 && coverage.Suspense == 0 && coverage.Defaults == 0)
            yield break;
        var gaps = Gaps.Of(compiled, purpose, DateOnly.MaxValue);
        if (coverage.None > 0)
            yield return Say("uncovered", Severity.Warning, purpose, coverage.None, coverage.Combinations, "reach no rule and would be held", gaps.First(g => g.Kind is GapKind.Nothing or GapKind.NotPostable), $"Add a rule for {purpose}, or a default.");
        if (coverage.Suspense > 0)
            yield return Say("suspense-only", Severity.Info, purpose, coverage.Suspense, coverage.Combinations, "reach suspense", gaps.First(g => g.Kind == GapKind.Suspense), "Add rules for them where that is not on purpose.");
        if (gaps.FirstOrDefault(g => g.Kind == GapKind.Default) is { } first && gaps.Where(g => g.Kind == GapKind.Default).Sum(g => g.Combinations) is var defaults && defaults < coverage.Combinations)
            yield return Say("default-only", Severity.Info, purpose, defaults, coverage.Combinations, "fall to the company default", first, "Add rules for them where they belong on an account of their own.");
    }

    static Finding Say(string check, Severity severity, Purpose purpose, long hit, long all, string what, Gap first, string mend) =>
        new(check, severity, "purposes/" + purpose.Name, $"{purpose}: {hit} of {all} combinations {what}, first {first.InWords}. {mend}");

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

    static IEnumerable<Finding> Redundant(CompiledRulebook compiled) =>
        Redundancy.Of(compiled).Select(r => new Finding("rule-redundant", Severity.Info, "rules/" + r.Rule.Id,
            $"Rule {r.Rule.Id} for {r.Rule.Purpose} and {r.Rule.InWords} answers as rule {r.Lower.Id} below it does. End it, unless it is there for a change to come.", r.Rule.Account));
}
