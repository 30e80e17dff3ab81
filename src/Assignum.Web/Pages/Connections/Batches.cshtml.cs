using System.Text.Json;
using Assignum.Core;
using Assignum.Formats.Sheets;
using Assignum.Storage.Connections;
using Assignum.Web.Access;
using Assignum.Web.Connections;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Connections;

/// <summary>Entries on their way to a ledger elsewhere: in numbered batches, each acknowledged once.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class BatchesModel(ConnectionStore connections, ListStore lists, OutgoingStore outgoing, SystemClient client) : ConnectionPage(connections, lists)
{
    /// <summary>The batches, the latest first.</summary>
    public IReadOnlyList<BatchRow> All { get; private set; } = [];
    /// <summary>How many entries are in none yet.</summary>
    public long Left { get; private set; }
    /// <summary>A batch that is looked at, with its lines.</summary>
    public (BatchRow Batch, IReadOnlyList<BatchLine> Lines)? One { get; private set; }
    /// <summary>Why something was not done, and to which batch.</summary>
    public (int Number, string Message)? Fault { get; private set; }

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(int? batch)
    {
        await Lay(batch);
        return batch is not null && One is null ? NotFound() : Page();
    }

    async Task Lay(int? batch)
    {
        All = await outgoing.All(Company.Id, Connection.Id, Stop);
        Left = await outgoing.Left(Company.Id, Connection.Id, Stop);
        if (batch is { } number && All.FirstOrDefault(b => b.Number == number) is { } found)
            One = (found, await outgoing.Lines(Company.Id, Connection.Id, found, Stop));
    }

    /// <summary>Reasons of a batch that came back refused, by line.</summary>
    public static IReadOnlyList<BatchReason> ReasonsOf(BatchRow batch) =>
        batch.Reasons is null ? [] : JsonSerializer.Deserialize<List<BatchReason>>(batch.Reasons, Wire.Json)!;

    /// <summary>Makes the next batch.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostMakeAsync(string? form) =>
        await outgoing.Make(Company.Id, UserId, Connection, form == "summed" ? BatchForm.Summed : BatchForm.Whole, Stop) is { } number
            ? Done($"Batch {number} is made. It changes no more.", AtConnection($"batches?batch={number}")) : Done("Every entry is in a batch already.",
                AtConnection("batches"));

    /// <summary>Sends a batch to the other system; one that has it already answers with the number it gave.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostSendAsync(int batch)
    {
        await Lay(batch);
        if (One is not { } one)
            return NotFound();
        try
        {
            var answer = await client.Send(Connection, OutgoingBatch.Of(Company.Code, one.Batch, one.Lines), Stop);
            var fault = answer.Number is { } outside ? await outgoing.Acknowledge(Company.Id, UserId, Connection, batch, outside, Stop)
                : await outgoing.Refuse(Company.Id, UserId, Connection, batch, JsonSerializer.Serialize(answer.Reasons, Wire.Json), Stop);
            if (fault is null)
                return Done(answer.Number is { } number ? $"Batch {batch} is {number} there."
                    : $"Batch {batch} came back refused; the reasons stand at its lines.",
                    AtConnection($"batches?batch={batch}"));
            return await Refuse(batch, fault);
        }
        catch (OutsideException fault)
        {
            return await Refuse(batch, fault.Message);
        }
    }

    /// <summary>Notes the number a batch has outside.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAcknowledgeAsync(int batch, string? outside) =>
        await outgoing.Acknowledge(Company.Id, UserId, Connection, batch, outside ?? "", Stop) is { } fault ? await Refuse(batch, fault)
            : Done($"Batch {batch} is {outside!.Trim()} outside.", AtConnection("batches"));

    async Task<IActionResult> Refuse(int batch, string fault)
    {
        Fault = (batch, fault);
        Response.StatusCode = StatusCodes.Status400BadRequest;
        await Lay(batch);
        return Page();
    }

    /// <summary>A batch to take away: CSV, XLSX or JSON.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetFileAsync(int batch, string? kind)
    {
        await Lay(batch);
        if (One is not { } one)
            return NotFound();
        var name = $"batch-{Company.Code.ToLowerInvariant()}-{Connection.Code.ToLowerInvariant()}-{batch}";
        if (kind == "json")
            return File(JsonSerializer.SerializeToUtf8Bytes(OutgoingBatch.Of(Company.Code, one.Batch, one.Lines), Wire.Json), "application/json", name
                + ".json");
        return Export(new Table("Batch", ["batch", "line", "entry", "date", "account", "name", "debit", "credit", "text"], one.Lines.Select(l =>
            (IReadOnlyList<object?>)[batch, l.Line, l.Entry, l.Date, l.Account, l.Name, l.Amount > 0 ? l.Amount : null, l.Amount < 0 ? -l.Amount : null,
                l.Text])), name, kind);
    }
}
