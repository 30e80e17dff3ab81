using Npgsql;

namespace Assignum.Storage.Jobs;

/// <summary>What a job is at.</summary>
public enum JobState { Waiting, Running, Done, Refused, Cancelled, Failed }

/// <summary>A piece of long work, as it is shown.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Kind">What it does.</param>
/// <param name="State">What it is at.</param>
/// <param name="Done">How much is done.</param>
/// <param name="Total">Of how much; 0 while that is not known.</param>
/// <param name="Said">What it is doing, or what became of it.</param>
/// <param name="Result">What it has made, JSON; null while it has made nothing.</param>
public sealed record JobRow(long Id, string Kind, JobState State, int Done, int Total, string Said, string? Result)
{
    /// <summary>Whether it goes on no more.</summary>
    public bool Ended => State is not (JobState.Waiting or JobState.Running);
}

/// <summary>A job in the hands of a worker.</summary>
public sealed record ClaimedJob(int Company, long Id, string Kind, string Payload, int User, Guid Lease);

/// <summary>Long work, claimed by whichever instance is free, held by a lease that is renewed while it goes on, and taken over by another when that runs
/// out.</summary>
public sealed class JobStore(NpgsqlDataSource source)
{
    /// <summary>Failures after which a job stops, and ends of its process after which it is set aside.</summary>
    public const int MostFailures = 3, MostCrashes = 2;
    /// <summary>How long a lease lasts; a worker renews it several times in that.</summary>
    public static readonly TimeSpan Lease = TimeSpan.FromSeconds(30);

    /// <summary>Asks for work.</summary>
    public Task<long> Ask(int company, int user, string kind, string payload, CancellationToken stop) =>
        source.Command("insert into job (company_id, kind, payload, user_id) values ($1, $2, $3, $4) returning id", company, kind, new Jsonb(payload),
            user).Value<long>(stop);

    /// <summary>A job of a company and of one of some kinds, or null.</summary>
    public Task<JobRow?> Find(int company, long id, CancellationToken stop, params string[] kinds) =>
        source.Command("select id, kind, state, done, total, said, result::text from job where company_id = $1 and id = $2 and (cardinality($3::text[]) = 0 " +
            "or kind = any($3))", company, id, kinds)
            .FirstOrDefault(row => new JobRow(row.GetInt64(0), row.GetString(1), Enum.Parse<JobState>(row.GetString(2), ignoreCase: true), row.GetInt32(3),
                row.GetInt32(4), row.GetString(5), row.TextOrNull(6)), stop);

    /// <summary>The last job of a kind that a company has asked for, begun in the last minutes; null: none.</summary>
    public Task<long?> Latest(int company, string kind, CancellationToken stop) =>
        source.Command("select max(id) from job where company_id = $1 and kind = $2 and asked_at > now() - interval '5 minutes'", company, kind)
            .FirstOrDefault(row => row.LongOrNull(0), stop);

    /// <summary>Asks a job to stop; it does so at the next step, and nothing of it is kept.</summary>
    public Task<int> Cancel(int company, long id, CancellationToken stop) =>
        source.Command("""
            update job set asked_to_stop = true, state = case state when 'waiting' then 'cancelled' else state end,
                said = case state when 'waiting' then 'Cancelled before it began.' else said end, ended_at = case state when 'waiting' then now() end
            where company_id = $1 and id = $2 and state in ('waiting', 'running')
            """, company, id).Run(stop);

    /// <summary>Takes the next job that waits, or whose worker is gone; null when there is none. One whose worker has gone too often is set aside
    /// instead.</summary>
    public async Task<ClaimedJob?> Claim(CancellationToken stop)
    {
        await source.Command("""
            update job set state = 'failed', ended_at = now(), lease = null,
                said = 'It was set aside: the program ended ' || crashes + 1 || ' times while it worked on it, the last time while it said: ' || said ||
                '. Nothing of it was kept. Tell whoever runs this installation.'
            where state = 'running' and lease_until < now() and crashes + 1 >= $1
            """, MostCrashes).Run(stop);
        return await source.Command("""
            update job set crashes = crashes + (state = 'running')::integer, state = 'running', lease = gen_random_uuid(), lease_until = now() + $1, done = 0
            where (company_id, id) = (
                select company_id, id from job where state in ('waiting', 'running') and (state = 'waiting' or lease_until < now())
                    order by id for update skip locked limit 1)
            returning company_id, id, kind, payload::text, user_id, lease
            """, Lease).FirstOrDefault(row =>
                new ClaimedJob(row.GetInt32(0), row.GetInt64(1), row.GetString(2), row.GetString(3), row.GetInt32(4), row.GetGuid(5)), stop);
    }

    /// <summary>Keeps a job's lease; false when it shall stop, or another has it.</summary>
    public async Task<bool> Renew(ClaimedJob job, CancellationToken stop) =>
        await source.Command("update job set lease_until = now() + $4 where company_id = $1 and id = $2 and lease = $3 and state = 'running' and not " +
            "asked_to_stop", job.Company, job.Id, job.Lease, Lease).Run(stop) == 1;

    /// <summary>Tells how far a job is and keeps its lease; false when it shall stop, or another has it.</summary>
    public async Task<bool> Tell(ClaimedJob job, int done, int total, string said, CancellationToken stop) =>
        await source.Command("""
            update job set done = $3, total = $4, said = $5, lease_until = now() + $7
            where company_id = $1 and id = $2 and lease = $6 and state = 'running' and not asked_to_stop
            """, job.Company, job.Id, done, total, said, job.Lease, Lease).Run(stop) == 1;

    /// <summary>Ends a job.</summary>
    public Task<int> End(ClaimedJob job, JobState state, string said, string? result, CancellationToken stop) =>
        source.Command("update job set state = $3, said = $4, result = $5, ended_at = now(), done = case $3 when 'done' then total else done end where " +
            "company_id = $1 and id = $2 and lease = $6",
            job.Company, job.Id, state.ToString().ToLowerInvariant(), said, new Jsonb(result), job.Lease).Run(stop);

    /// <summary>Notes that a job has failed: it waits to be tried again, or, after the last try, stops and says why.</summary>
    /// <param name="job">The job.</param>
    /// <param name="why">What went wrong, in a sentence.</param>
    /// <param name="stop">Cancels.</param>
    public Task<int> Fail(ClaimedJob job, string why, CancellationToken stop) =>
        source.Command("""
            update job set failures = failures + 1, lease = null, lease_until = null,
                state = case when failures + 1 < $5 then 'waiting' else 'failed' end, ended_at = case when failures + 1 < $5 then null else now() end,
                said = case when failures + 1 < $5 then 'It failed and is tried again: ' || $4
                    else 'It has failed ' || failures + 1 || ' times and is not tried again. ' || $4 || ' Nothing of it was kept.' end
            where company_id = $1 and id = $2 and lease = $3
            """, job.Company, job.Id, job.Lease, why, MostFailures).Run(stop);

    /// <summary>Gives a job back that its worker can't go on with, because the program ends.</summary>
    public Task<int> GiveBack(ClaimedJob job, CancellationToken stop) =>
        source.Command("update job set state = 'waiting', lease = null, lease_until = null where company_id = $1 and id = $2 and lease = $3 and state = " +
            "'running'", job.Company, job.Id, job.Lease).Run(stop);
}
