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
    /// <param name="stop">The job shall stop, another has taken it over, or the program ends.</param>
    Task<JobOutcome> Run(ClaimedJob job, Func<int, int, string, Task> tell, CancellationToken stop);
}

/// <summary>Does the jobs that wait, one after the other; other instances do others. A job that was cut off is begun again.</summary>
sealed class JobWorker(JobStore jobs, IEnumerable<IJobWork> kinds, ILogger<JobWorker> log) : BackgroundService
{
    static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(300), PauseAfterFault = TimeSpan.FromSeconds(5), Beat = TimeSpan.FromSeconds(1);

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

    async Task Do(ClaimedJob job, CancellationToken ending)
    {
        using var stop = CancellationTokenSource.CreateLinkedTokenSource(ending);
        var beating = KeepLease(job, stop);
        try
        {
            // On a thread of its own, so that reading a large file never keeps the lease from being renewed.
            var outcome = await Task.Run(() => kinds.Single(k => k.Kind == job.Kind).Run(job, Tell, stop.Token), stop.Token);
            await jobs.End(job, outcome.State, outcome.Said, outcome.Result, CancellationToken.None);
        }
        catch (OperationCanceledException) when (ending.IsCancellationRequested)
        {
            await jobs.GiveBack(job, CancellationToken.None);
        }
        catch (OperationCanceledException)
        {
            await jobs.End(job, JobState.Cancelled, "Cancelled. Nothing of it was kept.", null, CancellationToken.None);
        }
        catch (Exception fault)
        {
            log.LogError(fault, "Job {Job} of company {Company}, {Kind}, failed.", job.Id, job.Company, job.Kind);
            await jobs.Fail(job, $"A fault of ours ({fault.GetType().Name}) stopped it; the log has the details.", CancellationToken.None);
        }
        finally
        {
            await stop.CancelAsync();
            await beating;
        }

        async Task Tell(int done, int total, string said)
        {
            if (!await jobs.Tell(job, done, total, said, stop.Token))
                throw new OperationCanceledException();
        }
    }

    // While the work goes on the lease is renewed; when somebody wants it to stop, or another has it, it stops.
    async Task KeepLease(ClaimedJob job, CancellationTokenSource stop)
    {
        var renewed = DateTime.UtcNow;
        while (!stop.IsCancellationRequested)
        {
            try
            {
                await Task.Delay(Beat, stop.Token);
                if (!await jobs.Renew(job, stop.Token))
                    await stop.CancelAsync();
                renewed = DateTime.UtcNow;
            }
            catch (OperationCanceledException)
            {
                return;
            }
            catch (Exception fault)
            {
                log.LogWarning(fault, "The lease of job {Job} can't be renewed at the moment.", job.Id);
                // Whoever could not renew in time must not go on beside the next one.
                if (DateTime.UtcNow - renewed > JobStore.Lease - (5 * Beat))
                    await stop.CancelAsync();
            }
        }
    }
}
