using Assignum.Web.Access;
using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Finding;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages;

/// <summary>One thing that was found.</summary>
/// <param name="Code">Its number or code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Kind">What it is.</param>
/// <param name="Address">Where it is.</param>
public sealed record FindResult(string Code, string Name, string Kind, string Address);

/// <summary>The find box's results.</summary>
[Microsoft.AspNetCore.RateLimiting.EnableRateLimiting(Limits.Find)]
public sealed class FindModel(FindStore store) : CompanyPage
{
    const int Most = 14;
    /// <inheritdoc/>
    public override string Step => "";
    /// <summary>What was typed.</summary>
    public string Text { get; private set; } = "";
    /// <summary>What was found.</summary>
    public IReadOnlyList<FindResult> Results { get; private set; } = [];

    /// <summary>Finds.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync([FromQuery(Name = "q")] string? typed)
    {
        Text = (typed ?? "").Trim();
        if (Text.Length == 0)
            return;
        var sought = new Sought(Text);
        var kept = await store.Find(Company.Id, Text, Most, Stop);
        Results =
        [
            .. FindPages.All.Where(p => sought.In(p.Name)).OrderBy(p => sought.FitOf("", p.Name)).Select(p => new FindResult("", p.Name, "page", At(p.Path))),
            .. Purpose.All.Where(p => sought.In(p.Title)).Take(4).Select(p => new FindResult("", p.Title, "rules", At("rules/" + p.Name))),
            .. kept.SelectMany(found => Own(found, sought).Prepend(Result(found))),
            .. Rules(sought).Take(5),
        ];
    }

    IEnumerable<FindResult> Rules(Sought sought) =>
        Draft.Book.Rules.Where(r => sought.FitOf(r.Id, $"{r.Purpose.Title} {r.InWords}") is Sought.Fit.Code || sought.In($"{r.Purpose.Title} {r.InWords}"))
            .Select(r => new FindResult(r.Account, $"{r.Purpose.Title} · {r.InWords}", "rule",
                At($"rules/{r.Purpose.Name}?handler=rule&row={Draft.Labels.RuleRow(r.Id)}")));

    // Whoever names an account by its number often asks what lands there.
    IEnumerable<FindResult> Own(Found found, Sought sought) =>
        found.Kind == "account" && sought.FitOf(found.Code, "") == Sought.Fit.Code
            ? [new(found.Code, "What lands here", "rules and members", At($"chart/{Uri.EscapeDataString(found.Code)}/lands"))] : [];

    FindResult Result(Found found) => found.Kind switch
    {
        "account" => new(found.Code, found.Name, "account", At($"chart?handler=account&number={Uri.EscapeDataString(found.Code)}")),
        "party" => new(found.Code, found.Name, "party", At($"groups/party?q={Uri.EscapeDataString(found.Code)}")),
        "item" => new(found.Code, found.Name, "item", At($"groups/item?q={Uri.EscapeDataString(found.Code)}")),
        "group:party" => new(found.Code, found.Name, "party group", At($"groups/party?group={Uri.EscapeDataString(found.Code)}")),
        "group:item" => new(found.Code, found.Name, "item group", At($"groups/item?group={Uri.EscapeDataString(found.Code)}")),
        "group:project" or "group:asset" =>
            new(found.Code, found.Name, found.Kind["group:".Length..] + " group",
            At($"groups/{found.Kind["group:".Length..]}?group={Uri.EscapeDataString(found.Code)}&view=lands")),
        "group:party-tax" or "group:item-tax" =>
            new(found.Code, found.Name, "tax group", At($"groups/{found.Kind["group:".Length..]}?group={Uri.EscapeDataString(found.Code)}")),
        "document" or "entry" => new(found.Code, found.Name, found.Kind == "entry" ? "entry" : "document", At("journal/" + found.Id)),
        "project" => new(found.Code, found.Name, "project", At($"projects/{Uri.EscapeDataString(found.Code)}")),
        "asset" => new(found.Code, found.Name, "fixed asset", At($"assets/{Uri.EscapeDataString(found.Code)}")),
        "location" or "partner" => new(found.Code, found.Name, found.Kind, At($"groups/{found.Kind}?q={Uri.EscapeDataString(found.Code)}")),
        _ => new(found.Code, found.Name, found.Kind.Replace("group:", "group of ", StringComparison.Ordinal) + "s", At("rules")),
    };
}
