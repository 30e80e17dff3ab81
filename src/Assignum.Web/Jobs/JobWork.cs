using Assignum.Storage.Jobs;

namespace Assignum.Web.Jobs;

/// <summary>What became of a job.</summary>
/// <param name="State">Done or refused.</param>
/// <param name="Said">A sentence.</param>
/// <param name="Result">What it has made, JSON; or null.</param>
public sealed record JobOutcome(JobState State, string Said, string? Result = null);

/// <summary>A kind of long work.</summary>
public interface IJobWork
{
    /// <summary>Its name.</summary>
    string Kind { get; }

    /// <summary>Does it. Nothing of it may be kept when it is cancelled.</summary>
    /// <param name="job">The job.</param>
    /// <param name="tell">Tells how far it is, of how much, and what it does; throws <see cref="OperationCanceledException"/> when the job shall stop.</param>
    /// <param name="stop">The application ends.</param>
    Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop);
}

/// <summary>Does the jobs that wait, one after the other; other instances do others. A job that was cut off is begun anew.</summary>
sealed class JobWorker(JobStore jobs, IEnumerable<IJobWork> kinds, ILogger<JobWorker> log) : BackgroundService
{
    static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(300), PauseAfterFault = TimeSpan.FromSeconds(5);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                if (await jobs.Claim(stoppingToken) is { } job)
                    await Do(job, stoppingToken);
                else
                    await Task.Delay(Pause, stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
            }
            catch (Exception fault)
            {
                log.LogError(fault, "Jobs can't be claimed at the moment.");
                await Task.Delay(PauseAfterFault, stoppingToken);
            }
        }
    }

    async Task Do(ClaimedJob job, CancellationToken stop)
    {
        try
        {
            var outcome = await kinds.Single(k => k.Kind == job.Kind).Run(job, Tell, stop);
            await jobs.End(job, outcome.State, outcome.Said, outcome.Result, stop);
        }
        catch (OperationCanceledException) when (!stop.IsCancellationRequested)
        {
            await jobs.End(job, JobState.Cancelled, "Cancelled. Nothing of it was kept.", null, stop);
        }
        catch (Exception fault) when (!stop.IsCancellationRequested)
        {
            log.LogError(fault, "Job {Job} failed.", job.Id);
            await jobs.End(job, JobState.Failed, "It failed by a fault of ours. Nothing of it was kept; the log has the details.", null, stop);
        }

        async Task Tell(int done, int total, string said)
        {
            if (!await jobs.Tell(job, done, total, said, stop))
                throw new OperationCanceledException();
        }
    }
}
