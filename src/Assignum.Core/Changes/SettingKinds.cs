using System.Globalization;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Changes;

/// <summary>Every kind of setting but the ladders. Whatever can change a landing is a part of one of them.</summary>
public static class SettingKinds
{
    /// <summary>Options of the company.</summary>
    public static SettingKind<CompanyOptions> Options { get; } = new("company", "Options", book => [book.Company.Options], _ => "options", _ => "",
    [
        new(nameof(CompanyOptions.SeparateDiscounts), "separate discounts", o => YesNo(o.SeparateDiscounts)),
            new(nameof(CompanyOptions.PerpetualStock), "perpetual stock", o => YesNo(o.PerpetualStock)),
        new(nameof(CompanyOptions.TaxRounding), "tax rounding", o => Words<TaxRounding>.Of(o.TaxRounding)),
            new(nameof(CompanyOptions.TaxTolerance), "tax tolerance", o => Number(o.TaxTolerance)),
        new(nameof(CompanyOptions.LineText), "text of ledger lines", o => Words<LineText>.Of(o.LineText)),
    ]) { Keys = [] };

    /// <summary>Accounts.</summary>
    public static SettingKind<Account> Accounts { get; } = new("accounts", "Account", book => book.Accounts, a => a.Number, a => $"{a.Number} {a.Name}",
    [
        new(nameof(Account.Class), "class", a => a.Class.Word()), new(nameof(Account.Kind), "kind", a => a.Kind.Word()),
            new(nameof(Account.Active), "active", a => YesNo(a.Active)),
        new(nameof(Account.ValidFrom), "valid from", a => Day(a.ValidFrom)), new(nameof(Account.ValidTo), "valid to", a => Day(a.ValidTo)),
        new(nameof(Account.Control), "control", a => a.Control?.Word()), new(nameof(Account.Manual), "by hand", a => a.Manual.Word()),
        new(nameof(Account.ItemTaxGroup), "item tax group", a => a.ItemTaxGroup), new(nameof(Account.TaxCode), "tax code", a => a.TaxCode),
            new(nameof(Account.Suspense), "suspense", a => YesNo(a.Suspense)),
        new(nameof(Account.TaxRelevance), "tax relevance", a => a.TaxRelevance?.Word()), new(nameof(Account.PartyRole), "roles", a => a.PartyRole?.Word()),
        new(nameof(Account.Currencies), "currencies", a => Listed(a.Currencies)),
        new(nameof(Account.DimensionDefaults), "values of dimensions", a =>
            Listed(a.DimensionDefaults.OrderBy(d => d.Key, StringComparer.Ordinal).Select(d => $"{d.Key} {d.Value}"))),
        new(nameof(Account.Dimensions), "dimensions", a =>
            Listed(a.Dimensions.OrderBy(d => d.Key, StringComparer.Ordinal).Select(d => $"{d.Key} {Words<DimensionNeed>.Of(d.Value)}"))),
    ]) { Keys = [nameof(Account.Number)],
        AtOnce = [new(nameof(Account.Name), "name", a => a.Name), new(nameof(Account.Parent), "place under", a => a.Parent)] };

    /// <summary>Groups, family by family.</summary>
    public static IReadOnlyList<SettingKind<Group>> Groups { get; } =
    [
        GroupsOf("partyGroups", "Party group", book => book.PartyGroups), GroupsOf("itemGroups", "Item group", book => book.ItemGroups),
            GroupsOf("projectGroups", "Project group", book => book.ProjectGroups),
        GroupsOf("assetGroups", "Asset group", book => book.AssetGroups), GroupsOf("partyTaxGroups", "Party tax group", book => book.PartyTaxGroups),
            GroupsOf("itemTaxGroups", "Item tax group", book => book.ItemTaxGroups),
    ];

    /// <summary>Parties.</summary>
    public static SettingKind<Party> Parties { get; } = new("parties", "Party", book => book.Parties, p => p.Code, p => $"{p.Code} {p.Name}",
    [
        new(nameof(Party.Role), "role", p => p.Role.Word()), new(nameof(Party.Group), "group", p => p.Group),
            new(nameof(Party.TaxGroup), "tax group", p => p.TaxGroup),
        new(nameof(Party.TaxArea), "tax area", p => p.TaxArea), new(nameof(Party.Partner), "company of the group", p => p.Partner),
        new(nameof(Party.ControlAlternates), "control alternates", p => Listed(p.ControlAlternates)),
    ]) { Keys = [nameof(Party.Code)], AtOnce = [new(nameof(Party.Name), "name", x => x.Name)] };

    /// <summary>Items.</summary>
    public static SettingKind<Item> Items { get; } = new("items", "Item", book => book.Items, i => i.Code, i => $"{i.Code} {i.Name}",
        [new(nameof(Item.Kind), "kind", i => i.Kind.Word()), new(nameof(Item.Group), "group", i => i.Group),
            new(nameof(Item.TaxGroup), "tax group", i => i.TaxGroup)])
        { Keys = [nameof(Item.Code)], AtOnce = [new(nameof(Item.Name), "name", i => i.Name), new(nameof(Item.Cost), "cost", i => Number(i.Cost))] };

    /// <summary>Locations; all that can differ is whether there is one.</summary>
    public static SettingKind<Location> Locations { get; } = new("locations", "Location", book => book.Locations, l => l.Code, l => $"{l.Code} {l.Name}", [])
        { Keys = [nameof(Location.Code)], AtOnce = [new(nameof(Location.Name), "name", x => x.Name)] };

    /// <summary>Projects with their tasks.</summary>
    public static SettingKind<Project> Projects { get; } = new("projects", "Project", book => book.Projects, p => p.Code, p => $"{p.Code} {p.Name}",
    [
        new(nameof(Project.Group), "group", p => p.Group), new(nameof(Project.Method), "method", p => p.Method is { } method
            ? Words<ProjectMethod>.Of(method) : null),
        new(nameof(Project.Tasks), "tasks", p =>
            string.Join(", ", p.Tasks.OrderBy(t => Fold.Of(t.Code), StringComparer.Ordinal).Select(t => t.Group is null ? t.Code : $"{t.Code} in {t.Group}"))),
    ]) { Keys = [nameof(Project.Code)], AtOnce = [new(nameof(Project.Name), "name", x => x.Name)] };

    /// <summary>Fixed assets.</summary>
    public static SettingKind<Asset> Assets { get; } = new("assets", "Fixed asset", book => book.Assets, a => a.Code, a => $"{a.Code} {a.Name}",
    [
        new(nameof(Asset.Group), "group", a => a.Group), new(nameof(Asset.TaxGroup), "tax group", a => a.TaxGroup),
        new(nameof(Asset.Method), "method", a => a.Method is { } method ? Words<AssetMethod>.Of(method) : null),
        new(nameof(Asset.LifeMonths), "life in months", a => Number(a.LifeMonths)), new(nameof(Asset.Percent), "per cent a year", a => Number(a.Percent)),
        new(nameof(Asset.Residual), "residual value", a => a.Residual == 0 ? null : Number(a.Residual)),
    ]) { Keys = [nameof(Asset.Code)], AtOnce = [new(nameof(Asset.Name), "name", a => a.Name)] };

    /// <summary>Companies of the group; all that can differ is whether there is one.</summary>
    public static SettingKind<Partner> Partners { get; } = new("partners", "Company of the group", book => book.Partners, p => p.Code, p =>
        $"{p.Code} {p.Name}",
        []) { Keys = [nameof(Partner.Code)], AtOnce = [new(nameof(Partner.Name), "name", p => p.Name)] };

    /// <summary>Tax codes with their components.</summary>
    public static SettingKind<TaxCode> TaxCodes { get; } = new("taxCodes", "Tax code", book => book.TaxCodes, t => t.Code, t => t.Code,
    [
        new(nameof(TaxCode.Category), "category", t => t.Category), new(nameof(TaxCode.Direction), "direction", t => Words<TaxDirection>.Of(t.Direction)),
        new(nameof(TaxCode.ReverseCharge), "reverse charge", t => YesNo(t.ReverseCharge)),
        new(nameof(TaxCode.Components), "rates", t => string.Join("; ", t.Components.Select(Rates))),
        new(nameof(TaxCode.Components), "authorities", t => Parts(t, c => c.Authority)),
        new(nameof(TaxCode.Components), "base", t => Parts(t, c => c.Base == TaxBase.Net ? null : Words<TaxBase>.Of(c.Base))),
        new(nameof(TaxCode.Components), "recoverable", t => string.Join("; ", t.Components.Select(c => Number(c.RecoverablePercent) + " %"))),
    ]) { Keys = [nameof(TaxCode.Code)], AtOnce = [new(nameof(TaxCode.Name), "name", x => x.Name)] };

    /// <summary>Tax rules.</summary>
    public static SettingKind<TaxRule> TaxRules { get; } = new("taxRules", "Tax rule", book => book.TaxRules, PlaceOf, InWords,
        [new(nameof(TaxRule.TaxCode), "tax code", r => r.TaxCode), new(nameof(TaxRule.To), "to", r => Day(r.To))])
        { Keys = [nameof(TaxRule.TaxArea), nameof(TaxRule.PartyTaxGroup), nameof(TaxRule.ItemTaxGroup), nameof(TaxRule.From)] };

    /// <summary>Matches of connections' items, categories and tax codes.</summary>
    public static SettingKind<Match> Matches { get; } = new("matches", "Match", book => book.Matches, m => m.Key,
        m => $"{m.Connection}: {ListInWords(m.List)} {m.Theirs} → {m.Ours}", [new(nameof(Match.Ours), "matched with", m => m.Ours)])
        { Keys = [nameof(Match.Connection), nameof(Match.List), nameof(Match.Theirs)], Joint = " of " };

    /// <summary>Rules.</summary>
    public static SettingKind<Rule> Rules { get; } = RulesOf("Rule", number => number);

    /// <summary>All of them, in the order of the work.</summary>
    public static IReadOnlyList<SettingKind> All { get; } = [Options, Accounts, .. Groups, Parties, Items, Locations, Projects, Assets, Partners, TaxCodes,
        TaxRules, Matches,
        Rules];

    /// <summary>Rules, with their accounts as somebody wants to read them.</summary>
    internal static SettingKind<Rule> RulesOf(string subject, Func<string, string> account) =>
        new("rules", subject, book => book.Rules, r => r.Id, r => $"{r.InWords} → {account(r.Account)}",
    [
        new(nameof(Rule.Account), "account", r => account(r.Account)), new(nameof(Rule.From), "from", r => Day(r.From)),
            new(nameof(Rule.To), "to", r => Day(r.To)),
        new(nameof(Rule.When), "facts", r => r.When.Count == 0 ? "default" : string.Join(" × ", r.When.Select(w => $"{w.Fact.InWords()} {w.Code}"))),
            new(nameof(Rule.Note), "note", r => string.IsNullOrEmpty(r.Note) ? null : r.Note),
    ]) { Keys = [nameof(Rule.Id), nameof(Rule.Purpose)], Joint = ", " };

    /// <summary>Groups of a family, as addresses and storage name it.</summary>
    /// <param name="family">"party", "item-tax" …</param>
    public static SettingKind<Group> OfFamily(string family) =>
        Groups.First(kind => kind.Place == (family.EndsWith("-tax", StringComparison.Ordinal) ? family[..^4] + "TaxGroups" : family + "Groups"));

    static SettingKind<Group> GroupsOf(string place, string subject, Func<Rulebook, IReadOnlyList<Group>> list) =>
        new(place, subject, list, g => g.Code, g => $"{g.Code} {g.Name}",
            [new(nameof(Group.TaxGroup), "tax group", g => g.TaxGroup)]) { Keys = [nameof(Group.Code)],
            AtOnce = [new(nameof(Group.Name), "name", x => x.Name)] };

    static string PlaceOf(TaxRule rule) => (RuleKey.TextOf("tax", rule.When()) + "\u001f" + Day(rule.From)).Replace('\u001f', '·').Replace('\u001e', ':');

    static string InWords(TaxRule rule) =>
        (rule.When() is { Count: > 0 } when ? string.Join(" × ", when.Select(w => w.Code)) : "default") + " → " + rule.TaxCode;

    static string ListInWords(SettingList list) => list switch { SettingList.Items => "item", SettingList.Categories => "category", _ => "tax code" };

    static string Rates(TaxComponent component) =>
        (component.Code is null ? "" : component.Code + " ") + string.Join(", ",
            component.Rates.Select(r => FormattableString.Invariant($"{Number(r.Percent)} % from {r.From:yyyy-MM-dd}")));

    static string? Parts(TaxCode code, Func<TaxComponent, string?> part) =>
        code.Components.All(c => part(c) is null) ? null : string.Join("; ", code.Components.Select(c => part(c) ?? "none"));

    static string? Listed(IEnumerable<string> texts) => string.Join(", ", texts) is { Length: > 0 } listed ? listed : null;

    static string? Number(decimal? number) => number?.ToString("0.############################", CultureInfo.InvariantCulture);

    static string? Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    static string YesNo(bool value) => value ? "yes" : "no";
}
