using Assignum.Web.Access;
using Microsoft.AspNetCore.Antiforgery;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages;

/// <summary>Tells an open page whether its session still runs, whose it is, and the token its forms need.</summary>
[Authorize(Policy = Policies.SignedIn), ResponseCache(NoStore = true)]
public sealed class HereModel(IAntiforgery forgery) : PageModel
{
    /// <summary>Says so.</summary>
    [Needs(Need.SignedIn)]
    public IActionResult OnGet() => new JsonResult(new { person = User.Id(), token = forgery.GetAndStoreTokens(HttpContext).RequestToken });
}
