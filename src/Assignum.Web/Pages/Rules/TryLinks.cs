using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Web.Trails;

namespace Assignum.Web.Pages.Rules;

/// <summary>Ways to try something out, from wherever it is looked at.</summary>
static class TryLinks
{
    static readonly HashSet<Purpose> OfInvoices = [Purpose.Receivable, Purpose.Revenue, Purpose.SalesDiscount, Purpose.ChargeIncome, Purpose.OutputTax,
        Purpose.Inventory, Purpose.CostOfSales, Purpose.Rounding];

    /// <summary>A try-out with members that have these facts; for what no invoice asks for, the question where it lands.</summary>
    internal static TrailLinkTo For(CompanyPage page, Purpose purpose, IReadOnlyList<FactValue> when) => OfInvoices.Contains(purpose)
        ? new("Try an invoice with it", page.At("try-out") + Query(page.Books.Draft.Stored.Book, purpose, when))
        : new("Ask where it lands", page.At("where") + "?q=" + Uri.EscapeDataString(string.Join(' ', when.Select(w => w.Code))));

    /// <summary>Every way to try it: an invoice where one asks for the purpose, and the question where it lands.</summary>
    internal static IReadOnlyList<TrailLinkTo> All(CompanyPage page, Purpose purpose, IReadOnlyList<FactValue> when) => OfInvoices.Contains(purpose)
        ? [For(page, purpose, when), new("Where else it lands", page.At("where") + "?q=" + Uri.EscapeDataString(string.Join(' ', when.Select(w => w.Code))))]
            : [For(page, purpose, when)];

    /// <summary>The query of a try-out: a member of each group, the first that can meet the purpose.</summary>
    internal static string Query(Rulebook book, Purpose purpose, IReadOnlyList<FactValue> when)
    {
        string? Of(Fact fact) => when.FirstOrDefault(w => w.Fact == fact).Code;
        var item = Of(Fact.Item) ?? (book.Items.FirstOrDefault(i => Of(Fact.ItemGroup) is { } group ? Fold.Same(i.Group, group) && i.Kind.CanMeet(purpose)
            : i.Kind.CanMeet(purpose)) ?? book.Items.FirstOrDefault(i => Fold.Same(i.Group, Of(Fact.ItemGroup))))?.Code;
        var party = Of(Fact.Party) ?? book.Parties.FirstOrDefault(p => p.Role != PartyRole.Supplier
            && (Of(Fact.PartyGroup) is not { } group || Fold.Same(p.Group, group)))?.Code;
        var query = new[] { ("party", party), ("item", item), ("location", Of(Fact.Location)) }.Where(q => q.Item2 is not null).Select(q =>
            $"{q.Item1}={Uri.EscapeDataString(q.Item2!)}");
        return "?" + string.Join('&', query);
    }
}
