using Assignum.Storage.People;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Assignum.Web.Pages;

/// <summary>A link an administrator made: whoever has it gives themselves a new password, once.</summary>
[AllowAnonymous, EnableRateLimiting(Limits.SignIn)]
public sealed class ResetModel(PersonStore people, IPasswordHasher<Person> hasher) : PageModel
{
    /// <summary>Name of the one the link is for; null: the link leads nowhere.</summary>
    public string? For { get; private set; }
    /// <summary>What was refused.</summary>
    public string? Fault { get; private set; }

    /// <summary>Shows the form.</summary>
    [Needs(Need.Nothing)]
    public async Task OnGetAsync(string? token, CancellationToken stop) => For = (await people.OfLink(LinkToken.HashOf(token), stop))?.ShownAs;

    /// <summary>Sets the password.</summary>
    [Needs(Need.Nothing)]
    public async Task<IActionResult> OnPostAsync(string? token, string? then, string? again)
    {
        var person = await people.OfLink(LinkToken.HashOf(token), CancellationToken.None);
        For = person?.ShownAs;
        if (person is not null && (Passwords.Fault(then, person.Name)
            ?? (then != again ? "The two don't agree. Type the new password twice." : null)) is { } fault)
        {
            Fault = fault;
            Response.StatusCode = StatusCodes.Status400BadRequest;
            return Page();
        }
        if (person is null || !await people.UseLink(LinkToken.HashOf(token), hasher.HashPassword(person, then!), CancellationToken.None))
        {
            For = null;
            Response.StatusCode = StatusCodes.Status404NotFound;
            return Page();
        }
        SecurityEvents.Changed(HttpContext, "password set by a link", person.Id);
        return Redirect("/sign-in");
    }
}
