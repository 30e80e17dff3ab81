using Assignum.Core.Projects;
using Assignum.Storage.Posting;
using Assignum.Storage.Projects;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>Projects over their life, beside a small model: at every step the register equals the control accounts, and when all is finished and recognised
/// what was used is cost, what was billed is revenue, and nothing stands under way.</summary>
public sealed class ProjectModelTests(Nursery nursery) : IClassFixture<Nursery>
{
    const string Wip = "1410", Billed = "2130", Accrued = "1420", Cost = "5070", Revenue = "4120", DesignRevenue = "4110";

    static readonly string[] Projects = ["P-1", "P-2", "P-3"];
    static readonly EventText Text = new(Formats.Events.EventWriter.Write, Formats.Events.EventReader.Kept);

    ProjectStore Store => new(nursery.Source, nursery.Posting, Text);

    Task<StoredRulebook> Book(int company) => nursery.Rulebooks.Load(company, null, default);

    Task<decimal> Stands(int company, string account) => nursery.Ask<decimal>(
        $"select coalesce(sum(l.amount), 0) from line l join account a on a.id = l.account_id where l.company_id = {company} and a.number = '{account}'");

    Task<decimal> Recognised(int company, string project, string purpose) => nursery.Ask<decimal>(
        $"select coalesce(sum(amount), 0) from line where company_id = {company} and purpose = '{purpose}' and split_part(project, '/', 1) = '{project}'");

    async Task Post(int company, string json) => Assert.All(await nursery.Posting.Post(company, nursery.User, [Nursery.Event(json)], default),
        p => Assert.True(p.Fate == PostingFate.Landed, p.WhyNot));

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    public async Task What_is_used_becomes_cost_and_what_is_billed_revenue_however_often_estimates_change(int seed)
    {
        var (chance, company) = (new Random(seed), await nursery.OpenCompany("LIFE" + seed));
        var (used, billed, said, day) = (Projects.ToDictionary(p => p, _ => 0m), Projects.ToDictionary(p => p, _ => 0m), new int[3], new DateOnly(2026, 2, 1));
        var posted = new List<(string Id, string Json, string Project, decimal Cost, decimal Net)>();
        for (var step = 0; step < 40; step++)
        {
            day = day.AddDays(chance.Next(1, 5));
            var (at, id) = (chance.Next(3), $"S{step}");
            var (project, task) = (Projects[at], at == 0 && chance.Next(2) == 0 ? ""","task":"20" """ : "");
            switch (chance.Next(6))
            {
                case 0 or 1:
                    var (quantity, cost) = (chance.Next(1, 9), chance.Next(100, 9_000) / 100m);
                    await Do(new(id, FormattableString.Invariant($$"""{"id":"{{id}}","type":"project-usage","date":"{{day:yyyy-MM-dd}}","project":"{{project}}"{{task}},"lines":[{"itemGroup":"LABOUR","itemKind":"labour","quantity":{{quantity}},"unitCost":{{cost}}}]"""), project, quantity * cost, 0));
                    break;
                case 2:
                    var net = chance.Next(1_000, 90_000) / 100m;
                    await Do(new(id, FormattableString.Invariant($$"""{"id":"{{id}}","type":"project-invoice","date":"{{day:yyyy-MM-dd}}","party":"C-10","project":"{{project}}"{{task}},"lines":[{"item":"DES-H","quantity":1,"price":{{net}}}]"""), project, 0, net));
                    break;
                case 3 when at != 2:
                    Assert.Null(await Store.Say(company, nursery.User, (await Book(company)).Labels.IdOf("project", project)!.Value, null,
                        new(day.AddDays(-chance.Next(10)), chance.Next(1, 900), chance.Next(1, 1_500)), "", said[at]++, default));
                    break;
                case 4 when posted.Count > 0:
                    var taken = posted[chance.Next(posted.Count)];
                    posted.Remove(taken);
                    (used[taken.Project], billed[taken.Project]) = (used[taken.Project] - taken.Cost, billed[taken.Project] - taken.Net);
                    await Post(company, taken.Json + ""","revision":2,"withdrawn":true}""");
                    break;
                case 5:
                    await Recognise(byTask: false);
                    break;
            }
            await EqualsItsControlAccounts(company, day);
        }

        foreach (var project in Projects[..2])
            Assert.Null(await Store.Finish(company, nursery.User, (await Book(company)).Labels.IdOf("project", project)!.Value, null, day, default));
        await Recognise(byTask: false);
        await EqualsItsControlAccounts(company, day);
        Assert.Equal(0, await Stands(company, Wip));
        Assert.Equal(0, await Stands(company, Billed));
        foreach (var (project, place) in Projects.Select((p, i) => (p, i)))
        {
            Assert.Equal(used[project], await Recognised(company, project, "project-cost"));
            var revenue = -await Recognised(company, project, "project-revenue");
            // Of a finished project what it was to bring counts, where more than was billed was agreed: the rest is accrued.
            if (place == 2)
                Assert.Equal(billed[project], revenue);
            else
                Assert.Equal(revenue - billed[project], (await Store.All(company, await Book(company), day, default)).Single(p => p.Project.Code == project).Whole.Accrued);
        }
        Assert.Equal(used.Values.Sum(), await Stands(company, Cost));
        Assert.Empty(await nursery.Journal.BalancesOffTheirLines(company, default));

        async Task Do((string Id, string Json, string Project, decimal Cost, decimal Net) happened)
        {
            await Post(company, happened.Json + "}");
            (used[happened.Project], billed[happened.Project]) = (used[happened.Project] + happened.Cost, billed[happened.Project] + happened.Net);
            posted.Add(happened);
        }

        async Task Recognise(bool byTask)
        {
            var all = await Store.All(company, await Book(company), day, default);
            var made = await Store.Made(company, [.. all.SelectMany(p => p.Recognise(byTask, 2))], day, default);
            Assert.Null(await Store.Post(company, nursery.User, made, default));
            // Recognised twice on one day, there is nothing left the second time.
            all = await Store.All(company, await Book(company), day, default);
            Assert.Empty(await Store.Made(company, [.. all.SelectMany(p => p.Recognise(byTask, 2))], day, default));
        }
    }

    async Task EqualsItsControlAccounts(int company, DateOnly day)
    {
        var register = (await Store.All(company, await Book(company), day, default)).Select(p => p.Whole).ToList();
        Assert.Equal(await Stands(company, Wip), register.Sum(p => p.WorkInProgress));
        Assert.Equal(-await Stands(company, Billed), register.Sum(p => p.BilledAhead));
        Assert.Equal(await Stands(company, Accrued), register.Sum(p => p.Accrued));
    }

    [Fact]
    public async Task A_project_shows_the_entries_behind_its_figures_and_who_estimated_it()
    {
        var company = await nursery.OpenCompany("BEHIND");
        await Post(company, """{"id":"U","type":"project-usage","date":"2026-03-02","project":"P-1","task":"20","lines":[{"itemGroup":"LABOUR","itemKind":"labour","quantity":10,"unitCost":40}]}""");
        await Post(company, """{"id":"B","number":"INV-7","type":"project-invoice","date":"2026-03-04","party":"C-10","project":"P-1","lines":[{"item":"DES-H","quantity":1,"price":300}]}""");
        var id = (await Book(company)).Labels.IdOf("project", "P-1")!.Value;
        Assert.Null(await Store.Say(company, nursery.User, id, null, new(new(2026, 3, 1), 800, 1_000), "as offered", 0, default));
        Assert.Equal([("U", 400m), ("INV-7", -300)], (await Store.Lines(company, "P-1", new(2026, 3, 31), null, 10, default)).OrderBy(l => l.Date).Select(l => (l.Document, l.Amount)));
        Assert.Equal(-300, Assert.Single(await Store.Lines(company, "P-1", new(2026, 3, 31), "project-billed", 1, default)).Amount);
        Assert.Equal(400, Assert.Single(await Store.Lines(company, "P-1", new(2026, 3, 31), "project-wip", 1, default)).Amount);
        Assert.Equal("as offered", Assert.Single(await Store.History(company, id, default)).Note);

        // Half of the cost, half of the revenue: of 500, 300 are billed and 200 are not.
        var whole = Assert.Single((await Store.All(company, await Book(company), new(2026, 3, 31), default)).Single(p => p.Project.Code == "P-1").Recognise(false, 2));
        Assert.Equal((400m, 500m, 300m), (whole.Cost, whole.Revenue, whole.FromBilled));

        // Whoever has not seen the first estimate says no second.
        Assert.Contains("Somebody else", (await Store.Say(company, nursery.User, id, null, new(new(2026, 3, 1), 900, 1_000), "", 0, default))!.Message, StringComparison.Ordinal);
        Assert.Equal("cost", (await Store.Say(company, nursery.User, id, null, new(new(2026, 3, 1), -1, 1_000), "", 1, default))!.Field);
    }
}
