using Assignum.Storage.People;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages;

/// <summary>Ends the session, on the server and in the browser.</summary>
[Authorize(Policy = Policies.SignedIn)]
public sealed class SignOutModel(SessionStore sessions) : PageModel
{
    /// <summary>Only a form signs out.</summary>
    [Needs(Need.SignedIn)]
    public IActionResult OnGet() => Redirect("/");

    /// <summary>Signs out.</summary>
    [Needs(Need.SignedIn)]
    public async Task<IActionResult> OnPostAsync()
    {
        if (User.Session() is { } session)
            await sessions.End(session, User.Id(), CancellationToken.None);
        await HttpContext.SignOutAsync();
        // What the browser keeps (a pinned drawer, half-typed forms) goes with its person.
        Response.Headers["Clear-Site-Data"] = "\"storage\"";
        return Redirect("/sign-in");
    }
}
