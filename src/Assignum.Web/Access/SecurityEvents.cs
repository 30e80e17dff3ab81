using Serilog;

namespace Assignum.Web.Access;

/// <summary>What whoever watches over the installation wants to see: refusals, failed sign-ins, lock-outs, grants. Each is a line of the log with its kind.</summary>
static class SecurityEvents
{
    static readonly Serilog.ILogger Log = Serilog.Log.ForContext("SecurityEvent", true);

    /// <summary>Somebody asked for what their role does not allow.</summary>
    internal static void Refused(HttpContext http, string act) =>
        Log.Warning("Security: refused {Act} at {Path} to person {Person}", act, http.Request.Path.Value, http.User.Identity?.IsAuthenticated == true ? http.User.Id() : null);
}
