using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>What is wrong with groups and their members.</summary>
static class MemberFindings
{
    internal static IEnumerable<Finding> Errors(Rulebook book) =>
    [
        .. Doubles("partyGroups", book.PartyGroups.Select(g => g.Code)), .. Doubles("itemGroups", book.ItemGroups.Select(g => g.Code)),
        .. Doubles("projectGroups", book.ProjectGroups.Select(g => g.Code)), .. Doubles("assetGroups", book.AssetGroups.Select(g => g.Code)),
        .. Doubles("partyTaxGroups", book.PartyTaxGroups.Select(g => g.Code)), .. Doubles("itemTaxGroups", book.ItemTaxGroups.Select(g => g.Code)),
        .. Doubles("parties", book.Parties.Select(p => p.Code)), .. Doubles("items", book.Items.Select(i => i.Code)),
        .. Doubles("locations", book.Locations.Select(l => l.Code)), .. Doubles("projects", book.Projects.Select(p => p.Code)),
        .. book.Projects.SelectMany(p => Doubles($"projects/{p.Code}/tasks", p.Tasks.Select(t => t.Code))),
        .. Doubles("assets", book.Assets.Select(a => a.Code)), .. Doubles("partners", book.Partners.Select(p => p.Code)),
        .. Doubles("taxCodes", book.TaxCodes.Select(t => t.Code)),
        .. book.TaxCodes.SelectMany(t => Doubles($"taxCodes/{t.Code}/components", t.Components.Select(c => c.Code ?? ""))),
        .. Doubles("rules", book.Rules.Select(r => r.Id)),
        .. UnknownGroups(book), .. UnknownAlternates(book),
    ];

    internal static IEnumerable<Finding> Advice(Rulebook book)
    {
        foreach (var party in book.Parties.Where(p => p.Group is null))
            yield return WithoutGroup("parties/" + party.Code, $"Party {party.Code} {party.Name}");
        foreach (var item in book.Items.Where(i => i.Group is null))
            yield return WithoutGroup("items/" + item.Code, $"Item {item.Code} {item.Name}");
        foreach (var asset in book.Assets.Where(a => a.Group is null))
            yield return WithoutGroup("assets/" + asset.Code, $"Fixed asset {asset.Code} {asset.Name}");
        foreach (var asset in book.Assets)
            if (asset.Lacks is { } lack)
                yield return new("asset-incomplete", Severity.Warning, "assets/" + asset.Code,
                    $"Fixed asset {asset.Code} {asset.Name} is depreciated by {Words<AssetMethod>.Of(asset.Method!.Value).Replace('-', ' ')} and lacks " +
                        $"{lack}. Give it, so that its depreciation can be worked out.");
        foreach (var finding in Empty("partyGroups", "party group", book.PartyGroups, book.Parties.Select(p => p.Group)))
            yield return finding;
        foreach (var finding in Empty("itemGroups", "item group", book.ItemGroups, book.Items.Select(i => i.Group)))
            yield return finding;
    }

    static Finding WithoutGroup(string where, string what) =>
        new("member-without-group", Severity.Warning, where,
            $"{what} is in no posting group, so only rules of its own and defaults answer for it. Put it into a group.");

    static IEnumerable<Finding> Empty(string where, string what, IReadOnlyList<Groups.Group> groups, IEnumerable<string?> used)
    {
        var filled = used.OfType<string>().Select(Fold.Of).ToHashSet();
        return groups.Where(g => !filled.Contains(Fold.Of(g.Code)))
            .Select(g => new Finding("group-empty", Severity.Info, $"{where}/{g.Code}",
                $"No member is in {what} {g.Code} {g.Name}. Move members into it, or remove it."));
    }

    // "partyTaxGroups" as "party tax groups"; the tasks of a project as "tasks of project P-1".
    static string InWords(string where) => where.Split('/') switch
    {
        ["projects", var project, "tasks"] => $"tasks of project {project}",
        ["taxCodes", var code, "components"] => $"components of tax code {code}",
        _ => string.Concat(where.Select(c => char.IsUpper(c) ? " " + char.ToLowerInvariant(c) : c.ToString())),
    };

    static IEnumerable<Finding> Doubles(string where, IEnumerable<string> codes)
    {
        var seen = new HashSet<string>();
        foreach (var code in codes)
            if (!seen.Add(Fold.Of(code)))
                yield return new("duplicate-code", Severity.Error, $"{where}/{code}",
                    $"Code {code} is given to two {InWords(where)}. Case and spaces don't tell codes apart; change one of them.");
    }

    static IEnumerable<Finding> UnknownGroups(Rulebook book)
    {
        var partyGroups = Folds(book.PartyGroups);
        var itemGroups = Folds(book.ItemGroups);
        var projectGroups = Folds(book.ProjectGroups);
        var assetGroups = Folds(book.AssetGroups);
        var partners = book.Partners.Select(p => Fold.Of(p.Code)).ToHashSet();
        var partyTaxGroups = Folds(book.PartyTaxGroups);
        var itemTaxGroups = Folds(book.ItemTaxGroups);
        return
        [
            .. book.Parties.SelectMany(p => Missing($"parties/{p.Code}", $"Party {p.Code} {p.Name}", "party group", p.Group, partyGroups)),
            .. book.Parties.SelectMany(p => Missing($"parties/{p.Code}", $"Party {p.Code} {p.Name}", "party tax group", p.TaxGroup, partyTaxGroups)),
            .. book.Items.SelectMany(i => Missing($"items/{i.Code}", $"Item {i.Code} {i.Name}", "item group", i.Group, itemGroups)),
            .. book.Items.SelectMany(i => Missing($"items/{i.Code}", $"Item {i.Code} {i.Name}", "item tax group", i.TaxGroup, itemTaxGroups)),
            .. book.PartyGroups.SelectMany(g =>
                Missing($"partyGroups/{g.Code}", $"Party group {g.Code} {g.Name}", "party tax group", g.TaxGroup, partyTaxGroups)),
            .. book.ItemGroups.SelectMany(g => Missing($"itemGroups/{g.Code}", $"Item group {g.Code} {g.Name}", "item tax group", g.TaxGroup, itemTaxGroups)),
            .. book.AssetGroups.SelectMany(g =>
                Missing($"assetGroups/{g.Code}", $"Asset group {g.Code} {g.Name}", "item tax group", g.TaxGroup, itemTaxGroups)),
            .. book.Assets.SelectMany(a => Missing($"assets/{a.Code}", $"Fixed asset {a.Code} {a.Name}", "asset group", a.Group, assetGroups)
                .Concat(Missing($"assets/{a.Code}", $"Fixed asset {a.Code} {a.Name}", "item tax group", a.TaxGroup, itemTaxGroups))),
            .. book.Parties.Where(p => p.Partner is { } partner && !partners.Contains(Fold.Of(partner))).Select(p => new Finding("unknown-partner",
                Severity.Error, $"parties/{p.Code}", $"Party {p.Code} {p.Name} is company {p.Partner} of the group, which is not listed. " +
                    "Add the company, or correct the party.")),
            .. book.Projects.SelectMany(p => Missing($"projects/{p.Code}", $"Project {p.Code} {p.Name}", "project group", p.Group, projectGroups)
                .Concat(p.Tasks.SelectMany(t =>
                    Missing($"projects/{p.Code}/tasks/{t.Code}", $"Task {p.Code}/{t.Code} {t.Name}", "project group", t.Group, projectGroups)))),
        ];
    }

    internal static HashSet<string> Folds(IEnumerable<Groups.Group> groups) => [.. groups.Select(g => Fold.Of(g.Code))];

    internal static IEnumerable<Finding> Missing(string where, string named, string what, string? code, HashSet<string> known) =>
        code is null || known.Contains(Fold.Of(code)) ? []
        : [new Finding("unknown-group", Severity.Error, where, $"{named} has {what} {code}, which does not exist. Add the group, or choose another.")];

    static IEnumerable<Finding> UnknownAlternates(Rulebook book)
    {
        var accounts = book.Accounts.Select(a => Fold.Of(a.Number)).ToHashSet();
        return book.Parties.SelectMany(p => p.ControlAlternates.Where(a => !accounts.Contains(Fold.Of(a)))
            .Select(a => new Finding("unknown-account", Severity.Error, $"parties/{p.Code}",
                $"Party {p.Code} {p.Name} may choose control account {a}, which the chart does not have. Add it, or take it off the party's list.", a)));
    }
}
