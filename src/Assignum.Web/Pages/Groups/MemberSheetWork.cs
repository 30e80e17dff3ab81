using System.Text.Json;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Groups;
using Assignum.Formats.Sheets;
using Assignum.Storage.Jobs;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Storage.Uploads;
using Assignum.Web.Jobs;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.Groups;

/// <summary>What the work on a sheet of members is asked to do.</summary>
/// <param name="Upload">The kept file.</param>
/// <param name="Family">"item" or "party".</param>
/// <param name="Take">Put it into the draft; without, only look.</param>
public sealed record MemberSheetAsked(Guid Upload, string Family, bool Take);

/// <summary>What a sheet of members would change, or has.</summary>
/// <param name="Family">"item" or "party".</param>
/// <param name="Upload">The kept file.</param>
/// <param name="File">Its name.</param>
/// <param name="Taken">Whether it is in the draft.</param>
/// <param name="Rows">Rows read.</param>
/// <param name="Moves">Members that change their group.</param>
/// <param name="Others">Members of which something else changes.</param>
/// <param name="Rules">Rules of their own added or changed.</param>
/// <param name="Ended">Rules of their own ended.</param>
/// <param name="Refused">Cells refused.</param>
/// <param name="Sentences">The first changes, in words.</param>
/// <param name="FirstRefused">The first refused cells.</param>
/// <param name="RefusedFile">All refused cells as a kept file, or null.</param>
public sealed record MemberSheetSeen(string Family, Guid Upload, string File, bool Taken, int Rows, int Moves, int Others, int Rules, int Ended, int Refused,
    IReadOnlyList<string> Sentences, IReadOnlyList<RefusedCell> FirstRefused, Guid? RefusedFile)
{
    /// <summary>Members that are new.</summary>
    public int Added { get; init; }
    /// <summary>What is taken, and yet has something that speaks against it.</summary>
    public IReadOnlyList<string> Warnings { get; init; } = [];
    /// <summary>How many changes there are.</summary>
    public int Changes => Added + Moves + Others + Rules + Ended;
}

/// <summary>Reads a sheet of members that was filled in, and puts it into the draft, as a job.</summary>
sealed class MemberSheetWork(UploadStore uploads, RulebookCache cache, MemberSheetStore store, StockLeft stock, TimeProvider clock) : IJobWork
{
    internal const string Name = "member-sheet";
    const int MostShown = 200;

    public string Kind => Name;

    public async Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop)
    {
        var asked = JsonSerializer.Deserialize<MemberSheetAsked>(job.Payload)!;
        if (await uploads.Find(job.Company, job.User, asked.Upload, stop) is not { } kept)
            return new(JobState.Refused, "The file is no longer kept here. Choose it once more.");
        await tell(0, 3, "Reading the file");
        var read = (await SheetReading.Sheets(uploads, job, asked.Upload, stop))!;
        if (read.Fault is { } fault)
            return new(JobState.Refused, fault);
        await tell(1, 3, "Looking at the cells");
        var date = clock.Today();
        var books = await cache.Of(job.Company, stop);
        var plan = MemberPlan.Of(read.Sheets[0], books.Draft.Shown, asked.Family, date);
        if (plan.Fault is { } whole)
            return new(JobState.Refused, whole);
        if (asked.Take)
        {
            await tell(2, 3, "Writing into the draft");
            if (await Take(job, asked.Family, plan, date, stop) is { } refusal)
                return new(JobState.Refused, refusal.Message);
            await uploads.Forget(job.Company, asked.Upload, stop);
        }
        var left = asked.Family == "item"
            ? await stock.Of(job.Company, books.Draft, plan.Members.Where(m => m.Group is not null).Select(m => (m.Code, m.Group!)), date, stop) : [];
        var seen = new MemberSheetSeen(asked.Family, asked.Upload, kept.Name, asked.Take, plan.Rows, plan.Members.Count(m => m.Group is not null),
            plan.Members.Count(m => m.Group is null), plan.Rules.Count(r => r.Account is not null), plan.Rules.Count(r => r.Account is null),
            plan.Refused.Count, [.. Sentences(plan).Take(MostShown)], [.. plan.Refused.Take(MostShown)], plan.Refused.Count == 0 ? null
                : await KeepRefused(job, kept, plan, stop)) { Added = plan.Added.Count, Warnings = [.. plan.Warnings.Concat(left).Take(MostShown)] };
        return new(JobState.Done, asked.Take
            ? $"{Show.Count(seen.Changes, "change")} of {kept.Name} {(seen.Changes == 1 ? "is" : "are")} in draft {books.State.Draft}."
            : $"{kept.Name} was looked at.", JsonSerializer.Serialize(seen));
    }

    Task<Refusal?> Take(ClaimedJob job, string family, MemberPlan plan, DateOnly date, CancellationToken stop)
    {
        var fact = family == "item" ? Fact.Item : Fact.Party;
        var members = plan.Members.Select(m =>
            new MemberChange(m.Code) { Group = m.Group, TaxGroup = m.TaxGroup, ItemKind = family == "item" ? m.Kind : null, Role = family == "party" ? m.Kind
            : null }).ToList();
        var rules = plan.Rules.GroupBy(r => r.Purpose).Select(g =>
            (g.Key, (IReadOnlyList<CellEdit>)[.. g.Select(r => new CellEdit([new(fact, r.Code)], r.Account, r.Was?.Id, r.Was?.Account))])).ToList();
        return store.Take(job.Company, job.User, family, members, rules, date, stop,
            [.. plan.Added.Select(m => new NewMember(m.Code, m.Name, m.Kind, m.Group, m.TaxGroup))]);
    }

    Task<Guid> KeepRefused(ClaimedJob job, Upload kept, MemberPlan plan, CancellationToken stop)
    {
        var content = new MemoryStream();
        CsvTable.Write(content, new Table("Refused cells", ["line", "code", "column", "cell", "refused because"],
            plan.Refused.Select(r => (IReadOnlyList<object?>)[r.Line, r.Code, r.Column, r.Typed, r.Why])));
        content.Position = 0;
        return uploads.Keep(job.Company, job.User, $"{Path.GetFileNameWithoutExtension(kept.Name)}, refused cells.csv", content, stop);
    }

    static IEnumerable<string> Sentences(MemberPlan plan) =>
    [
        .. plan.Added.Take(MostShown).Select(m => $"{m.Code} {m.Name} is new{(m.Group is null ? "" : $", in {m.Group}")}."),
        .. plan.Members.Take(MostShown).Select(m => $"{m.Code} " + string.Join(", ",
            new[] { m.Group is null ? null : $"moves to {m.Group}", TaxGroupOf(m.TaxGroup), m.Kind is null ? null : $"is {m.Kind.Replace('-', ' ')}" }
                .OfType<string>()) + "."),
        .. plan.Rules.Take(MostShown).Select(r =>
            $"{r.Purpose.Title} of {r.Code} {Lands(r.Account, r.Was?.Account)}."),
    ];

    static string? TaxGroupOf(string? group) => group switch { null => null, "" => "has the tax group of its posting group", _ => $"has tax group {group}" };

    static string Lands(string? now, string? was) => (now, was) switch
    {
        (null, _) => $"no longer has a rule of its own, which was {was}",
        (_, null) => $"lands on {now} by a rule of its own",
        _ => $"lands on {now}, was {was}",
    };
}
