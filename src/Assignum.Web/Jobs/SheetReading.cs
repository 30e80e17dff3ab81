using System.Text.Json;
using Assignum.Formats.Sheets;
using Assignum.Storage.Jobs;
using Assignum.Storage.Uploads;

namespace Assignum.Web.Jobs;

/// <summary>Which file is to be read.</summary>
/// <param name="Upload">The kept file.</param>
public sealed record SheetReadingAsked(Guid Upload);

/// <summary>Reads an uploaded file of sheets, as a job: never in a request, and so that a cancelled job ends it.</summary>
sealed class SheetReading(UploadStore uploads) : IJobWork
{
    internal const string Name = "read-sheets";

    public string Kind => Name;

    public async Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop)
    {
        var asked = JsonSerializer.Deserialize<SheetReadingAsked>(job.Payload)!;
        await tell(0, 0, "Reading the file");
        if (await Sheets(uploads, job, asked.Upload, stop) is not { } read)
            return new(JobState.Refused, "The file is no longer kept here. Choose it once more.");
        if (read.Fault is { } fault)
        {
            await uploads.Forget(job.Company, asked.Upload, stop);
            return new(JobState.Refused, fault);
        }
        await uploads.KeepRead(job.Company, asked.Upload, ReadSheetsJson.Write(read), stop);
        return new(JobState.Done, "The file is read.", JsonSerializer.Serialize(asked));
    }

    /// <summary>A kept file as read, by this job or by one before it; null when it is no longer kept.</summary>
    internal static async Task<ReadSheets?> Sheets(UploadStore uploads, ClaimedJob job, Guid upload, CancellationToken stop)
    {
        if (await uploads.Find(job.Company, job.User, upload, stop) is not { } kept)
            return null;
        if (kept.Read is { } known)
            return ReadSheetsJson.Read(known);
        return SheetFile.Read(await uploads.Content(job.Company, upload, stop), stop);
    }
}
