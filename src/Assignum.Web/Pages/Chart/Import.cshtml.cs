using System.Collections.Concurrent;
using System.Security.Cryptography;
using System.Text;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Formats.Charts;
using Assignum.Formats.Sheets;
using Assignum.Storage.Charts;
using Assignum.Storage.Jobs;
using Assignum.Storage.Uploads;
using Assignum.Web.Access;
using Assignum.Web.Jobs;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages.Chart;

/// <summary>Brings in a chart from a file or from pasted rows: its columns and codes are understood together, every row is explained, and only then it is
/// taken in.</summary>
[Authorize(Policy = Policies.Prepares)]
[Microsoft.AspNetCore.RateLimiting.EnableRateLimiting(Limits.Upload)]
[RequestSizeLimit(LargestRequest), RequestFormLimits(MultipartBodyLengthLimit = LargestRequest, ValueCountLimit = 4096)]
public sealed class ImportModel(ChartStore charts, UploadStore uploads, MappingStore mappings, JobStore jobs) : CompanyPage
{
    const int LargestRequest = 64 << 20, MostShown = 200, FilesRemembered = 4;
    static readonly ConcurrentDictionary<Guid, ReadSheets> Read = [];

    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>Why the file, or the import, was refused.</summary>
    public string? Fault { get; private set; }
    /// <summary>Rows are pasted, not read from a file.</summary>
    public bool Pastes { get; private set; }
    /// <summary>Rows as they were pasted.</summary>
    public string? Pasted { get; private set; }
    /// <summary>The kept file; null while none is chosen.</summary>
    public Upload? Source { get; private set; }
    /// <summary>The file as read.</summary>
    public ReadSheets Sheets { get; private set; } = null!;
    /// <summary>The sheet looked at.</summary>
    public Sheet Sheet { get; private set; } = null!;
    /// <summary>How it is read.</summary>
    public ChartMapping Mapping { get; private set; } = null!;
    /// <summary>The mapping is that of an earlier file with the same headings.</summary>
    public bool Remembered { get; private set; }
    /// <summary>What the import would do.</summary>
    public ChartPlan Plan { get; private set; } = null!;
    /// <summary>With a refused row nothing is taken in.</summary>
    public bool Whole { get; private set; }
    /// <summary>Which rows are shown: "refused", "new", "changed", "unchanged" or all.</summary>
    public string? Shows { get; private set; }
    /// <summary>The rows shown.</summary>
    public IReadOnlyList<PlannedRow> Shown { get; private set; } = [];
    /// <summary>The import under way, or ended.</summary>
    public JobRow? Job { get; private set; }

    /// <summary>Fields an account can't do without and no column gives.</summary>
    public IReadOnlyList<ChartField> Missing => [.. ChartFields.All.Where(f => f.Required && !Mapping.Columns.ContainsKey(f.Name))];
    /// <summary>Rows that would be taken in.</summary>
    public int Taken => Plan.Count(ChartRowFate.New) + Plan.Count(ChartRowFate.Changed);

    /// <summary>Asks for a file, or shows one that is kept.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnGetAsync(Guid? file, string? paste, string? show)
    {
        Pastes = paste is not null;
        if (file is null)
            return Page();
        return await Look(file.Value, MappingForm.Of(Request.Query), show) ?? Page();
    }

    /// <summary>Keeps a file, or pasted rows, and looks at it.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(IFormFile? file, string? rows)
    {
        Pastes = file is null && rows is not null;
        Pasted = rows;
        if (file is null && string.IsNullOrWhiteSpace(rows))
            return Refuse(Pastes ? "Nothing is pasted. Copy rows from a spreadsheet, with number and name at least, and paste them here."
                : "No file is chosen. Choose the CSV or XLSX file of the chart.");
        if (file?.Length > SheetFile.LargestFile)
            return Refuse(SheetFile.TooLarge(file.Length));
        await using var content = file?.OpenReadStream() ?? new MemoryStream(Encoding.UTF8.GetBytes(rows!));
        var kept = await uploads.Keep(Company.Id, UserId, file?.FileName ?? "Pasted rows", content, HttpContext.RequestAborted);
        return Redirect(AtJob(await jobs.Ask(Company.Id, UserId, SheetReading.Name, JsonSerializer.Serialize(new SheetReadingAsked(kept)), Stop)));
    }

    /// <summary>Takes in what the preview shows, as a job.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostTakeAsync(Guid file)
    {
        if (await Look(file, MappingForm.Of(Request.Form), null) is { } gone)
            return gone;
        if (Missing.Count > 0)
            return Refuse($"No column gives the {string.Join(" and the ", Missing.Select(f => f.Title.ToLowerInvariant()))}. Choose above which one does.");
        var mapping = MappingJson.Write(Sheet, Mapping);
        await mappings.Remember(Company.Id, UserId, Signature(Sheet, Mapping), mapping, Stop);
        var job = await jobs.Ask(Company.Id, UserId, ChartImportWork.Name,
            JsonSerializer.Serialize(new ChartImportAsked(file, mapping, Whole || Plan.Count(ChartRowFate.Refused) == 0)), Stop);
        return Redirect(AtJob(job));
    }

    /// <summary>Shows how far an import is.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnGetJobAsync(long job)
    {
        if (await jobs.Find(Company.Id, job, Stop, SheetReading.Name, ChartImportWork.Name) is not { } found)
            return NotFound();
        Job = found;
        // A file that is read is looked at.
        if (found is { Kind: SheetReading.Name, State: JobState.Done, Result: { } read })
        {
            var look = At($"chart/import?file={JsonSerializer.Deserialize<SheetReadingAsked>(read)!.Upload}");
            if (!Request.IsHtmx())
                return Redirect(look);
            Response.Htmx(h => h.Redirect(look));
            return new NoContentResult();
        }
        // At its end the whole page comes anew: what stands around it has changed too.
        if (found.Ended && Request.IsHtmx())
            Response.Htmx(h => h.Redirect(AtJob(job)));
        return Page();
    }

    string AtJob(long job) => At($"chart/import?handler=job&job={job}");

    /// <summary>Cancels an import.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostCancelAsync(long job)
    {
        await jobs.Cancel(Company.Id, job, Stop);
        return Redirect(AtJob(job));
    }

    /// <summary>Forgets what was remembered of files with these headings, and proposes anew.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostForgetAsync(Guid file)
    {
        if (await Look(file, new Dictionary<string, string>(), null) is { } gone)
            return gone;
        await mappings.Forget(Company.Id, Signature(Sheet, Mapping), Stop);
        return Redirect(At($"chart/import?file={file}"));
    }

    /// <summary>The refused rows as a file, with the reason in a column.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnGetRefusedAsync(Guid file, string? @as)
    {
        if (await Look(file, MappingForm.Of(Request.Query), null) is { } gone)
            return gone;
        return Export(RefusedRows.Of(Sheet, Mapping, Plan), Path.GetFileNameWithoutExtension(Source!.Name) + ", refused", @as);
    }

    /// <summary>The refused rows an import has left, as it kept them.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnGetKeptAsync(Guid file) =>
        await uploads.Find(Company.Id, UserId, file, Stop) is { } kept
            ? File(await uploads.Content(Company.Id, file, Stop), "text/csv; charset=utf-8", kept.Name) : NotFound();

    /// <summary>The empty file to be filled in.</summary>
    [Needs(Need.Prepares)]
    public IActionResult OnGetTemplate(string? @as) => Export(ChartTemplates.ToFillIn, "chart of accounts", @as);

    /// <summary>The result of an import that is done.</summary>
    public ChartImportDone? Result => Job is { Kind: ChartImportWork.Name, Result: { } json } ? JsonSerializer.Deserialize<ChartImportDone>(json) : null;

    // Null when the file could be looked at.
    async Task<IActionResult?> Look(Guid file, IReadOnlyDictionary<string, string> sent, string? show)
    {
        if (await uploads.Find(Company.Id, UserId, file, Stop) is not { } kept)
            return Refuse("The file is no longer kept here; files are kept for a day. Choose it once more.");
        if (kept.Read is not { } read)
            return Refuse("The file is still being read, or the reading was cancelled. Choose it once more.");
        if (Read.Count >= FilesRemembered)
            Read.Clear();
        Sheets = Read.GetOrAdd(file, _ => ReadSheetsJson.Read(read));
        (Source, Shows, Whole) = (kept, show, sent.GetValueOrDefault("whole") == "true");
        Mapping = MappingForm.IsSent(sent.Keys) ? MappingForm.Read(Sheets.Sheets, sent) : await Proposed();
        Sheet = Sheets.Sheets.First(s => s.Name == Mapping.Sheet);
        Plan = ChartImport.Plan(ChartSheet.Rows(Sheet, Mapping), await charts.Of(Company.Id, Draft, Stop), Mapping.Placing, Mapping.KindsGiven,
            Mapping.Lenience);
        Shown = [.. Plan.Rows.Where(r => string.IsNullOrEmpty(show) || show == Words<ChartRowFate>.Of(r.Fate)).OrderBy(r => r.Fate == ChartRowFate.Refused ? 0
            : 1).Take(MostShown)];
        return null;
    }

    async Task<ChartMapping> Proposed()
    {
        var proposed = MappingProposal.For(Sheets.Sheets);
        var sheet = Sheets.Sheets.First(s => s.Name == proposed.Sheet);
        if (await mappings.Find(Company.Id, Signature(sheet, proposed), Stop) is { } remembered
            && MappingJson.Read(Encoding.UTF8.GetBytes(remembered), Sheets.Sheets, out _) is { } known)
        {
            Remembered = true;
            return MappingProposal.WithCodes(Sheets.Sheets.First(s => s.Name == known.Sheet), known);
        }
        return proposed;
    }

    // Files of the same make have the same headings.
    static string Signature(Sheet sheet, ChartMapping mapping) =>
        Convert.ToHexString(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\u001f', ChartSheet.HeadingsOf(sheet, mapping).Select(Fold.Of)))))[..32];

    PageResult Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
