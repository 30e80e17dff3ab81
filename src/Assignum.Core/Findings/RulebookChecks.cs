using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>The checks that need nothing but a rulebook, all of them, errors first.</summary>
public static class RulebookChecks
{
    /// <summary>Everything the checks see. A rulebook with an error can't be compiled, released or landed with.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="today">The day on which rates must be there.</param>
    public static IReadOnlyList<Finding> Check(Rulebook book, DateOnly today)
    {
        var errors = Errors(book);
        return errors.Any(f => f.Severity == Severity.Error) ? errors : [.. errors, .. Advice(book, today)];
    }

    /// <summary>Only what bars release and landing; quick also for large rulebooks.</summary>
    public static IReadOnlyList<Finding> Errors(Rulebook book) =>
        [.. ChartFindings.Of(book), .. MemberFindings.Errors(book), .. LadderFindings.Of(book), .. RuleFindings.Errors(book), .. TaxFindings.Errors(book),
            .. MatchFindings.Errors(book)];

    /// <summary>What bars release and landing of a rulebook that differs from a sound one in few rules; only those are looked at.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="sound">A rulebook without errors.</param>
    public static IReadOnlyList<Finding> ErrorsNear(Rulebook book, Rulebook sound)
    {
        if (!book.SharesAllButRules(sound))
            return Errors(book);
        var change = ListChange.Between(sound.Rules, book.Rules);
        return change.Added.Count == 0 ? []
            : ErrorsOf(sound, [.. change.Added.Select(at => book.Rules[at])], change.Gone.Select(was => sound.Rules[was].Id).ToHashSet());
    }

    /// <summary>What bars one rule from a rulebook: the same checks, for the moment it is typed.</summary>
    /// <param name="book">The rulebook without it.</param>
    /// <param name="candidate">The rule.</param>
    /// <param name="replaced">Id of the rule it takes the place of, or null.</param>
    public static IReadOnlyList<Finding> ErrorsOf(Rulebook book, Rule candidate, string? replaced = null) =>
        ErrorsOf(book, [candidate], replaced is null ? System.Collections.Frozen.FrozenSet<string>.Empty : new HashSet<string> { replaced });

    /// <summary>What bars many rules from a rulebook.</summary>
    /// <param name="book">The rulebook without them.</param>
    /// <param name="candidates">The rules.</param>
    /// <param name="replaced">Ids of rules they take the place of, or that end with them.</param>
    public static IReadOnlyList<Finding> ErrorsOf(Rulebook book, IReadOnlyList<Rule> candidates, IReadOnlySet<string> replaced) =>
        [.. RuleFindings.ErrorsOf(book, candidates, replaced)];

    static IEnumerable<Finding> Advice(Rulebook book, DateOnly today)
    {
        var compiled = new CompiledRulebook(book);
        return [.. RuleFindings.Advice(compiled), .. TaxFindings.Advice(compiled, today), .. MemberFindings.Advice(book), .. ReachFindings.Of(compiled),
            .. OptionFindings.Of(book), .. ChartFindings.Advice(book)];
    }
}
