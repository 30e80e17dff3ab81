using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;

namespace Assignum.Web.Pages.Begin;

/// <summary>A step on the way from an empty company to the first entry.</summary>
/// <param name="Title">What is decided.</param>
/// <param name="Done">Whether it is there.</param>
/// <param name="Says">What is there, or what is still missing.</param>
/// <param name="Path">Where it is done.</param>
/// <param name="Act">What one does there.</param>
public sealed record BeginStep(string Title, bool Done, string Says, string Path, string Act);

/// <summary>What is still missing in a company, in the order of the work.</summary>
static class Missing
{
    // What the first invoice of goods asks for.
    static readonly Purpose[] First = [Purpose.Receivable, Purpose.Revenue, Purpose.OutputTax];

    /// <summary>The steps.</summary>
    internal static IReadOnlyList<BeginStep> Of(CompanyBooks books)
    {
        var (book, state, changes) = (books.Draft.Stored.Book, books.State, books.Changes.Count);
        var released = books.Released.Stored.Book.Rules.Count > 0;
        var posting = book.Accounts.Count(a => a.Kind == AccountKind.Posting);
        var customers = book.Parties.Count(p => p.Role != PartyRole.Supplier);
        var groupless = book.Parties.Count(p => p.Group is null) + book.Items.Count(i => i.Group is null);
        var withoutRule = First.Where(p => !book.Rules.Any(r => r.Purpose == p)).ToList();
        return
        [
            new("Chart", posting > 0, posting > 0 ? Showing.Show.Count(posting, "posting account")
                : "No account yet. Start from a template, a file or another company.", posting > 0 ? "chart" : "chart/start", "Start the chart"),
            new("Groups", book.ItemGroups.Count > 0 && book.PartyGroups.Count > 0,
                Counted(book.ItemGroups.Count, "item group", book.PartyGroups.Count, "party group"), book.ItemGroups.Count == 0 ? "groups/item"
                : "groups/party", "Add groups"),
            new("Items and customers", book.Items.Count > 0 && customers > 0 && groupless == 0,
                Counted(book.Items.Count, "item", customers, "customer") + (groupless > 0 ? $"; {groupless} in no group" : ""), book.Items.Count == 0
                    ? "groups/item" : "groups/party", "Add them"),
            new("Tax", book.TaxCodes.Count > 0 && book.TaxRules.Count > 0, TaxOf(book),
                book.TaxCodes.Count == 0 ? "tax/codes" : "tax", "Set tax"),
            new("Rules", withoutRule.Count == 0, withoutRule.Count == 0 ? $"{Showing.Show.Count(book.Rules.Count, "rule")}"
                : $"No rule yet for {string.Join(", ", withoutRule.Select(p => p.InWords))}. A company default for each is enough to begin.",
                $"rules/{(withoutRule.Count > 0 ? withoutRule[0] : Purpose.Revenue).Name}", "Add rules"),
            new("Release", released, released ? $"Edition {state.Edition} is in force"
                : $"No rule is released yet; draft {state.Draft} has {Showing.Show.Count(changes, "change")}.", "editions", "Look at the draft"),
        ];
    }

    static string Counted(int first, string one, int second, string other) =>
        (first, second) switch
        {
            (0, 0) => $"No {one} and no {other} yet.",
            (0, _) => $"{Showing.Show.Count(second, other)}; no {one} yet.",
            (_, 0) => $"{Showing.Show.Count(first, one)}; no {other} yet.",
            _ => $"{Showing.Show.Count(first, one)}, {Showing.Show.Count(second, other)}",
        };

    static string TaxOf(Rulebook book)
    {
        if (book.TaxCodes.Count == 0)
            return "No tax code yet.";
        return book.TaxRules.Count == 0 ? "No tax code is set where groups meet."
            : $"{Showing.Show.Count(book.TaxCodes.Count, "tax code")}, set in {Showing.Show.Count(book.TaxRules.Count, "place")}";
    }
}
