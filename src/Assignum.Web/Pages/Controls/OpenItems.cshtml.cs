using Assignum.Core;
using Assignum.Formats.Sheets;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>What customers owe or suppliers are owed, by age, as of any day.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class OpenItemsModel(OpenItemStore items, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>Names of the ages.</summary>
    internal static readonly string[] Ages = ["Not due", "1 to 30", "31 to 60", "61 to 90", "Over 90"];

    /// <summary>"receivables" or "payables".</summary>
    [BindProperty(SupportsGet = true)]
    public string Of { get; set; } = "";
    /// <summary>What items are aged by.</summary>
    [BindProperty(SupportsGet = true)]
    public AgedBy Aged { get; set; }
    /// <summary>Part of a code or name.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Q { get; set; }

    /// <summary>Parties that fit, the largest first.</summary>
    public IReadOnlyList<PartyOpen> Parties { get; private set; } = [];
    /// <summary>Payables are shown as what is owed: the other way round.</summary>
    public int Side => Of == "payables" ? -1 : 1;
    /// <summary>"receivables" in words.</summary>
    public string Title => Of == "payables" ? "Payables" : "Receivables";

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync()
    {
        if (Of is not ("receivables" or "payables"))
            return NotFound();
        var all = await items.Parties(Company.Id, Of, Date, Aged, Stop);
        Parties = string.IsNullOrWhiteSpace(Q) ? all : all.FindAll(p => $"{p.Party} {p.Name}".Contains(Q.Trim(), StringComparison.OrdinalIgnoreCase));
        return Page();
    }

    /// <summary>Parties by age, or their items one by one, as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind, bool whole)
    {
        if (await OnGetAsync() is NotFoundResult missing)
            return missing;
        var name = $"{(whole ? "open-items" : Of)}-{Date:yyyy-MM-dd}";
        if (!whole)
            return Export(new Table(Title, ["party", "name", "items", "open", .. Ages], Parties.Select(p => (IReadOnlyList<object?>)
                [p.Party, p.Name, p.Items, Side * p.Open, .. p.Ages.Select(a => (object?)(Side * a))])), name, kind);
        var all = await items.Of(Company.Id, Of, null, Date, MostExported, Stop);
        return Export(PartyModel.Table(all, NumberOf), name, kind);
    }

    /// <summary>Address of this list with its day and its ageing.</summary>
    internal string Here(string more = "") =>
        At($"open-items/{Of}?on={Show.Field(Date)}&aged={Words<AgedBy>.Of(Aged)}&q={Uri.EscapeDataString(Q ?? "")}{more}");
}
