using System.Net;
using System.Net.Http.Headers;
using System.Text.Json;
using Assignum.Core;
using Assignum.Storage.Connections;
using Polly.CircuitBreaker;
using Polly.Timeout;

namespace Assignum.Web.Connections;

/// <summary>Why a system can't be talked to: in a sentence with what to do.</summary>
public sealed class OutsideException(string message, Exception? inner = null) : Exception(message, inner);

/// <summary>
/// Talks to other systems as docs/schemas/adapter.openapi.json has it: only to hosts that are allowed, with time limits, and again where that may help. A
/// company of the group is asked in its own books.
/// </summary>
public sealed class SystemClient(HttpClient http, Secrets secrets, AllowedHosts hosts, PartnerSystem partners)
{
    internal const string Name = "systems";

    // A page of events, or a list, is no larger.
    internal const int LargestAnswer = 32 << 20;

    internal Task<Health> Health(ConnectionRow of, CancellationToken stop) =>
        of.Partner is { } partner ? partners.Health(partner, stop) : Ask<Health>(of, HttpMethod.Get, "health", null, stop);

    internal Task<SentList> List(ConnectionRow of, string list, long? since, CancellationToken stop) =>
        of.Partner is { } partner ? partners.List(partner, list, stop) : Ask<SentList>(of, HttpMethod.Get,
            $"lists/{list}{(since is { } from ? FormattableString.Invariant($"?since={from}") : "")}", null, stop);

    internal Task<Added> Add(ConnectionRow of, string list, IReadOnlyList<WireEntry> entries, CancellationToken stop) =>
        Ask<Added>(of, HttpMethod.Post, $"lists/{list}", new { entries }, stop);

    /// <summary>Tells the system our side of a list, so that what is new here can be chosen there.</summary>
    internal Task<JsonElement> Tell(ConnectionRow of, string list, IReadOnlyList<WireEntry> entries, CancellationToken stop) =>
        Ask<JsonElement>(of, HttpMethod.Put, $"ours/{list}", new { entries }, stop);

    internal Task<JsonElement> Set(ConnectionRow of, string setting, string code, CancellationToken stop) =>
        Ask<JsonElement>(of, HttpMethod.Put, $"settings/{Uri.EscapeDataString(setting)}", new { code }, stop);

    /// <summary>A page of events after a cursor; without one from a day on, or from the first.</summary>
    internal async Task<EventPage> Events(ConnectionRow of, string? cursor, DateOnly? from, int most, CancellationToken stop)
    {
        if (of.Partner is not null)
            return await partners.Events(of, cursor, from, most, stop);
        var start = from is { } day ? FormattableString.Invariant($"from={day:yyyy-MM-dd}&") : "";
        if (cursor is not null)
            start = $"after={Uri.EscapeDataString(cursor)}&";
        var text = await Text(of, HttpMethod.Get, FormattableString.Invariant($"events?{start}limit={most}"), null, stop);
        try
        {
            using var page = JsonDocument.Parse(text);
            return new([.. page.RootElement.GetProperty("events").EnumerateArray().Select(e => e.GetRawText())],
                page.RootElement.GetProperty("next").GetString()!,
                page.RootElement.GetProperty("more").GetBoolean());
        }
        catch (Exception unread) when (unread is JsonException or KeyNotFoundException or InvalidOperationException or FormatException)
        {
            throw new OutsideException($"{of.Name} sent half a page of events, or something else: it can't be read. Nothing of it is taken; it is " +
                $"fetched again.",
                unread);
        }
    }

    internal async Task<BatchAnswer> Send(ConnectionRow of, object batch, CancellationToken stop)
    {
        using var answer = await Call(of, HttpMethod.Post, "batches", batch, stop);
        var text = await Read(of, answer, stop);
        if (answer.StatusCode == HttpStatusCode.UnprocessableEntity)
            return new(null, Parsed<Refusal>(of, text).Lines);
        await Insist(of, answer, text);
        return new(Parsed<Taken>(of, text).Number, []);
    }

    sealed record Refusal(IReadOnlyList<BatchReason> Lines);
    sealed record Taken(string Number);

    async Task<T> Ask<T>(ConnectionRow of, HttpMethod method, string path, object? body, CancellationToken stop) =>
        Parsed<T>(of, await Text(of, method, path, body, stop));

    static T Parsed<T>(ConnectionRow of, string text)
    {
        try
        {
            return JsonSerializer.Deserialize<T>(text, Wire.Json) ?? throw new JsonException("null");
        }
        catch (Exception unread) when (unread is JsonException or NotSupportedException)
        {
            throw new OutsideException($"{of.Name} answered with something that is not of the protocol: “{Short(text)}”. Is the address right? It ends " +
                $"before /health.",
                unread);
        }
    }

    async Task<string> Text(ConnectionRow of, HttpMethod method, string path, object? body, CancellationToken stop)
    {
        using var answer = await Call(of, method, path, body, stop);
        var text = await Read(of, answer, stop);
        await Insist(of, answer, text);
        return text;
    }

    async Task<HttpResponseMessage> Call(ConnectionRow of, HttpMethod method, string path, object? body, CancellationToken stop)
    {
        if (of.Partner is not null)
            throw new OutsideException($"{of.Name} is a company of the group: it is worked on in its own books.");
        var address = hosts.Allow(of.Address) ?? throw new OutsideException(hosts.WhyNot(of.Address));
        using var request = new HttpRequestMessage(method, new Uri(new Uri(address.ToString().TrimEnd('/') + "/"), path));
        if (of.Secret is { } secret)
            request.Headers.Authorization = new AuthenticationHeaderValue("Bearer", secrets.Open(secret)
                ?? throw new OutsideException($"The secret of {of.Code} can't be opened any more: the key it was kept with is gone. Enter it again."));
        if (body is not null)
            request.Content = JsonContent.Create(body, options: Wire.Json);
        try
        {
            return await http.SendAsync(request, HttpCompletionOption.ResponseHeadersRead, stop);
        }
        catch (Exception slow) when (slow is TimeoutRejectedException or TaskCanceledException && !stop.IsCancellationRequested)
        {
            throw new OutsideException($"{of.Name} does not answer in time. It is asked again; if it stays so, look whether it is overloaded.", slow);
        }
        catch (BrokenCircuitException open)
        {
            throw new OutsideException($"{of.Name} has failed several times, and is left alone for a moment. It is asked again by itself.", open);
        }
        catch (HttpRequestException down)
        {
            throw new OutsideException($"Nothing answers at {address.Authority}. Is the system running, and the address right?", down);
        }
    }

    static async Task<string> Read(ConnectionRow of, HttpResponseMessage answer, CancellationToken stop)
    {
        try
        {
            return await answer.Content.ReadAsStringAsync(stop);
        }
        catch (Exception cut) when (cut is HttpRequestException or IOException)
        {
            throw new OutsideException($"{of.Name} broke off in the middle of its answer. Nothing of it is taken; it is fetched again.", cut);
        }
    }

    static Task Insist(ConnectionRow of, HttpResponseMessage answer, string text)
    {
        if (answer.IsSuccessStatusCode)
            return Task.CompletedTask;
        var said = Detail(text);
        throw new OutsideException((int)answer.StatusCode switch
        {
            401 or 403 => $"{of.Name} does not accept the secret. Enter the one that is shown there.",
            404 => $"{of.Name} does not know this address. It is the part before /health.",
            409 => $"{of.Name} refuses: {said}",
            429 => $"{of.Name} wants to be asked less often. It is asked again by itself.",
            >= 500 => $"{of.Name} is down: it answers {(int)answer.StatusCode}. It is asked again by itself.",
            var code => $"{of.Name} answers {code}: {said}",
        });
    }

    static string Detail(string text)
    {
        try
        {
            using var problem = JsonDocument.Parse(text);
            return problem.RootElement.TryGetProperty("detail", out var detail) ? detail.GetString() ?? "" : Short(text);
        }
        catch (Exception unread) when (unread is JsonException or InvalidOperationException)
        {
            return Short(text);
        }
    }

    static string Short(string text) => text.Length switch { 0 => "nothing", > 80 => text[..80] + "…", _ => text };
}
