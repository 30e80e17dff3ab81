using System.Diagnostics;
using System.Globalization;
using System.Text.Json.Nodes;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.People;
using Assignum.Storage.Proving;
using Microsoft.AspNetCore.Identity;
using Npgsql;

namespace Assignum.Bench;

/// <summary>
/// Kills the application and the database while it takes in the feed of a system that misbehaves in every way, and starts them again. After each kill
/// whatever the
/// system was asked for beyond is kept here, once; in the end the journal is what the feed says.
/// </summary>
sealed class Feeds
{
    // Pages are asked for as fast as they come.
    static readonly Dictionary<string, string> Settings = new() { ["Connections__Hosts"] = "127.0.0.1", ["Connections__Seconds"] = "0.2",
        ["Connections__AnswerWithin"] = "5" };
    static readonly string[] Ways = ["duplicates", "out-of-order", "changed-content", "rubbish"];

    readonly BenchDatabase database;
    readonly StandIns outside;
    int checks, lost;

    Feeds(BenchDatabase database, StandIns outside) => (this.database, this.outside) = (database, outside);

    /// <summary>Prints the counts.</summary>
    /// <param name="kills">How often something is killed at most, application and database in turn.</param>
    /// <param name="events">How many events the feed has, before it is disarranged.</param>
    /// <returns>Whether nothing was lost or doubled.</returns>
    internal static async Task<bool> Run(int kills, int events)
    {
        using var cluster = KillableCluster.Make();
        var book = RulebookReader.Read(await File.ReadAllBytesAsync(Path.Combine(RunningApplication.Root, "demo/qn/rulebook.json"))).Book
            ?? throw new InvalidOperationException("The demo's rulebook can't be read.");
        await using var database = await BenchDatabase.Make(book, cluster.Connection);
        var people = new PersonStore(database.Source);
        foreach (var (name, role) in new[] { ("ines", Role.Preparer), ("adam", Role.Administrator) })
            await people.Grant(database.Company, await people.Add(name, name, new PasswordHasher<Person>().HashPassword(null!, PagesOverHttp.Password),
                default), role, null, default);
        using var outside = await StandIns.Start();
        for (var from = 0; from < events; from += 1000)
            await outside.Post("feed", new JsonArray([.. Enumerable.Range(from, Math.Min(1000, events - from)).Select(Order)]));
        foreach (var way in Ways)
            await outside.Post("misbehave", new { how = way, seed = 7 });
        await outside.Post("misbehave", new { how = "none" });
        var run = new Feeds(database, outside);
        var watch = Stopwatch.StartNew();
        var killed = await run.Through(cluster, kills);
        database.Source.Clear();
        return await run.Compare(killed, watch.Elapsed);
    }

    static JsonObject Order(int n) => JsonNode.Parse(string.Create(CultureInfo.InvariantCulture,
        $$"""{"id":"F-{{n}}","type":"sales-invoice","date":"{{new DateOnly(2026, 1,
            2).AddDays(n / 80):yyyy-MM-dd}}","party":"C-10","location":"NORTH","lines":[{"item":"SEED-0{{1
                + (n % 9)}}","quantity":{{1 + (n % 4)}},"price":2.40,"shipped":true}]}"""))!
        .AsObject();

    async Task<int> Through(KillableCluster cluster, int kills)
    {
        var chance = new Random(20261129);
        var port = RunningApplication.FreePort();
        var application = await RunningApplication.Start(database.Owner, port, Settings);
        var done = 0;
        try
        {
            await Connect(application.Address);
            for (; done < kills && !await IsDone(); done++)
            {
                await Task.Delay(chance.Next(400, 2_500));
                application = await Killing.Next(done, application, cluster, database.Owner, port, Settings);
                await Check();
            }
            for (var waited = Stopwatch.StartNew(); !await IsDone(); await Task.Delay(500))
                if (waited.Elapsed > TimeSpan.FromMinutes(10))
                    throw new InvalidOperationException("The feed is not settled after ten minutes.");
        }
        finally
        {
            application.Dispose();
        }
        return done;
    }

    async Task Connect(Uri address)
    {
        using (var adam = await RunningApplication.SignIn(address, "adam", PagesOverHttp.Password))
        {
            await Send(adam, "/b/connections", "/b/connections", ("code", "provider"), ("name", "Provider"));
            await Send(adam, "/b/connections/provider", "/b/connections/provider?handler=Reach", ("address", new Uri(outside.Address,
                "/card-payments").ToString()),
                ("secret", "leaf-card-payments"), ("seen", "0"));
        }
        using var ines = await RunningApplication.SignIn(address, "ines", PagesOverHttp.Password);
        await Send(ines, "/b/connections/provider", "/b/connections/provider?handler=Run", ("running", "true"), ("seen", "1"));
    }

    static async Task Send(HttpClient client, string page, string to, params (string Name, string Value)[] fields)
    {
        var token = RunningApplication.TokenIn(await client.GetStringAsync(page));
        using var form = new FormUrlEncodedContent(fields.Append(("__RequestVerificationToken", token)).Select(f => new KeyValuePair<string, string>(f.Item1,
            f.Item2)));
        (await client.PostAsync(to, form)).EnsureSuccessStatusCode();
    }

    // A fresh connection each time: those from before a kill are gone.
    async Task<T> Ask<T>(string sql, Func<NpgsqlDataReader, T> read)
    {
        for (var tries = 0; ; tries++)
            try
            {
                await using var connection = new NpgsqlConnection(database.Owner + ";Pooling=false");
                await connection.OpenAsync();
                await using var command = new NpgsqlCommand(sql, connection) { CommandTimeout = 0 };
                await using var rows = await command.ExecuteReaderAsync();
                return read(rows);
            }
            catch (NpgsqlException) when (tries < 50)
            {
                await Task.Delay(200);
            }
    }

    async Task<bool> IsDone()
    {
        var all = (await outside.Get("feed"))!.Count;
        return await Ask("select coalesce(max(cursor), '0'), (select count(*) from inbox where state = 'waiting') from connection", rows => rows.Read()
            && int.Parse(rows.GetString(0), CultureInfo.InvariantCulture) >= all && rows.GetInt64(1) == 0);
    }

    // What the feed gave before the cursor is kept, each text once.
    async Task Check()
    {
        var feed = (await outside.Get("feed"))!;
        var (cursor, kept) = await Ask("select coalesce(max(cursor), '0'), (select array_agg(raw) from inbox) from connection", rows => rows.Read()
            ? (int.Parse(rows.GetString(0), CultureInfo.InvariantCulture), rows.IsDBNull(1) ? [] : rows.GetFieldValue<string[]>(1)) : (0, []));
        var here = kept.ToHashSet(StringComparer.Ordinal);
        checks++;
        lost += feed.Take(cursor).Count(f => !here.Contains(f!["raw"]!.GetValue<string>())) + (kept.Length - here.Count);
    }

    async Task<bool> Compare(int kills, TimeSpan took)
    {
        var feed = (await outside.Get("feed"))!;
        var wanted = new Dictionary<string, int>();
        foreach (var given in feed.Where(f => f!["id"]!.GetValue<string>().Length > 0))
            wanted[given!["id"]!.GetValue<string>()] = Math.Max(wanted.GetValueOrDefault(given["id"]!.GetValue<string>()), given["revision"]!.GetValue<int>());
        var standing = await Ask("select e.source_id, e.revision, count(n.id)::integer from event e join entry n on n.company_id = e.company_id and " +
            "n.event_id = e.id and n.reverses " +
            "is null where e.outcome = 'landed' group by 1, 2", rows =>
        {
            var all = new List<(string Id, int Revision, int Entries)>();
            while (rows.Read())
                all.Add((rows.GetString(0), rows.GetInt32(1), rows.GetInt32(2)));
            return all;
        });
        var different = wanted.Count(w => standing.Count(s => s.Id == w.Key && s.Revision == w.Value && s.Entries == 1) != 1)
            + Math.Abs(standing.Count - wanted.Count);
        var unsaid = (await outside.Get("log"))!.Where(l => l!["what"]!.GetValue<string>() == "gave").Select(l => l!["id"]!.GetValue<string>()).ToHashSet();
        var notGiven = wanted.Keys.Count(id => !unsaid.Contains(id));
        var books = await new BooksVerifying(database.Source).Verify(database.Company, "B", [], default);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"feeds: {kills} kills of application and database in {took.TotalSeconds:0} s while {feed.Count} events came, {wanted.Count} of them " +
                $"different; after {checks} kills {lost} lost or kept twice; {different} in the journal otherwise than the feed says, {notGiven} never " +
                    $"given, {books.Faults.Count + books.More} faults in numbers, sums and chain"));
        return lost == 0 && different == 0 && notGiven == 0 && books.Sound && wanted.Count > 0;
    }
}
