using Assignum.Web.Access;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages;

/// <summary>Ends the sign-in.</summary>
[Authorize(Policy = Policies.SignedIn)]
public sealed class SignOutModel : PageModel
{
    /// <summary>Only a form signs out.</summary>
    [Needs(Need.SignedIn)]
    public IActionResult OnGet() => Redirect("/");

    /// <summary>Signs out.</summary>
    [Needs(Need.SignedIn)]
    public async Task<IActionResult> OnPostAsync()
    {
        await HttpContext.SignOutAsync();
        return Redirect("/sign-in");
    }
}
