using Assignum.Core;
using Assignum.Storage.People;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Assignum.Web.Pages;

/// <summary>Name and password, and where somebody has one a second factor. What is answered is the same for names that exist and for those that
/// don't.</summary>
[AllowAnonymous, EnableRateLimiting(Limits.SignIn)]
public sealed class SignInModel(PersonStore people, SessionStore sessions, IPasswordHasher<Person> hasher, IDataProtectionProvider protection,
    IConfiguration configuration, TimeProvider clock) : PageModel
{
    const string Wrong = "Name and password don't go together. Check both, and mind the case of the password.";
    static readonly TimeSpan HalfWay = TimeSpan.FromMinutes(5);

    // Hashing something takes as long for a name that does not exist.
    static readonly Person Nobody = new(0, "", "", new PasswordHasher<Person>().HashPassword(null!, Guid.NewGuid().ToString()), Guid.Empty, false, null);

    readonly ITimeLimitedDataProtector halfWay = protection.CreateProtector("sign-in").ToTimeLimitedDataProtector();

    /// <summary>The name as typed.</summary>
    [BindProperty(SupportsGet = false)]
    public string Name { get; set; } = "";
    /// <summary>The address to go on to.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Back { get; set; }
    /// <summary>Asked for within a page whose session has ended, which goes on by itself.</summary>
    [BindProperty(SupportsGet = true)]
    public bool Part { get; set; }
    /// <summary>Why it did not work.</summary>
    public string? Fault { get; private set; }
    /// <summary>Proof that the password was right, while the second factor is asked for; null: it is not.</summary>
    public string? Half { get; private set; }
    /// <summary>Name of the outside identity provider; null: none is configured.</summary>
    public string? Outside => OutsideSignIn.NameOf(configuration);

    /// <summary>Shows the form.</summary>
    [Needs(Need.Nothing)]
    public IActionResult OnGet(string? fault)
    {
        Fault = fault == "outside" ? "The other sign-in knows you, and nobody here has that name. Ask an administrator." : null;
        return Shown();
    }

    /// <summary>Goes to the outside identity provider.</summary>
    [Needs(Need.Nothing)]
    public IActionResult OnPostOutside() =>
        Outside is null ? NotFound() : Challenge(new AuthenticationProperties { RedirectUri = Url.IsLocalUrl(Back) ? Back : "/" }, OutsideSignIn.Scheme);

    /// <summary>Checks the two and signs in, or asks for the second factor.</summary>
    [Needs(Need.Nothing)]
    public async Task<IActionResult> OnPostAsync(string? password, CancellationToken stop)
    {
        var address = SignedIn.AddressOf(HttpContext);
        var person = await people.Find(Name ?? "", stop);
        var fits = hasher.VerifyHashedPassword(person ?? Nobody, (person ?? Nobody).PasswordHash, password is { Length: <= Passwords.Longest } ? password
            : "") != PasswordVerificationResult.Failed;
        if (await sessions.LockedUntil(Name ?? "", address, stop) is { } until)
        {
            SecurityEvents.Failed(HttpContext, person?.Id, "it has to wait");
            return Refuse(Waits(until));
        }
        if (person is null || !fits || person.Disabled)
            return await Fail(person, Name ?? "", Wrong, stop);
        if (person.SecondFactor is not null)
        {
            Half = halfWay.Protect($"{person.Id}/{person.Stamp}", HalfWay);
            return Shown();
        }
        await sessions.Forget(Name!, address, stop);
        await SignedIn.Begin(HttpContext, person, secondFactor: false, stop);
        return GoOn();
    }

    /// <summary>Checks the second factor and signs in.</summary>
    [Needs(Need.Nothing)]
    public async Task<IActionResult> OnPostCodeAsync(string? half, string? code, [FromServices] SecondFactor factors, CancellationToken stop)
    {
        if (await HalfWayIn(half, stop) is not { SecondFactor: { } secret } person)
            return Refuse("This sign-in took too long. Begin it again.");
        Name = person.Name;
        if (await sessions.LockedUntil(person.Name, SignedIn.AddressOf(HttpContext), stop) is { } until)
            return Refuse(Waits(until));
        if (factors.StepOf(secret, code) is not { } step || !await people.UseStep(person.Id, step, stop))
        {
            Half = half;
            return await Fail(person, person.Name, "The code does not fit. Type the one your phone shows now; each works once.", stop);
        }
        await sessions.Forget(person.Name, SignedIn.AddressOf(HttpContext), stop);
        await SignedIn.Begin(HttpContext, person, secondFactor: true, stop);
        return GoOn();
    }

    async Task<Person?> HalfWayIn(string? half, CancellationToken stop)
    {
        try
        {
            return halfWay.Unprotect(half ?? "").Split('/') is [var id, var stamp]
                && await people.Find(int.Parse(id, System.Globalization.CultureInfo.InvariantCulture), stop) is { Disabled: false } person
                && person.Stamp.ToString() == stamp ? person : null;
        }
        catch (System.Security.Cryptography.CryptographicException)
        {
            return null;
        }
    }

    IActionResult GoOn() => Part ? new NoContentResult() : LocalRedirect(Url.IsLocalUrl(Back) ? Back : "/");

    ActionResult Shown() => Part ? Partial("_SignInPart", this) : Page();

    async Task<ActionResult> Fail(Person? person, string name, string fault, CancellationToken stop)
    {
        SecurityEvents.Failed(HttpContext, person?.Id, person is null ? "unknown name" : "wrong password or code");
        if (await sessions.NoteFailure(name, SignedIn.AddressOf(HttpContext), stop))
            SecurityEvents.LockedOut(HttpContext, person?.Id);
        return Refuse(fault);
    }

    string Waits(DateTime until) =>
        $"After {SessionStore.MostFailures} failures this name has to wait here for " +
            $"{Math.Max(1, (int)Math.Ceiling((until - clock.GetUtcNow().UtcDateTime).TotalMinutes))} min. Wait, or ask an administrator.";

    ActionResult Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Shown();
    }
}
