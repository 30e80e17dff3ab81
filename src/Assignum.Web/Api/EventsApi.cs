using System.Buffers;
using System.IO.Pipelines;
using System.Text;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Connections;
using Assignum.Formats.Events;
using Assignum.Storage.Connections;
using Assignum.Storage.Posting;
using Assignum.Web.Connections;
using Microsoft.AspNetCore.Http.Features;

namespace Assignum.Web.Api;

/// <summary>Events in: one, or a stream of them, and what they would yield.</summary>
sealed class EventsApi(Receiving receiving, InboxStore inbox, RulebookCache books, ConnectionStore connections, MatchStore matches, ListStore lists,
    PostingStore posting)
{
    /// <summary>Longest event, and longest stream, in bytes.</summary>
    internal const int LongestEvent = 1 << 20, LongestStream = 1 << 30;
    const int AtOnce = 500;

    internal Task<IResult> Take(HttpContext http)
    {
        var dry = http.Request.Query["dryRun"] == "true";
        return http.Request.ContentType?.StartsWith("application/x-ndjson", StringComparison.OrdinalIgnoreCase) == true ? Stream(http, dry) : Single(http, dry);
    }

    async Task<IResult> Single(HttpContext http, bool dry)
    {
        if (http.Request.ContentLength > LongestEvent)
            return TooLong;
        using var content = new MemoryStream();
        await CopyAtMost(http.Request.Body, content, LongestEvent + 1, http.RequestAborted);
        if (content.Length > LongestEvent)
            return TooLong;
        var raw = Encoding.UTF8.GetString(content.ToArray());
        var outcome = (await Outcomes(http, [raw], dry))[0];
        return Results.Text(JsonSerializer.Serialize(outcome, Wire.Json), outcome.Status >= 400 ? "application/problem+json" : "application/json",
            Encoding.UTF8, outcome.Status);
    }

    static IResult TooLong => Problem.Of(413, "Too long",
        $"An event has at most {LongestEvent >> 20} MB. Split the document, or send events one on each line.");

    static async Task CopyAtMost(Stream from, MemoryStream to, int most, CancellationToken stop)
    {
        var part = ArrayPool<byte>.Shared.Rent(81920);
        for (int read; to.Length < most && (read = await from.ReadAsync(part, stop)) > 0;)
            to.Write(part, 0, read);
        ArrayPool<byte>.Shared.Return(part);
    }

    // Outcomes are written while events still come, in their order.
    async Task<IResult> Stream(HttpContext http, bool dry)
    {
        http.Features.Get<IHttpMaxRequestBodySizeFeature>()!.MaxRequestBodySize = LongestStream;
        http.Response.ContentType = "application/x-ndjson";
        var lines = new List<string>(AtOnce);
        var reader = http.Request.BodyReader;
        for (var ended = false; !ended;)
        {
            var read = await reader.ReadAsync(http.RequestAborted);
            var buffer = read.Buffer;
            while (NextLine(ref buffer, read.IsCompleted) is { } line)
            {
                if (line.Length > 0)
                    lines.Add(line);
                if (lines.Count == AtOnce)
                    await Answer(http, lines, dry);
            }
            ended = read.IsCompleted;
            if (buffer.Length > LongestEvent)
            {
                await Answer(http, lines, dry);
                await Write(http, [new Outcome("unreadable") { Detail = $"A line has more than {LongestEvent >> 20} MB. What follows it was not read.",
                    Status = 413 }]);
                return Results.Empty;
            }
            reader.AdvanceTo(buffer.Start, buffer.End);
        }
        await Answer(http, lines, dry);
        return Results.Empty;
    }

    static string? NextLine(ref ReadOnlySequence<byte> buffer, bool ended)
    {
        if (buffer.PositionOf((byte)'\n') is { } end)
        {
            var line = Encoding.UTF8.GetString(buffer.Slice(0, end)).Trim();
            buffer = buffer.Slice(buffer.GetPosition(1, end));
            return line;
        }
        if (!ended || buffer.IsEmpty)
            return null;
        var last = Encoding.UTF8.GetString(buffer).Trim();
        buffer = buffer.Slice(buffer.End);
        return last;
    }

    async Task Answer(HttpContext http, List<string> lines, bool dry)
    {
        if (lines.Count == 0)
            return;
        await Write(http, await Outcomes(http, lines, dry));
        lines.Clear();
    }

    static async Task Write(HttpContext http, IReadOnlyList<Outcome> outcomes)
    {
        var text = new StringBuilder();
        foreach (var outcome in outcomes)
            text.Append(JsonSerializer.Serialize(outcome, Wire.Json)).Append('\n');
        await http.Response.WriteAsync(text.ToString(), http.RequestAborted);
    }

    async Task<IReadOnlyList<Outcome>> Outcomes(HttpContext http, IReadOnlyList<string> raws, bool dry)
    {
        var (holder, connection) = (http.Holder(), await http.Connection());
        if (dry)
            return await Look(holder.Company, connection, raws, http.RequestAborted);
        // What has come is kept and posted whether or not the caller waits for the answer.
        var ids = await receiving.Take(holder.Company, connection, Via.Api, raws, CancellationToken.None);
        var settled = (await receiving.Settle(holder.Company, connection, null, CancellationToken.None, ids)).DistinctBy(s => s.Id).ToDictionary(s => s.Id,
            s => Outcome.Of(s));
        var before = ids.Where(id => !settled.ContainsKey(id)).Distinct().ToArray();
        if (before.Length > 0)
            foreach (var row in await inbox.Rows(holder.Company, before, CancellationToken.None))
                settled[row.Id] = Outcome.Of(row);
        return [.. ids.Select(id => settled[id])];
    }

    async Task<IReadOnlyList<Outcome>> Look(int company, ConnectionRow connection, IReadOnlyList<string> raws, CancellationToken stop)
    {
        var reading = (await Readings.Load(connections, matches, lists, books, company, stop)).Of(connection.Id);
        var book = await books.Released(company, stop);
        var outcomes = new List<Outcome>();
        foreach (var raw in raws)
        {
            var sent = SentEvent.Read(raw, reading);
            var read = sent.Translated is { } ours ? new EventReader().Read(Encoding.UTF8.GetBytes(ours), 1) : default;
            if (read.Event is not { } happened)
                outcomes.Add(new("unreadable") { Id = sent.Id, Detail = sent.Fault ?? read.Fault?.Message, Status = 422 });
            else
                outcomes.Add(Outcome.Of(sent, Landing.Land(book.Compiled!, (await posting.Prepare(company, book, happened, stop)).Happened),
                    book.Stored.Edition,
                    await posting.Objections(company, happened, stop)));
        }
        return outcomes;
    }

    internal async Task<IResult> Find(HttpContext http, string id)
    {
        var (holder, connection) = (http.Holder(), await http.Connection());
        return await inbox.OfSource(holder.Company, connection.Id, id, http.RequestAborted) is { } row
            ? Results.Json(Outcome.Of(row), Wire.Json) : Problem.Of(404, "No such event", $"No event {id} has come through {connection.Code}.");
    }
}

/// <summary>What became of an event, as it is answered.</summary>
/// <param name="What">"posted", "held", "review", "left", "refused", "unreadable"; of a dry run "would-post" or "would-hold".</param>
sealed record Outcome([property: System.Text.Json.Serialization.JsonPropertyName("outcome")] string What)
{
    public string? Id { get; init; }
    public int? Revision { get; init; }
    /// <summary>Number of its entry in the fiscal year.</summary>
    public long? Entry { get; init; }
    /// <summary>It had come before; this is its first outcome.</summary>
    public bool? Known { get; init; }
    public string? Title { get; init; }
    public string? Detail { get; init; }
    public int? Edition { get; init; }
    public IReadOnlyList<LandingLine>? Landings { get; init; }
    public int Status { get; init; } = 200;

    internal static Outcome Of(Settled s) => Of(s.State, s.SourceId, s.Revision, s.EntryNumber, s.Message, known: null);

    internal static Outcome Of(InboxRow r) => Of(r.State, r.SourceId, r.Revision, r.EntryNumber, r.Message, known: true);

    static Outcome Of(InboxState state, string? id, int? revision, long? entry, string? message, bool? known) => new(Words<InboxState>.Of(state))
    {
        Id = id, Revision = revision, Entry = entry, Detail = message, Known = known,
        Title = state switch { InboxState.Refused => "It contradicts what came before it", InboxState.Unreadable => "It can't be read", _ => null },
        Status = (state, known) switch { (InboxState.Refused, _) => 409, (InboxState.Unreadable, _) => 422, (InboxState.Posted, null) => 201,
            (InboxState.Posted, _) => 200, _ => 202 },
    };

    internal static Outcome Of(SentEvent sent, Core.Posting.Outcome outcome, int edition, IReadOnlyList<HeldReason> objections)
    {
        var reasons = objections.Select(o => o.Message).Concat(outcome is Held held ? held.Reasons.Select(r => r.Message) : []).ToList();
        return new(reasons.Count > 0 ? "would-hold" : "would-post")
        {
            Id = sent.Id, Revision = sent.Revision, Edition = edition, Detail = reasons.Count > 0 ? string.Join(" ", reasons) : null,
            Landings = outcome is Landed landed ? [.. landed.Rows.Select(r => new LandingLine(r.Account.Number, r.Account.Name, r.Purpose?.Name, r.Amount,
                r.By.ToString().ToLowerInvariant(),
                r.Rung?.Name, r.Rule?.Id))] : null,
        };
    }
}

/// <summary>A ledger line with its trail.</summary>
sealed record LandingLine(string Account, string Name, string? Purpose, decimal Amount, string By, string? Rung, string? Rule);
