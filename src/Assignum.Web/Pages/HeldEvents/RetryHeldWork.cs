using Assignum.Storage.HeldEvents;
using Assignum.Storage.Jobs;
using Assignum.Web.Jobs;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.HeldEvents;

/// <summary>Which held events are tried again.</summary>
/// <param name="Only">Their ids; null: all.</param>
public sealed record RetryAsked(long[]? Only);

/// <summary>Tries held events again, in the order in which they came. What has landed stays, also when the rest is cancelled.</summary>
sealed class RetryHeldWork(Retrying retrying) : IJobWork
{
    public string Kind => Retrying.Job;

    public async Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop)
    {
        var asked = System.Text.Json.JsonSerializer.Deserialize<RetryAsked>(job.Payload)!;
        var tried = await retrying.Retry(job.Company, job.User, asked.Only, stop, (done, of) => tell(done, of, "Held events are tried again"));
        return new(JobState.Done, tried switch
        {
            { Landed: 0, Held: 0 } => "Nothing waits.",
            { Held: 0 } => $"{Show.Count(tried.Landed, "event")} landed, in the order in which they came.",
            { Landed: 0 } => $"None landed: {Show.Count(tried.Held, "event")} still {(tried.Held == 1 ? "waits" : "wait")}.",
            _ => $"{Show.Count(tried.Landed, "event")} landed, in the order in which they came; {tried.Held:N0} still wait.",
        });
    }
}
