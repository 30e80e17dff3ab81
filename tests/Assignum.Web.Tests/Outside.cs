extern alias outside;

using Assignum.Core;
using Assignum.Core.Matching;
using Assignum.Storage.Connections;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Connections;
using Microsoft.AspNetCore.Builder;
using Microsoft.Extensions.DependencyInjection;
using outside::Assignum.Simulators;

namespace Assignum.Web.Tests;

/// <summary>The stand-ins, answering on a port of their own.</summary>
sealed class Outside : IAsyncDisposable
{
    readonly WebApplication app;

    Outside(WebApplication app, IReadOnlyDictionary<string, StandIn> systems) => (this.app, Systems) = (app, systems);

    internal IReadOnlyDictionary<string, StandIn> Systems { get; }
    internal StandIn Shop => Systems["web-shop"];
    internal string AddressOf(string system) => $"{app.Urls.First()}/{system}";

    internal static async Task<Outside> Start(int days = 0)
    {
        var (app, systems) = Stage.Build(["--urls", "http://127.0.0.1:0", "--Simulators:Days", days.ToString(System.Globalization.CultureInfo.InvariantCulture),
            "--Simulators:SlowFor", "30"]);
        await app.StartAsync();
        return new(app, systems);
    }

    public ValueTask DisposeAsync() => app.DisposeAsync();
}

/// <summary>A web shop connected below the pages: reached, its lists fetched and matched, its matches released.</summary>
sealed class Connected
{
    readonly IServiceProvider services;

    Connected(IServiceProvider services, int company, string code) => (this.services, Company, Code) = (services, company, code);

    internal int Company { get; }
    internal string Code { get; }
    internal T Of<T>() where T : notnull => services.GetRequiredService<T>();
    internal async Task<ConnectionRow> Row() => (await Of<ConnectionStore>().Find(Company, Code, default))!;
    internal async Task<int> Person(string name) => (await Of<PersonStore>().Find(name, default))!.Id;

    internal static async Task<Connected> To(IServiceProvider services, string code, string address, string secret, Func<Switches, Switches>? set = null,
        string company = "QN")
    {
        var id = (await services.GetRequiredService<Storage.Companies.CompanyStore>().Find(company, default))!.Id;
        var made = new Connected(services, id, code);
        var (connections, secrets) = (made.Of<ConnectionStore>(), made.Of<Secrets>());
        var adam = await made.Person("adam");
        Assert.Null(await connections.Add(id, adam, code, code, secrets.Close("signing-" + code), default));
        Assert.Null(await connections.SetAddress(id, adam, await made.Row(), address, secrets.Close(secret), default));
        await made.Of<ListFetching>().Fetch(id, await made.Row(), default);
        await made.MatchAll();
        Assert.Null(await connections.SetSwitches(id, adam, await made.Row(), (set ?? (s => s))(new Switches { Collective = "C-31" }), "Europe/Vienna", default, default));
        return made;
    }

    internal async Task Run() => Assert.Null(await Of<ConnectionStore>().SetRunning(Company, await Person("ines"), await Row(), true, default));

    // What is good is accepted; nothing else is needed.
    async Task MatchAll()
    {
        var (lists, matches, row, ines) = (Of<ListStore>(), Of<MatchStore>(), await Row(), await Person("ines"));
        foreach (var list in await lists.All(Company, row.Id, default))
        {
            var book = (await Of<RulebookCache>().Of(Company, default)).Draft.Stored.Book;
            var board = Board.Of(book, row, list.List, await lists.Entries(Company, row.Id, list.List, default), new SuggestionCache());
            var good = board.Good.Select(g => new Decided(g.Theirs.Sent.Code, g.Ours.Code, g.Why.Reason)).ToList();
            Assert.Null(await matches.Decide(Company, ines, row, list.List,
                [.. good, .. board.Waiting.Where(w => good.TrueForAll(g => g.Theirs != w.Sent.Code)).Select(w => new Decided(w.Sent.Code, null, "not needed"))], default));
        }
        var state = await Of<RulebookStore>().StateOf(Company, default);
        if ((await Of<RulebookCache>().Of(Company, default)).Changes.Count > 0)
            Assert.Null(await Of<EditionStore>().Release(Company, await Person("tomas"), state, "Matches of " + Code, default));
    }

    /// <summary>Fetches what there is, and settles it.</summary>
    internal async Task<int> Fetch()
    {
        var came = await Of<Feeding>().Fetch(Company, await Row(), default);
        await Of<Receiving>().Settle(Company, await Row(), null, default);
        return came;
    }

    internal async Task<IReadOnlyDictionary<InboxState, long>> Counts()
    {
        var row = await Row();
        return (await Of<InboxStore>().Counts(Company, default)).Where(c => c.Connection == row.Id).ToDictionary(c => c.State, c => c.Events);
    }

    internal async Task<long> Count(InboxState state) => (await Counts()).GetValueOrDefault(state);

    /// <summary>Revisions that stand in the books, by id there; each is there with one entry that is not taken back.</summary>
    internal async Task<Dictionary<string, int>> Standing()
    {
        var rows = new List<(string Id, int Revision, long Entries)>();
        await using var command = Of<Npgsql.NpgsqlDataSource>().CreateCommand("""
            select e.source_id, e.revision, count(n.id) from event e join entry n on n.company_id = e.company_id and n.event_id = e.id and n.reverses is null
            where e.company_id = $1 and e.source = $2 and e.outcome = 'landed' group by 1, 2
            """);
        command.Parameters.Add(new() { Value = Company });
        command.Parameters.Add(new() { Value = Fold.Of(Code) });
        await using var reader = await command.ExecuteReaderAsync();
        while (await reader.ReadAsync())
            rows.Add((reader.GetString(0), reader.GetInt32(1), reader.GetInt64(2)));
        Assert.All(rows, r => Assert.Equal(1, r.Entries));
        return rows.ToDictionary(r => r.Id, r => r.Revision);
    }
}
