using System.Text;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Formats.Sheets;
using Assignum.Storage.Charts;
using Assignum.Storage.Jobs;
using Assignum.Storage.Posting;
using Assignum.Storage.Uploads;
using Assignum.Web.Jobs;

namespace Assignum.Web.Pages.Events;

/// <summary>What the work on a file of events is asked to do.</summary>
/// <param name="Upload">The kept file.</param>
/// <param name="Type">The type of all its events, where no column says it; or null.</param>
/// <param name="Columns">The field of each column; null: as remembered, or as proposed.</param>
/// <param name="Post">Post them; without, only look.</param>
public sealed record EventFileAsked(Guid Upload, string? Type, IReadOnlyList<string?>? Columns, bool Post);

/// <summary>A column of a sheet of events.</summary>
/// <param name="Heading">Its heading.</param>
/// <param name="Sample">What its first row has.</param>
/// <param name="Field">The field it is; null: not used.</param>
public sealed record EventColumn(string Heading, string Sample, string? Field);

/// <summary>Events that have the same fate for the same reason.</summary>
/// <param name="Why">The reason in a sentence; of several, the first.</param>
/// <param name="First">Id of the first of them.</param>
/// <param name="Events">How many.</param>
public sealed record SameReason(string Why, string First, int Events);

/// <summary>What a file of events would do, or has done.</summary>
public sealed record EventFileSeen(Guid Upload, string File, bool Posted, string? Type, IReadOnlyList<EventColumn> Columns, int Events, int Landed, int Held,
    int Known,
    int Refused, IReadOnlyList<SameReason> WhyHeld, IReadOnlyList<SameReason> WhyRefused, Guid? RefusedFile);

/// <summary>Reads a file of events, shows what would become of them, and posts them, as a job.</summary>
sealed class EventFileWork(UploadStore uploads, PostingStore posting, MappingStore mappings) : IJobWork
{
    internal const string Name = "event-file";
    const int Looked = 10_000, Step = 500, MostReasons = 50;

    public string Kind => Name;

    // An event, or a row that is none.
    sealed record Read(string Id, PostableEvent? Event, string? Why, IReadOnlyList<SheetRow> Rows, string Line);

    public async Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop)
    {
        var asked = JsonSerializer.Deserialize<EventFileAsked>(job.Payload)!;
        if (await uploads.Find(job.Company, job.User, asked.Upload, stop) is not { } kept)
            return new(JobState.Refused, "The file is no longer kept here. Choose it once more.");
        await tell(0, 0, "Reading the file");
        var content = await uploads.Content(job.Company, asked.Upload, stop);
        var (headings, columns, reads) = (Array.Empty<string>(), (IReadOnlyList<string?>)[], (List<Read>)[]);
        SheetRow? sample = null;
        if (IsLines(content))
            reads = [.. Lines(content)];
        else
        {
            var file = (await SheetReading.Sheets(uploads, job, asked.Upload, stop))!;
            if (file.Fault is { } fault)
                return new(JobState.Refused, fault);
            var rows = file.Sheets[0].Rows;
            headings = [.. rows[0].Cells];
            columns = await Columns(job, asked, headings, stop);
            sample = rows.Skip(1).FirstOrDefault();
            reads = [.. Sheet(rows.Skip(1), columns, EventTypes.Find(asked.Type))];
        }
        var fates = asked.Post ? await Post(job, reads, tell, stop) : await Look(job, reads, tell, stop);
        if (fates is null)
            return new(JobState.Cancelled, "Cancelled. What was posted before stays; the same file posts the rest, and nothing twice.");
        var seen = Seen(kept, asked, [.. headings.Select((h, i) => new EventColumn(h, sample?[i] ?? "", columns[i]))], reads, fates);
        if (seen.Refused > 0)
            seen = seen with { RefusedFile = await KeepRefused(job, kept, headings, reads, fates, stop) };
        return new(JobState.Done, asked.Post ? $"{seen.Landed:N0} events of {kept.Name} are posted." : $"{kept.Name} was looked at.",
            JsonSerializer.Serialize(seen));
    }

    static bool IsLines(ReadOnlySpan<byte> content) => content.TrimStart("\uFEFF \t\r\n"u8) is [(byte)'{', ..];

    static IEnumerable<Read> Lines(byte[] content)
    {
        var (reader, number) = (new EventReader(), 0);
        foreach (var line in Encoding.UTF8.GetString(content).TrimStart('\uFEFF').Split('\n'))
            if (++number > 0 && line.Trim() is { Length: > 0 } json)
                yield return One(reader, json, number, []);
    }

    static IEnumerable<Read> Sheet(IEnumerable<SheetRow> rows, IReadOnlyList<string?> columns, EventType? type)
    {
        var reader = new EventReader();
        foreach (var one in EventSheet.Events(rows, columns, type))
            yield return one.Json is { } json ? One(reader, json, one.Rows[0].Line, one.Rows) : new(one.Id, null, one.Why, one.Rows, "");
    }

    // What is uploaded by hand is one's own, whatever connection it names.
    static Read One(EventReader reader, string json, int line, IReadOnlyList<SheetRow> rows)
    {
        var read = reader.Read(Encoding.UTF8.GetBytes(json), line);
        return read.Event is { } happened
            ? new(read.Id, Sending.Postable.Of(happened, PostableEvent.Own, json), null, rows, json)
            : new(read.Id, null, read.Fault!.Message, rows, json);
    }

    async Task<IReadOnlyList<string?>> Columns(ClaimedJob job, EventFileAsked asked, string[] headings, CancellationToken stop)
    {
        var signature = "events|" + asked.Type + "|" + string.Join('|', headings.Select(Fold.Of));
        if (asked.Columns is { } said)
        {
            await mappings.Remember(job.Company, job.User, signature, JsonSerializer.Serialize(said), stop);
            return said;
        }
        if (await mappings.Find(job.Company, signature, stop) is { } remembered)
            return JsonSerializer.Deserialize<string?[]>(remembered)!;
        return EventSheet.Propose(headings, EventSheet.Fields(EventTypes.Find(asked.Type)));
    }

    async Task<Dictionary<PostableEvent, Posted>?> Look(ClaimedJob job, List<Read> reads, Func<int, int, string, Task> tell, CancellationToken stop)
    {
        var fates = new Dictionary<PostableEvent, Posted>(ReferenceEqualityComparer.Instance);
        foreach (var chunk in reads.Select(r => r.Event).OfType<PostableEvent>().Chunk(Looked))
        {
            await tell(fates.Count, reads.Count, "Looking at the events");
            foreach (var (one, fate) in chunk.Zip(await posting.Look(job.Company, chunk, stop)))
                fates[one] = fate;
        }
        return fates;
    }

    // Cancelled between two steps: null.
    async Task<Dictionary<PostableEvent, Posted>?> Post(ClaimedJob job, List<Read> reads, Func<int, int, string, Task> tell, CancellationToken stop)
    {
        var fates = new Dictionary<PostableEvent, Posted>(ReferenceEqualityComparer.Instance);
        try
        {
            foreach (var chunk in reads.Select(r => r.Event).OfType<PostableEvent>().Chunk(Step))
            {
                await tell(fates.Count, reads.Count, "Posting");
                foreach (var (one, fate) in chunk.Zip(await posting.Post(job.Company, job.User, chunk, CancellationToken.None)))
                    fates[one] = fate;
            }
            return fates;
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested || fates.Count > 0)
        {
            return null;
        }
    }

    static EventFileSeen Seen(Upload kept, EventFileAsked asked, IReadOnlyList<EventColumn> columns, List<Read> reads, Dictionary<PostableEvent, Posted> fates)
    {
        int Of(PostingFate fate) => fates.Values.Count(f => f.Fate == fate);
        var refused = reads.Select(r => (r.Id, Why: WhyRefused(r, fates))).Where(r => r.Why is not null).ToList();
        return new(asked.Upload, kept.Name, asked.Post, asked.Type, columns, reads.Count, Of(PostingFate.Landed), Of(PostingFate.Held), Of(PostingFate.Known),
            refused.Count, Grouped(fates.Where(f => f.Value.Fate == PostingFate.Held).Select(f => (f.Key.Happened.Id, f.Value.Reasons[0].Message))),
            Grouped(refused.Select(r => (r.Id, r.Why!))), null);
    }

    static string? WhyRefused(Read read, Dictionary<PostableEvent, Posted> fates)
    {
        if (read.Event is not { } one)
            return read.Why;
        return fates.GetValueOrDefault(one) is { Fate: PostingFate.Refused } fate ? fate.Message : null;
    }

    static List<SameReason> Grouped(IEnumerable<(string Id, string Why)> all) =>
        [.. all.GroupBy(r => r.Why).Select(g => new SameReason(g.Key, g.First().Id, g.Count())).OrderByDescending(r => r.Events).Take(MostReasons)];

    // The rows themselves, with the reason beside them: mended there, the same file brings them in.
    Task<Guid> KeepRefused(ClaimedJob job, Upload kept, string[] headings, List<Read> reads, Dictionary<PostableEvent, Posted> fates, CancellationToken stop)
    {
        var rows = reads.Select(r => (Read: r, Why: WhyRefused(r, fates))).Where(r => r.Why is not null).SelectMany(r => headings.Length == 0
            ? [(IReadOnlyList<object?>)[r.Read.Id, r.Read.Line, r.Why]]
            : r.Read.Rows.Select(row => (IReadOnlyList<object?>)[.. headings.Select((_, i) => (object?)row[i]), r.Why]));
        var content = new MemoryStream();
        CsvTable.Write(content, new Table("Refused", headings.Length == 0 ? ["event", "line", "refused because"] : [.. headings, "refused because"], rows));
        content.Position = 0;
        return uploads.Keep(job.Company, job.User, $"{Path.GetFileNameWithoutExtension(kept.Name)}, refused.csv", content, stop);
    }
}
