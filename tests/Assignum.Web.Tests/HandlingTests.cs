using System.Globalization;
using System.Net;
using System.Text;
using Assignum.Core.Findings;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Assignum.Web.Pages;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

/// <summary>Sign-in within a page, pages that are not there, print, and one's own way of numbers and dates.</summary>
public sealed class HandlingTests(App app) : IClassFixture<App>
{
    static HttpRequestMessage Part(string address)
    {
        var request = new HttpRequestMessage(HttpMethod.Get, address);
        request.Headers.Add("X-Part", "yes");
        return request;
    }

    [Fact]
    public async Task A_part_of_a_page_whose_session_has_ended_is_not_the_sign_in_and_goes_on_after_it()
    {
        var visitor = new Visitor(app);
        await visitor.Get("/sign-in?part=true");
        Assert.NotNull(visitor.Page.QuerySelector("form[data-again]"));
        Assert.Null(visitor.Page.QuerySelector(".mark"));
        Assert.Equal(HttpStatusCode.Unauthorized, (await visitor.Send(Part("/qn/choose/account?q=4010"))).StatusCode);
        Assert.Equal(HttpStatusCode.Redirect, (await visitor.GetBare("/qn/chart")).StatusCode);

        await visitor.Submit("form[data-again]", ("name", "ines"), ("password", "wrong"));
        Assert.Contains("don't go together", visitor.Text, StringComparison.Ordinal);
        await visitor.Submit("form[data-again]", ("name", "ines"), ("password", App.Password));
        Assert.Equal(HttpStatusCode.NoContent, visitor.Last.StatusCode);
        Assert.Equal(HttpStatusCode.OK, (await visitor.Send(Part("/qn/choose/account?q=4010"))).StatusCode);
        Assert.NotEmpty((await visitor.Read("/here")).GetProperty("token").GetString()!);
    }

    [Fact]
    public async Task What_is_not_there_says_so_within_the_frame_of_the_company()
    {
        var ines = await Visitor.SignedIn(app, "ines");
        foreach (var address in new[] { "/qn/no-such-page", "/qn/journal/999999", "/qn/rules/no-such-purpose" })
        {
            await ines.Get(address);
            Assert.Equal(HttpStatusCode.NotFound, ines.Last.StatusCode);
            Assert.Equal("Nothing is here", ines.Page.QuerySelector("main h1")!.TextContent);
            Assert.NotNull(ines.Page.QuerySelector("nav.rail a[href='/qn/chart']"));
        }
        Assert.Null((await ines.Get("/nowhere/at/all")).Page.QuerySelector("nav.rail"));
    }

    [Theory]
    [InlineData("vera", "/qn/try-out?handler=post", "This is for the role preparer, and you are viewer in QN.")]
    [InlineData("ines", "/qn/editions", "This is for the role approver, and you are preparer in QN.")]
    [InlineData("ines", "/qn/people?handler=grant", "This is for the role administrator, and you are preparer in QN.")]
    [InlineData("adam", "/qn/groups/item?handler=group", "This is for the role")]
    public async Task Where_a_role_is_missing_it_is_named(string name, string address, string says)
    {
        var visitor = await Visitor.SignedIn(app, name);
        await visitor.Get("/you");
        var answer = await visitor.Post(address);

        Assert.Equal(HttpStatusCode.Forbidden, answer.StatusCode);
        Assert.Contains(says, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Somebody_without_a_role_learns_nothing_of_a_company()
    {
        await app.Services.GetRequiredService<CompanyStore>().Open("QX", "Hidden Hedges", "EUR", default);
        var ines = await Visitor.SignedIn(app, "ines");
        foreach (var address in new[] { "/qx/chart", "/qx/not-here", "/qx/print.css" })
            Assert.DoesNotContain("Hidden Hedges", await (await ines.GetBare(address)).Content.ReadAsStringAsync(), StringComparison.Ordinal);
        Assert.Contains("You have no role in a company QX, or there is none.", (await ines.Get("/qx/chart")).Text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("/qn/chart")]
    [InlineData("/qn/journal")]
    [InlineData("/qn/groups/item")]
    [InlineData("/qn/exceptions")]
    [InlineData("/qn/rules/revenue")]
    [InlineData("/qn/rules/revenue/list")]
    [InlineData("/qn/rules/revenue/gaps")]
    [InlineData("/qn/tax")]
    [InlineData("/qn/tax/codes")]
    [InlineData("/qn/tax/report")]
    [InlineData("/qn/tax/entries")]
    [InlineData("/qn/editions")]
    [InlineData("/qn/editions/compare")]
    [InlineData("/qn/checks")]
    [InlineData("/qn/where?q=seeds")]
    [InlineData("/qn/map")]
    [InlineData("/qn/chart/4010/lands")]
    public async Task Every_list_prints_without_rail_with_company_and_day_and_all_its_rows(string address)
    {
        var ines = await Visitor.SignedIn(app, "ines");
        var shown = (await ines.Get(address)).Rows().Length;
        await ines.Get(address + (address.Contains('?', StringComparison.Ordinal) ? "&" : "?") + "print=yes");

        Assert.Equal(HttpStatusCode.OK, ines.Last.StatusCode);
        Assert.Null(ines.Page.QuerySelector("nav.rail, .find, #drawer"));
        Assert.StartsWith("Quillmoss Nurseries", ines.Page.QuerySelector(".letterhead")!.TextContent.Trim(), StringComparison.Ordinal);
        Assert.NotNull(ines.Page.QuerySelector("main h1"));
        Assert.True(ines.Rows().Length >= shown);
        Assert.Empty(ines.Page.QuerySelectorAll(".pages"));
    }

    [Fact]
    public async Task What_prints_has_page_numbers_and_a_name_that_starts_no_style()
    {
        await app.Services.GetRequiredService<CompanyStore>().Open("QS", "Hedges \"} body { display: none } \\", "EUR", default);
        var people = app.Services.GetRequiredService<Storage.People.PersonStore>();
        await people.Grant((await app.Services.GetRequiredService<CompanyStore>().Find("QS", default))!.Id, (await people.Find("ines", default))!.Id,
            Storage.People.Role.Viewer, null, default);
        var ines = await Visitor.SignedIn(app, "ines");
        var style = await (await ines.GetBare("/qs/print.css")).Content.ReadAsStringAsync();

        Assert.Contains("counter(page) \" of \" counter(pages)", style, StringComparison.Ordinal);
        Assert.DoesNotContain("body {", style, StringComparison.Ordinal);
        Assert.Equal(5_000, CompanyPage.MostPrinted);
    }

    [Fact]
    public async Task Beyond_what_prints_the_list_says_so_and_offers_the_export()
    {
        var company = (await app.Services.GetRequiredService<CompanyStore>().Find("QN", default))!.Id;
        var posting = app.Services.GetRequiredService<PostingStore>();
        var events = Enumerable.Range(0, CompanyPage.MostPrinted).Select(i => Invoices.Of($"PRINT-{i:0000}", new(2026, 10, 1), "C-12", "SEED-01", 1)).ToList();
        Assert.All(await posting.Post(company, null, events, default), p => Assert.Equal(PostingFate.Landed, p.Fate));
        var ines = await Visitor.SignedIn(app, "ines");
        await ines.Get("/qn/journal?print=yes");

        Assert.Equal(CompanyPage.MostPrinted, ines.Rows().Length);
        Assert.Contains("The first 5,000 entries are printed.", ines.Text, StringComparison.Ordinal);
        Assert.NotNull(ines.Page.QuerySelector(".said.caution a[href*='handler=export']"));
    }

    [Fact]
    public async Task Numbers_and_days_are_shown_and_read_as_each_person_chooses_and_files_stay()
    {
        var vera = await Visitor.SignedIn(app, "vera");
        var plain = await Exports(vera);
        Assert.Contains("2026-", (await vera.Get("/qn/journal")).Rows()[0], StringComparison.Ordinal);
        await vera.Get("/you");
        await vera.Submit("#likes-form", ("numbers", "comma"), ("dates", "dots"), ("paper", "dark"));
        await vera.Follow();
        Assert.Contains("1.234,50 and 27.11.2026, on dark paper", vera.Text, StringComparison.Ordinal);

        await vera.Get("/qn/journal?from=2026-11-01&to=19.11.2026");
        Assert.Equal("dark", vera.Page.DocumentElement.GetAttribute("data-paper"));
        Assert.Contains(vera.Rows("#entries tbody tr"), r => r.Contains("11.11.2026", StringComparison.Ordinal)
            && r.EndsWith("1.381,03", StringComparison.Ordinal));
        Assert.Equal("19.11.2026", vera.Page.QuerySelector("#j-to")!.GetAttribute("value"));
        Assert.Contains("You write numbers as 1.234,50", (await vera.Get("/qn/journal?amount=1,381.03")).Text, StringComparison.Ordinal);
        Assert.Contains("1.381,03", (await vera.Get("/qn/journal?amount=1.381,03")).Text, StringComparison.Ordinal);
        // What could be meant otherwise is asked back, in the frame.
        await vera.Get("/qn/journal?from=11%2F1%2F2026");
        Assert.Equal(HttpStatusCode.BadRequest, vera.Last.StatusCode);
        Assert.Contains("“11/1/2026” can't be read as a day. You write days as 27.11.2026.", vera.Text, StringComparison.Ordinal);
        Assert.NotNull(vera.Page.QuerySelector("nav.rail"));

        Assert.Equal(plain, await Exports(vera));
        await vera.Get("/you");
        await vera.Submit("#likes-form", ("numbers", "space"), ("dates", "words"), ("paper", "light"));
        await vera.Get("/qn/journal");
        Assert.Contains("19 Nov 2026", vera.Rows()[0], StringComparison.Ordinal);
        Assert.Equal(plain, await Exports(vera));
        await vera.Get("/you");
        await vera.Submit("#likes-form", ("numbers", "point"), ("dates", "iso"), ("paper", "light"));
    }

    static async Task<string[]> Exports(Visitor visitor)
    {
        var exports = new List<string>();
        foreach (var address in new[] { "chart?handler=export&as=csv", "rules/revenue/list?handler=export&kind=csv", "exceptions?handler=export&kind=csv",
            "tax/entries?from=2026-11&to=2026-11&handler=export&kind=csv",
            "tax/report?from=2026-11&to=2026-11&handler=export&kind=csv", "editions/compare?handler=export&kind=csv",
                "journal?from=2026-11-01&handler=export&kind=csv", "groups/item/sheet?handler=take&purpose=revenue&kind=csv",
                "chart/4010/lands?handler=export&kind=csv" })
            exports.Add(Encoding.UTF8.GetString(await visitor.Download("/qn/" + address)));
        return [.. exports];
    }

    [Fact]
    public void What_the_books_keep_reads_the_same_whoever_posts()
    {
        var before = CultureInfo.CurrentCulture;
        try
        {
            CultureInfo.CurrentCulture = Core.Written.Of("comma", "dots");
            var account = new Core.Charts.Account { Number = "4000", Name = "Sales", Class = Core.Charts.AccountClass.Income };
            var book = new Rulebook { Company = new("Q", "Q", "EUR", new()), Accounts = [account],
                Rules = [new() { Id = "r1", Purpose = Purpose.Receivable, Account = "4000", From = new(2026, 2, 1), To = new(2026, 1, 1) }] };
            Assert.Contains("ends on 01.01.2026, before it begins on 01.02.2026", RulebookChecks.Errors(book).Single(f => f.Check == "rule-dates").Message,
                StringComparison.Ordinal);
        }
        finally
        {
            CultureInfo.CurrentCulture = before;
        }
    }

    [Fact]
    public async Task The_find_box_takes_words_in_any_order_and_finds_documents_and_entries()
    {
        var ines = await Visitor.SignedIn(app, "ines");
        string[] Found() => [.. ines.Page.QuerySelectorAll("a[role=option]").Select(a => a.TextContent)];

        await ines.Get("/qn/find?q=50+mix+meadow");
        Assert.Contains(Found(), f => f.StartsWith("SEED-04", StringComparison.Ordinal));
        await ines.Get("/qn/find?q=2026-1046");
        Assert.Contains(Found(), f => f.StartsWith("2026-1046", StringComparison.Ordinal) && f.EndsWith("document", StringComparison.Ordinal));
        await ines.Get("/qn/find?q=46");
        Assert.Contains(Found(), f => f.StartsWith("46", StringComparison.Ordinal) && f.EndsWith("entry", StringComparison.Ordinal));
        await ines.Get("/qn/find?q=used+no+rule");
        Assert.Contains(Found(), f => f.Contains("Accounts used by no rule", StringComparison.Ordinal));
        foreach (var question in new[] { "choose/sold?q=meadow%20mix%2050", "choose/item?q=50%20meadow" })
            Assert.Equal("SEED-04", (await ines.Read("/qn/" + question))[0].GetProperty("code").GetString());
    }
}
