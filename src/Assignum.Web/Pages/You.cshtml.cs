using Assignum.Core;
using Assignum.Storage.People;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.RateLimiting;

namespace Assignum.Web.Pages;

/// <summary>What somebody signs in with: password, second factor, and the sessions that run.</summary>
[Authorize(Policy = Policies.SignedIn), EnableRateLimiting(Limits.SignIn)]
public sealed class YouModel(PersonStore people, SessionStore sessions, SecondFactor factors, IPasswordHasher<Person> hasher,
    IDataProtectionProvider protection) : PageModel
{
    static readonly TimeSpan Offered = TimeSpan.FromMinutes(20);
    readonly ITimeLimitedDataProtector offers = protection.CreateProtector("second-factor-offer").ToTimeLimitedDataProtector();

    /// <summary>The one who is signed in.</summary>
    public Person Person { get; private set; } = null!;
    /// <summary>Sessions that run.</summary>
    public IReadOnlyList<SessionRow> Sessions { get; private set; } = [];
    /// <summary>The session of this browser.</summary>
    public Guid? Here => User.Session();
    /// <summary>Companies that want a second factor of somebody who approves.</summary>
    public IReadOnlyList<string> Wanting { get; private set; } = [];
    /// <summary>A second factor that is offered: its secret, how it is drawn, and the proof that it was offered here.</summary>
    public (string Secret, string Drawing, string Proof)? Offer { get; private set; }
    /// <summary>How they read and type.</summary>
    public Likes Likes => User.Likes();
    /// <summary>What was refused, by field.</summary>
    public (string Field, string Message)? Fault { get; private set; }
    /// <summary>What was done last.</summary>
    public string? Done => TempData[nameof(Done)] as string;

    /// <summary>Shows it.</summary>
    [Needs(Need.SignedIn)]
    public Task OnGetAsync() => Lay();

    /// <summary>Changes the password; every other session ends.</summary>
    [Needs(Need.SignedIn)]
    public async Task<IActionResult> OnPostPasswordAsync(string? now, string? then, string? again)
    {
        await Lay();
        if (!Knows(now))
            return Refuse("now", "This is not your password. Type the one you signed in with.");
        if (Passwords.Fault(then, Person.Name) is { } fault)
            return Refuse("then", fault);
        if (then != again)
            return Refuse("again", "The two don't agree. Type the new password twice.");
        await people.SetPassword(Person.Id, hasher.HashPassword(Person, then!), null, CancellationToken.None);
        SecurityEvents.Changed(HttpContext, "password changed", Person.Id);
        return await GoOn("Your password is changed, and every other session of yours has ended.");
    }

    /// <summary>Keeps how they read and type; what is not among the choices stays as it was.</summary>
    [Needs(Need.SignedIn)]
    public async Task<IActionResult> OnPostLikesAsync(string? numbers, string? dates, string? paper)
    {
        var likes = Likes;
        if (Written.NumberChoices.Any(c => c.Word == numbers))
            likes = likes with { Numbers = numbers! };
        if (Written.DateChoices.Any(c => c.Word == dates))
            likes = likes with { Dates = dates! };
        if (Likes.Papers.Contains(paper))
            likes = likes with { Paper = paper! };
        await people.Like(User.Id(), likes, CancellationToken.None);
        var (number, day) = Written.Of(likes.Numbers, likes.Dates).Example;
        TempData[nameof(Done)] = $"From now on you read and type {number} and {day}, on {likes.Paper} paper.";
        return Redirect("/you");
    }

    /// <summary>Offers a second factor.</summary>
    [Needs(Need.SignedIn)]
    public async Task<IActionResult> OnPostOfferAsync()
    {
        await Lay();
        Show(SecondFactor.NewSecret());
        return Page();
    }

    /// <summary>Takes the offered second factor, once a code proves that a phone has it.</summary>
    [Needs(Need.SignedIn)]
    public async Task<IActionResult> OnPostTakeAsync(string? proof, string? code, string? now)
    {
        await Lay();
        if (SecretIn(proof) is not { } secret)
            return Refuse("offer", "The offer has run out. Begin again.");
        Show(secret);
        if (!Knows(now))
            return Refuse("code", "This is not your password. Type the one you signed in with.");
        if (SecondFactor.StepOfSecret(secret, code) is not { } step)
            return Refuse("code", "The code does not fit. Type the one your phone shows now.");
        await people.SetSecondFactor(Person.Id, factors.Protect(secret), null, CancellationToken.None);
        await people.UseStep(Person.Id, step, CancellationToken.None);
        SecurityEvents.Changed(HttpContext, "second factor set up", Person.Id);
        return await GoOn("From now on a code is asked for when you sign in. Every other session of yours has ended.", secondFactor: true);
    }

    /// <summary>Gives the second factor up.</summary>
    [Needs(Need.SignedIn)]
    public async Task<IActionResult> OnPostGiveUpAsync(string? now)
    {
        await Lay();
        if (!Knows(now))
            return Refuse("give-up", "This is not your password. Type the one you signed in with.");
        await people.SetSecondFactor(Person.Id, null, null, CancellationToken.None);
        SecurityEvents.Changed(HttpContext, "second factor given up", Person.Id);
        return await GoOn("You sign in with name and password only. Every other session of yours has ended.");
    }

    /// <summary>Ends a session.</summary>
    [Needs(Need.SignedIn)]
    public async Task<IActionResult> OnPostEndAsync(Guid session)
    {
        await sessions.End(session, User.Id(), CancellationToken.None);
        TempData[nameof(Done)] = "The session has ended.";
        return Redirect("/you");
    }

    bool Knows(string? password) =>
        hasher.VerifyHashedPassword(Person, Person.PasswordHash, password is { Length: <= Passwords.Longest } ? password
        : "") != PasswordVerificationResult.Failed;

    // Stamp and sessions have changed: this browser goes on with a session of its own.
    async Task<IActionResult> GoOn(string said, bool? secondFactor = null)
    {
        var was = Sessions.FirstOrDefault(s => s.Id == Here)?.SecondFactor == true;
        await SignedIn.Begin(HttpContext, (await people.Find(Person.Id, CancellationToken.None))!, secondFactor ?? (was && Person.SecondFactor is not null),
            CancellationToken.None);
        TempData[nameof(Done)] = said;
        return Redirect("/you");
    }

    void Show(string secret) => Offer = (secret, SecondFactor.Offer(Person.Name, secret).Drawing, offers.Protect($"{Person.Id}/{secret}", Offered));

    string? SecretIn(string? proof)
    {
        try
        {
            return offers.Unprotect(proof ?? "").Split('/') is [var id, var secret]
                && id == Person.Id.ToString(System.Globalization.CultureInfo.InvariantCulture) ? secret : null;
        }
        catch (System.Security.Cryptography.CryptographicException)
        {
            return null;
        }
    }

    async Task Lay()
    {
        var id = User.Id();
        Person = (await people.Find(id, HttpContext.RequestAborted))!;
        Sessions = await sessions.Running(id, HttpContext.RequestAborted);
        Wanting = await people.WantingSecondFactor(id, HttpContext.RequestAborted);
    }

    PageResult Refuse(string field, string message)
    {
        Fault = (field, message);
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
