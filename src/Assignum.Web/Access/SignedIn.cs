using System.Globalization;
using System.Security.Claims;
using Assignum.Core;
using Assignum.Storage.People;
using Microsoft.AspNetCore.Authentication;
using Microsoft.AspNetCore.Authentication.Cookies;

namespace Assignum.Web.Access;

/// <summary>Who is signed in, as claims.</summary>
static class SignedIn
{
    const string Stamp = "stamp", RoleClaim = "role", SessionClaim = "session", NumbersClaim = "numbers", DatesClaim = "dates", PaperClaim = "paper",
        TypedClaim = "typed";

    static ClaimsPrincipal Principal(Person person, Guid session) =>
        new(new ClaimsIdentity(
        [
            new Claim(ClaimTypes.NameIdentifier, person.Id.ToString(CultureInfo.InvariantCulture)), new Claim(ClaimTypes.Name, person.ShownAs),
            new Claim(Stamp, person.Stamp.ToString()), new Claim(SessionClaim, session.ToString()), new Claim(TypedClaim, person.Name),
        ], CookieAuthenticationDefaults.AuthenticationScheme));

    internal static int Id(this ClaimsPrincipal user) => int.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!, CultureInfo.InvariantCulture);

    /// <summary>The name somebody types to sign in; null for a cookie of an older make.</summary>
    internal static string? TypedName(this ClaimsPrincipal user) => user.FindFirstValue(TypedClaim);

    /// <summary>The session of a cookie; null for one of an older make.</summary>
    internal static Guid? Session(this ClaimsPrincipal user) => Guid.TryParse(user.FindFirstValue(SessionClaim), out var session) ? session : null;

    /// <summary>How somebody reads and types; without a session as files have it, on light paper.</summary>
    internal static Likes Likes(this ClaimsPrincipal user) =>
        new(user.FindFirstValue(NumbersClaim) ?? "point", user.FindFirstValue(DatesClaim) ?? "iso", user.FindFirstValue(PaperClaim) ?? "light");

    internal static bool Has(this ClaimsPrincipal user, string company, Role role) => user.HasClaim(RoleClaim, Claim(company, role));

    /// <summary>Whether somebody may read a company's books at all.</summary>
    internal static bool Reads(this ClaimsPrincipal user, string company) => user.Has(company, Role.Viewer) || user.Prepares(company);

    /// <summary>Whether somebody may change the draft and post.</summary>
    internal static bool Prepares(this ClaimsPrincipal user, string company) => user.Has(company, Role.Preparer) || user.Approves(company);

    /// <summary>Whether somebody may release.</summary>
    internal static bool Approves(this ClaimsPrincipal user, string company) => user.Has(company, Role.Approver);

    /// <summary>Roles somebody has in a company, as a word.</summary>
    internal static string RoleIn(this ClaimsPrincipal user, string company) =>
        string.Join(", ", Enum.GetValues<Role>().Where(role => user.Has(company, role)).Select(Words<Role>.Of));

    /// <summary>Companies in which somebody has any role.</summary>
    internal static IEnumerable<string> Companies(this ClaimsPrincipal user) =>
        user.FindAll(RoleClaim).Select(c => c.Value[(c.Value.IndexOf(':', StringComparison.Ordinal) + 1)..]).Distinct();

    /// <summary>Begins a session on the server and hands out its cookie.</summary>
    internal static async Task Begin(HttpContext http, Person person, bool secondFactor, CancellationToken stop)
    {
        var sessions = http.RequestServices.GetRequiredService<SessionStore>();
        // Whoever was signed in here is so no longer.
        if (http.User.Identity?.IsAuthenticated == true && http.User.Session() is { } before)
            await sessions.End(before, http.User.Id(), stop);
        var session = await sessions.Begin(person.Id, AddressOf(http), http.Request.Headers.UserAgent.ToString(), secondFactor, stop);
        SecurityEvents.SignedIn(http, person.Id, secondFactor);
        await http.SignInAsync(Principal(person, session));
    }

    /// <summary>The address a request came from, as the proxies in front of us tell it.</summary>
    internal static string AddressOf(HttpContext http) => http.Connection.RemoteIpAddress?.ToString() ?? "unknown";

    /// <summary>Reads session, stamp and roles again, so that what has ended ends at once.</summary>
    internal static async Task Refresh(CookieValidatePrincipalContext context)
    {
        var services = context.HttpContext.RequestServices;
        var user = context.Principal!;
        var stop = context.HttpContext.RequestAborted;
        if (user.Session() is not { } session || await services.GetRequiredService<SessionStore>().Holder(session, user.Id(), stop) is not { } holder
            || holder.Stamp.ToString() != user.FindFirstValue(Stamp))
        {
            context.RejectPrincipal();
            await context.HttpContext.SignOutAsync();
            return;
        }
        var identity = (ClaimsIdentity)user.Identity!;
        foreach (var old in identity.FindAll(c => c.Type is RoleClaim or NumbersClaim or DatesClaim or PaperClaim).ToList())
            identity.RemoveClaim(old);
        identity.AddClaims([new(NumbersClaim, holder.Likes.Numbers), new(DatesClaim, holder.Likes.Dates), new(PaperClaim, holder.Likes.Paper)]);
        identity.AddClaims((await services.GetRequiredService<PersonStore>().RolesOf(user.Id(), holder.SecondFactor, stop)).Select(r =>
            new Claim(RoleClaim, Claim(r.Company, r.Role))));
    }

    static string Claim(string company, Role role) => $"{Words<Role>.Of(role)}:{Fold.Of(company)}";
}
