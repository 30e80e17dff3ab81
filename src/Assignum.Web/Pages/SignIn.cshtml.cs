using Assignum.Storage.People;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages;

/// <summary>Name and password; several failures in a row lock the name for a while.</summary>
[AllowAnonymous]
public sealed class SignInModel(PersonStore people, IPasswordHasher<Person> hasher) : PageModel
{
    const string Wrong = "Name and password don't go together. Check both, and mind the case of the password.";

    // Hashing something takes as long for a name that does not exist.
    static readonly Person Nobody = new(0, "", "", new PasswordHasher<Person>().HashPassword(null!, Guid.NewGuid().ToString()), Guid.Empty, null);

    /// <summary>The name as typed.</summary>
    [BindProperty(SupportsGet = false)]
    public string Name { get; set; } = "";
    /// <summary>The address to go on to.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Back { get; set; }
    /// <summary>Why it did not work.</summary>
    public string? Fault { get; private set; }

    /// <summary>Shows the form.</summary>
    [Needs(Need.Nothing)]
    public void OnGet()
    {
    }

    /// <summary>Checks the two and signs in.</summary>
    [Needs(Need.Nothing)]
    public async Task<IActionResult> OnPostAsync(string? password, CancellationToken stop)
    {
        var person = await people.Find(Name ?? "", stop);
        var fits = hasher.VerifyHashedPassword(person ?? Nobody, (person ?? Nobody).PasswordHash, password ?? "") != PasswordVerificationResult.Failed;
        if (person?.LockedUntil > DateTime.UtcNow)
            return Refuse($"After {PersonStore.MostFailures} failures this name is locked for a few minutes. Wait, or ask an administrator.");
        if (person is null || !fits)
        {
            if (person is not null)
                await people.NoteFailure(person.Id, stop);
            return Refuse(Wrong);
        }
        await people.ForgetFailures(person.Id, stop);
        await HttpContext.SignInAsync(SignedIn.Principal(person, await people.RolesOf(person.Id, stop)));
        return LocalRedirect(Url.IsLocalUrl(Back) ? Back : "/");
    }

    PageResult Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
