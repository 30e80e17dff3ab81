using System.Collections.Concurrent;
using System.Diagnostics;
using System.Globalization;
using Assignum.Formats.Rulebooks;
using Assignum.Storage;
using Assignum.Storage.People;
using Microsoft.AspNetCore.Identity;

namespace Assignum.Bench;

/// <summary>
/// Kills the application and the database while four people post invoices, starts them again, and counts: what was said to be posted is posted, nothing is
/// posted twice, and no number is missing.
/// A person whose answer never came posts the same invoice again, as the form on the screen does.
/// </summary>
sealed class Kills
{
    const int People = 4;
    readonly BenchDatabase database;
    readonly ConcurrentDictionary<string, string> acknowledged = new();
    readonly CancellationTokenSource enough = new();
    int sent, repeated;

    Kills(BenchDatabase database) => this.database = database;

    /// <summary>Prints the counts.</summary>
    /// <returns>Whether they are as they must be.</returns>
    internal static async Task<bool> Run(int kills)
    {
        using var cluster = KillableCluster.Make();
        var book = RulebookReader.Read(await File.ReadAllBytesAsync(Path.Combine(RunningApplication.Root, "demo/qn/rulebook.json"))).Book
            ?? throw new InvalidOperationException("The demo's rulebook can't be read.");
        await using var database = await BenchDatabase.Make(book, cluster.Connection);
        var people = new PersonStore(database.Source);
        await people.Grant(database.Company,
            await people.Add("ines", "Ines", new PasswordHasher<Person>().HashPassword(null!, PagesOverHttp.Password), default), Role.Preparer, null, default);
        return await new Kills(database).Through(cluster, kills);
    }

    async Task<bool> Through(KillableCluster cluster, int kills)
    {
        var chance = new Random(20261127);
        var port = RunningApplication.FreePort();
        var watch = Stopwatch.StartNew();
        var application = await RunningApplication.Start(database.Owner, port);
        try
        {
            var posting = Enumerable.Range(0, People).Select(p => Task.Run(() => Post(application.Address, p))).ToList();
            for (var kill = 0; kill < kills; kill++)
            {
                await Task.Delay(chance.Next(1_500, 4_000));
                application = await Killing.Next(kill, application, cluster, database.Owner, port);
            }
            await Task.Delay(1_500);
            await enough.CancelAsync();
            await Task.WhenAll(posting);
        }
        finally
        {
            application.Dispose();
        }
        return await Count(kills, watch.Elapsed);
    }

    /// <summary>One person posts invoice after invoice, and goes to the next only when the last was acknowledged.</summary>
    async Task Post(Uri address, int person)
    {
        HttpClient? client = null;
        var token = "";
        for (var number = 0; !enough.IsCancellationRequested; number++)
        {
            var id = string.Create(CultureInfo.InvariantCulture, $"KILL-{person}-{number:000000}");
            Interlocked.Increment(ref sent);
            for (var attempt = 0; ; attempt++)
            {
                if (attempt > 0)
                    Interlocked.Increment(ref repeated);
                try
                {
                    if (client is null)
                    {
                        client = await RunningApplication.SignIn(address, "ines", PagesOverHttp.Password);
                        token = RunningApplication.TokenIn(await client.GetStringAsync("/b/try-out"));
                    }
                    using var form = Invoice(id, number, token);
                    using var answer = await client.PostAsync("/b/try-out?handler=Post", form);
                    // A form without scripts is sent on to the entry it made.
                    if (answer.RequestMessage?.RequestUri is { } there && there.AbsolutePath.StartsWith("/b/journal/", StringComparison.Ordinal))
                    {
                        acknowledged[id] = there.AbsolutePath[(there.AbsolutePath.LastIndexOf('/') + 1)..];
                        break;
                    }
                    if ((int)answer.StatusCode < 500)
                        throw new InvalidOperationException($"{id} was refused: {answer.StatusCode} {await answer.Content.ReadAsStringAsync()}");
                }
                catch (Exception e) when (e is HttpRequestException or IOException or TaskCanceledException) { }
                client?.Dispose();
                client = null;
                await Task.Delay(300);
            }
        }
        client?.Dispose();
    }

    static FormUrlEncodedContent Invoice(string id, int number, string token) => new(
    [
        new("__RequestVerificationToken", token), new("Id", id), new("Party", "C-10"),
            new("Date", string.Create(CultureInfo.InvariantCulture, $"2026-{1 + number % 9:00}-15")),
        new("Lines[0].Sold", "SEED-01"), new("Lines[0].Quantity", "2"), new("Lines[0].Price", "12.50"),
        new("Lines[1].Sold", "SEED-02"), new("Lines[1].Quantity", "1"), new("Lines[1].Price", "7.90"),
    ]);

    async Task<bool> Count(int kills, TimeSpan took)
    {
        var stands = new Dictionary<string, (string Entry, long Times)>();
        database.Source.Clear();
        await using var connection = await database.Source.OpenConnectionAsync();
        await using (var command = connection.CreateCommand())
        {
            command.CommandText = "select e.source_id, min(n.id)::text, count(n.id) from event e left join entry n on n.company_id = e.company_id and n.event_id = e.id where e.outcome = 'landed' group by e.source_id";
            await using var rows = await command.ExecuteReaderAsync();
            while (await rows.ReadAsync())
                stands[rows.GetString(0)] = (rows.GetString(1), rows.GetInt64(2));
        }
        var lost = acknowledged.Count(a => !stands.TryGetValue(a.Key, out var found) || found.Entry != a.Value);
        var doubled = stands.Count(s => s.Value.Times != 1);
        var gaps = await Number("select coalesce(sum(top - many), 0)::bigint from (select max(number) as top, count(*) as many from entry group by company_id, fiscal_year_id) y");
        var unbalanced = await Number("select count(*) from (select entry_id from line group by entry_id having sum(amount) <> 0) u");
        var adrift = await Number("""
            select count(*) from (
                select account_id, sum(debit - credit) as total from balance group by account_id) b
            full join (select account_id, sum(amount) as total from line group by account_id) l using (account_id) where b.total is distinct from l.total
            """);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"kills: {kills} of application and database in {took.TotalSeconds:0} s; {acknowledged.Count} invoices acknowledged, {repeated} sent again; {lost} lost, {doubled} doubled, {gaps} numbers missing, {unbalanced} entries out of balance, {adrift} balances adrift"));
        return lost == 0 && doubled == 0 && gaps == 0 && unbalanced == 0 && adrift == 0 && acknowledged.Count > kills;

        async Task<long> Number(string sql)
        {
            await using var command = connection.CreateCommand();
            command.CommandText = sql;
            return (long)(await command.ExecuteScalarAsync() ?? 0L);
        }
    }
}
