using System.Net;
using System.Security.Cryptography;
using System.Text.Json;
using System.Web;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Hosting.Server;
using Microsoft.AspNetCore.Hosting.Server.Features;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.Mvc.Testing.Handlers;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.IdentityModel.JsonWebTokens;
using Microsoft.IdentityModel.Tokens;

namespace Assignum.Web.Tests;

/// <summary>Sign-in through an outside identity provider, against a small stand-in that speaks OpenID Connect.</summary>
public sealed class OutsideSignInTests(App app) : IClassFixture<App>
{
    /// <summary>Discovery, keys, an authorization endpoint that asks nobody, and tokens.</summary>
    sealed class Provider : IAsyncDisposable
    {
        readonly RsaSecurityKey key = new(RSA.Create(2048)) { KeyId = "k1" };
        readonly WebApplication web;
        string? nonce;

        internal string Subject { get; set; } = "sub-1";
        internal string UserName { get; set; } = "ines";
        internal string[] Methods { get; set; } = ["pwd"];
        internal string Address => web.Services.GetRequiredService<IServer>().Features.Get<IServerAddressesFeature>()!.Addresses.First();

        internal Provider()
        {
            var builder = WebApplication.CreateSlimBuilder();
            builder.WebHost.UseUrls("http://127.0.0.1:0");
            web = builder.Build();
            web.MapGet("/.well-known/openid-configuration", () => new Dictionary<string, object>
            {
                ["issuer"] = Address, ["authorization_endpoint"] = Address + "/authorize", ["token_endpoint"] = Address + "/token",
                    ["jwks_uri"] = Address + "/keys", ["response_types_supported"] = new[] { "code" },
                ["subject_types_supported"] = new[] { "public" }, ["id_token_signing_alg_values_supported"] = new[] { "RS256" },
            });
            web.MapGet("/keys", () =>
            {
                var jwk = JsonWebKeyConverter.ConvertFromRSASecurityKey(key);
                return new { keys = new[] { new { kty = jwk.Kty, kid = jwk.Kid, n = jwk.N, e = jwk.E, alg = "RS256", use = "sig" } } };
            });
            web.MapGet("/authorize", (HttpRequest request) =>
            {
                nonce = request.Query["nonce"];
                return Results.Redirect($"{request.Query["redirect_uri"]}?code=c1&state={HttpUtility.UrlEncode(request.Query["state"])}");
            });
            web.MapPost("/token", () => new Dictionary<string, object>
            {
                ["access_token"] = "a", ["token_type"] = "Bearer", ["expires_in"] = 60,
                ["id_token"] = new JsonWebTokenHandler().CreateToken(new SecurityTokenDescriptor
                {
                    Issuer = Address, Audience = "assignum", Expires = DateTime.UtcNow.AddMinutes(5),
                        SigningCredentials = new SigningCredentials(key, SecurityAlgorithms.RsaSha256),
                    Claims = new Dictionary<string, object> { ["sub"] = Subject, ["preferred_username"] = UserName, ["nonce"] = nonce!, ["amr"] = Methods },
                }),
            });
            web.StartAsync().GetAwaiter().GetResult();
        }

        public ValueTask DisposeAsync() => web.DisposeAsync();
    }

    static async Task<(string EndsAt, HttpClient Client)> SignIn(WebApplicationFactory<Program> site)
    {
        var client = site.CreateDefaultClient(new Uri("https://localhost"), new CookieContainerHandler());
        using var outside = new HttpClient(new HttpClientHandler { AllowAutoRedirect = false });
        var page = await client.GetStringAsync("/sign-in");
        Assert.Contains("Sign in through Quillmoss", page, StringComparison.Ordinal);
        var token = System.Text.RegularExpressions.Regex.Match(page, "__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)").Groups[1].Value;
        var answer = await client.PostAsync("/sign-in?handler=outside",
            new FormUrlEncodedContent([new("__RequestVerificationToken", token), new("back", "/qn/chart")]));
        var back = await outside.GetAsync(answer.Headers.Location);
        var ended = await client.GetAsync(back.Headers.Location!.PathAndQuery);
        return (ended.Headers.Location!.OriginalString, client);
    }

    [Fact]
    public async Task Whoever_the_provider_names_signs_in_as_the_person_of_that_name_and_stays_that_person()
    {
        await using var provider = new Provider();
        await using var site = app.WithWebHostBuilder(host =>
            host.UseSetting("Outside:Authority", provider.Address).UseSetting("Outside:AllowHttp", "true").UseSetting("Outside:ClientId",
            "assignum").UseSetting("Outside:ClientSecret", "s").UseSetting("Outside:Name", "Quillmoss"));

        var (at, ines) = await SignIn(site);
        Assert.Equal("/qn/chart", at);
        Assert.Contains("Ines · preparer", WebUtility.HtmlDecode(await ines.GetStringAsync("/qn/chart")), StringComparison.Ordinal);

        // The subject is who somebody is; a name that somebody else takes over there opens nothing here.
        (provider.Subject, provider.UserName) = ("sub-2", "ines");
        Assert.Equal("/sign-in?fault=outside", (await SignIn(site)).EndsAt);
        (provider.Subject, provider.UserName) = ("sub-1", "renamed");
        Assert.Contains("Ines", await (await SignIn(site)).Client.GetStringAsync("/qn/chart"), StringComparison.Ordinal);
        (provider.Subject, provider.UserName) = ("sub-3", "nobody here");
        Assert.Equal("/sign-in?fault=outside", (await SignIn(site)).EndsAt);
    }
}
