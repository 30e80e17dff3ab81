using Assignum.Core;
using Assignum.Core.Charts;
using Microsoft.AspNetCore.Html;

namespace Assignum.Web.Showing;

/// <summary>The sign of a class: where the small bar stands on its line says where the account stands in the statements; the letters say it in short.</summary>
static class AccountSign
{
    static readonly IHtmlContent[] Signs = [.. Enum.GetValues<AccountClass>().Select(Draw)];

    /// <summary>The sign of a class.</summary>
    internal static IHtmlContent Of(AccountClass accountClass) => Signs[(int)accountClass];

    static HtmlString Draw(AccountClass accountClass)
    {
        var (at, letters) = accountClass switch
        {
            AccountClass.Asset => (0, "A"), AccountClass.Liability => (3, "L"), AccountClass.Equity => (6, "Q"), AccountClass.Income => (10, "I"),
            AccountClass.CostOfSales => (13, "C"), AccountClass.Expense => (16, "X"), AccountClass.OtherIncome => (18, "OI"), _ => (20, "OX"),
        };
        var title = Show.Title(accountClass);
        return new($"""<span class="sign" title="{title}"><svg width="24" height="10" aria-hidden="true"><path d="M0 7.5H24" stroke="var(--soft)" />"""
            + $"""<rect x="{at}" y="2" width="4.5" height="6" fill="var(--act)" /></svg>{letters}<span class="visually-hidden">{title}</span></span>""");
    }
}
