using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Groups;
using Assignum.Formats.Sheets;
using Assignum.Storage.Jobs;
using Assignum.Storage.Uploads;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using System.Text.Json;

namespace Assignum.Web.Pages.Groups;

/// <summary>Items or parties as a sheet: taken away, filled in, and brought back.</summary>
[Authorize(Policy = Policies.Reads)]
[Microsoft.AspNetCore.RateLimiting.EnableRateLimiting(Limits.Upload)]
[RequestSizeLimit(LargestRequest), RequestFormLimits(MultipartBodyLengthLimit = LargestRequest)]
public sealed class SheetModel(UploadStore uploads, JobStore jobs, TimeProvider clock) : CompanyPage
{
    const int LargestRequest = 64 << 20;

    /// <inheritdoc/>
    public override string Step => "Groups";
    /// <summary>The family: items or parties.</summary>
    public GroupFamily Family { get; private set; } = GroupFamily.All[0];
    /// <summary>Purposes that can have columns, with the number of rules of single members.</summary>
    public IReadOnlyList<(Purpose Purpose, int Own)> Purposes { get; private set; } = [];
    /// <summary>The work under way, or ended.</summary>
    public JobRow? Job { get; private set; }
    /// <summary>What it has seen or done.</summary>
    public MemberSheetSeen? Seen => Job?.Result is { } json ? JsonSerializer.Deserialize<MemberSheetSeen>(json) : null;
    /// <summary>Why the file was refused.</summary>
    public string? Fault { get; private set; }

    /// <summary>Offers the sheet.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGet(string family) => Lay(family) ? Page() : NotFound();

    /// <summary>The sheet of a family, or of one of its groups.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetTake(string family, string[] purpose, string? group, string? kind)
    {
        if (!Lay(family))
            return NotFound();
        var purposes = purpose.OfType<string>().Select(Purpose.Find).OfType<Purpose>().Distinct().ToList();
        var table = MemberSheet.Of(Books.Draft.Shown, Family.Name, purposes, clock.Today(), string.IsNullOrEmpty(group)
            ? null : m => Fold.Same(m.Group, group));
        return Export(table, Family.Plural, kind);
    }

    /// <summary>Keeps a sheet that was filled in, and looks at it.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string family, IFormFile? file)
    {
        if (!Lay(family))
            return NotFound();
        if (file is null || file.Length > SheetFile.LargestFile)
        {
            Fault = file is null ? "No file is chosen. Choose the CSV or XLSX file that was exported here and filled in." : SheetFile.TooLarge(file.Length);
            Response.StatusCode = StatusCodes.Status400BadRequest;
            return Page();
        }
        await using var content = file.OpenReadStream();
        return await Ask(await uploads.Keep(Company.Id, UserId, file.FileName, content, HttpContext.RequestAborted), take: false);
    }

    /// <summary>Puts what was looked at into the draft.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostTakeInAsync(string family, Guid file) => Lay(family) ? await Ask(file, take: true) : NotFound();

    /// <summary>Shows how far the work is, and what came of it.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetJobAsync(string family, long job)
    {
        if (!Lay(family) || await jobs.Find(Company.Id, job, Stop, MemberSheetWork.Name) is not { } found)
            return NotFound();
        Job = found;
        // At its end the whole page comes anew: what stands around it has changed too.
        if (found.Ended && Request.IsHtmx())
            Response.Htmx(h => h.Redirect(AtJob(job)));
        return Page();
    }

    /// <summary>Cancels the work.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostCancelAsync(string family, long job)
    {
        await jobs.Cancel(Company.Id, job, Stop);
        return Lay(family) ? Redirect(AtJob(job)) : NotFound();
    }

    /// <summary>The refused cells with their reasons.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetRefusedAsync(Guid file) =>
        await uploads.Find(Company.Id, UserId, file, Stop) is { } kept
            ? File(await uploads.Content(Company.Id, file, Stop), "text/csv; charset=utf-8", kept.Name) : NotFound();

    /// <summary>Address of the work.</summary>
    public string AtJob(long job) => At($"groups/{Family.Name}/sheet?handler=job&job={job}");

    async Task<IActionResult> Ask(Guid upload, bool take) =>
        Redirect(AtJob(await jobs.Ask(Company.Id, UserId, MemberSheetWork.Name, JsonSerializer.Serialize(new MemberSheetAsked(upload, Family.Name, take)),
            Stop)));

    bool Lay(string name)
    {
        if (name is not ("item" or "party"))
            return false;
        Family = GroupFamily.All.First(f => f.Name == name);
        var fact = name == "item" ? Fact.Item : Fact.Party;
        var own = Draft.Book.Rules.Where(r => r.When is [var only] && only.Fact == fact).GroupBy(r => r.Purpose).ToDictionary(g => g.Key, g => g.Count());
        Purposes = [.. MemberSheet.PurposesOf(Draft.Book, name).Select(p => (p, own.GetValueOrDefault(p)))];
        return true;
    }
}
