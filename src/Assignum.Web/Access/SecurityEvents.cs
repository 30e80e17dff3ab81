namespace Assignum.Web.Access;

/// <summary>What whoever watches over the installation wants to see: refusals, sign-ins that failed, lock-outs, grants. Each is a line of the log with its
/// kind.</summary>
static class SecurityEvents
{
    static Serilog.ILogger Of(HttpContext http, string kind) =>
        http.RequestServices.GetRequiredService<Serilog.ILogger>().ForContext("SecurityEvent", kind).ForContext("Address",
            Access.SignedIn.AddressOf(http)).ForContext("Path", http.Request.Path.Value);

    static int? Person(HttpContext http) => http.User.Identity?.IsAuthenticated == true ? http.User.Id() : null;

    /// <summary>Somebody asked for what their role does not allow.</summary>
    internal static void Refused(HttpContext http, string act) =>
        Of(http, "refused").Warning("Security: {Act} at {Path} refused to person {Person} at {Address}", act, http.Request.Path.Value, Person(http),
        Access.SignedIn.AddressOf(http));

    /// <summary>Somebody signed in.</summary>
    internal static void SignedIn(HttpContext http, int person, bool secondFactor) =>
        Of(http, "signed-in").Information("Security: person {Person} signed in from {Address}{Second}", person, Access.SignedIn.AddressOf(http), secondFactor
            ? " with a second factor" : "");

    /// <summary>A sign-in failed. The name is not logged: people type passwords into the wrong field.</summary>
    internal static void Failed(HttpContext http, int? person, string why) =>
        Of(http, "sign-in-failed").Warning("Security: sign-in failed, {Why}, for person {Person} from {Address}", why, person, Access.SignedIn.AddressOf(http));

    /// <summary>A name has to wait at an address.</summary>
    internal static void LockedOut(HttpContext http, int? person) =>
        Of(http, "locked-out").Warning("Security: locked out, person {Person} at {Address}", person, Access.SignedIn.AddressOf(http));

    /// <summary>Roles, people or what they sign in with were changed.</summary>
    internal static void Changed(HttpContext http, string what, int person) =>
        Of(http, "people").Information("Security: {What}, person {Subject}, by person {Person}", what, person, Person(http));

    /// <summary>Too many requests came from an address.</summary>
    internal static void Slowed(HttpContext http) =>
        Of(http, "slowed").Warning("Security: too many requests to {Path} from {Address}", http.Request.Path.Value, Access.SignedIn.AddressOf(http));
}
