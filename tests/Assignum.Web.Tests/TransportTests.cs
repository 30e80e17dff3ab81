using System.Net;
using Assignum.Testing;
using Microsoft.AspNetCore.Builder;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;
using Npgsql;

namespace Assignum.Web.Tests;

/// <summary>How pages come: what a browser keeps, HTTPS, proxies, limits, and what is said when something is not there.</summary>
public sealed class TransportTests(App app) : IClassFixture<App>
{
    static HttpClient Client(WebApplicationFactory<Program> factory, string address = "http://localhost") =>
        factory.CreateClient(new() { AllowAutoRedirect = false, BaseAddress = new Uri(address) });

    [Fact]
    public async Task What_shows_books_is_kept_nowhere_and_files_of_the_application_are()
    {
        var vera = await Visitor.SignedIn(app, "vera");
        foreach (var address in new[] { "/qn/chart", "/qn/chart?handler=export", "/qn/chart?handler=export&as=xlsx", "/qn/journal/1", "/qn/find?q=seed",
            "/qn/rules/revenue?handler=cells", "/qn/nothing-there", "/you" })
            Assert.Contains("no-store", (await vera.GetBare(address)).Headers.CacheControl!.ToString(), StringComparison.Ordinal);
        Assert.DoesNotContain("no-store", (await vera.GetBare("/site.css")).Headers.CacheControl!.ToString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task By_https_everything_else_is_redirected_and_cookies_are_secure()
    {
        await using var secure = app.WithWebHostBuilder(host =>
            host.UseSetting("Transport:Https", "true").UseSetting("Transport:HttpsPort", "443").UseSetting("AllowedHosts", "books.example;localhost"));

        var sent = await Client(secure, "http://books.example").GetAsync("/sign-in");
        Assert.Equal((HttpStatusCode.PermanentRedirect, "https://books.example/sign-in"), (sent.StatusCode, sent.Headers.Location!.OriginalString));
        var page = await Client(secure, "https://books.example").GetAsync("/sign-in");
        Assert.Contains("max-age=31536000", page.Headers.GetValues("Strict-Transport-Security").Single(), StringComparison.Ordinal);
        Assert.All(page.Headers.GetValues("Set-Cookie"), cookie => Assert.Contains("secure", cookie, StringComparison.OrdinalIgnoreCase));
        Assert.Equal(HttpStatusCode.BadRequest, (await Client(secure, "https://elsewhere.example").GetAsync("/sign-in")).StatusCode);
    }

    [Fact]
    public async Task Nobody_but_a_configured_proxy_says_where_a_request_came_from()
    {
        async Task<int> Sent(string? proxies)
        {
            await using var site = app.WithWebHostBuilder(host => host.UseSetting("Transport:Https", "true").UseSetting("Transport:Proxies", proxies)
                .ConfigureTestServices(services => services.AddSingleton<IStartupFilter, FromElsewhere>()));
            using var request = new HttpRequestMessage(HttpMethod.Get, "/sign-in");
            request.Headers.Add("X-Forwarded-Proto", "https");
            return (int)(await Client(site).SendAsync(request)).StatusCode;
        }

        Assert.Equal(308, await Sent(null));
        Assert.Equal(308, await Sent("10.9.8.7"));
        Assert.Equal(200, await Sent("10.1.1.1"));
    }

    sealed class FromElsewhere : IStartupFilter
    {
        public Action<IApplicationBuilder> Configure(Action<IApplicationBuilder> next) => app =>
        {
            app.Use((http, go) =>
            {
                http.Connection.RemoteIpAddress = IPAddress.Parse("10.1.1.1");
                return go(http);
            });
            next(app);
        };
    }

    [Fact]
    public async Task Whoever_tries_too_often_to_sign_in_has_to_wait()
    {
        await using var site = app.WithWebHostBuilder(host => host.UseSetting("Limits:sign-in", "3"));
        var client = Client(site);
        var statuses = new List<HttpStatusCode>();
        for (var i = 0; i < 5; i++)
            statuses.Add((await client.PostAsync("/sign-in", new FormUrlEncodedContent([new("name", "n" + i)]))).StatusCode);

        Assert.Equal(2, statuses.Count(s => s == HttpStatusCode.TooManyRequests));
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/sign-in")).StatusCode);
    }
}

/// <summary>While the database is away.</summary>
public sealed class DatabaseAwayTests : IAsyncLifetime
{
    FreshDatabase database = null!;
    WebApplicationFactory<Program> site = null!;

    public async Task InitializeAsync()
    {
        database = await FreshDatabase.Make();
        Storage.Database.Migrate(database.Owner);
        // Its own sign-in, so that it alone can be shut out.
        site = new WebApplicationFactory<Program>().WithWebHostBuilder(host =>
            host.UseEnvironment("Production").UseSetting("ASSIGNUM_DB", database.Owner + ";Timeout=3").UseSetting("ASSIGNUM_DEMO", ""));
        _ = site.Server;
    }

    public async Task DisposeAsync()
    {
        await site.DisposeAsync();
        await database.DisposeAsync();
    }

    [Fact]
    public async Task Every_address_says_so_files_are_there_and_what_was_typed_is_kept()
    {
        var client = site.CreateClient(new() { AllowAutoRedirect = false });
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/health/ready")).StatusCode);
        var token = System.Text.RegularExpressions.Regex.Match(await client.GetStringAsync("/sign-in"),
            "__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)").Groups[1].Value;
        await database.Away(true);

        foreach (var address in new[] { "/site.css", "/health/live", "/lib/htmx.min.js" })
            Assert.Equal(HttpStatusCode.OK, (await client.GetAsync(address)).StatusCode);
        Assert.Equal(HttpStatusCode.ServiceUnavailable, (await client.GetAsync("/health/ready")).StatusCode);
        var sent = await client.PostAsync("/sign-in",
            new FormUrlEncodedContent([new("name", "in<es"), new("password", "typed"), new("__RequestVerificationToken", token)]));
        Assert.Equal(HttpStatusCode.ServiceUnavailable, sent.StatusCode);
        var page = await sent.Content.ReadAsStringAsync();
        Assert.Contains("The database can't be reached", page, StringComparison.Ordinal);
        Assert.Contains("in&lt;es", page, StringComparison.Ordinal);
        Assert.Contains("data-away=\"send\"", page, StringComparison.Ordinal);

        await database.Away(false);
        Assert.Equal(HttpStatusCode.OK, (await client.GetAsync("/health/ready")).StatusCode);
        Assert.Equal(HttpStatusCode.BadRequest,
            (await client.PostAsync("/sign-in",
            new FormUrlEncodedContent([new("name", "ines"), new("password", "typed"), new("__RequestVerificationToken", token)]))).StatusCode);
    }
}
