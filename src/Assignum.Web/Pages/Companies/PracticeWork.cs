using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Formats.Events;
using Assignum.Storage.Companies;
using Assignum.Storage.Jobs;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Jobs;

namespace Assignum.Web.Pages.Companies;

/// <summary>What the work on a practice company is asked to do.</summary>
/// <param name="WithEvents">Post the company's events there too.</param>
public sealed record PracticeAsked(bool WithEvents);

/// <summary>Makes the practice company of a company, as a job. Where it does not come to an end, the practice company is put away again.</summary>
sealed class PracticeWork(CompanyStore companies, PracticeStore practices, RulebookStore rulebooks, RulebookImport import, RulebookIntoDraft intoDraft,
    EditionStore editions, PostingStore posting) : IJobWork
{
    internal const string Name = "practice";
    const int Step = 500;

    public string Kind => Name;

    public async Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop)
    {
        var company = (await companies.Find(job.Company, stop))!;
        if (company.PracticeOf is not null)
            return new(JobState.Refused, $"{company.Name} is a practice company itself. Begin the company it is a copy of again.");
        await tell(0, 0, "Copying the set-up");
        var practice = await practices.Open(company, job.User, stop);
        try
        {
            await SetUp(company, practice, job.User, stop);
            var (landed, all) = JsonSerializer.Deserialize<PracticeAsked>(job.Payload)!.WithEvents ? await Events(company, practice, job.User, tell,
                stop) : (0, 0);
            return new(JobState.Done, $"{practice.Name} is ready{(all == 0 ? "" : $": {landed:N0} of {all:N0} events landed there, the others wait")}.",
                JsonSerializer.Serialize(practice.Code));
        }
        catch
        {
            await practices.PutAway(practice, job.User, CancellationToken.None);
            throw;
        }
    }

    async Task SetUp(CompanyRow company, CompanyRow practice, int user, CancellationToken stop)
    {
        var released = await rulebooks.Load(company.Id, null, stop);
        var draft = await rulebooks.Load(company.Id, released.State.Draft, stop);
        if (released.Book.Accounts.Count > 0)
        {
            Insist(await import.IntoEmpty(practice.Id, user, released.Book, stop));
            Insist(await editions.Release(practice.Id, null, await rulebooks.StateOf(practice.Id, stop), $"As {company.Code} had it.", stop));
        }
        if (RulebookDifference.Between(released.Book, draft.Book).Count > 0)
            Insist((await intoDraft.Import(practice.Id, user, draft.Book, stop)).Refusal);
        await practices.CopyBeside(company.Id, practice.Id, stop);
    }

    async Task<(int Landed, int All)> Events(CompanyRow company, CompanyRow practice, int user, Func<int, int, string, Task> tell, CancellationToken stop)
    {
        var (all, done, landed, after) = ((int)await practices.CountEvents(company.Id, stop), 0, 0, 0L);
        while (await practices.Events(company.Id, after, Step, stop) is { Count: > 0 } some)
        {
            await tell(done, all, "Posting its events");
            var events = some.Select(e => (e.Event, Happened: EventReader.Kept(e.Event.Received))).Where(e => e.Happened is not null).Select(e =>
                Sending.Postable.Of(e.Happened!, e.Event.Source, e.Event.Received)).ToList();
            landed += (await posting.Post(practice.Id, user, events, stop)).Count(p => p.Fate == PostingFate.Landed);
            (done, after) = (done + some.Count, some[^1].Id);
        }
        return (landed, all);
    }

    static void Insist(Refusal? refusal)
    {
        if (refusal is not null)
            throw new InvalidOperationException("The set-up of a company can't be copied: " + refusal.Message);
    }
}
