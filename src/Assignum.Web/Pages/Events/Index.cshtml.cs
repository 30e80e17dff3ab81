using System.Text.Json;
using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Formats.Sheets;
using Assignum.Storage.Jobs;
using Assignum.Storage.Uploads;
using Assignum.Web.Access;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Events;

/// <summary>Events out of a file: looked at, and posted.</summary>
[Authorize(Policy = Policies.Reads)]
[Microsoft.AspNetCore.RateLimiting.EnableRateLimiting(Limits.Upload)]
[RequestSizeLimit(LargestRequest), RequestFormLimits(MultipartBodyLengthLimit = LargestRequest)]
public sealed class IndexModel(UploadStore uploads, JobStore jobs) : CompanyPage
{
    const int LargestRequest = 64 << 20;

    /// <inheritdoc/>
    public override string Step => "Journal";
    /// <summary>The work under way, or ended.</summary>
    public JobRow? Job { get; private set; }
    /// <summary>What it has seen or done.</summary>
    public EventFileSeen? Seen => Job?.Result is { } json ? JsonSerializer.Deserialize<EventFileSeen>(json) : null;
    /// <summary>Why the file was refused.</summary>
    public string? Fault { get; private set; }
    /// <summary>The type chosen.</summary>
    [BindProperty]
    public string? Type { get; set; }

    /// <summary>Offers to choose a file.</summary>
    [Needs(Need.Reads)]
    public void OnGet() { }

    /// <summary>Keeps a file, and looks at its events.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(IFormFile? file)
    {
        if (file is null || file.Length > SheetFile.LargestFile)
        {
            Fault = file is null ? "No file is chosen. Choose an NDJSON, CSV or XLSX file of events." : SheetFile.TooLarge(file.Length);
            Response.StatusCode = StatusCodes.Status400BadRequest;
            return Page();
        }
        await using var content = file.OpenReadStream();
        return await Ask(new(await uploads.Keep(Company.Id, UserId, file.FileName, content, HttpContext.RequestAborted), TypeChosen, null, Post: false));
    }

    /// <summary>Looks once more, with the columns as chosen.</summary>
    [Needs(Need.Prepares)]
    public Task<IActionResult> OnPostAgainAsync(Guid file, string?[] column) => Ask(new(file, TypeChosen, Chosen(column), Post: false));

    /// <summary>Posts what was looked at.</summary>
    [Needs(Need.Prepares)]
    public Task<IActionResult> OnPostPostAsync(Guid file, string?[] column) => Ask(new(file, TypeChosen, column.Length == 0 ? null : Chosen(column),
        Post: true));

    /// <summary>Shows how far the work is, and what came of it.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetJobAsync(long job)
    {
        if (await jobs.Find(Company.Id, job, Stop, EventFileWork.Name) is not { } found)
            return NotFound();
        Job = found;
        if (found.Ended && Request.IsHtmx())
            Response.Htmx(h => h.Redirect(AtJob(job)));
        return Page();
    }

    /// <summary>Cancels the work.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostCancelAsync(long job)
    {
        await jobs.Cancel(Company.Id, job, Stop);
        return Redirect(AtJob(job));
    }

    /// <summary>The refused rows with their reasons.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetRefusedAsync(Guid file) =>
        await uploads.Find(Company.Id, UserId, file, Stop) is { } kept
            ? File(await uploads.Content(Company.Id, file, Stop), "text/csv; charset=utf-8", kept.Name) : NotFound();

    /// <summary>Address of the work.</summary>
    public string AtJob(long job) => At("events?handler=job&job=" + job);

    /// <summary>Fields that columns can be.</summary>
    public static IReadOnlyList<SheetField> Fields(string? type) => EventSheet.Fields(EventTypes.Find(type));

    string? TypeChosen => EventTypes.Find(Type)?.Name;

    static string?[] Chosen(string?[] column) => [.. column.Select(c => string.IsNullOrEmpty(c) ? null : c)];

    async Task<IActionResult> Ask(EventFileAsked asked) =>
        Redirect(AtJob(await jobs.Ask(Company.Id, UserId, EventFileWork.Name, JsonSerializer.Serialize(asked), Stop)));
}
