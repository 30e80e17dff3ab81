using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Taxes;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Tax;

/// <summary>A cell of the tax grid.</summary>
/// <param name="Own">The rule for exactly both groups, or null.</param>
/// <param name="Code">The code that holds, by whichever rule; null where nothing answers.</param>
/// <param name="From">Where a code comes from that is not the cell's own.</param>
public sealed record TaxCell(TaxRule? Own, TaxCode? Code, string From);

/// <summary>Tax codes with their rates, and which code a party tax group meeting an item tax group gives.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(TaxStore taxes, TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Tax";
    /// <summary>The day the grid is shown for.</summary>
    public DateOnly Today => DateOnly.FromDateTime(clock.GetUtcNow().DateTime);
    /// <summary>Tax codes of the draft.</summary>
    public IReadOnlyList<TaxCode> Codes => Draft.Book.TaxCodes;
    /// <summary>Across.</summary>
    public IReadOnlyList<Group> ItemGroups => Draft.Book.ItemTaxGroups;
    /// <summary>Down.</summary>
    public IReadOnlyList<Group> PartyGroups => Draft.Book.PartyTaxGroups;
    /// <summary>Rules that ask for a place.</summary>
    public IReadOnlyList<TaxRule> ByArea => [.. Draft.Book.TaxRules.Where(r => r.TaxArea is not null)];
    /// <summary>Why a change was refused.</summary>
    public string? Fault { get; private set; }

    /// <summary>Shows codes and grid.</summary>
    public void OnGet()
    {
    }

    /// <summary>Sets a cell of the grid in the draft; without a code its own rule ends.</summary>
    public async Task<IActionResult> OnPostCellAsync(string party, string item, string? code)
    {
        var taxCode = string.IsNullOrEmpty(code) ? null : code;
        if (await taxes.SetRule(Company.Id, UserId, party, item, null, taxCode, Stop) is not { } refusal)
            return Done(taxCode is null ? $"Where {party} meets {item} no rule of its own holds in draft {Books.State.Draft}." : $"Where {party} meets {item}, {taxCode} holds in draft {Books.State.Draft}.", At("tax"));
        Fault = refusal.Message;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    /// <summary>The cell of two groups, today.</summary>
    public TaxCell Cell(Group party, Group item)
    {
        var rules = Draft.Book.TaxRules.Where(r => r.TaxArea is null && !(r.From > Today) && !(r.To < Today)).ToList();
        var own = rules.Find(r => Fold.Same(r.PartyTaxGroup, party.Code) && Fold.Same(r.ItemTaxGroup, item.Code));
        var answer = own ?? rules.Find(r => Fold.Same(r.PartyTaxGroup, party.Code) && r.ItemTaxGroup is null)
            ?? rules.Find(r => r.PartyTaxGroup is null && Fold.Same(r.ItemTaxGroup, item.Code)) ?? rules.Find(r => r is { PartyTaxGroup: null, ItemTaxGroup: null });
        var from = answer is null || own is not null ? "" : answer.PartyTaxGroup is not null ? $"from {party.Code}" : answer.ItemTaxGroup is not null ? $"from {item.Code}" : "default";
        return new TaxCell(own, answer is null ? null : Codes.FirstOrDefault(c => Fold.Same(c.Code, answer.TaxCode)), from);
    }
}
