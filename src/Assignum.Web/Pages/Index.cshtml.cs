using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages;

/// <summary>Goes on to the first company somebody has a role in.</summary>
[Authorize(Policy = Policies.SignedIn)]
public sealed class IndexModel : PageModel
{
    /// <summary>To the desk, or for administrators to the people.</summary>
    [Needs(Need.SignedIn)]
    public IActionResult OnGet() =>
        User.Companies().FirstOrDefault() is not { } company ? Page()
        : Redirect($"/{company.ToLowerInvariant()}/{(User.Reads(company) ? "desk" : "people")}");
}
