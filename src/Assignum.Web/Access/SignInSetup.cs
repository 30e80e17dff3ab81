using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using System.Xml.Linq;
using Assignum.Storage.People;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.DataProtection;
using Microsoft.AspNetCore.DataProtection.KeyManagement;
using Microsoft.AspNetCore.DataProtection.Repositories;

namespace Assignum.Web.Access;

/// <summary>Sign-in by cookie, roles by company, and cookie keys that all instances share.</summary>
static class SignInSetup
{
    internal static void AddSignIn(this IServiceCollection services, IConfiguration configuration)
    {
        services.AddAuthentication(CookieAuthenticationDefaults.AuthenticationScheme).AddCookie(cookie =>
        {
            cookie.Cookie.Name = "assignum";
            cookie.Cookie.HttpOnly = true;
            cookie.Cookie.SameSite = SameSiteMode.Lax;
            cookie.LoginPath = "/sign-in";
            cookie.AccessDeniedPath = "/error";
            cookie.ReturnUrlParameter = "back";
            cookie.ExpireTimeSpan = TimeSpan.FromHours(10);
            cookie.SlidingExpiration = true;
            cookie.Events.OnValidatePrincipal = SignedIn.Refresh;
            cookie.Events.OnRedirectToAccessDenied = context =>
            {
                context.Response.StatusCode = StatusCodes.Status403Forbidden;
                return Task.CompletedTask;
            };
        });
        services.AddAuthorization(Policies.Add);
        services.AddSingleton<IAuthorizationHandler, RoleInCompanyHandler>();
        services.AddSingleton<IXmlRepository, KeysInDatabase>();
        services.AddOptions<KeyManagementOptions>().Configure<IXmlRepository>((options, keys) => options.XmlRepository = keys);
        var protection = services.AddDataProtection().SetApplicationName("assignum");
        if (configuration["ASSIGNUM_KEY"] is { Length: > 0 } file)
            protection.ProtectKeysWithCertificate(CertificateIn(file));
    }

    // The key that wraps the keys lies in a file outside the database; the first start makes it.
    static X509Certificate2 CertificateIn(string file)
    {
        if (!File.Exists(file))
        {
            using var key = RSA.Create(3072);
            var request = new CertificateRequest("CN=assignum", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1);
            using var made = request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddYears(20));
            File.WriteAllBytes(file, made.Export(X509ContentType.Pfx));
            if (!OperatingSystem.IsWindows())
                File.SetUnixFileMode(file, UnixFileMode.UserRead | UnixFileMode.UserWrite);
        }
        return X509CertificateLoader.LoadPkcs12FromFile(file, null);
    }

    sealed class KeysInDatabase(ProtectionKeyStore store) : IXmlRepository
    {
        public IReadOnlyCollection<XElement> GetAllElements() => [.. store.All().Select(XElement.Parse)];

        public void StoreElement(XElement element, string friendlyName) => store.Add(friendlyName, element.ToString(SaveOptions.DisableFormatting));
    }
}

/// <summary>Headers that let a browser load nothing but what ships with the application, and run no script written into a page.</summary>
static class SecurityHeaders
{
    const string Policy = "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; form-action 'self'; frame-ancestors 'none'; base-uri 'none'";

    internal static void UseSecurityHeaders(this IApplicationBuilder app) => app.Use((context, next) =>
    {
        var headers = context.Response.Headers;
        headers.ContentSecurityPolicy = Policy;
        headers.XContentTypeOptions = "nosniff";
        headers["Referrer-Policy"] = "same-origin";
        return next(context);
    });
}
