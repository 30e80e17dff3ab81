using System.Net.Http.Headers;
using System.Text;
using Assignum.Formats.Events;
using Assignum.Storage.Connections;
using Assignum.Storage.People;
using Assignum.Storage.Posting;
using Microsoft.AspNetCore.Identity;

namespace Assignum.Bench;

/// <summary>Events through the stream of the API against the same events posted without it: what reading, keeping and answering cost beside posting.</summary>
static class StreamedEvents
{
    const int Events = 4000;

    internal static async Task Run()
    {
        var sample = Sample.Book(10_000);
        await using var database = await BenchDatabase.Make(sample);
        var people = new PersonStore(database.Source);
        var adam = await people.Add("adam", "adam", new PasswordHasher<Person>().HashPassword(null!, PagesOverHttp.Password), default);
        var connections = new ConnectionStore(database.Source);
        await connections.Add(database.Company, adam, "stream", "Stream", "", default);
        var token = await new TokenStore(database.Source).Make(database.Company, adam, (await connections.Find(database.Company, "stream", default))!,
            "bench", default);
        using var application = await RunningApplication.Start(database.Owner);
        using var client = new HttpClient { BaseAddress = application.Address, Timeout = TimeSpan.FromMinutes(5) };
        client.DefaultRequestHeaders.Authorization = new AuthenticationHeaderValue("Bearer", token);
        string[] events = [.. Sample.Invoices(sample, Events * 16).Select(EventWriter.Write)];
        var reader = new EventReader();
        var run = 0;
        await Through();

        var seconds = await Ratio.PrintAsync($"api: {Events} events as NDJSON, against posting them", "at most 2 ×", Through, Bare);
        Ratio.Say($"api: {Events / seconds:0} events/s through the stream");

        async Task Through()
        {
            using var body = new StringContent(string.Join('\n', Next()), Encoding.UTF8, new MediaTypeHeaderValue("application/x-ndjson"));
            using var answer = await client.PostAsync("/api/v1/events", body);
            var outcomes = (await answer.Content.ReadAsStringAsync()).Split('\n', StringSplitOptions.RemoveEmptyEntries);
            if (outcomes.Length != Events || outcomes.Any(o => !o.Contains("\"posted\"", StringComparison.Ordinal)))
                throw new InvalidOperationException("An event of the bench did not post: " + outcomes.FirstOrDefault(o => !o.Contains("\"posted\"",
                    StringComparison.Ordinal)));
        }

        async Task Bare()
        {
            var posted = await database.Posting.Post(database.Company, null, [.. Next().Select(json =>
                new PostableEvent(reader.Read(Encoding.UTF8.GetBytes(json), 1).Event!,
                PostableEvent.Own, json, json, CanonicalJson.Digest(json)))], default);
            if (posted.Any(p => p.Fate != PostingFate.Landed))
                throw new InvalidOperationException("An event of the bench did not land.");
        }

        IEnumerable<string> Next() => events.Skip(Events * run++).Take(Events);
    }
}
