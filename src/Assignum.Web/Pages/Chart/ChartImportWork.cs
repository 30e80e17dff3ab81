using System.Text.Json;
using Assignum.Core.Charts;
using Assignum.Formats.Charts;
using Assignum.Formats.Sheets;
using Assignum.Storage.Charts;
using Assignum.Storage.Jobs;
using Assignum.Storage.Uploads;
using Assignum.Web.Jobs;

namespace Assignum.Web.Pages.Chart;

/// <summary>What an import of a chart is asked to do.</summary>
/// <param name="Upload">The kept file.</param>
/// <param name="Mapping">How it is read, as <see cref="MappingJson"/> writes it.</param>
/// <param name="WholeOrNothing">With a refused row nothing is taken in.</param>
public sealed record ChartImportAsked(Guid Upload, string Mapping, bool WholeOrNothing);

/// <summary>What an import of a chart did.</summary>
/// <param name="New">Accounts added.</param>
/// <param name="Changed">Accounts changed.</param>
/// <param name="Unchanged">Rows that the chart had already.</param>
/// <param name="Refused">Rows refused.</param>
/// <param name="RefusedFile">The refused rows as a kept file, or null.</param>
public sealed record ChartImportDone(int New, int Changed, int Unchanged, int Refused, Guid? RefusedFile);

/// <summary>Imports a chart as a job.</summary>
sealed class ChartImportWork(UploadStore uploads, ChartImportStore imports) : IJobWork
{
    internal const string Name = "chart-import";

    public string Kind => Name;

    public async Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop)
    {
        var asked = JsonSerializer.Deserialize<ChartImportAsked>(job.Payload)!;
        if (await uploads.Find(job.Company, job.User, asked.Upload, stop) is not { } kept)
            return new(JobState.Refused, "The file is no longer kept here. Choose it once more.");
        await tell(0, 0, "Reading the file");
        var read = (await SheetReading.Sheets(uploads, job, asked.Upload, stop))!;
        if (MappingJson.Read(System.Text.Encoding.UTF8.GetBytes(asked.Mapping), read.Sheets, out var fault) is not { } mapping)
            return new(JobState.Refused, fault!);
        var sheet = read.Sheets.First(s => Core.Fold.Same(s.Name, mapping.Sheet));
        var rows = ChartSheet.Rows(sheet, mapping);
        await tell(0, rows.Count, "Looking at the rows");
        var done = await imports.Import(job.Company, job.User, chart => ChartImport.Plan(rows, chart, mapping.Placing, mapping.KindsGiven, mapping.Lenience),
            asked.WholeOrNothing,
            (written, total) => tell(written, total, "Writing the accounts"), stop);
        if (done.Refusal is { } refusal)
            return new(JobState.Refused, refusal.Message);
        var refused = done.Plan.Count(ChartRowFate.Refused);
        var result = new ChartImportDone(done.Plan.Count(ChartRowFate.New), done.Plan.Count(ChartRowFate.Changed), done.Plan.Count(ChartRowFate.Unchanged),
            refused,
            refused == 0 ? null : await KeepRefused(job, kept, sheet, mapping, done.Plan, stop));
        await uploads.Forget(job.Company, asked.Upload, stop);
        return new(JobState.Done, $"{kept.Name} is in the draft.", JsonSerializer.Serialize(result));
    }

    Task<Guid> KeepRefused(ClaimedJob job, Upload kept, Sheet sheet, ChartMapping mapping, ChartPlan plan, CancellationToken stop)
    {
        var content = new MemoryStream();
        CsvTable.Write(content, RefusedRows.Of(sheet, mapping, plan));
        content.Position = 0;
        return uploads.Keep(job.Company, job.User, $"{Path.GetFileNameWithoutExtension(kept.Name)}, refused.csv", content, stop);
    }
}
