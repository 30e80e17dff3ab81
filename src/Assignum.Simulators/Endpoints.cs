using System.Globalization;
using System.Text;
using System.Text.Json;
using Microsoft.AspNetCore.Http.HttpResults;

namespace Assignum.Simulators;

/// <summary>The protocol of docs/schemas/adapter.openapi.json, spoken by every stand-in under its own path.</summary>
static class Endpoints
{
    sealed record Sent(List<Entry> Entries);
    sealed record Chosen(string Code);
    sealed record Told(Misbehaviour How, int? Seed);
    sealed record Staged(int Events, int Seed, DateOnly First, int Days);
    sealed record Hooked(Uri Address, string Secret);

    internal static void MapStandIns(this WebApplication app, IReadOnlyDictionary<string, StandIn> systems)
    {
        app.MapGet("/openapi.json", () => Results.Stream(typeof(Endpoints).Assembly.GetManifestResourceStream("adapter.openapi.json")!, "application/json"));
        app.MapGet("/", () => systems.Values.Select(s => new { s.System, s.Data.Name }));
        var of = app.MapGroup("/{system}");
        of.AddEndpointFilter(async (context, next) =>
        {
            var http = context.HttpContext;
            if (!systems.TryGetValue((string)http.GetRouteValue("system")!, out var system))
                return Problem(404, "There is no such system.");
            http.Items["system"] = system;
            return await Misbehaved(http, system) ?? await next(context);
        });
        of.MapGet("/health", (HttpContext http) => Health(Of(http)));
        of.MapGet("/lists/{list}", (HttpContext http, string list, long? since) => List(Of(http), list, since));
        of.MapPost("/lists/{list}", (HttpContext http, string list, Sent sent) => Add(Of(http), list, sent.Entries));
        of.MapPut("/ours/{list}", (HttpContext http, string list, Sent sent) =>
        {
            Of(http).Ours[list] = sent.Entries;
            return Results.Ok(new { entries = sent.Entries.Count });
        });
        of.MapPut("/settings/{setting}", (HttpContext http, string setting, Chosen chosen) =>
            Of(http).Set(setting, chosen.Code) ? Results.Ok(new { setting, chosen.Code }) : Problem(404, $"There is no setting {setting}."));
        of.MapGet("/events", (HttpContext http, string? after, DateOnly? from, int? limit) => Events(http, Of(http), after, from, limit ?? 200));
        of.MapPost("/batches", (HttpContext http, JsonElement batch) => Batch(Of(http), batch));

        // What only whoever tries things out asks for.
        var behind = app.MapGroup("/behind/{system}");
        behind.AddEndpointFilter(async (context, next) =>
        {
            if (!systems.TryGetValue((string)context.HttpContext.GetRouteValue("system")!, out var system))
                return Problem(404, "There is no such system.");
            context.HttpContext.Items["system"] = system;
            return await next(context);
        });
        behind.MapPost("/misbehave", (HttpContext http, Told told) =>
        {
            Of(http).Behave(told.How);
            Of(http).Feed.Disarrange(told.How, new Random(told.Seed ?? 1));
            return Results.Ok();
        });
        behind.MapPost("/stage", (HttpContext http, Staged staged) =>
        {
            Happenings.Orders(Of(http), staged.First, staged.Days, staged.Events, staged.Seed);
            return Results.Ok();
        });
        behind.MapPost("/feed", (HttpContext http, System.Text.Json.Nodes.JsonArray events) =>
        {
            foreach (var happened in events.OfType<System.Text.Json.Nodes.JsonObject>())
                Of(http).Feed.Add(happened);
            return Results.Ok(new { events = Of(http).Feed.Count });
        });
        behind.MapGet("/feed", (HttpContext http) => Of(http).Feed.All);
        behind.MapPut("/hook", (HttpContext http, Hooked hook) =>
        {
            Of(http).Hook = new(hook.Address, hook.Secret);
            return Results.Ok();
        });
        behind.MapPost("/call", async (HttpContext http, IHttpClientFactory clients, int from, int count) =>
        {
            using var client = clients.CreateClient();
            foreach (var happened in Of(http).Feed.All.Skip(from).Take(count))
                await Calling.Call(client, Of(http), happened, http.RequestAborted);
            return Results.Ok();
        });
        behind.MapGet("/log", (HttpContext http) => Of(http).Log);
    }

    static StandIn Of(HttpContext http) => (StandIn)http.Items["system"]!;

    static async Task<IResult?> Misbehaved(HttpContext http, StandIn system)
    {
        switch (system.Misbehaviour)
        {
            case Misbehaviour.Down:
                return Problem(503, "Out of order.");
            case Misbehaviour.Slow:
                await Task.Delay(TimeSpan.FromSeconds(http.RequestServices.GetRequiredService<IConfiguration>().GetValue("Simulators:SlowFor", 60.0)),
                    http.RequestAborted);
                break;
        }
        return system.Misbehaviour == Misbehaviour.WrongSecret || http.Request.Headers.Authorization != $"Bearer {system.Secret}"
            ? Problem(401, "The secret is not known here.") : null;
    }

    static object Health(StandIn of) => new
    {
        of.System, of.Data.Name, Clock = of.Clock, Version = "3.2", of.Data.TimeZone, of.Data.Method, of.Data.TakesBatches, EventTypes = of.Feed.Types,
        OldestEvent = of.Feed.Oldest, Events = of.Feed.Count,
        Lists = of.Lists.Select(l => new { List = l.Key, l.Value.Version, Entries = l.Value.All.Count, Takes = of.Data.Takes.Contains(l.Key) }),
        Missing = of.Missing.Select(m => new { m.Setting, m.Name, m.List, m.Where }),
    };

    static IResult List(StandIn of, string list, long? since)
    {
        if (!of.Lists.TryGetValue(list, out var entries))
            return Problem(404, $"There is no list {list} here.");
        var (changed, gone) = entries.Since(since ?? 0);
        return Results.Ok(new { entries.Version, Whole = since is null, Entries = changed.Select(e => e with { Price = null }), Gone = gone });
    }

    static IResult Add(StandIn of, string list, IReadOnlyList<Entry> entries)
    {
        if (!of.Lists.TryGetValue(list, out var known) || !of.Data.Takes.Contains(list))
            return Problem(409, $"{of.Data.Name} takes no entries for {list} from outside. Add them there.");
        var (added, refused) = (new List<string>(), new List<object>());
        foreach (var entry in entries)
            if (known.Has(entry.Code))
                refused.Add(new { entry.Code, Reason = $"{entry.Code} is there already." });
            else
            {
                known.Put(entry);
                added.Add(entry.Code);
            }
        return Results.Ok(new { known.Version, Codes = added, Refused = refused });
    }

    static IResult Events(HttpContext http, StandIn of, string? after, DateOnly? from, int limit)
    {
        if (of.Missing is [var missing, ..])
            return Problem(409, $"{missing.Setting} is not set.");
        var place = from is { } day ? of.Feed.From(day) : 0;
        if (after is not null && !int.TryParse(after, NumberStyles.None, CultureInfo.InvariantCulture, out place))
            return Problem(400, $"{after} is no cursor of this feed.");
        var (page, next, more) = of.Feed.After(place, Math.Clamp(limit, 1, 1000));
        var body = $$"""{"events":[{{string.Join(",", page.Select(e => e.Raw))}}],"next":"{{next}}","more":{{(more ? "true" : "false")}}}""";
        if (of.Misbehaviour == Misbehaviour.HalfPage)
            return Results.Text(body[..(body.Length / 2)], "application/json");
        foreach (var given in page)
            of.Note("gave", given.Id, given.Revision);
        return Results.Text(body, "application/json", Encoding.UTF8);
    }

    static IResult Batch(StandIn of, JsonElement batch)
    {
        if (!of.Data.TakesBatches)
            return Problem(409, $"{of.Data.Name} takes no entries.");
        var (number, reasons) = of.Take(batch);
        of.Note("took", batch.GetProperty("number").ToString(), 1, number ?? "refused");
        return number is not null ? Results.Ok(new { Number = number })
            : Results.Json(new { Title = "Not taken", Status = 422, Lines = reasons.Select(r => new { r.Line, r.Reason }) }, statusCode: 422);
    }

    static ProblemHttpResult Problem(int status, string detail) => TypedResults.Problem(detail, statusCode: status);
}
