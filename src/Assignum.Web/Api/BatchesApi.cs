using System.Text.Json;
using Assignum.Core;
using Assignum.Storage.Connections;
using Assignum.Web.Connections;

namespace Assignum.Web.Api;

/// <summary>Batches of entries for a ledger elsewhere, fetched and acknowledged over the API.</summary>
sealed class BatchesApi(OutgoingStore outgoing)
{
    static IResult None(int number) => Problem.Of(404, "No such batch", $"There is no batch {number}. GET /api/v1/batches lists them.");

    internal async Task<IResult> All(HttpContext http)
    {
        var all = await outgoing.All(http.Holder().Company, (await http.Connection()).Id, http.RequestAborted);
        return Results.Json(new { batches = all.Select(Head) }, Wire.Json);
    }

    static object Head(BatchRow b) => new { number = b.Number, form = Words<BatchForm>.Of(b.Form), entries = b.Entries, debit = b.Debit, made = b.MadeAt,
        state = Words<BatchState>.Of(b.State),
        outsideNumber = b.OutsideNumber };

    internal async Task<IResult> One(HttpContext http, int number)
    {
        var (company, connection) = (http.Holder().Company, await http.Connection());
        return await outgoing.Find(company, connection.Id, number, http.RequestAborted) is not { } batch ? None(number)
            : Results.Json(OutgoingBatch.Of(http.Holder().CompanyCode, batch, await outgoing.Lines(company, connection.Id, batch, http.RequestAborted)),
                Wire.Json);
    }

    sealed record Number(string? OutsideNumber);

    internal async Task<IResult> Acknowledge(HttpContext http, int number)
    {
        var connection = await http.Connection();
        if (await outgoing.Find(http.Holder().Company, connection.Id, number, http.RequestAborted) is null)
            return None(number);
        var sent = await Read<Number>(http);
        var fault = await outgoing.Acknowledge(http.Holder().Company, null, connection, number, sent?.OutsideNumber ?? "", http.RequestAborted);
        return fault is null ? Results.Json(new { number, state = "acknowledged", sent!.OutsideNumber }, Wire.Json) : Problem.Of(409, "Not acknowledged",
            fault);
    }

    sealed record Reasons(List<BatchReason>? Lines);

    internal async Task<IResult> Refuse(HttpContext http, int number)
    {
        var connection = await http.Connection();
        if (await outgoing.Find(http.Holder().Company, connection.Id, number, http.RequestAborted) is null)
            return None(number);
        var sent = await Read<Reasons>(http);
        if (sent?.Lines is not { Count: > 0 } lines)
            return Problem.Of(422, "No reason",
                "Say at which line it was refused and why: {\"lines\":[{\"line\":3,\"reason\":\"…\"}]}; line 0 is the whole batch.");
        var fault = await outgoing.Refuse(http.Holder().Company, null, connection, number, JsonSerializer.Serialize(lines, Wire.Json), http.RequestAborted);
        return fault is null ? Results.Json(new { number, state = "refused" }, Wire.Json) : Problem.Of(409, "Not refused", fault);
    }

    static async Task<T?> Read<T>(HttpContext http) where T : class
    {
        try
        {
            return await JsonSerializer.DeserializeAsync<T>(http.Request.Body, Wire.Json, http.RequestAborted);
        }
        catch (JsonException)
        {
            return null;
        }
    }
}
