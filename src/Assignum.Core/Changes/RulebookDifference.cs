using Assignum.Core.Charts;
using Assignum.Core.Groups;
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
        .. Options(before.Company.Options, after.Company.Options),
        .. Compare("Account", "accounts", before.Accounts, after.Accounts, a => a.Number, a => $"{a.Number} {a.Name}", AccountParts),
        .. Groups("Party group", "partyGroups", before.PartyGroups, after.PartyGroups), .. Groups("Item group", "itemGroups", before.ItemGroups, after.ItemGroups),
        .. Groups("Project group", "projectGroups", before.ProjectGroups, after.ProjectGroups), .. Groups("Asset group", "assetGroups", before.AssetGroups, after.AssetGroups),
        .. Groups("Party tax group", "partyTaxGroups", before.PartyTaxGroups, after.PartyTaxGroups), .. Groups("Item tax group", "itemTaxGroups", before.ItemTaxGroups, after.ItemTaxGroups),
        .. Compare("Party", "parties", before.Parties, after.Parties, p => p.Code, p => $"{p.Code} {p.Name}", PartyParts),
        .. Compare("Item", "items", before.Items, after.Items, i => i.Code, i => $"{i.Code} {i.Name}", ItemParts),
        .. Compare("Project", "projects", before.Projects, after.Projects, p => p.Code, p => $"{p.Code} {p.Name}", ProjectParts),
        .. Compare("Tax code", "taxCodes", before.TaxCodes, after.TaxCodes, t => t.Code, t => t.Code, TaxCodeParts),
        .. Compare("Tax rule", "taxRules", before.TaxRules, after.TaxRules, TaxRuleKey, InWords, r => [("tax code", r.TaxCode), ("to", Day(r.To))]).Select(c => c with { Where = c.Where.Replace('\u001f', '·').Replace('\u001e', ':') }),
        .. Ladders(before, after),
        .. Rules(before, after),
    ];

    static IEnumerable<SettingChange> Options(CompanyOptions before, CompanyOptions after) =>
        Differing(OptionParts(before), OptionParts(after)) is { Length: > 0 } changed
            ? [new(ChangeKind.Changed, "Options", "company/options", $"Options: {changed}.")] : [];

    static IEnumerable<SettingChange> Groups(string subject, string where, IReadOnlyList<Group> before, IReadOnlyList<Group> after) =>
        Compare(subject, where, before, after, g => g.Code, g => $"{g.Code} {g.Name}", g => [("tax group", g.TaxGroup)]);

    static IEnumerable<SettingChange> Ladders(Rulebook before, Rulebook after) =>
        from purpose in Purpose.All
        let was = before.LadderOf(purpose)
        let now = after.LadderOf(purpose)
        where !was.SequenceEqual(now)
        select new SettingChange(ChangeKind.Changed, "Ladder of " + purpose, "ladders/" + purpose.Name,
            $"The ladder of {purpose} changes from {string.Join(" · ", was.Select(r => r.InWords))} to {string.Join(" · ", now.Select(r => r.InWords))}.", purpose);

    static IEnumerable<SettingChange> Rules(Rulebook before, Rulebook after)
    {
        // Editions share what they have in common, so that a difference costs what it says and not what both say.
        var (gone, come) = (Without(before.Rules, after.Rules), Without(after.Rules, before.Rules));
        if (gone.Count + come.Count == 0)
            return [];
        var names = NamesOf(before).Concat(NamesOf(after)).ToLookup(n => n.Number, n => n.Name);
        string Account(string number) => names[Fold.Of(number)].LastOrDefault() is { } name ? $"{number} {name}" : number;
        return Purpose.All.SelectMany(purpose => Compare("Rule for " + purpose, "rules",
            [.. gone.Where(r => r.Purpose == purpose)], [.. come.Where(r => r.Purpose == purpose)],
            r => r.Id, r => $"({r.Id}), {r.InWords} → {Account(r.Account)}",
            r => [("account", Account(r.Account)), ("from", Day(r.From)), ("to", Day(r.To)), ("facts", r.InWords)]).Select(c => c with { Purpose = purpose }));
    }

    static IReadOnlyList<T> Without<T>(IReadOnlyList<T> these, IReadOnlyList<T> those) where T : class
    {
        if (ReferenceEquals(these, those))
            return [];
        var known = new HashSet<T>(those, ReferenceEqualityComparer.Instance);
        return [.. these.Where(t => !known.Contains(t))];
    }

    static IEnumerable<(string Number, string Name)> NamesOf(Rulebook book) => book.Accounts.Select(a => (Fold.Of(a.Number), a.Name));

    static (string, string?)[] AccountParts(Account a) =>
    [
        ("kind", a.Kind.Word()), ("active", YesNo(a.Active)), ("valid from", Day(a.ValidFrom)), ("valid to", Day(a.ValidTo)), ("control", a.Control?.Word()), ("by hand", a.Manual.Word()),
        ("item tax group", a.ItemTaxGroup), ("tax code", a.TaxCode), ("suspense", YesNo(a.Suspense)),
        ("tax relevance", a.TaxRelevance?.Word()), ("roles", a.PartyRole?.Word()), ("currencies", a.Currencies.Count == 0 ? null : string.Join(", ", a.Currencies)),
        ("values of dimensions", a.DimensionDefaults.Count == 0 ? null : string.Join(", ", a.DimensionDefaults.OrderBy(d => d.Key, StringComparer.Ordinal).Select(d => $"{d.Key} {d.Value}"))),
        ("dimensions", a.Dimensions.Count == 0 ? null : string.Join(", ", a.Dimensions.OrderBy(d => d.Key, StringComparer.Ordinal).Select(d => $"{d.Key} {Words<DimensionNeed>.Of(d.Value)}"))),
    ];

    static (string, string?)[] PartyParts(Party p) =>
        [("role", p.Role.Word()), ("group", p.Group), ("tax group", p.TaxGroup), ("tax area", p.TaxArea), ("control alternates", p.ControlAlternates.Count == 0 ? null : string.Join(", ", p.ControlAlternates))];

    static (string, string?)[] ProjectParts(Project p) =>
        [("group", p.Group), ("method", p.Method), ("tasks", string.Join(", ", p.Tasks.Select(t => t.Group is null ? t.Code : $"{t.Code} in {t.Group}")))];

    static (string, string?)[] ItemParts(Item i) => [("kind", i.Kind.Word()), ("group", i.Group), ("tax group", i.TaxGroup)];

    static (string, string?)[] TaxCodeParts(TaxCode t) =>
    [
        ("category", t.Category), ("direction", Words<TaxDirection>.Of(t.Direction)), ("reverse charge", YesNo(t.ReverseCharge)),
        ("rates", string.Join("; ", t.Components.Select(c => (c.Code is null ? "" : c.Code + " ") + string.Join(", ", c.Rates.Select(r => FormattableString.Invariant($"{r.Percent} % from {r.From:yyyy-MM-dd}")))))),
        ("recoverable", string.Join("; ", t.Components.Select(c => FormattableString.Invariant($"{c.RecoverablePercent} %")))),
    ];

    static (string, string?)[] OptionParts(CompanyOptions o) =>
    [
        ("separate discounts", YesNo(o.SeparateDiscounts)), ("perpetual stock", YesNo(o.PerpetualStock)), ("tax rounding", Words<TaxRounding>.Of(o.TaxRounding)),
        ("tax tolerance", o.TaxTolerance?.ToString(System.Globalization.CultureInfo.InvariantCulture)),
    ];

    static string TaxRuleKey(TaxRule rule) => RuleKey.TextOf("tax", rule.When()) + "\u001f" + Day(rule.From);

    /// <summary>The place of a tax rule, as a change of it has it.</summary>
    public static string WhereOf(TaxRule rule) => "taxRules/" + TaxRuleKey(rule).Replace('\u001f', '·').Replace('\u001e', ':');

    static string InWords(TaxRule rule) => (rule.When() is { Count: > 0 } when ? string.Join(" × ", when.Select(w => w.Code)) : "default") + " → " + rule.TaxCode;

    static IEnumerable<SettingChange> Compare<T>(string subject, string where, IReadOnlyList<T> before, IReadOnlyList<T> after,
        Func<T, string> key, Func<T, string> label, Func<T, (string, string?)[]> parts) where T : class
    {
        (before, after) = (Without(before, after), Without(after, before));
        var was = new Dictionary<string, T>(before.Count);
        foreach (var thing in before)
            was.TryAdd(Fold.Of(key(thing)), thing);
        foreach (var thing in after)
        {
            if (!was.Remove(Fold.Of(key(thing)), out var old))
                yield return new(ChangeKind.Added, subject, $"{where}/{key(thing)}", $"{subject} {label(thing)} is new.");
            else if (!ReferenceEquals(old, thing) && Differing(parts(old), parts(thing)) is { Length: > 0 } changed)
                yield return new(ChangeKind.Changed, subject, $"{where}/{key(thing)}", $"{subject} {label(thing)}: {changed}.");
        }
        foreach (var thing in before.Where(t => was.TryGetValue(Fold.Of(key(t)), out var left) && ReferenceEquals(left, t)))
            yield return new(ChangeKind.Ended, subject, $"{where}/{key(thing)}", $"{subject} {label(thing)} ends.");
    }

    static string Differing((string Name, string? Value)[] before, (string Name, string? Value)[] after) =>
        string.Join(", ", before.Zip(after).Where(p => p.First.Value != p.Second.Value).Select(p => $"{p.First.Name} from {p.First.Value ?? "none"} to {p.Second.Value ?? "none"}"));

    static string? Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);

    static string YesNo(bool value) => value ? "yes" : "no";
}
