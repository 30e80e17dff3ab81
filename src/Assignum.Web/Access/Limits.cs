using System.Threading.RateLimiting;
using Microsoft.AspNetCore.RateLimiting;

namespace Assignum.Web.Access;

/// <summary>How often somebody may ask: for signing in by address, for what costs much by person.</summary>
static class Limits
{
    internal const string SignIn = "sign-in", Find = "find", Upload = "upload", Api = "api", Token = "token", Hook = "hook";

    internal static void AddLimits(this IServiceCollection services, IConfiguration configuration) => services.AddRateLimiter(limiter =>
    {
        limiter.RejectionStatusCode = StatusCodes.Status429TooManyRequests;
        limiter.OnRejected = async (context, _) =>
        {
            SecurityEvents.Slowed(context.HttpContext);
            if (context.Lease.TryGetMetadata(MetadataName.RetryAfter, out var after))
                context.HttpContext.Response.Headers.RetryAfter =
                    ((int)Math.Ceiling(after.TotalSeconds)).ToString(System.Globalization.CultureInfo.InvariantCulture);
            if (Assignum.Web.Api.Endpoints.IsApi(context.HttpContext))
                await Assignum.Web.Api.Problem.Of(429, "Too often",
                    "That was more often than is taken. Wait as long as Retry-After says, then go on.").ExecuteAsync(context.HttpContext);
        };
        // Of what only looks at the form nothing is counted.
        limiter.AddPolicy(SignIn, http => HttpMethods.IsGet(http.Request.Method) ? RateLimitPartition.GetNoLimiter("")
            : Window(SignIn, SignedIn.AddressOf(http), 30, TimeSpan.FromMinutes(1)));
        limiter.AddPolicy(Find, http => Window(Find, Who(http), 300, TimeSpan.FromMinutes(1)));
        limiter.AddPolicy(Upload, http => HttpMethods.IsGet(http.Request.Method) ? RateLimitPartition.GetNoLimiter("")
            : Window(Upload, Who(http), 30, TimeSpan.FromMinutes(1)));
        limiter.AddPolicy(Api, http => Window(Api, Who(http), 1_200, TimeSpan.FromMinutes(1)));
        limiter.AddPolicy(Token, http => Window(Token, "token " + (http.User.FindFirst("token")?.Value ?? SignedIn.AddressOf(http)), 6_000,
            TimeSpan.FromMinutes(1)));
        limiter.AddPolicy(Hook, http => Window(Hook, "hook " + http.Request.Path, 6_000, TimeSpan.FromMinutes(1)));

        RateLimitPartition<string> Window(string policy, string who, int most, TimeSpan window) =>
            RateLimitPartition.GetFixedWindowLimiter(who, _ =>
                new FixedWindowRateLimiterOptions { PermitLimit = configuration.GetValue($"Limits:{policy}", most), Window = window, QueueLimit = 0 });
    });

    static string Who(HttpContext http) => http.User.Identity?.IsAuthenticated == true ? "person " + http.User.Id() : SignedIn.AddressOf(http);
}
