using Assignum.Storage.People;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Authorization;

namespace Assignum.Web.Access;

/// <summary>Sign-in by cookie, roles by company, and by configuration an outside identity provider.</summary>
static class SignInSetup
{
    internal static void AddSignIn(this IServiceCollection services, IConfiguration configuration)
    {
        services.AddAuthentication(CookieAuthenticationDefaults.AuthenticationScheme).AddCookie(cookie =>
        {
            cookie.Cookie.Name = "assignum";
            cookie.Cookie.HttpOnly = true;
            cookie.Cookie.SameSite = SameSiteMode.Lax;
            cookie.Cookie.SecurePolicy = Transport.IsHttps(configuration) ? CookieSecurePolicy.Always : CookieSecurePolicy.SameAsRequest;
            cookie.LoginPath = "/sign-in";
            cookie.AccessDeniedPath = "/error";
            cookie.ReturnUrlParameter = "back";
            // The session on the server ends before the cookie does.
            cookie.ExpireTimeSpan = SessionStore.Lasts;
            cookie.SlidingExpiration = false;
            cookie.Events.OnValidatePrincipal = SignedIn.Refresh;
            // A part of a page does not turn into the sign-in: the page asks for it, and goes on.
            cookie.Events.OnRedirectToLogin = context =>
            {
                if (context.Request.Headers.ContainsKey("HX-Request") || context.Request.Headers.ContainsKey("X-Part"))
                    context.Response.StatusCode = StatusCodes.Status401Unauthorized;
                else
                    context.Response.Redirect(context.RedirectUri);
                return Task.CompletedTask;
            };
            cookie.Events.OnRedirectToAccessDenied = context =>
            {
                context.Response.StatusCode = StatusCodes.Status403Forbidden;
                return Task.CompletedTask;
            };
        }).AddOutside(configuration);
        services.AddAuthorization(Policies.Add);
        services.AddSingleton<IAuthorizationHandler, RoleInCompanyHandler>().AddSingleton<SecondFactor>();
    }
}
