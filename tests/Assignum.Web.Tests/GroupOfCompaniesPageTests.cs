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

    [Fact]
    public async Task A_match_that_somebody_else_has_made_meanwhile_is_not_written_over()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/ql/group?hand=309000");
        var tomas = await (await Visitor.SignedIn(app, "tomas")).Get("/ql/group?hand=309000");
        await tomas.Submit("#by-hand", ("to", "G-310"), ("rate", "closing"));
        await ines.Submit("#by-hand", ("to", "G-300"));
        Assert.Contains("somebody has changed where account 309000 goes: G-310, at the closing rate now", Said(ines), StringComparison.Ordinal);

        // Of what is matched, it can be changed and taken back by who sees it.
        await ines.Get("/ql/group?view=done");
        await tomas.Get("/ql/group?view=done");
        await ines.Submit(Of("309000", "match"), ("to", "G-310"), ("credit", "G-300"));
        Assert.Equal("G-310, in credit to G-300", ines.Page.QuerySelector(Of("309000", "back") + " [name=seen]")!.GetAttribute("value"));
        await tomas.Submit(Of("309000", "back"));
        Assert.Contains("somebody has changed", Said(tomas), StringComparison.Ordinal);
        await ines.Submit(Of("309000", "back"));
        Assert.Contains("309000", (await ines.Get("/ql/group?hand=309000")).Page.QuerySelector(".hand h2")!.TextContent, StringComparison.Ordinal);

        static string Of(string account, string act) => $"#decided form[action*='{act}']:has(input[value='{account}'])";
    }

    [Fact]
    public async Task What_was_just_matched_is_taken_back_from_the_board_and_of_good_suggestions_only_those_ticked_are_taken()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/ql/group");
        Assert.Null(ines.Page.QuerySelector("#back"));
        var hand = ines.Page.QuerySelector(".hand h2 .mono")!.TextContent;
        await ines.Submit("#by-hand", ("to", "G-800"));
        Assert.Contains(hand, ines.Page.QuerySelector("#back")!.TextContent, StringComparison.Ordinal);
        await ines.Submit("#back");
        Assert.Equal(hand, ines.Page.QuerySelector(".hand h2 .mono")!.TextContent);

        await ines.Get("/ql/group?view=all");
        var good = ines.Page.QuerySelectorAll("#good [name=accounts]").Select(b => b.GetAttribute("value")!).ToList();
        var before = ines.Rows("#good tbody tr").Length;
        await ines.Submit("#good", [("accounts", good[0])]);
        await ines.Get("/ql/group?view=all");
        Assert.Equal(before - 1, ines.Rows("#good tbody tr").Length);
        Assert.DoesNotContain(good[0], ines.Page.QuerySelectorAll("#good [name=accounts]").Select(b => b.GetAttribute("value")));
        await (await ines.Get("/ql/group?view=done")).Submit($"#decided form[action*='back']:has(input[value='{good[0]}'])");
    }

    [Fact]
    public async Task Every_figure_of_the_consolidated_trial_balance_is_the_sum_of_its_accounts_and_all_of_it_is_nothing()
    {
        await Post("""{"id":"C-1","type":"sales-invoice","date":"2026-09-03","party":"K-5","lines":[{"item":"CARE-H","quantity":3,"price":40}]}""");
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qg/consolidated?on=2026-09-30");
        var lines = await Csv.Read(ines, "/qg/consolidated?handler=export&kind=csv&on=2026-09-30");
        var parts = (await Csv.Read(ines, "/qg/consolidated?handler=export&kind=csv&parts=true&on=2026-09-30")).ToLookup(p => p["groupAccount"] + p["groupName"]);

        string[] members = [.. lines[0].Keys.Except(["account", "name", "eliminated", "consolidated"])];
        Assert.Contains("QL", members);
        Assert.All([.. members, "eliminated", "consolidated"], column => Assert.Equal((column, 0m), (column, lines.Sum(l => Csv.Number(l[column])))));
        // Its accounts, translated, come to what the companies have; with what is eliminated that is the group's.
        Assert.All(lines, l =>
        {
            var all = members.Sum(m => Csv.Number(l[m]));
            if (l["account"].Length > 0)
                Assert.Equal(all, parts[l["account"] + l["name"]].Sum(p => Csv.Number(p["translated"])));
            Assert.Equal(all + Csv.Number(l["eliminated"]), Csv.Number(l["consolidated"]));
        });
        var trail = ines.Page.QuerySelector("#consolidated a[hx-get]")!.GetAttribute("hx-get")!;
        Assert.NotEmpty((await ines.Get(trail)).Page.QuerySelectorAll("table, p"));
    }

    [Fact]
    public async Task Companies_with_books_in_another_currency_are_compared_at_the_rate_of_the_day_and_differ_by_their_rates()
    {
        var (companies, people, groups) = (The<CompanyStore>(), The<PersonStore>(), The<GroupStore>());
        var (ines, nurseries) = ((await people.Find("ines", default))!.Id, await Company("QN"));
        var meadows = (await companies.Open("QD", "Meadows", "USD", default, new DateOnly(2026, 1, 1))).Id;
        await people.Grant(meadows, ines, Role.Preparer, null, default);
        var book = Formats.Rulebooks.RulebookReader.Read(await File.ReadAllBytesAsync(Path.Combine(AppContext.BaseDirectory, "demo", "ql", "rulebook.json"))).Book!;
        Assert.Null(await The<RulebookImport>().IntoEmpty(meadows, ines, book, default));
        Assert.Null(await The<EditionStore>().Release(meadows, ines, await The<RulebookStore>().StateOf(meadows, default), "All of it.", default));
        Assert.Null(await groups.Add(nurseries, ines, "partner", new("QD", "Meadows", null, null, null), default));
        Assert.Null(await groups.Add(nurseries, ines, "party", new("QD", "Meadows", "both", "GROUP", null) { Partner = "QD" }, default));
        await The<Storage.Rates.RateStore>().Set(meadows, ines, [new("EUR", new(2026, 1, 1), 1.10m)], false, default);

        await TypedEvents.Post(app.Services, "QN", """{"id":"O-1","type":"opening-item","date":"2026-02-02","kind":"receivable","party":"QD","number":"QN-77","dueDate":"2026-03-02","amount":100}""");
        await TypedEvents.Post(app.Services, "QD", """{"id":"O-1","type":"opening-item","date":"2026-02-02","kind":"payable","party":"QN","number":"QN-77","dueDate":"2026-03-02","amount":100,"currency":"EUR"}""");
        var visitor = await (await Visitor.SignedIn(app, "ines")).Get("/qn/between?on=2026-02-28");
        Assert.Contains("Meadows keeps its books in USD, for which there is no rate up to 2026-02-28", Said(visitor), StringComparison.Ordinal);

        // 110 dollars there are 99.00 here, so that one euro is the rates' doing.
        Assert.Null(await The<Storage.Rates.RateStore>().Set(nurseries, ines, [new("USD", new(2026, 1, 31), 0.90m)], true, default));
        await visitor.Get("/qn/between?on=2026-02-28");
        Assert.Contains("QN-77 2026-02-02 100.00 2026-02-02 -100.00 EUR 1.00 other rate", Assert.Single(visitor.Rows("#between-QD tbody tr"),
            r => r.StartsWith("QN-77", StringComparison.Ordinal)).Replace('\u2212', '-'), StringComparison.Ordinal);
        Assert.Contains("Their books are in USD, here at 0.9 of 2026-01-31", Said(visitor), StringComparison.Ordinal);
    }
}
