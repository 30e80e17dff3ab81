using Npgsql;

namespace Assignum.Storage.Closing;

/// <summary>What has happened in a company since a moment.</summary>
/// <param name="Landed">Events that landed.</param>
/// <param name="Held">Events that were held, and still are.</param>
/// <param name="Released">Editions that were released.</param>
/// <param name="Changes">What others changed, newest first.</param>
public sealed record SinceThen(long Landed, long Held, IReadOnlyList<int> Released, IReadOnlyList<(DateTime At, string? By, string Sentence)> Changes);

/// <summary>What a desk tells: what came in a month, and what changed since somebody looked last.</summary>
public sealed class DeskStore(NpgsqlDataSource source)
{
    const int MostChanges = 6;

    /// <summary>How many events landed within days.</summary>
    public Task<long> Landed(int company, DateOnly from, DateOnly to, CancellationToken stop) =>
        source.Command("select count(*) from entry where company_id = $1 and date between $2 and $3 and reverses is null", company, from, to).Value<long>(stop);

    /// <summary>What has happened since a moment, but for what one did oneself.</summary>
    public async Task<SinceThen> Since(int company, int user, DateTime since, CancellationToken stop)
    {
        var (landed, held) = await source.Command("""
            select count(*) filter (where outcome = 'landed'), count(*) filter (where outcome = 'held') from event where company_id = $1 and at > $2
            """, company, since).FirstOrDefault(row => (row.GetInt64(0), row.GetInt64(1)), stop);
        var released = await source.Command("select number from edition where company_id = $1 and released_at > $2 order by number", company, since).List(row =>
            row.GetInt32(0), stop);
        var changes = await source.Command("""
            select c.at, u.shown_as, c.sentence from change_log c left join app_user u on u.id = c.user_id
            where c.company_id = $1 and c.at > $2 and c.user_id is distinct from $3 order by c.id desc limit $4
            """, company, since, user, MostChanges).List(row => (row.GetDateTime(0), row.TextOrNull(1), row.GetString(2)), stop);
        return new(landed, held, released, changes);
    }
}
