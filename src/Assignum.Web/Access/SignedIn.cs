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
    const string Stamp = "stamp", RoleClaim = "role";

    internal static ClaimsPrincipal Principal(Person person, IEnumerable<(string Company, Role Role)> roles) =>
        new(new ClaimsIdentity(
        [
            new Claim(ClaimTypes.NameIdentifier, person.Id.ToString(CultureInfo.InvariantCulture)), new Claim(ClaimTypes.Name, person.ShownAs), new Claim(Stamp, person.Stamp.ToString()),
            .. RoleClaims(roles),
        ], CookieAuthenticationDefaults.AuthenticationScheme));

    internal static int Id(this ClaimsPrincipal user) => int.Parse(user.FindFirstValue(ClaimTypes.NameIdentifier)!, CultureInfo.InvariantCulture);

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
    internal static IEnumerable<string> Companies(this ClaimsPrincipal user) => user.FindAll(RoleClaim).Select(c => c.Value[(c.Value.IndexOf(':', StringComparison.Ordinal) + 1)..]).Distinct();

    /// <summary>Reads stamp and roles anew, so that an ended grant ends at once.</summary>
    internal static async Task Refresh(CookieValidatePrincipalContext context)
    {
        var people = context.HttpContext.RequestServices.GetRequiredService<PersonStore>();
        var user = context.Principal!;
        var stop = context.HttpContext.RequestAborted;
        if (await people.StampOf(user.Id(), stop) is not { } stamp || stamp.ToString() != user.FindFirstValue(Stamp))
        {
            context.RejectPrincipal();
            await context.HttpContext.SignOutAsync();
            return;
        }
        var identity = (ClaimsIdentity)user.Identity!;
        foreach (var old in identity.FindAll(RoleClaim).ToList())
            identity.RemoveClaim(old);
        identity.AddClaims(RoleClaims(await people.RolesOf(user.Id(), stop)));
    }

    static IEnumerable<Claim> RoleClaims(IEnumerable<(string Company, Role Role)> roles) => roles.Select(r => new Claim(RoleClaim, Claim(r.Company, r.Role)));

    static string Claim(string company, Role role) => $"{Words<Role>.Of(role)}:{Fold.Of(company)}";
}
