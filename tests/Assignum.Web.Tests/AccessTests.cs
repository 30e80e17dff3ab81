using System.Net;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

public sealed class AccessTests(App app) : IClassFixture<App>
{
    static readonly string[] Reading = ["chart", "groups", "groups/party", "groups/project", "groups/location", "groups/item/sheet", "tax", "tax/codes", "tax/report", "tax/entries", "rules", "rules/revenue/list", "rules/revenue/gaps", "rules/revenue/ladder", "rules/revenue/copy", "exceptions", "where?q=retail", "map", "editions/compare", "rules/receivable", "try-out", "rates", "editions", "journal", "journal/1", "find?q=seed", "choose/account", "chart?handler=new"];

    [Fact]
    public void Every_endpoint_demands_a_role_but_the_few_that_can_t()
    {
        var open = app.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<IAllowAnonymous>() is not null).Select(e => e.RoutePattern.RawText!.Trim('/')).ToHashSet();
        open.RemoveWhere(pattern => pattern.StartsWith("lib/", StringComparison.Ordinal) || pattern.Contains(".css", StringComparison.Ordinal) || pattern.Contains(".js", StringComparison.Ordinal) || pattern.Contains(".svg", StringComparison.Ordinal));

        Assert.Equal(["error", "favicon.ico", "health/live", "health/ready", "hooks/{company}/{connection}", "new-password/{token}", "sign-in"], open.Order(StringComparer.Ordinal));
    }

    [Fact]
    public async Task Who_is_not_signed_in_is_sent_to_sign_in_and_back()
    {
        var visitor = new Visitor(app);
        foreach (var path in Reading)
        {
            await visitor.Get("/qn/" + path);
            Assert.Equal(HttpStatusCode.Redirect, visitor.Last.StatusCode);
            Assert.StartsWith("/sign-in?back=", visitor.Last.Headers.Location!.PathAndQuery, StringComparison.Ordinal);
        }
        await visitor.Follow();
        await visitor.Submit("form", ("name", "vera"), ("password", App.Password));
        Assert.Equal("/qn/chart?handler=new", visitor.Last.Headers.Location!.OriginalString);
    }

    [Theory]
    [InlineData("ines", HttpStatusCode.OK, HttpStatusCode.Forbidden)]
    [InlineData("tomas", HttpStatusCode.OK, HttpStatusCode.Forbidden)]
    [InlineData("vera", HttpStatusCode.OK, HttpStatusCode.Forbidden)]
    [InlineData("adam", HttpStatusCode.Forbidden, HttpStatusCode.OK)]
    public async Task Roles_open_the_pages_that_are_theirs(string name, HttpStatusCode books, HttpStatusCode people)
    {
        var visitor = await Visitor.SignedIn(app, name);
        foreach (var path in Reading)
            Assert.Equal((path, books), (path, (await visitor.Get("/qn/" + path)).Last.StatusCode));
        Assert.Equal(people, (await visitor.Get("/qn/people")).Last.StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await visitor.Get("/zz/chart")).Last.StatusCode);
    }

    [Fact]
    public async Task A_viewer_can_change_nothing()
    {
        var vera = await Visitor.SignedIn(app, "vera");
        Assert.Null((await vera.Get("/qn/chart")).Page.QuerySelector("[data-add]"));
        // A form from the page proves that it is the role, and not a missing token, that bars the way.
        await vera.Get("/qn/chart?handler=account&number=4010");
        await vera.Submit("form.account", ("Name", "Mine"));
        Assert.Equal(HttpStatusCode.Forbidden, vera.Last.StatusCode);
        await vera.Get("/qn/try-out?party=C-10&item=SEED-01");
        await vera.Submit("#try");
        Assert.Equal(HttpStatusCode.Forbidden, vera.Last.StatusCode);
    }

    [Fact]
    public async Task A_preparer_can_t_release()
    {
        var ines = await Visitor.SignedIn(app, "ines");
        await ines.Get("/qn/editions");
        Assert.Null(ines.Page.QuerySelector("#release"));
        Assert.Equal(HttpStatusCode.BadRequest, (await ines.PostBare("/qn/editions")).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await ines.Post("/qn/editions", ("draft", "3"), ("stamp", "0"))).StatusCode);
        Assert.Equal(HttpStatusCode.Forbidden, (await ines.Post("/qn/editions?handler=look", ("chosen", "rules/r75"))).StatusCode);
    }

    [Fact]
    public async Task A_form_without_its_token_is_refused() => Assert.Equal(HttpStatusCode.BadRequest, (await (await Visitor.SignedIn(app, "ines")).PostBare("/qn/tax?handler=cells")).StatusCode);

    [Fact]
    public async Task Nothing_loads_from_outside_and_no_script_stands_in_a_page()
    {
        var visitor = await Visitor.SignedIn(app, "ines");
        foreach (var path in Reading)
        {
            await visitor.Get("/qn/" + path);
            Assert.Contains("default-src 'none'; script-src 'self'", visitor.Last.Headers.GetValues("Content-Security-Policy").Single(), StringComparison.Ordinal);
            Assert.Empty(visitor.Page.QuerySelectorAll("script:not([src]), [style], [onclick]"));
            Assert.All(visitor.Page.QuerySelectorAll("[src], link[href]"), e => Assert.StartsWith("/", e.GetAttribute("src") ?? e.GetAttribute("href"), StringComparison.Ordinal));
        }
    }
}

public sealed class SignInTests(App app) : IClassFixture<App>
{
    [Fact]
    public async Task A_wrong_password_says_the_same_as_a_wrong_name_and_five_of_them_lock()
    {
        var visitor = new Visitor(app);
        await visitor.Get("/sign-in");
        await visitor.Submit("form", ("name", "nobody"), ("password", "x"));
        var said = visitor.Page.QuerySelector(".fault")!.TextContent;
        for (var i = 0; i < 5; i++)
        {
            await visitor.Submit("form", ("name", "vera"), ("password", "wrong"));
            Assert.Equal(said, visitor.Page.QuerySelector(".fault")!.TextContent);
        }
        await visitor.Submit("form", ("name", "vera"), ("password", App.Password));
        Assert.Contains("has to wait here", visitor.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);

        var adam = await Visitor.SignedIn(app, "adam");
        await adam.Get("/qn/people");
        await adam.Press("#signing-in button[formaction*=nlock]");
        await Visitor.SignedIn(app, "vera");
    }

    [Fact]
    public async Task An_ended_grant_ends_at_once_and_the_last_administrator_stays()
    {
        var tomas = await Visitor.SignedIn(app, "tomas");
        var adam = await Visitor.SignedIn(app, "adam");
        await adam.Get("/qn/people");
        var row = adam.Page.QuerySelectorAll("main tbody tr").First(r => r.TextContent.TrimStart().StartsWith("Tomas", StringComparison.Ordinal));
        row.QuerySelector("form")!.Id = "end";
        await adam.Submit("#end");

        Assert.Equal(HttpStatusCode.Forbidden, (await tomas.Get("/qn/chart")).Last.StatusCode);

        await adam.Get("/qn/people");
        adam.Page.QuerySelectorAll("main tbody tr").First(r =>
            r.TextContent.TrimStart().StartsWith("Adam", StringComparison.Ordinal)).QuerySelector("form")!.Id = "last";
        await adam.Submit("#last");
        Assert.Contains("only administrator", adam.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Nobody_is_sent_to_another_site_after_signing_in()
    {
        var visitor = new Visitor(app);
        await visitor.Get("/sign-in?back=https%3A%2F%2Fexample.org%2F");
        await visitor.Submit("form", ("name", "ines"), ("password", App.Password));

        Assert.Equal("/", visitor.Last.Headers.Location!.OriginalString);
    }
}
