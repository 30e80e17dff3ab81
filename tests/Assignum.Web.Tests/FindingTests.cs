using Assignum.Web.Pages;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

/// <summary>The find box leads everywhere: to every page of a company, and to a project, an asset or a partner by any part of its name.</summary>
public sealed class FindingTests(App app) : IClassFixture<App>
{
    // Not pages that people go to: parts of others, and answers to what has no page.
    static readonly string[] Parts = ["find", "draft-state", "not-here", "print.css"];

    [Fact]
    public void Every_page_of_a_company_that_needs_nothing_else_to_be_known_is_found_by_its_name()
    {
        app.CreateClient().Dispose();
        var pages = app.Services.GetRequiredService<EndpointDataSource>().Endpoints.OfType<RouteEndpoint>()
            .Where(e => e.Metadata.GetMetadata<PageActionDescriptor>() is not null && e.RoutePattern.RawText!.StartsWith("{company}/", StringComparison.Ordinal))
            .Select(e => e.RoutePattern.RawText!["{company}/".Length..]).Select(p => p.EndsWith("?}", StringComparison.Ordinal) ? p[..p.LastIndexOf('/')] : p)
            .Where(p => !p.Contains('{', StringComparison.Ordinal)).Except(Parts).Distinct().ToList();
        var found = FindPages.All.Select(p => p.Path.Split('?')[0]).Select(p => p.StartsWith("groups/", StringComparison.Ordinal) ? "groups" : p).ToList();

        Assert.NotEmpty(pages);
        Assert.Empty(pages.Except(found));
        Assert.Equal(FindPages.All.Count, FindPages.All.Select(p => p.Name).Distinct(StringComparer.Ordinal).Count());
    }

    [Fact]
    public async Task What_the_find_box_names_is_there()
    {
        var ines = await Visitor.SignedIn(app, "ines");
        foreach (var (name, path) in FindPages.All.Where(p => p.Path is not ("people" or "companies" or "chart/merge")))
            Assert.Equal((name, System.Net.HttpStatusCode.OK), (name, (await ines.Get("/ql/" + path)).Last.StatusCode));
    }

    [Theory]
    [InlineData("walled garden", "/ql/projects/L-1")]
    [InlineData("crew van", "/ql/assets/VAN-L")]
    [InlineData("interest reminders", "/ql/late-charges")]
    [InlineData("recogn", "/ql/recognition")]
    [InlineData("consolidated", "/ql/consolidated")]
    public async Task Words_in_any_order_lead_to_the_page_of_what_they_name(string typed, string to)
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/ql/find?q=" + Uri.EscapeDataString(typed));

        Assert.Contains(to, ines.Page.QuerySelectorAll("a").Select(a => a.GetAttribute("href")));
    }
}
