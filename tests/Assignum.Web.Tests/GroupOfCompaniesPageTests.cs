using System.Net;
using Assignum.Core.Posting;
using Assignum.Formats.Consolidating;
using Assignum.Formats.Events;
using Assignum.Storage.Companies;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Microsoft.AspNetCore.Identity;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

/// <summary>Pages of projects, assets and the group over HTTP: who may do what, and that only what was shown is posted.</summary>
public sealed class GroupOfCompaniesPageTests(App app) : IClassFixture<App>
{
    T The<T>() where T : notnull => app.Services.GetRequiredService<T>();

    static string Said(Visitor visitor) => string.Join(' ', visitor.Text.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));

    async Task<int> Company(string code) => (await The<CompanyStore>().Find(code, default))!.Id;

    Task Post(params string[] events) => TypedEvents.Post(app.Services, "QL", events);

    [Fact]
    public async Task Who_works_for_a_company_of_the_group_matches_to_its_chart_and_sees_none_of_its_books()
    {
        var people = The<PersonStore>();
        var lena = await people.Add("lena", "Lena", The<IPasswordHasher<Person>>().HashPassword(null!, App.Password), default);
        await people.Grant(await Company("QL"), lena, Role.Preparer, null, default);
        var visitor = await (await Visitor.SignedIn(app, "lena")).Get("/ql/group");
        Assert.Contains("23 of 40 are matched", Said(visitor), StringComparison.Ordinal);

        await visitor.Submit("#by-hand", ("to", "G-999"));
        Assert.NotNull(visitor.Page.QuerySelector("#to.bad"));
        await visitor.Get("/ql/group");
        await visitor.Submit("#by-hand", ("to", "G-250"));
        Assert.Contains("24 of 40 are matched", Said(await visitor.Get("/ql/group")), StringComparison.Ordinal);
        foreach (var hidden in new[] { "/qg/consolidated", "/qg/chart", "/qg/group", "/qn/chart" })
            Assert.Equal((hidden, HttpStatusCode.Forbidden), (hidden, (await visitor.Get(hidden)).Last.StatusCode));

        // Out and in again, in all three forms.
        foreach (var kind in new[] { "csv", "xlsx", "xml" })
        {
            var (rows, fault) = GroupMapping.Read(await visitor.Download("/ql/group?handler=export&kind=" + kind));
            Assert.Null(fault);
            Assert.Equal(24, rows.Count(r => r.Match is not null));
        }
    }

    [Fact]
    public async Task A_group_begins_with_the_chart_of_one_of_its_companies_whose_accounts_then_match_by_their_numbers()
    {
        var (companies, ines) = (The<CompanyStore>(), (await The<PersonStore>().Find("ines", default))!.Id);
        var group = (await companies.Open("GG", "Group of gardens", "EUR", default)).Id;
        await The<PersonStore>().Grant(group, ines, Role.Preparer, null, default);
        await companies.SetGroup(await Company("QN"), ines, group, default);
        var visitor = await (await Visitor.SignedIn(app, "ines")).Get("/gg/group");
        await visitor.Submit("form[action*='handler=chart']", ("from", "QN"));
        await visitor.Follow();

        Assert.Contains("4010", (await visitor.Get("/gg/chart")).Text, StringComparison.Ordinal);
        Assert.Null(await The<EditionStore>().Release(group, ines, await The<RulebookStore>().StateOf(group, default), "First chart.", default));
        // Every number is the same, so that one act matches them all.
        await visitor.Get("/qn/group");
        await visitor.Submit("form[action*='handler=equal']");
        Assert.Matches(@"([0-9]+) of \1 are matched\.", Said(await visitor.Get("/qn/group")));
    }

    [Fact]
    public async Task Only_the_recognition_that_was_shown_is_posted()
    {
        await Post(
            """{"id":"W-1","type":"project-usage","date":"2026-09-10","project":"L-2","lines":[{"item":"HOUR","quantity":10}]}""",
            """{"id":"W-2","type":"project-invoice","date":"2026-09-12","party":"K-2","project":"L-2","lines":[{"item":"WORK","price":500}]}""");
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/ql/projects/L-2");
        await ines.Submit(".do form", ("day", "2026-09-30"));
        await ines.Get("/ql/recognition?on=2026-09-30");
        Assert.Contains(ines.Rows(), r => r.Contains("L-2", StringComparison.Ordinal) && r.Contains("310.00", StringComparison.Ordinal));

        // Somebody works on while it is looked at.
        await Post("""{"id":"W-3","type":"project-usage","date":"2026-09-20","project":"L-2","lines":[{"item":"HOUR","quantity":1}]}""");
        await ines.Submit(".do form");
        Assert.Equal(HttpStatusCode.Conflict, ines.Last.StatusCode);
        await ines.Get("/ql/recognition?on=2026-09-30");
        await ines.Submit(".do form");
        Assert.Contains("1 recognition posted", (await ines.Follow()).Text, StringComparison.Ordinal);
        Assert.Null((await ines.Get("/ql/recognition?on=2026-09-30")).Page.QuerySelector(".do form button:not([disabled])"));

        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/ql/recognition?on=2026-09-30");
        Assert.Null(vera.Page.QuerySelector(".do form"));
    }

    [Fact]
    public async Task Capital_purchases_stand_apart_in_the_tax_report()
    {
        await Post("""{"id":"V-1","type":"purchase-invoice","date":"2026-09-02","party":"Y-5","lines":[{"asset":"SAW-1","price":2880,"taxCode":"S20"},{"item":"DIESEL","quantity":10,"price":1.5}]}""");
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/ql/tax/report?from=2026-09&to=2026-09");

        Assert.Contains(vera.Rows("#capital tbody tr"), r => r.StartsWith("S20 161000 Diggers and vans 1 2,880.00", StringComparison.Ordinal));
    }
}
