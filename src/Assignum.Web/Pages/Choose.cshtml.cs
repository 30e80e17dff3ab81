using Assignum.Web.Access;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages;

/// <summary>Choices offered while somebody types a number, a code or a part of a name.</summary>
public sealed class ChooseModel(Storage.Posting.RulebookCache books) : CompanyPage
{
    const int Most = 20;

    /// <inheritdoc/>
    public override string Step => "";
    /// <summary>The choices.</summary>
    public IReadOnlyList<(string Code, string Name)> Choices { get; private set; } = [];

    /// <summary>Offers them; the text typed is the value of the field that asks, whatever its name.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(string list)
    {
        var typed = Request.Query.Select(q => q.Value.ToString()).FirstOrDefault(v => v.Length > 0) ?? "";
        var book = Draft.Book;
        IEnumerable<(string Code, string Name)>? all = list switch
        {
            "account" => book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a => (a.Number, a.Name)),
            "parent" => book.Accounts.Select(a => (a.Number, a.Name)),
            "group-account" when Company.Group is { } group => (await books.Of(group, Stop)).Draft.Stored.Book.Accounts.Select(a => (a.Number, a.Name)),
            "customer" => book.Parties.Where(p => p.Role != PartyRole.Supplier).Select(p => (p.Code, p.Name)),
            "party" => book.Parties.Select(p => (p.Code, p.Name)),
            "item" => book.Items.Select(i => (i.Code, i.Name)),
            "sold" => book.Items.Select(i => (i.Code, i.Name)).Concat(book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a => (a.Number, a.Name))),
            "itemGroup" => book.ItemGroups.Select(g => (g.Code, g.Name)),
            "partyGroup" => book.PartyGroups.Select(g => (g.Code, g.Name)),
            "projectGroup" => book.ProjectGroups.Select(g => (g.Code, g.Name)),
            "assetGroup" => book.AssetGroups.Select(g => (g.Code, g.Name)),
            "location" => book.Locations.Select(l => (l.Code, l.Name)),
            "project" => book.Projects.Select(p => (p.Code, p.Name)),
            "task" => book.Projects.SelectMany(p => p.Tasks.Select(t => (p.Code + "/" + t.Code, t.Name))),
            "taxCode" => book.TaxCodes.Select(t => (t.Code, t.Name)),
            "itemKind" => Words<ItemKind>.All.Select(k => (k, "")),
            _ => null,
        };
        if (all is null)
            return NotFound();
        Choices = [.. new Sought(Pick.CodeOf(typed)).BestFirst(all, c => c.Code, c => c.Name).Take(Most)];
        return Page();
    }
}
