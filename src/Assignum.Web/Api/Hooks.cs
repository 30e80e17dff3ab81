using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Assignum.Storage.Companies;
using Assignum.Storage.Connections;
using Assignum.Web.Connections;

namespace Assignum.Web.Api;

/// <summary>Calls of other systems: checked by their signature, kept, answered at once; the worker does the rest.</summary>
sealed class Hooks(CompanyStore companies, ConnectionStore connections, Receiving receiving, Secrets secrets, TimeProvider clock)
{
    const int Longest = 1 << 20;
    static readonly TimeSpan Holds = TimeSpan.FromMinutes(5);

    internal async Task<IResult> Take(HttpContext http, string company, string connection)
    {
        using var reader = new StreamReader(http.Request.Body, Encoding.UTF8);
        if (http.Request.ContentLength is null or > Longest)
            return Problem.Of(413, "Too long", $"A call has a length, of at most {Longest >> 20} MB.");
        var body = await reader.ReadToEndAsync(http.RequestAborted);
        // Who can't sign is not told whether a company or a connection is there.
        if (await companies.Find(company, http.RequestAborted) is not { } known || await connections.Find(known.Id, connection,
            http.RequestAborted) is not { } of
            || of.HookSecret is null || secrets.Open(of.HookSecret) is not { } secret || !IsSigned(http.Request, body, secret))
            return Problem.Of(401, "Not signed",
                "The headers Signature-Timestamp and Signature are missing, old or wrong. docs/adapter.md shows how a call is signed.");
        if (of.State is not ConnectionState.Running)
            return Problem.Of(409, "Not taken", $"Events of {of.Code} are not taken at the moment.");
        await receiving.Take(known.Id, of, Via.Hook, EventsIn(body), CancellationToken.None);
        return Results.Accepted();
    }

    // One event, or an object with several; what is neither is kept as it came.
    static List<string> EventsIn(string body)
    {
        try
        {
            using var sent = JsonDocument.Parse(body);
            if (sent.RootElement.ValueKind == JsonValueKind.Object && sent.RootElement.TryGetProperty("events", out var events)
                && events.ValueKind == JsonValueKind.Array)
                return [.. events.EnumerateArray().Select(e => e.GetRawText())];
        }
        catch (JsonException)
        {
        }
        return [body];
    }

    bool IsSigned(HttpRequest request, string body, string secret)
    {
        var (time, signature) = (request.Headers["Signature-Timestamp"].ToString(), request.Headers["Signature"].ToString());
        if (!long.TryParse(time, NumberStyles.None, CultureInfo.InvariantCulture, out var seconds) || seconds > 253_402_300_799
            || (clock.GetUtcNow() - DateTimeOffset.FromUnixTimeSeconds(seconds)).Duration() > Holds)
            return false;
        var expected = Convert.ToHexString(HMACSHA256.HashData(Encoding.UTF8.GetBytes(secret), Encoding.UTF8.GetBytes($"{time}.{body}"))).ToLowerInvariant();
        return CryptographicOperations.FixedTimeEquals(Encoding.ASCII.GetBytes(expected), Encoding.ASCII.GetBytes(signature.ToLowerInvariant()));
    }
}
