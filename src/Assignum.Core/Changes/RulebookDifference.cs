using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Changes;

/// <summary>What happened to a setting from one rulebook to another.</summary>
public enum ChangeKind { Added, Changed, Ended }

/// <summary>One setting that differs.</summary>
/// <param name="Kind">Added, changed or ended.</param>
/// <param name="Subject">What it is: "Account", "Rule for revenue" …</param>
/// <param name="Where">Its place, as a path: "rules/r12".</param>
/// <param name="Sentence">The change as a sentence.</param>
/// <param name="Purpose">The purpose, where it is a rule or a ladder.</param>
public sealed record SettingChange(ChangeKind Kind, string Subject, string Where, string Sentence, Purpose? Purpose = null);

/// <summary>The difference of two rulebooks of one company. Names are no settings, and do not count.</summary>
public static class RulebookDifference
{
    /// <summary>All changes from one rulebook to the other, in the order of the work.</summary>
    public static IReadOnlyList<SettingChange> Between(Rulebook before, Rulebook after) =>
    [
        .. SettingKinds.All.Where(kind => kind != SettingKinds.Rules).SelectMany(kind => kind.Between(before, after)),
        .. Ladders(before, after),
        .. Rules(before, after),
    ];

    /// <summary>The place of a tax rule, as a change of it has it.</summary>
    public static string WhereOf(TaxRule rule) => SettingKinds.TaxRules.WhereOf(rule);

    static IEnumerable<SettingChange> Ladders(Rulebook before, Rulebook after) =>
        from purpose in Purpose.All
        let was = before.LadderOf(purpose)
        let now = after.LadderOf(purpose)
        where !was.SequenceEqual(now)
        select new SettingChange(ChangeKind.Changed, "Ladder of " + purpose.InWords, "ladders/" + purpose.Name,
            $"The ladder of {purpose.InWords} changes from {string.Join(" · ", was.Select(r => r.InWords))} to " +
                $"{string.Join(" · ", now.Select(r => r.InWords))}.", purpose);

    static IEnumerable<SettingChange> Rules(Rulebook before, Rulebook after)
    {
        var (gone, come) = SettingKind<Rule>.Differing(before.Rules, after.Rules);
        if (gone.Count + come.Count == 0)
            return [];
        var names = NamesOf(before).Concat(NamesOf(after)).ToLookup(n => n.Number, n => n.Name);
        string Account(string number) => names[Fold.Of(number)].LastOrDefault() is { } name ? $"{number} {name}" : number;
        return Purpose.All.SelectMany(purpose => SettingKinds.RulesOf("Rule for " + purpose.InWords, Account)
            .Between([.. gone.Where(r => r.Purpose == purpose)], [.. come.Where(r => r.Purpose == purpose)]).Select(c => c with { Purpose = purpose }));
    }

    static IEnumerable<(string Number, string Name)> NamesOf(Rulebook book) => book.Accounts.Select(a => (Fold.Of(a.Number), a.Name));
}
