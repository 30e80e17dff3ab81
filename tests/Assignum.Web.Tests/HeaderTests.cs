using System.Net;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;

namespace Assignum.Web.Tests;

/// <summary>What every answer says to the browser, and what cookies it is given.</summary>
public sealed class HeaderTests(App app) : IClassFixture<App>
{
    public static TheoryData<string> Addresses => ["/sign-in", "/site.css", "/qn/nothing-there", "/health/live", "/you"];

    [Theory]
    [MemberData(nameof(Addresses))]
    public async Task Every_answer_forbids_guessing_framing_and_scripts_from_elsewhere_and_names_no_server(string address)
    {
        var answer = await app.CreateClient(new() { AllowAutoRedirect = false }).GetAsync(address);

        string Header(string name) => answer.Headers.GetValues(name).Single();
        Assert.Equal("nosniff", Header("X-Content-Type-Options"));
        Assert.Equal("same-origin", Header("Referrer-Policy"));
        Assert.Equal("same-origin", Header("Cross-Origin-Opener-Policy"));
        var policy = Header("Content-Security-Policy").Split("; ");
        Assert.Superset(new HashSet<string> { "default-src 'none'", "script-src 'self'", "form-action 'self'", "frame-ancestors 'none'", "base-uri 'none'" }, policy.ToHashSet());
        Assert.DoesNotContain(policy, p => p.Contains("unsafe", StringComparison.Ordinal) || p.Contains('*'));
        Assert.False(answer.Headers.Contains("Server"));
        Assert.False(answer.Headers.Contains("X-Powered-By"));
        Assert.False(answer.Headers.Contains("Access-Control-Allow-Origin"));
    }

    [Theory]
    [InlineData("/sign-in", "text/html; charset=utf-8")]
    [InlineData("/site.css", "text/css")]
    [InlineData("/qn/chart?handler=export", "text/csv")]
    public async Task Every_answer_says_what_it_is(string address, string type)
    {
        var vera = await Visitor.SignedIn(app, "vera");

        Assert.StartsWith(type, (await vera.GetBare(address)).Content.Headers.ContentType!.ToString(), StringComparison.Ordinal);
    }

    [Fact]
    public async Task No_script_reads_a_cookie_and_no_other_site_sends_it_with_a_form()
    {
        var client = app.CreateClient(new() { AllowAutoRedirect = false, HandleCookies = true });
        var page = await client.GetAsync("/sign-in");
        var token = System.Text.RegularExpressions.Regex.Match(await page.Content.ReadAsStringAsync(), "__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)").Groups[1].Value;
        var signedIn = await client.PostAsync("/sign-in", new FormUrlEncodedContent([new("name", "ines"), new("password", App.Password), new("__RequestVerificationToken", token)]));

        List<string> cookies = [.. page.Headers.GetValues("Set-Cookie"), .. signedIn.Headers.GetValues("Set-Cookie")];
        Assert.Contains(cookies, c => c.StartsWith("assignum=", StringComparison.Ordinal));
        Assert.All(cookies, cookie =>
        {
            Assert.Contains("httponly", cookie, StringComparison.OrdinalIgnoreCase);
            Assert.Contains("samesite", cookie, StringComparison.OrdinalIgnoreCase);
            Assert.DoesNotContain("samesite=none", cookie, StringComparison.OrdinalIgnoreCase);
            Assert.Contains("path=/", cookie, StringComparison.OrdinalIgnoreCase);
        });
    }

    [Theory]
    [InlineData("TRACE")]
    [InlineData("PUT")]
    [InlineData("DELETE")]
    public async Task Methods_that_no_handler_has_do_nothing(string method)
    {
        var ines = await Visitor.SignedIn(app, "ines");
        using var request = new HttpRequestMessage(new HttpMethod(method), "/qn/chart");

        Assert.Contains((await ines.Send(request)).StatusCode, new[] { HttpStatusCode.BadRequest, HttpStatusCode.NotFound, HttpStatusCode.MethodNotAllowed, HttpStatusCode.Forbidden });
    }

    [Theory]
    [InlineData("find", "/qn/find?q=seed")]
    [InlineData("api", "/qn/rules/revenue?handler=cells")]
    public async Task Whoever_asks_too_often_has_to_wait_and_others_do_not(string limit, string address)
    {
        await using var site = app.WithWebHostBuilder(host => host.UseSetting("Limits:" + limit, "3"));
        var (ines, vera) = (await Visitor.SignedIn(site, "ines"), await Visitor.SignedIn(site, "vera"));

        var statuses = new List<HttpStatusCode>();
        for (var i = 0; i < 5; i++)
            statuses.Add((await ines.GetBare(address)).StatusCode);
        Assert.Equal(HttpStatusCode.TooManyRequests, statuses[^1]);
        Assert.Equal(HttpStatusCode.OK, statuses[0]);
        Assert.Equal(HttpStatusCode.OK, (await vera.GetBare(address)).StatusCode);
    }
}
