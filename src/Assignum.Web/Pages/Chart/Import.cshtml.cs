using Assignum.Core.Charts;
using Assignum.Formats.Charts;
using Assignum.Storage.Settings;
using Assignum.Storage.Uploads;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages.Chart;

/// <summary>Brings in a chart from a CSV file: first a preview that explains every row, then the import.</summary>
[Authorize(Policy = Policies.Prepares)]
[RequestSizeLimit(LargestRequest), RequestFormLimits(MultipartBodyLengthLimit = LargestRequest)]
public sealed class ImportModel(ChartStore chart, UploadStore uploads) : CompanyPage
{
    const int LargestRequest = 64 << 20;
    const int MostShown = 500;

    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>What the import would do, once a file was read.</summary>
    public ChartPlan? Plan { get; private set; }
    /// <summary>The rows shown: refused ones first.</summary>
    public IReadOnlyList<PlannedRow> Shown { get; private set; } = [];
    /// <summary>Why the file, or the import, was refused.</summary>
    public string? Fault { get; private set; }
    /// <summary>Name of the file, and what was found out about it.</summary>
    public (string Name, string Said) Source { get; private set; }
    /// <summary>The kept file.</summary>
    public Guid Upload { get; private set; }

    /// <summary>Asks for a file.</summary>
    public void OnGet()
    {
    }

    /// <summary>Reads a file and shows what its import would do.</summary>
    public async Task<IActionResult> OnPostAsync(IFormFile? file)
    {
        if (file is null)
            return Refuse("No file is chosen. Choose the CSV file of the chart.");
        if (file.Length > ChartCsv.LargestFile)
            return Refuse(ChartCsv.TooLarge(file.Length));
        using var content = new MemoryStream();
        await file.CopyToAsync(content, Stop);
        var bytes = content.ToArray();
        if (!Read(file.FileName, bytes))
            return Page();
        Upload = await uploads.Keep(Company.Id, UserId, file.FileName, bytes, Stop);
        return Page();
    }

    /// <summary>Carries out what the preview showed.</summary>
    public async Task<IActionResult> OnPostTakeAsync(Guid upload)
    {
        if (await uploads.Find(Company.Id, UserId, upload, Stop) is not { } kept)
            return Refuse("The file is no longer kept here. Choose it once more.");
        var read = ChartCsv.Read(kept.Content);
        if (await chart.Import(Company.Id, UserId, read.Rows, Stop) is { } refusal)
        {
            Read(kept.Name, kept.Content);
            Upload = upload;
            return Refuse(refusal.Message);
        }
        var plan = ChartImport.Plan(read.Rows, [.. Draft.Book.Accounts]);
        await uploads.Forget(Company.Id, upload, Stop);
        return Done($"{kept.Name} is in draft {Books.State.Draft}: {Show.Count(plan.Count(ChartRowFate.New), "account")} new, {plan.Count(ChartRowFate.Changed)} changed, {plan.Count(ChartRowFate.Refused)} refused.", At("chart"));
    }

    bool Read(string name, byte[] bytes)
    {
        var read = ChartCsv.Read(bytes);
        Fault = read.Fault;
        Source = (name, read.Said);
        if (Fault is not null)
        {
            Response.StatusCode = StatusCodes.Status400BadRequest;
            return false;
        }
        Plan = ChartImport.Plan(read.Rows, [.. Draft.Book.Accounts]);
        Shown = [.. Plan.Rows.OrderBy(r => r.Fate == ChartRowFate.Refused ? 0 : 1).Take(MostShown)];
        return true;
    }

    PageResult Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
