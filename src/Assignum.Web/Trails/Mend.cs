using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;
using Assignum.Web.Pages;

namespace Assignum.Web.Trails;

/// <summary>Where a reason for holding is mended.</summary>
static class Mend
{
    /// <summary>The link, or null where the mend is in the document itself.</summary>
    internal static TrailLinkTo? Of(CompanyPage page, LandingBook book, HeldReason reason) => reason.Cause switch
    {
        HeldCause.NoRule => new($"Add a rule for {reason.Purpose!.InWords}", RuleAddress(page, book, reason), InDrawer: true),
        HeldCause.NoTaxRule when reason.TaxCode is { } code =>
            new($"Give tax code {code} a rate", page.At($"tax/codes?handler=code&code={Uri.EscapeDataString(code)}"), InDrawer: true),
        HeldCause.NoTaxRule => new("Choose one in the tax grid", page.At("tax" + CellOf(reason))),
        HeldCause.AccountNotPostable or HeldCause.DimensionMissing or HeldCause.DimensionBarred or HeldCause.ManualBlocked when reason.Account is { } account =>
            new($"Look at account {account}", page.At($"chart?handler=account&number={Uri.EscapeDataString(account)}"), InDrawer: true),
        HeldCause.NoCost when reason.Item is { } item =>
            new($"Give item {item} a cost", page.At($"groups/item?handler=member&code={Uri.EscapeDataString(item)}"), InDrawer: true),
        HeldCause.UnknownCode when reason.Field is { } field && field.Contains("dimensions.", StringComparison.Ordinal) =>
            new("Look at the dimensions", page.At("chart/dimensions")),
        _ => null,
    };

    // The rung that mends most with one rule and stays plain: the item's group, else one fact, else the default.
    static string RuleAddress(CompanyPage page, LandingBook book, HeldReason reason)
    {
        var ladder = book.Stored.Book.LadderOf(reason.Purpose!);
        var present = reason.Facts.ToDictionary(f => f.Fact, f => f.Code);
        var rung = ladder.FirstOrDefault(r => r.Facts is [Fact.ItemGroup] && present.ContainsKey(Fact.ItemGroup))
            ?? ladder.FirstOrDefault(r => r.Facts.Length == 1 && r.Facts[0] is not (Fact.Item or Fact.Party) && present.ContainsKey(r.Facts[0]))
            ?? ladder.FirstOrDefault(r => r.Facts.Length == 0) ?? ladder[^1];
        var values = string.Concat(rung.Facts.Where(present.ContainsKey).Select(f => $"&{f.Name()}={Uri.EscapeDataString(present[f])}"));
        return page.At($"rules/{reason.Purpose!.Name}?handler=rule&rung={Uri.EscapeDataString(rung.Name)}{values}");
    }

    // The tax grid begins at the cell where the two groups meet.
    static string CellOf(HeldReason reason)
    {
        string? Code(Fact fact) => reason.Facts.FirstOrDefault(f => f.Fact == fact).Code;
        return Code(Fact.PartyTaxGroup) is { } party && Code(Fact.ItemTaxGroup) is { } item
            ? $"?row={Uri.EscapeDataString(party)}&column={Uri.EscapeDataString(item)}" : "";
    }
}
