using System.Diagnostics;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.DemoEvents.Year;
using Assignum.Formats.Events;
using Assignum.Formats.Landing;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Bench;

/// <summary>Events of every kind, as thirteen months of the demo have them, over and over: landed file to file, and posted with everything filled in from the
/// books.</summary>
static class MixedEvents
{
    static readonly string[] ByYear = ["line", "party_movement", "stock_movement", "tax_movement", "money_movement"];
    static readonly int[] Years = [2025, 2026];

    const int ToPost = 100_000, ToLand = 1_000_000, AtOnce = 10_000;

    internal static async Task Run(string repository)
    {
        var book = RulebookReader.Read(await File.ReadAllBytesAsync(Path.Combine(repository, "demo", "qn", "rulebook.json"))).Book!;
        var year = Thirteen.UpTo(book, new DateOnly(2026, 11, 30));
        Land(new CompiledRulebook(year.Stages[^1].Book), year);
        await Post(year);
    }

    // Round after round the same events under ids of their own.
    static IEnumerable<BusinessEvent> Rounds(Thirteen year, int count) =>
        Enumerable.Range(0, count / year.Events.Count + 1).SelectMany(round => year.Events.Select(e => Of(e, $"R{round}-"))).Take(count);

    static BusinessEvent Of(BusinessEvent happened, string round)
    {
        var renamed = happened with { Id = round + happened.Id, RefersTo = happened.RefersTo is { } of ? round + of : null };
        return renamed is Payment payment ? payment with { Settles = [.. payment.Settles.Select(part => part with { Event = round + part.Event })] } : renamed;
    }

    static void Land(CompiledRulebook book, Thirteen year)
    {
        var folder = Directory.CreateTempSubdirectory("assignum-bench").FullName;
        var (events, journal) = (Path.Combine(folder, "E.ndjson"), Path.Combine(folder, "J.csv"));
        try
        {
            File.WriteAllLines(events, Rounds(year, ToLand).Select(EventWriter.Write));
            var watch = Stopwatch.StartNew();
            using (var from = File.OpenRead(events))
            using (var to = File.Create(journal))
                LandingRun.Run(book, from, new LandingOutputs(to, Stream.Null, null, null));
            var (seconds, rows) = (watch.Elapsed.TotalSeconds, File.ReadLines(journal).LongCount() - 1);
            Ratio.Say($"mixed: {ToLand:N0} events of every kind, {rows:N0} rows, file to file: {ToLand / seconds:N0} events/s, {rows / seconds:N0} rows/s");
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    static async Task Post(Thirteen year)
    {
        await using var database = await BenchDatabase.Make(year.Stages[^1].Book);
        await new CompanyStore(database.Source).OpenFiscalYear(database.Company, new(2025, 1, 1), new(2025, 12, 31), default);
        await using var connection = new NpgsqlConnection(database.Owner);
        await connection.OpenAsync();
        PostableEvent[] events = [.. Rounds(year, ToPost).Select(e => EventWriter.Write(e) is var json
            ? new PostableEvent(e, e.Connection ?? PostableEvent.Own, json, json, CanonicalJson.Digest(json)) : null!)];
        var (watch, landed) = (new Stopwatch(), 0);
        foreach (var part in events.Chunk(AtOnce))
        {
            watch.Start();
            landed += (await database.Posting.Post(database.Company, null, part, default)).Count(p => p.Fate == PostingFate.Landed);
            watch.Stop();
            Ratio.Say($"mixed: {AtOnce / watch.Elapsed.TotalSeconds * (Array.IndexOf(events, part[0]) / AtOnce + 1):N0} events/s so far");
        }
        var bare = await BareCopy.Of(connection, ["event", "entry", "held_reason", .. ByYear.SelectMany(table => Years.Select(of => $"{table}_{of}"))]);
        double[] copied = new double[3];
        for (var i = 0; i < copied.Length; i++)
        {
            var copying = Stopwatch.StartNew();
            await bare.Copy();
            copied[i] = copying.Elapsed.TotalSeconds;
        }
        Array.Sort(copied);
        Ratio.Say($"mixed: {ToPost:N0} events posted, {landed:N0} landed, {bare.Count:N0} rows: {watch.Elapsed.TotalSeconds / copied[1]:0.00} × a bare COPY of them; goal: at most 2 ×");
        Ratio.Say($"mixed: {ToPost / watch.Elapsed.TotalSeconds:N0} events/s, {bare.Count / watch.Elapsed.TotalSeconds / 1000:0} k rows/s");
    }
}
