using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.People;

/// <summary>A session as its person sees it.</summary>
public sealed record SessionRow(Guid Id, string Address, string Agent, bool SecondFactor, DateTime BeganAt, DateTime SeenAt, DateTime EndsAt);

/// <summary>Who a running session belongs to.</summary>
/// <param name="Stamp">The person's stamp now; a cookie with another one ends.</param>
/// <param name="SecondFactor">It began with a second factor.</param>
/// <param name="Likes">How the person reads and types.</param>
public sealed record SessionHolder(Guid Stamp, bool SecondFactor, Likes Likes);

/// <summary>How somebody reads and types.</summary>
/// <param name="Numbers">A word of <see cref="Written.NumberChoices"/>.</param>
/// <param name="Dates">A word of <see cref="Written.DateChoices"/>.</param>
/// <param name="Paper">"light" or "dark".</param>
public sealed record Likes(string Numbers, string Dates, string Paper)
{
    /// <summary>Papers there are.</summary>
    public static IReadOnlyList<string> Papers { get; } = ["light", "dark"];
}

/// <summary>Sessions on the server: they end by themselves after a while, at sign-out, and when somebody ends them. And the lock-outs before them.</summary>
public sealed class SessionStore(NpgsqlDataSource source)
{
    /// <summary>How long a session lasts, whatever happens in it.</summary>
    public static readonly TimeSpan Lasts = TimeSpan.FromHours(12);
    /// <summary>Failed sign-ins of a name from one address before it has to wait, and how long it waits the first time; each time twice as long, up to a
    /// quarter of an hour.</summary>
    public const int MostFailures = 5;
    static readonly TimeSpan FirstWait = TimeSpan.FromMinutes(1), LongestWait = TimeSpan.FromMinutes(15);
    const int LongestAgent = 200;

    /// <summary>Begins a session.</summary>
    public Task<Guid> Begin(int person, string address, string agent, bool secondFactor, CancellationToken stop) =>
        source.Command("insert into user_session (user_id, address, agent, second_factor, ends_at) values ($1, $2, $3, $4, now() + $5) returning id",
            person, address, new string([.. agent.Where(c => !char.IsControl(c) && !char.IsSurrogate(c)).Take(LongestAgent)]), secondFactor,
                Lasts).Value<Guid>(stop);

    /// <summary>Who a session belongs to; null when it has ended, or the person can sign in no more.</summary>
    public Task<SessionHolder?> Holder(Guid session, int person, CancellationToken stop) =>
        source.Command("""
            with seen as (update user_session set seen_at = now() where id = $1 and ended_at is null and seen_at < now() - interval '1 minute')
            select p.stamp, s.second_factor, p.numbers, p.dates, p.paper from user_session s join app_user p on p.id = s.user_id
            where s.id = $1 and s.user_id = $2 and s.ended_at is null and s.ends_at > now() and p.disabled_at is null
            """, session, person).FirstOrDefault(row =>
                new SessionHolder(row.GetGuid(0), row.GetBoolean(1), new Likes(row.GetString(2), row.GetString(3), row.GetString(4))), stop);

    /// <summary>Running sessions of a person, the last seen first.</summary>
    public Task<List<SessionRow>> Running(int person, CancellationToken stop) =>
        source.Command("select id, address, agent, second_factor, began_at, seen_at, ends_at from user_session where user_id = $1 and ended_at is null and " +
            "ends_at > now() order by seen_at desc", person)
            .List(row => new SessionRow(row.GetGuid(0), row.GetString(1), row.GetString(2), row.GetBoolean(3), row.GetDateTime(4), row.GetDateTime(5),
                row.GetDateTime(6)), stop);

    /// <summary>Ends a session of a person.</summary>
    public Task<int> End(Guid session, int person, CancellationToken stop) =>
        source.Command("update user_session set ended_at = now() where id = $1 and user_id = $2 and ended_at is null", session, person).Run(stop);

    /// <summary>Until when a typed name has to wait at an address; null: not at all. It says nothing about whether there is such a name.</summary>
    public Task<DateTime?> LockedUntil(string name, string address, CancellationToken stop) =>
        source.Command("select locked_until from sign_in_failure where name_fold = $1 and address = $2 and locked_until > now()", Key(name),
            address).FirstOrDefault(row => (DateTime?)row.GetDateTime(0), stop);

    /// <summary>Notes a failed sign-in. Several in a row make that name wait at that address; a colleague elsewhere never notices.</summary>
    /// <returns>Whether it has to wait from now on.</returns>
    public async Task<bool> NoteFailure(string name, string address, CancellationToken stop)
    {
        await source.Command("delete from sign_in_failure where last_at < now() - interval '1 day'").Run(stop);
        return await source.Command("""
            insert into sign_in_failure (name_fold, address, failures) values ($1, $2, 1)
            on conflict (name_fold, address) do update set last_at = now(),
                failures = case when sign_in_failure.failures + 1 >= $3 then 0 else sign_in_failure.failures + 1 end,
                locks = sign_in_failure.locks + (sign_in_failure.failures + 1 >= $3)::integer,
                locked_until = case when sign_in_failure.failures + 1 >= $3 then now() + least($4 * power(2, least(sign_in_failure.locks, 10)), $5)
                    else sign_in_failure.locked_until end
            returning coalesce(locked_until > now(), false)
            """, Key(name), address, MostFailures, FirstWait, LongestWait).Value<bool>(stop);
    }

    /// <summary>Forgets failed sign-ins of a name: at the address where it succeeded, or, for an administrator, everywhere.</summary>
    public Task Forget(string name, string? address, CancellationToken stop) =>
        source.Command("delete from sign_in_failure where name_fold = $1 and ($2::text is null or address = $2)", Key(name), address).Run(stop);

    /// <summary>Which of some names have to wait somewhere, with the time.</summary>
    public Task<List<(string NameFold, DateTime Until)>> Locked(string[] names, CancellationToken stop) =>
        source.Command("select name_fold, max(locked_until) from sign_in_failure where name_fold = any($1) and locked_until > now() group by name_fold",
            (object)names.Select(Key).ToArray())
            .List(row => (row.GetString(0), row.GetDateTime(1)), stop);

    // What was typed may be of any length.
    static string Key(string name) => Fold.Of(name) is { Length: > 100 } fold ? fold[..100] : Fold.Of(name);
}
