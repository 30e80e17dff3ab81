using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>How far the rules of a purpose reach over the groups that can occur, and which rules say what a lower rung says already.</summary>
static class ReachFindings
{
    internal static IEnumerable<Finding> Of(CompiledRulebook compiled) =>
        [.. Reaches(compiled), .. Strangers(compiled.Book), .. Redundant(compiled)];

    static IEnumerable<Finding> Reaches(CompiledRulebook compiled)
    {
        var ruled = compiled.Book.Rules.Select(r => r.Purpose).ToHashSet();
        var called = new Called(compiled.Book);
        return Purpose.All.SelectMany(Of);

        IEnumerable<Finding> Of(Purpose purpose)
        {
            if (ruled.Contains(purpose))
                return Reach(compiled, called, purpose);
            return purpose.Chain().Any(ruled.Contains) ? [] : WithoutRule(compiled.Book, purpose);
        }
    }

    // Where nobody has made a rule yet, one finding says so, as soon as there are members that can reach the purpose.
    static IEnumerable<Finding> WithoutRule(Rulebook book, Purpose purpose)
    {
        if (ReachedBy(book, purpose) is { } reachers)
            yield return new("uncovered", Severity.Warning, "purposes/" + purpose.Name,
                $"{purpose.Title} has no rule yet, and {reachers} can reach it: such an event would be held. Add a rule; the company default first.");
    }

    static string? ReachedBy(Rulebook book, Purpose purpose)
    {
        var asked = purpose.Chain().SelectMany(p => book.LadderOf(p)).SelectMany(r => r.Facts).ToHashSet();
        var items = asked.Overlaps([Fact.Item, Fact.ItemGroup, Fact.ItemKind]) ? book.Items.Count(i => Meets(i.Kind, purpose)) : (int?)null;
        var parties = asked.Overlaps([Fact.Party, Fact.PartyGroup]) ? book.Parties.Count(p => p.Role.CanMeet(purpose)) : (int?)null;
        var projects = asked.Overlaps([Fact.Project, Fact.ProjectGroup]) ? book.Projects.Count : (int?)null;
        var assets = asked.Contains(Fact.AssetGroup) ? book.AssetGroups.Count : (int?)null;
        List<string> reachers = [.. Many(items, "item", "items"), .. Many(parties, "party", "parties"), .. Many(projects, "project", "projects"),
            .. Many(assets, "asset group", "asset groups")];
        return reachers.Count == 0 || new[] { items, parties, projects, assets }.Any(count => count == 0) ? null : string.Join(" with ", reachers);
    }

    static IEnumerable<string> Many(int? count, string one, string many) => count is { } known ? [$"{known} {(known == 1 ? one : many)}"] : [];

    // A build absorbs what is never on a shelf, and differs from its standard by what is.
    static bool Meets(Groups.ItemKind kind, Purpose purpose)
    {
        if (purpose == Purpose.AbsorbedCost || purpose == Purpose.ProjectAbsorbed)
            return kind is not (Groups.ItemKind.Stock or Groups.ItemKind.Charge);
        if (purpose == Purpose.ProductionVariance || purpose == Purpose.GoodsReceivedNotInvoiced)
            return kind == Groups.ItemKind.Stock;
        return kind.CanMeet(purpose);
    }

    // Facts that only an event can have say nothing while they are absent.
    static readonly HashSet<Fact> OfEvents = [Fact.Project, Fact.ProjectGroup, Fact.Task, Fact.TaxCode, Fact.Authority, Fact.AssetGroup, Fact.Partner,
        Fact.MoneyAccount, Fact.Method, Fact.Reason];

    static IEnumerable<Finding> Reach(CompiledRulebook compiled, Called called, Purpose purpose)
    {
        if (purpose.Chain().Any(p => compiled.Book.LadderOf(p).Any(r => r.Facts.Any(OfEvents.Contains))))
            yield break;
        var coverage = Coverage.Of(compiled, purpose, DateOnly.MaxValue);
        if (coverage.None == 0 && coverage.Suspense == 0 && coverage.Defaults == 0)
            yield break;
        var gaps = Gaps.Of(compiled, purpose, DateOnly.MaxValue);
        if (coverage.None > 0)
            yield return Say(called, "uncovered", Severity.Warning, purpose, coverage.None, coverage.Combinations, "reach no rule and would be held",
                gaps.First(g => g.Kind is GapKind.Nothing or GapKind.NotPostable), $"Add a rule for {purpose.InWords}, or a company default.");
        if (coverage.Suspense > 0)
            yield return Say(called, "suspense-only", Severity.Info, purpose, coverage.Suspense, coverage.Combinations, "reach suspense",
                gaps.First(g => g.Kind == GapKind.Suspense), "Add rules for them where that is not on purpose.");
        if (gaps.FirstOrDefault(g => g.Kind == GapKind.Default) is { } first
            && gaps.Where(g => g.Kind == GapKind.Default).Sum(g => g.Combinations) is var defaults && defaults < coverage.Combinations)
            yield return Say(called, "default-only", Severity.Info, purpose, defaults, coverage.Combinations, "fall to the company default", first,
                "Add rules for them where they belong on an account of their own.");
    }

    static Finding Say(Called called, string check, Severity severity, Purpose purpose, long hit, long all, string what, Gap first, string mend) =>
        new(check, severity, "purposes/" + purpose.Name, $"{purpose.Title}: {hit:N0} of {all:N0} combinations {what}, first {Where(called, first)}. {mend}");

    static string Where(Called called, Gap gap) => gap.Where.Count + gap.Lacking.Count == 0 ? "all of them"
        : string.Join(" × ", [.. gap.Where.Select(called.Of), .. gap.Lacking.Select(l => "no " + l.InWords())]);

    // A rule for a group whose members never meet its purpose: customers in a rule for payables, services in one for inventory.
    static IEnumerable<Finding> Strangers(Rulebook book)
    {
        var kinds = book.Items.Where(i => i.Group is not null).ToLookup(i => Fold.Of(i.Group!), i => i.Kind);
        var roles = book.Parties.Where(p => p.Group is not null).ToLookup(p => Fold.Of(p.Group!), p => p.Role);
        var called = new Called(book);
        foreach (var rule in book.Rules)
            foreach (var (fact, code) in rule.When)
            {
                var stranger = fact == Fact.ItemGroup ? kinds[Fold.Of(code)].Any() && !kinds[Fold.Of(code)].Any(k => k.CanMeet(rule.Purpose))
                    : fact == Fact.PartyGroup && roles[Fold.Of(code)].Any() && !roles[Fold.Of(code)].Any(r => r.CanMeet(rule.Purpose));
                if (stranger)
                    yield return new("family-mismatch", Severity.Warning, "rules/" + rule.Id,
                        $"{called.Of(rule)}: the members of {fact.InWords()} {code} never reach {rule.Purpose.InWords}. End the rule, or ask for another " +
                            "group.", rule.Account);
            }
    }

    static IEnumerable<Finding> Redundant(CompiledRulebook compiled)
    {
        var called = new Called(compiled.Book);
        return Redundancy.Of(compiled).Select(r => new Finding("rule-redundant", Severity.Info, "rules/" + r.Rule.Id,
            $"{called.Of(r.Rule)}: the rule gives {r.Rule.Account}, as the rule for {called.Of(r.Lower.When)} below it does already. End it, unless it is " +
                "there for a change to come.", r.Rule.Account));
    }
}
