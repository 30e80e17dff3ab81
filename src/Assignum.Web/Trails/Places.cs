using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Web.Pages;

namespace Assignum.Web.Trails;

/// <summary>Where what a finding or a change is about is looked at and changed.</summary>
static class Places
{
    /// <summary>The link to a place: "rules/r12", "accounts/4010"; null where there is no page for it.</summary>
    internal static TrailLinkTo? Of(CompanyPage page, string where)
    {
        var parts = where.Split('/', 2);
        var (kind, code) = (parts[0], parts.Length > 1 ? parts[1] : "");
        var written = Uri.EscapeDataString(code);
        return kind switch
        {
            "rules" => OfRule(page, code),
            "accounts" => new($"Account {code}", page.At($"chart?handler=account&number={written}"), InDrawer: true),
            "items" => new($"Item {code}", page.At($"groups/item?handler=member&code={written}"), InDrawer: true),
            "parties" => new($"Party {code}", page.At($"groups/party?handler=member&code={written}"), InDrawer: true),
            "locations" => new($"Location {code}", page.At($"groups/location?q={written}")),
            "projects" => new($"Project {code.Split('/')[0]}", page.At($"groups/project?q={Uri.EscapeDataString(code.Split('/')[0])}")),
            "itemGroups" => new($"Item group {code}", page.At($"groups/item?group={written}")),
            "partyGroups" => new($"Party group {code}", page.At($"groups/party?group={written}")),
            "projectGroups" => new($"Project group {code}", page.At($"groups/project?group={written}")),
            "assetGroups" => new($"Asset group {code}", page.At($"groups/asset?group={written}")),
            "itemTaxGroups" => new($"Item tax group {code}", page.At($"groups/item-tax?group={written}")),
            "partyTaxGroups" => new($"Party tax group {code}", page.At($"groups/party-tax?group={written}")),
            "taxCodes" => new($"Tax code {code.Split('/')[0]}", page.At($"tax/codes?handler=code&code={Uri.EscapeDataString(code.Split('/')[0])}"),
                InDrawer: true),
            "taxRules" when code.Split('/') is [var party, var item] =>
                new("Where groups meet", page.At($"tax?row={Uri.EscapeDataString(party)}&column={Uri.EscapeDataString(item)}")),
            "taxRules" => new("Where groups meet", page.At("tax")),
            "company" => new("Options", page.At("tax/codes?handler=options"), InDrawer: true),
            "ladders" when Purpose.Find(code) is { } purpose => new($"Ladder of {purpose.InWords}", page.At($"rules/{purpose.Name}/ladder")),
            "purposes" when Purpose.Find(code) is { } purpose => page.Books.Draft.Stored.Book.Rules.Any(r => r.Purpose == purpose)
                ? new($"Gaps of {purpose.InWords}", page.At($"rules/{purpose.Name}/gaps"))
                : new($"Add a rule for {purpose.InWords}", page.At($"rules/{purpose.Name}?handler=rule&rung={Rung.Default.Name}"), InDrawer: true),
            _ => null,
        };
    }

    static TrailLinkTo? OfRule(CompanyPage page, string id)
    {
        var stored = page.Books.Draft.Stored;
        return stored.Book.Rules.FirstOrDefault(r => r.Id == id) is { } rule && stored.Labels.RuleRow(id) is { } row
            ? new($"Rule, {rule.Purpose.InWords}", page.At($"rules/{rule.Purpose.Name}?handler=rule&row={row}"), InDrawer: true) : null;
    }
}
