using Assignum.Formats.Events;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Bench;

/// <summary>Posting through PostgreSQL, landing included, against a bare COPY of the same rows into tables with the same indexes.</summary>
static class PostingBatches
{
    const int Events = 4000;

    internal static async Task Run()
    {
        var sample = Sample.Book(10_000);
        await using var database = await BenchDatabase.Make(sample);
        await using var connection = new NpgsqlConnection(database.Owner);
        await connection.OpenAsync();
        PostableEvent[] events = [.. Sample.Invoices(sample, Events * 8).Select(d => EventWriter.Write(d) is var json
            ? new PostableEvent(d, PostableEvent.Own, json, json, CanonicalJson.Digest(json)) : null!)];
        var run = 0;
        await Post();

        var bare = await BareCopy.Of(connection, "event", "entry", "line_2026", "party_movement_2026", "stock_movement_2026", "tax_movement_2026");
        var seconds = await Ratio.PrintAsync($"post: {Events} events, {bare.Count} rows", "at most 2 ×", Post, bare.Copy);
        Ratio.Say($"post: {Events / seconds:0} events/s, {bare.Count / seconds / 1000:0} k rows/s");

        async Task Post()
        {
            var posted = await database.Posting.Post(database.Company, null, [.. events.Skip(Events * run++).Take(Events)], default);
            if (posted.Any(p => p.Fate != PostingFate.Landed))
                throw new InvalidOperationException("An event of the bench did not land.");
        }
    }
}
