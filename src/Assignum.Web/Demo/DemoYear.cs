using System.Globalization;
using Assignum.Core.Changes;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Companies;
using Assignum.Storage.People;
using Assignum.Storage.Settings;

namespace Assignum.Web.Demo;

/// <summary>
/// Brings thirteen months of the nurseries in while the application already answers: edition after edition, each with what happened while it was in force.
/// What has come in before a stop is not brought in twice.
/// </summary>
sealed class DemoYear(DemoCompany demo, CompanyStore companies, PersonStore people, RulebookIntoDraft intoDraft, EditionStore editions, RulebookStore rulebooks,
    DemoClosing closing, DemoLandscapes landscapes, IConfiguration settings, ILogger<DemoYear> log) : BackgroundService
{
    // The first edition of the year is released with the company.
    const int EditionBefore = 1;

    /// <inheritdoc/>
    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        if (settings["ASSIGNUM_DEMO_YEAR"] is not { Length: > 0 } folder || File.Exists(Done(folder))
            || await companies.Find("QN", stoppingToken) is not { } company)
            return;
        try
        {
            await BringIn(company.Id, folder, stoppingToken);
        }
        catch (Exception fault) when (fault is not OperationCanceledException)
        {
            // The application goes on without the rest of its demo.
            Failed(log, fault);
        }
    }

    async Task BringIn(int company, string folder, CancellationToken stop)
    {
        var (ines, tomas) = ((await people.Find("ines", stop))!.Id, (await people.Find("tomas", stop))!.Id);
        for (var stage = 1; Directory.Exists(Path.Combine(folder, Name(stage))); stage++)
        {
            await Release(company, ines, tomas, Path.Combine(folder, Name(stage)), stage + EditionBefore, stop);
            await demo.Post(company, ines, Path.Combine(folder, Name(stage), "events.ndjson"), stop);
        }
        var released = await rulebooks.Load(company, null, stop);
        if (RulebookDifference.Between(released.Book, (await rulebooks.Load(company, released.State.Draft, stop)).Book).Count == 0)
            await demo.MakeDraft(company, ines, stop);
        await closing.Close(company, ines, stop);
        await landscapes.BringIn(ines, tomas, Path.Combine(folder, "ql", "events.ndjson"), stop);
        await File.WriteAllTextAsync(Done(folder), "", stop);
        Came(log, null);
    }

    async Task Release(int company, int ines, int tomas, string folder, int edition, CancellationToken stop)
    {
        if ((await rulebooks.StateOf(company, stop)).Edition >= edition)
            return;
        var book = RulebookReader.Read(await File.ReadAllBytesAsync(Path.Combine(folder, "rulebook.json"), stop)).Book
            ?? throw new InvalidOperationException($"{folder} has no rulebook that can be read.");
        DemoCompany.Insist((await intoDraft.Import(company, ines, book, stop)).Refusal);
        DemoCompany.Insist(await editions.Release(company, tomas, await rulebooks.StateOf(company, stop), await File.ReadAllTextAsync(Path.Combine(folder,
            "note.txt"), stop), stop));
    }

    static string Name(int stage) => stage.ToString(CultureInfo.InvariantCulture);
    static string Done(string folder) => Path.Combine(folder, "in");

    static readonly Action<ILogger, Exception?> Came = LoggerMessage.Define(LogLevel.Information, new EventId(1, "DemoYear"),
        "The demo's thirteen months are in."), Failed = LoggerMessage.Define(LogLevel.Error, new EventId(2, "DemoYearFailed"),
        "The demo's thirteen months did not come in whole. ./run --fresh starts over.");
}
