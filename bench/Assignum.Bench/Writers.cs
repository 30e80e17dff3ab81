using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.RegularExpressions;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Assignum.Storage.Proving;
using Microsoft.AspNetCore.Identity;

namespace Assignum.Bench;

/// <summary>
/// Kills the application and the database while eight writers send their files of events, each with parties and items of its own, and start them again.
/// A writer whose answer does not come sends the same file once more. In the end lines and movements, event by event, are those of a run without kills,
/// numbers have no gap, and the chain is whole.
/// </summary>
sealed partial class Writers
{
    const int Many = 8;
    static readonly string[] ItemsOfOne = ["A", "B"];
    static readonly TimeSpan Patience = TimeSpan.FromSeconds(12);

    readonly BenchDatabase database;
    readonly int eventsOfOne, inFile;
    int files, again;

    Writers(BenchDatabase database, int events, int inFile) => (this.database, eventsOfOne, this.inFile) = (database, events / Many, inFile);

    /// <summary>Prints the counts.</summary>
    /// <param name="kills">How often something is killed, application and database in turn.</param>
    /// <param name="events">How many events come in.</param>
    /// <param name="inFile">How many of them a file has.</param>
    /// <returns>Whether both runs are the same.</returns>
    internal static async Task<bool> Run(int kills, int events, int inFile)
    {
        using var cluster = KillableCluster.Make();
        var demo = RulebookReader.Read(await File.ReadAllBytesAsync(Path.Combine(RunningApplication.Root, "demo/qn/rulebook.json"))).Book
            ?? throw new InvalidOperationException("The demo's rulebook can't be read.");
        var book = WithWriters(demo);
        await using var database = await BenchDatabase.Make(book, cluster.Connection);
        var people = new PersonStore(database.Source);
        await people.Grant(database.Company,
            await people.Add("ines", "Ines", new PasswordHasher<Person>().HashPassword(null!, PagesOverHttp.Password), default), Role.Preparer, null, default);
        var run = new Writers(database, events, inFile);
        var undisturbed = await database.OpenAnother("U", book);
        var watch = Stopwatch.StartNew();
        var killed = await run.Through(cluster, kills);
        // What was connected before the last kill is gone.
        database.Source.Clear();
        await run.Undisturbed(undisturbed);
        return await run.Compare(undisturbed, killed, watch.Elapsed);
    }

    static Rulebook WithWriters(Rulebook book) => book with
    {
        Parties = [.. book.Parties, .. Enumerable.Range(0, Many).SelectMany(w => new[]
        {
            new Party { Code = $"W{w}-C", Name = $"Customer of writer {w}", Role = PartyRole.Customer, Group = "TRADE" },
            new Party { Code = $"W{w}-S", Name = $"Supplier of writer {w}", Role = PartyRole.Supplier, Group = "GROWERS" },
        })],
        Items = [.. book.Items, .. Enumerable.Range(0, Many).SelectMany(w => ItemsOfOne.Select(i => new Item
        {
            Code = $"W{w}-{i}", Name = $"Item {i} of writer {w}", Kind = ItemKind.Stock, Group = "SEEDS", TaxGroup = "REDUCED", Cost = 0.85m,
        }))],
    };

    /// <summary>The events of a writer, in their order: receipts, invoices with their goods, payments; some are corrected, some withdrawn.</summary>
    string[] EventsOf(int writer) => [.. Enumerable.Range(0, eventsOfOne).Select(n => (n % 5, n % 40) switch
    {
        (0, _) => Invariant($$"""{"id":"W{{writer}}-R{{n}}","type":"purchase-receipt","date":"{{DayOf(n)}}","party":"W{{writer}}-S","location":"NORTH","lines":[{"item":"W{{writer}}-A","quantity":{{3 + (n % 7)}},"unitCost":{{0.80m + (n % 9 / 100m)}}},{"item":"W{{writer}}-B","quantity":4,"unitCost":1.15}]}"""),
        (3, _) => Invariant($$"""{"id":"W{{writer}}-P{{n}}","type":"customer-payment","date":"{{DayOf(n)}}","party":"W{{writer}}-C","moneyAccount":"MAIN","amount":2,"settles":[{"event":"W{{writer}}-I{{n - 2}}","amount":2}]}"""),
        (4, 34) => Invariant($$"""{"id":"W{{writer}}-I{{n - 13}}","type":"sales-invoice","revision":2,"withdrawn":true,"date":"{{DayOf(n)}}","party":"W{{writer}}-C","lines":[{"item":"W{{writer}}-A","quantity":1,"price":1}]}"""),
        (4, 14) => Invariant($$"""{"id":"W{{writer}}-I{{n - 12}}","type":"sales-invoice","revision":2,"date":"{{DayOf(n)}}","party":"W{{writer}}-C","location":"NORTH","lines":[{"item":"W{{writer}}-B","quantity":1,"price":{{3 + (n % 5)}},"shipped":true}]}"""),
        _ => Invariant($$"""{"id":"W{{writer}}-I{{n}}","type":"sales-invoice","date":"{{DayOf(n)}}","party":"W{{writer}}-C","location":"NORTH","lines":[{"item":"W{{writer}}-A","quantity":{{1 + (n % 3)}},"price":2.40,"shipped":true},{"item":"W{{writer}}-B","quantity":1,"price":3.10,"shipped":{{(n % 2 == 0 ? "true" : "false")}}}]}"""),
    })];

    static string Invariant(FormattableString json) => FormattableString.Invariant(json);

    static string DayOf(int n) => new DateOnly(2026, 1, 2).AddDays(n / 20).ToString("yyyy-MM-dd", CultureInfo.InvariantCulture);

    async Task<int> Through(KillableCluster cluster, int kills)
    {
        var chance = new Random(20261129);
        var port = RunningApplication.FreePort();
        var application = await RunningApplication.Start(database.Owner, port);
        var done = 0;
        try
        {
            var writing = Task.WhenAll(Enumerable.Range(0, Many).Select(w => Task.Run(() => Write(application.Address, w))));
            for (; done < kills && !writing.IsCompleted; done++)
            {
                await Task.WhenAny(writing, Task.Delay(chance.Next(700, 2_600)));
                application = await Killing.Next(done, application, cluster, database.Owner, port);
            }
            await writing;
        }
        finally
        {
            application.Dispose();
        }
        return done;
    }

    // File after file; the next only when the one before is said to be posted.
    async Task Write(Uri address, int writer)
    {
        HttpClient? client = null;
        foreach (var file in EventsOf(writer).Chunk(inFile))
        {
            Interlocked.Increment(ref files);
            while (client is null || !await IsPosted(client, string.Join('\n', file)))
            {
                if (client is not null)
                    Interlocked.Increment(ref again);
                client?.Dispose();
                client = await SignIn(address);
            }
        }
        client?.Dispose();
    }

    static async Task<HttpClient?> SignIn(Uri address)
    {
        try
        {
            return await RunningApplication.SignIn(address, "ines", PagesOverHttp.Password);
        }
        catch (Exception fault) when (fault is HttpRequestException or IOException or TaskCanceledException or InvalidOperationException)
        {
            await Task.Delay(300);
            return null;
        }
    }

    static async Task<bool> IsPosted(HttpClient client, string file)
    {
        try
        {
            var token = RunningApplication.TokenIn(await client.GetStringAsync("/b/events"));
            using var form = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" } };
            var content = new ByteArrayContent(Encoding.UTF8.GetBytes(file));
            content.Headers.ContentType = new MediaTypeHeaderValue("application/x-ndjson");
            form.Add(content, "file", "events.ndjson");
            var looked = await End(client, await client.PostAsync("/b/events", form));
            if (looked is null || FileIn().Match(looked) is not { Success: true } upload)
                return false;
            using var post = new FormUrlEncodedContent([new("__RequestVerificationToken", token), new("file", upload.Groups[1].Value)]);
            return await End(client, await client.PostAsync("/b/events?handler=Post", post)) is { } posted
                && posted.Contains("To the journal", StringComparison.Ordinal);
        }
        catch (Exception fault) when (fault is HttpRequestException or IOException or TaskCanceledException or InvalidOperationException)
        {
            return false;
        }
    }

    // The page of a job when it has ended; null when that does not come.
    static async Task<string?> End(HttpClient client, HttpResponseMessage answer)
    {
        using (answer)
        {
            var there = answer.RequestMessage?.RequestUri;
            for (var watch = Stopwatch.StartNew(); watch.Elapsed < Patience && there?.Query.Contains("job=", StringComparison.Ordinal) == true; await Task.Delay(150))
            {
                var page = await client.GetStringAsync(there);
                if (!page.Contains("<progress", StringComparison.Ordinal))
                    return page;
            }
            return null;
        }
    }

    [GeneratedRegex("name=\"file\" value=\"([0-9a-f-]+)\"")]
    private static partial Regex FileIn();

    async Task Undisturbed(int company)
    {
        var reader = new EventReader();
        for (var writer = 0; writer < Many; writer++)
            foreach (var chunk in EventsOf(writer).Chunk(PostingStore.LargestBatch))
                await database.Posting.Post(company, null, [.. chunk.Select(json => new PostableEvent(reader.Read(Encoding.UTF8.GetBytes(json), 1).Event!,
                    PostableEvent.Own, json, json, CanonicalJson.Digest(json)))], default);
    }

    async Task<bool> Compare(int undisturbed, int kills, TimeSpan took)
    {
        database.Source.Clear();
        var (with, without) = (await ByEvent(database.Company), await ByEvent(undisturbed));
        var different = with.Keys.Union(without.Keys).Count(key => with.GetValueOrDefault(key) != without.GetValueOrDefault(key));
        var books = await new BooksVerifying(database.Source).Verify(database.Company, "B", [], default);
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"writers: {kills} kills of application and database in {took.TotalSeconds:0} s while {Many} writers sent {eventsOfOne * Many} events in {files} files, {again} of them sent again; {with.Count} events, {different} with other lines or movements than without kills, {books.Faults.Count + books.More} faults in numbers, sums and chain"));
        foreach (var fault in books.Faults)
            Console.WriteLine(fault.Message);
        return different == 0 && books.Sound && with.Count > 0;
    }

    // What each event has in ledger and subledgers, whatever ids and numbers it was given.
    async Task<Dictionary<string, string>> ByEvent(int company)
    {
        await using var connection = await database.Source.OpenConnectionAsync();
        await using var command = connection.CreateCommand();
        command.CommandTimeout = 0;
        command.CommandText = """
            with rows as (
                select e.source_id, e.revision, 1 as kind, n.id as major, l.line_no as minor, concat_ws('|', l.date, a.number, l.amount, l.currency, l.document_amount,
                    l.purpose, l.answered_by, l.rung, p.code, i.code, o.code, n.reverses is null) as written
                from event e join entry n on n.company_id = e.company_id and n.event_id = e.id
                join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id
                join account a on a.company_id = l.company_id and a.id = l.account_id left join member p on p.company_id = l.company_id and p.id = l.party_id
                left join member i on i.company_id = l.company_id and i.id = l.item_id left join member o on o.company_id = l.company_id and o.id = l.location_id
                where e.company_id = $1
                union all
                select e.source_id, e.revision, 2, 0, m.line_no, concat_ws('|', m.date, m.subledger, m.member, m.quantity, m.base, m.amount, m.currency, m.document_amount,
                    m.reverses is null, of.source_id)
                from event e join movement m on m.company_id = e.company_id and m.event_id = e.id
                left join party_movement q on q.company_id = m.company_id and q.date = m.date and q.event_id = m.event_id and q.line_no = m.line_no
                left join event of on of.company_id = m.company_id and of.id = q.item_event_id
                where e.company_id = $1
                union all
                select e.source_id, e.revision, 0, 0, 0, concat_ws('|', e.type, e.outcome, e.withdrawn) from event e where e.company_id = $1)
            select source_id || '/' || revision, string_agg(written, E'\n' order by kind, major, minor) from rows group by 1
            """;
        command.Parameters.Add(new() { Value = company });
        await using var rows = await command.ExecuteReaderAsync();
        var found = new Dictionary<string, string>();
        while (await rows.ReadAsync())
            found[rows.GetString(0)] = rows.GetString(1);
        return found;
    }
}
