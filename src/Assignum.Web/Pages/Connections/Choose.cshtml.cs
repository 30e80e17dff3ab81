using Assignum.Core;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Connections;

/// <summary>Ours offered while somebody matches by hand, best first.</summary>
public sealed class ChooseOursModel : CompanyPage
{
    const int Most = 20;

    /// <inheritdoc/>
    public override string Step => "";

    /// <summary>Offers them.</summary>
    /// <param name="list">The list of the connection.</param>
    /// <param name="q">What was typed.</param>
    [Needs(Need.Reads)]
    public IActionResult OnGet(string list, string? q) => Web.Connections.Lists.Titles.ContainsKey(list)
        ? new JsonResult(new Sought(Pick.CodeOf(q)).BestFirst(Web.Connections.Lists.Ours(Draft.Book, list), o => o.Code, o => o.Name).Take(Most)
            .Select(o => new Choice(o.Code, o.Name))) : NotFound();
}
