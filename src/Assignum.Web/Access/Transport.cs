using System.Net;
using Microsoft.AspNetCore.HttpOverrides;

namespace Assignum.Web.Access;

/// <summary>How requests come: by HTTPS, through which proxies, for which hosts. Set by configuration; without any it serves one machine over
/// loopback.</summary>
static class Transport
{
    static readonly TimeSpan HstsLasts = TimeSpan.FromDays(365);

    /// <summary>Whether the installation is reached by HTTPS only.</summary>
    internal static bool IsHttps(IConfiguration configuration) => configuration.GetValue("Transport:Https", false);

    internal static void AddTransport(this IServiceCollection services, IConfiguration configuration)
    {
        services.AddHsts(hsts => (hsts.MaxAge, hsts.IncludeSubDomains) = (HstsLasts, false));
        services.AddHttpsRedirection(redirect =>
            (redirect.RedirectStatusCode, redirect.HttpsPort) = (StatusCodes.Status308PermanentRedirect, configuration.GetValue("Transport:HttpsPort", 443)));
        services.Configure<ForwardedHeadersOptions>(forwarded =>
        {
            forwarded.ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto | ForwardedHeaders.XForwardedHost;
            forwarded.KnownIPNetworks.Clear();
            forwarded.KnownProxies.Clear();
            foreach (var proxy in Proxies(configuration))
                forwarded.KnownProxies.Add(proxy);
        });
    }

    internal static void UseTransport(this WebApplication app)
    {
        // Whoever is no proxy of ours says nothing about where a request came from.
        if (Proxies(app.Configuration).Any())
            app.UseForwardedHeaders();
        if (!IsHttps(app.Configuration))
            return;
        app.UseHsts();
        app.UseWhen(http => !http.Request.Path.StartsWithSegments("/health", StringComparison.Ordinal), secure => secure.UseHttpsRedirection());
    }

    static IEnumerable<IPAddress> Proxies(IConfiguration configuration) =>
        (configuration["Transport:Proxies"] ?? "").Split([',', ' '], StringSplitOptions.RemoveEmptyEntries).Select(IPAddress.Parse);
}

/// <summary>Headers that let a browser load nothing but what ships with the application, run no script written into a page, and keep nothing that shows
/// books.</summary>
static class SecurityHeaders
{
    const string Policy = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; form-action " +
        "'self'; frame-ancestors 'none'; base-uri 'none'";

    internal static void UseSecurityHeaders(this IApplicationBuilder app) => app.Use((http, next) =>
    {
        Set(http);
        // Pages, parts, exports: whatever does not say of itself that it may be kept, as the files that ship with the application do.
        http.Response.OnStarting(() =>
        {
            if (http.Response.Headers.CacheControl.Count == 0)
                http.Response.Headers.CacheControl = "no-store";
            return Task.CompletedTask;
        });
        return next(http);
    });

    internal static void Set(HttpContext http)
    {
        var headers = http.Response.Headers;
        headers.ContentSecurityPolicy = Policy;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        headers["Cross-Origin-Opener-Policy"] = "same-origin";
        headers["Permissions-Policy"] = "camera=(), geolocation=(), microphone=()";
    }
}
