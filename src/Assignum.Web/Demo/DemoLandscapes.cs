using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Core.Projects;
using Assignum.Storage.Assets;
using Assignum.Storage.Companies;
using Assignum.Storage.Connections;
using Assignum.Storage.Projects;
using Assignum.Storage.Settings;
using Assignum.Storage.Subledgers;
using Assignum.Web.Connections;
using Assignum.Web.Showing;

namespace Assignum.Web.Demo;

/// <summary>What the office of the landscapers does: it takes over what the nurseries invoice it, posts its thirteen months, says what its gardens will cost,
/// and counts the months but the last one. Two things of the nurseries it knows no place for.</summary>
sealed class DemoLandscapes(DemoCompany demo, CompanyStore companies, RulebookStore rulebooks, ConnectionStore connections, ListFetching fetching,
    ListStore lists, MatchStore matches, PartnerSystem partners, Feeding feeding, EditionStore editions, ProjectStore projects, AssetStore assets,
    TermsStore terms, Secrets secrets, TimeProvider clock)
{
    // Where what the nurseries sell belongs at the landscapers.
    static readonly Dictionary<string, string> PlaceOf = new(StringComparer.Ordinal)
    {
        ["SEEDS"] = "P-SEED", ["SAPLINGS"] = "P-BIRCH", ["COMPOST"] = "SOIL-1", ["POTS"] = "SMALL", ["TOOLS"] = "SMALL",
    };

    // What each garden will cost and bring: from which month on, and why.
    static readonly (string Project, string? Task, int Month, decimal Cost, decimal Revenue, string Why)[] Estimates =
    [
        ("L-1", "10", 0, 4_200, 5_000, "As offered"), ("L-1", "20", 0, 29_500, 41_000, "As offered"), ("L-1", "30", 0, 12_500, 17_000, "As offered"),
        ("L-2", null, 1, 20_500, 24_500, "As offered"), ("L-3", null, 6, 27_000, 31_500, "As offered"),
        ("L-5", "10", 5, 5_200, 7_400, "As offered"), ("L-5", "20", 5, 41_000, 61_600, "As offered"),
        ("L-5", "20", 9, 52_000, 64_000, "Wet ground: more stone, and a part of it is paid for"),
    ];

    /// <summary>Brings it in, unless it is in.</summary>
    internal async Task BringIn(int ines, int tomas, string file, CancellationToken stop)
    {
        if (!File.Exists(file) || await companies.Find("QL", stop) is not { Group: not null } company || await companies.Find("QN", stop) is not { } nurseries)
            return;
        var first = new DateOnly(clock.Today().Year, clock.Today().Month, 1).AddMonths(-12);
        if (await connections.Find(company.Id, "qn", stop) is null)
        {
            await Connect(company.Id, ines, tomas, nurseries.Id, stop);
            await terms.Set(company.Id, ines, (null, (await rulebooks.Load(company.Id, null, stop)).Labels.IdOf(Labels.Family("party"), "CLIENTS"), "CLIENTS"),
                null, new Terms(30, 0, 0, 0) { LatePercent = 8, ReminderFee = 12, GraceDays = 7 }, stop);
            await Estimate(company.Id, ines, first, stop);
        }
        await demo.Post(company.Id, ines, file, stop);
        await Count(company.Id, ines, first, stop);
    }

    async Task Connect(int company, int ines, int tomas, int nurseries, CancellationToken stop)
    {
        DemoCompany.Insist(await connections.Add(company, ines, "qn", "Quillmoss Nurseries", secrets.Close(Secrets.New()), stop, nurseries));
        var made = (await connections.Find(company, "qn", stop))!;
        await fetching.Fetch(company, made, stop);
        await Match("accounts", await partners.AccountsByGroup(made.Partner!, stop));
        var entries = await lists.Entries(company, made.Id, "items", stop);
        await Match("items", [.. entries.Where(e => PlaceOf.ContainsKey(e.Sent.Category ?? "")).GroupBy(e => e.Sent.Category!)
            .SelectMany(group => group.SkipLast(group.Key is "POTS" or "TOOLS" ? 1 : 0))
            .Select(e => new Decided(e.Sent.Code, PlaceOf[e.Sent.Category!], "by hand"))]);
        var state = await rulebooks.StateOf(company, stop);
        DemoCompany.Insist(await editions.Release(company, tomas, state, "What the nurseries invoice us.", stop));
        DemoCompany.Insist(await connections.SetRunning(company, ines, (await connections.Find(company, "qn", stop))!, true, stop));
        await feeding.Fetch(company, (await connections.Find(company, "qn", stop))!, stop);
        await feeding.SettleAll(stop);

        async Task Match(string list, IReadOnlyList<Decided> decisions)
        {
            if (decisions.Count > 0)
                DemoCompany.Insist(await matches.Decide(company, ines, made, list, decisions, stop));
        }
    }

    async Task Estimate(int company, int user, DateOnly first, CancellationToken stop)
    {
        var labels = (await rulebooks.Load(company, null, stop)).Labels;
        foreach (var ofProject in Estimates.GroupBy(e => e.Project))
        {
            var said = 0;
            foreach (var (project, task, month, cost, revenue, why) in ofProject)
                DemoCompany.Insist(await projects.Say(company, user, labels.IdOf("project", project)!.Value,
                    task is null ? null : labels.IdOf("task", $"{project}/{task}"), new(first.AddMonths(month), cost, revenue), why, said++, stop));
        }
        await projects.Finish(company, user, labels.IdOf("project", "L-2")!.Value, null, first.AddMonths(6).AddDays(-1), stop);
    }

    // The month that has just ended is left to whoever looks at the demo.
    async Task Count(int company, int user, DateOnly first, CancellationToken stop)
    {
        var book = await rulebooks.Load(company, null, stop);
        for (var ends = first.AddMonths(1).AddDays(-1); ends < clock.Today().AddMonths(-1); ends = ends.AddDays(1).AddMonths(1).AddDays(-1))
        {
            var counted = (await projects.All(company, book, ends, stop)).SelectMany(p => p.Recognise(byTask: false, minorUnits: 2)).ToList();
            Insist(await projects.Post(company, user, await projects.Made(company, counted, ends, stop), stop));
            var worn = await assets.Propose(company, await assets.All(company, book, ends, stop), ends, 2, stop);
            if (await assets.Made(company, worn, ends, stop) is { } made)
                Insist((await assets.Post(company, user, made, stop)).WhyNot);
        }
    }

    static void Insist(string? whyNot) => DemoCompany.Insist(whyNot is null ? null : new("", whyNot));
}
