using System.Net;
using Assignum.Storage.Companies;
using Assignum.Storage.Subledgers;
using Microsoft.Extensions.DependencyInjection;

namespace Assignum.Web.Tests;

/// <summary>Projects, fixed assets and late charges over HTTP: figures are the sums of what stands behind them, what is typed wrong is named and kept, and only
/// what was seen is done.</summary>
public sealed class ProjectsAndAssetsPageTests(App app) : IClassFixture<App>
{
    Task Post(params string[] events) => TypedEvents.Post(app.Services, "QL", events);

    Task<Visitor> Ines() => Visitor.SignedIn(app, "ines");

    [Fact]
    public async Task A_figure_of_a_project_is_the_sum_of_the_entries_behind_it_and_of_its_tasks()
    {
        await Post(
            """{"id":"F-1","type":"project-usage","date":"2026-08-03","project":"L-1","task":"10","lines":[{"item":"DRAW","quantity":6}]}""",
            """{"id":"F-2","type":"project-usage","date":"2026-08-04","project":"L-1","task":"20","lines":[{"item":"HOUR","quantity":8},{"item":"HOUR-L","quantity":2}]}""",
            """{"id":"F-3","type":"purchase-invoice","date":"2026-08-05","party":"Y-3","lines":[{"item":"CREW-X","quantity":2,"price":400,"project":"L-1","task":"20","toProject":true}]}""",
            """{"id":"F-4","type":"project-invoice","date":"2026-08-06","party":"K-1","project":"L-1","task":"20","lines":[{"item":"WORK","price":5000}]}""",
            """{"id":"F-5","type":"project-credit-note","date":"2026-08-09","party":"K-1","project":"L-1","task":"20","lines":[{"item":"WORK","price":500}]}""");
        var ines = await (await Ines()).Get("/ql/projects/L-1?on=2026-08-31");

        // 6 × 39; 8 × 31 + 2 × 44 + 2 × 400.
        var rows = ines.Rows("#figures tbody tr");
        Assert.Contains("234.00", Assert.Single(rows, r => r.StartsWith("10 Plan", StringComparison.Ordinal)), StringComparison.Ordinal);
        Assert.Contains("1,136.00", Assert.Single(rows, r => r.StartsWith("20 Walls", StringComparison.Ordinal)), StringComparison.Ordinal);
        Assert.StartsWith("All of it 1,370.00 4,500.00", rows[^1], StringComparison.Ordinal);
        foreach (var (figure, sum) in new[] { ("project-wip", 1370m), ("project-billed", -4500m), ("project-cost", 0m), ("project-accrued-revenue", 0m) })
        {
            var behind = await Csv.Read(ines, "/ql/projects/L-1?handler=export&kind=csv&on=2026-08-31&figure=" + figure);
            Assert.Equal((figure, sum), (figure, behind.Sum(b => Csv.Number(b["amount"]))));
            Assert.All(behind, b => Assert.Equal(figure, b["purpose"]));
        }
        // Up to a day before all of it, nothing stands, and the page says what to do.
        Assert.Contains("Use time or material", string.Join(' ', (await ines.Get("/ql/projects/L-1?on=2026-08-01")).Text.Split((char[]?)null,
            StringSplitOptions.RemoveEmptyEntries)), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await ines.GetBare("/ql/projects/L-99")).StatusCode);
    }

    [Fact]
    public async Task An_estimate_that_is_typed_wrong_is_named_where_it_stands_and_keeps_what_was_typed()
    {
        var ines = await (await Ines()).Get("/ql/projects/L-3");
        await ines.Submit("#estimate", ("Cost", "12x"), ("Revenue", "9000"), ("Note", "First look"));

        Assert.Equal(HttpStatusCode.BadRequest, ines.Last.StatusCode);
        Assert.Contains("12x", ines.Page.QuerySelector(".field:has(#e-cost)")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(("9000", "First look"), (ines.Page.QuerySelector("#e-revenue")!.GetAttribute("value"), ines.Page.QuerySelector("#e-note")!.GetAttribute("value")));
        await ines.Submit("#estimate", ("Cost", "-5"), ("Revenue", "9000"));
        Assert.Contains("Give 0 or more", ines.Page.QuerySelector(".field:has(#e-cost)")!.TextContent, StringComparison.Ordinal);
        Assert.Null(ines.Page.QuerySelector("#estimates"));

        await ines.Submit("#estimate", ("Cost", "6500"), ("Revenue", "9000"), ("From", "2026-08-01"));
        await ines.Follow();
        Assert.StartsWith("2026-08-01 no task 6,500.00 9,000.00 First look", Assert.Single(ines.Rows("#estimates tbody tr")), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Who_estimates_or_finishes_a_project_without_having_seen_the_last_word_is_told()
    {
        var (ines, tomas) = (await (await Ines()).Get("/ql/projects/L-5"), await (await Visitor.SignedIn(app, "tomas")).Get("/ql/projects/L-5"));
        await tomas.Submit("#estimate", ("Cost", "100"), ("Revenue", "200"));
        await ines.Submit("#estimate", ("Cost", "300"), ("Revenue", "400"));
        Assert.Contains("Somebody else has estimated this project", ines.Text, StringComparison.Ordinal);

        await tomas.Get("/ql/projects/L-5");
        await ines.Get("/ql/projects/L-5");
        await tomas.Submit(".do form", ("day", "2026-08-15"));
        await ines.Submit(".do form", ("day", "2026-08-20"));
        Assert.Equal(HttpStatusCode.Conflict, ines.Last.StatusCode);
        Assert.Contains("it was finished on 2026-08-15", ines.Text, StringComparison.Ordinal);
        // Looked at again, it can be opened, whatever day is shown.
        await ines.Get("/ql/projects/L-5?on=2026-08-01");
        await ines.Submit(".do form");
        Assert.Contains("L-5 goes on", (await ines.Follow()).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_project_is_recognised_task_by_task_each_by_its_own_estimate()
    {
        await Post(
            """{"id":"T-1","type":"project-usage","date":"2026-07-03","project":"L-5","task":"10","lines":[{"item":"DRAW","quantity":10}]}""",
            """{"id":"T-2","type":"project-usage","date":"2026-07-04","project":"L-5","task":"20","lines":[{"item":"HOUR","quantity":10}]}""");
        var ines = await Ines();
        foreach (var (task, cost, revenue) in new[] { ("10", "780", "1000"), ("20", "3100", "8000") })
        {
            await ines.Get("/ql/projects/L-5");
            await ines.Submit("#estimate", ("Task", task), ("From", "2026-07-01"), ("Cost", cost), ("Revenue", revenue));
        }
        await ines.Get("/ql/recognition?on=2026-07-31&task=true");

        // Half of the drawing and a tenth of the building: 500 and 800 count, of 390 and 310 of cost.
        var rows = ines.Rows("#recognition tbody tr");
        Assert.Contains(rows, r => r.Contains("10 Plan", StringComparison.Ordinal) && r.Contains("50 % 390.00 500.00", StringComparison.Ordinal));
        Assert.Contains(rows, r => r.Contains("20 Banks", StringComparison.Ordinal) && r.Contains("10 % 310.00 800.00", StringComparison.Ordinal));
        await ines.Submit(".do form");
        await ines.Follow();
        var recognised = ines.Rows("#figures tbody tr").Length > 0 ? ines : await ines.Get("/ql/projects/L-5?on=2026-07-31");
        Assert.EndsWith("310.00 800.00", Assert.Single(recognised.Rows("#figures tbody tr"), r => r.StartsWith("20 Banks", StringComparison.Ordinal)), StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_register_of_assets_has_what_was_bought_transferred_and_sold_and_only_the_depreciation_that_was_seen_is_posted()
    {
        await Post("""{"id":"R-1","type":"purchase-invoice","date":"2026-05-01","party":"Y-5","lines":[{"asset":"SAW-1","price":3600,"taxCode":"S20"}]}""");
        var ines = await (await Ines()).Get("/ql/depreciation?on=2026-06-30");
        // 3,600 over 36 months: two of them.
        Assert.Contains(ines.Rows("#depreciation tbody tr"), r => r.StartsWith("SAW-1", StringComparison.Ordinal) && r.Contains("200.00", StringComparison.Ordinal));
        await Post("""{"id":"R-2","type":"purchase-invoice","date":"2026-06-01","party":"Y-5","lines":[{"asset":"VAN-L","price":12000,"taxCode":"S20"}]}""");
        await ines.Submit(".do form");
        Assert.Equal(HttpStatusCode.Conflict, ines.Last.StatusCode);
        await ines.Get("/ql/depreciation?on=2026-06-30");
        // A month of a quarter of 12,000.
        Assert.Contains(ines.Rows("#depreciation tbody tr"), r => r.StartsWith("VAN-L", StringComparison.Ordinal) && r.Contains("250.00", StringComparison.Ordinal));
        await ines.Submit(".do form");
        Assert.Contains("2 assets depreciated", (await ines.Follow()).Text, StringComparison.Ordinal);

        await Post(
            """{"id":"R-3","type":"asset-transfer","date":"2026-06-30","from":"VAN-L","to":"DIG-1","cost":2000,"accumulated":0}""",
            """{"id":"R-4","type":"asset-disposal","date":"2026-06-30","asset":"SAW-1","cost":3600,"accumulated":200}""");
        await ines.Get("/ql/assets?on=2026-06-30");
        Assert.Contains("The register equals its control accounts", ines.Text, StringComparison.Ordinal);
        var register = (await Csv.Read(ines, "/ql/assets?handler=export&kind=csv&on=2026-06-30")).ToDictionary(r => r["asset"],
            r => (Csv.Number(r["cost"]), Csv.Number(r["accumulated"]), Csv.Number(r["bookValue"])));
        Assert.Equal((10_000m, 250m, 9_750m), register["VAN-L"]);
        Assert.Equal((2_000m, 0m, 2_000m), register["DIG-1"]);
        Assert.Equal((0m, 0m, 0m), register["SAW-1"]);
        Assert.Contains("gone", Assert.Single(ines.Rows("#assets tbody tr"), r => r.StartsWith("SAW-1", StringComparison.Ordinal)), StringComparison.Ordinal);
        // What moved one of them, the latest first, with the book value after each.
        var moves = (await ines.Get("/ql/assets/SAW-1?on=2026-06-30")).Rows("#moves tbody tr");
        Assert.Equal(["0.00", "3,400.00", "3,600.00"], moves.Select(m => m.Split(' ')[^1]));
    }

    [Fact]
    public async Task Only_customers_who_are_ticked_are_charged_and_nobody_twice()
    {
        var (company, ines) = ((await app.Services.GetRequiredService<CompanyStore>().Find("QN", default))!.Id, await Ines());
        var tomas = (await app.Services.GetRequiredService<Storage.People.PersonStore>().Find("tomas", default))!.Id;
        foreach (var party in new[] { "C-18", "C-19" })
        {
            var id = (await app.Services.GetRequiredService<Storage.Settings.RulebookStore>().Load(company, null, default)).Labels.IdOf("party", party)!.Value;
            Assert.Null(await app.Services.GetRequiredService<TermsStore>().Set(company, tomas, (id, null, party), null,
                new Core.Preparation.Terms(10, 0, 0, 0) { LatePercent = 12, ReminderFee = 4 }, default));
            await TypedEvents.Post(app.Services, "QN", $$"""{"id":"LC-{{party}}","type":"sales-invoice","date":"2026-03-02","party":"{{party}}","lines":[{"item":"DES-H","quantity":1,"price":1000}]}""");
        }
        await ines.Get("/qn/late-charges?on=2026-04-11");
        var both = ines.Rows("#late tbody tr");
        Assert.Contains(both, r => r.StartsWith("C-18", StringComparison.Ordinal));

        await ines.Submit("#charge", ("parties", null));
        Assert.Contains("No customer is ticked", ines.Text, StringComparison.Ordinal);
        await ines.Submit("#charge", ("parties", "C-18/EUR"));
        Assert.Contains("1 customer charged on 2026-04-11", (await ines.Follow()).Text, StringComparison.Ordinal);
        var left = (await ines.Get("/qn/late-charges?on=2026-04-11")).Rows("#late tbody tr");
        Assert.DoesNotContain(left, r => r.StartsWith("C-18", StringComparison.Ordinal));
        Assert.Contains(left, r => r.StartsWith("C-19", StringComparison.Ordinal));
        // What was seen before the charge can't be sent any more.
        Assert.Equal(HttpStatusCode.Conflict, (await ines.Post("/qn/late-charges?on=2026-04-11", ("seen", "C-18/EUR/1/4"), ("parties", "C-19/EUR"))).StatusCode);
    }
}
