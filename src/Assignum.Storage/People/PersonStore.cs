using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.People;

/// <summary>What somebody may do in a company; each role may what the ones before it may, but an administrator never posts.</summary>
public enum Role { Viewer, Preparer, Approver, Administrator }

/// <summary>Somebody who signs in.</summary>
/// <param name="Id">Id.</param>
/// <param name="Name">Name to sign in with; compares by its fold.</param>
/// <param name="ShownAs">Name on screens.</param>
/// <param name="PasswordHash">Hash of the password.</param>
/// <param name="Stamp">Changes when the password does; cookies with an older one end.</param>
/// <param name="LockedUntil">No sign-in before then, or null.</param>
public sealed record Person(int Id, string Name, string ShownAs, string PasswordHash, Guid Stamp, DateTime? LockedUntil);

/// <summary>A grant, running or ended.</summary>
public sealed record Grant(int Id, string Person, string Company, Role Role, DateTime GrantedAt, string? GrantedBy, DateTime? EndedAt, string? EndedBy);

/// <summary>People and the roles they were granted by company.</summary>
public sealed class PersonStore(NpgsqlDataSource source)
{
    /// <summary>Failed sign-ins in a row before a lock-out, and how long it lasts.</summary>
    public const int MostFailures = 5;
    static readonly TimeSpan LockOut = TimeSpan.FromMinutes(10);

    /// <summary>The person of a name, in any case; null when there is none.</summary>
    public Task<Person?> Find(string name, CancellationToken stop) =>
        source.Command("select id, name, shown_as, password_hash, stamp, locked_until from app_user where name_fold = $1", Fold.Of(name)).FirstOrDefault(Read, stop);

    /// <summary>Adds a person.</summary>
    public Task<int> Add(string name, string shownAs, string passwordHash, CancellationToken stop) =>
        source.Command("insert into app_user (name, name_fold, shown_as, password_hash) values ($1, $2, $3, $4) returning id", name.Trim(), Fold.Of(name), shownAs, passwordHash).Value<int>(stop);

    /// <summary>Everybody, by name.</summary>
    public Task<List<Person>> All(CancellationToken stop) =>
        source.Command("select id, name, shown_as, password_hash, stamp, locked_until from app_user order by name_fold").List(Read, stop);

    /// <summary>Notes a failed sign-in; the last of several in a row locks the name for a while.</summary>
    public Task NoteFailure(int person, CancellationToken stop) =>
        source.Command("""
            update app_user
            set failures = case when failures + 1 >= $2 then 0 else failures + 1 end,
                locked_until = case when failures + 1 >= $2 then now() + $3 else locked_until end
            where id = $1
            """, person, MostFailures, LockOut).Run(stop);

    /// <summary>Forgets failed sign-ins and ends a lock-out.</summary>
    public Task ForgetFailures(int person, CancellationToken stop) =>
        source.Command("update app_user set failures = 0, locked_until = null where id = $1 and (failures > 0 or locked_until is not null)", person).Run(stop);

    /// <summary>Roles somebody has now, by company's code.</summary>
    public Task<List<(string Company, Role Role)>> RolesOf(int person, CancellationToken stop) =>
        source.Command("""
            select company.code, user_role.role
            from user_role join company on company.id = user_role.company_id
            where user_role.user_id = $1 and user_role.ended_at is null
            order by user_role.id
            """, person).List(row => (row.GetString(0), Words<Role>.TryParse(row.GetString(1), out var role) ? role : Role.Viewer), stop);

    /// <summary>The stamp of a person now; null when the person is gone.</summary>
    public Task<Guid?> StampOf(int person, CancellationToken stop) =>
        source.Command("select stamp from app_user where id = $1", person).FirstOrDefault(row => (Guid?)row.GetGuid(0), stop);

    /// <summary>Grants a role in a company; a role already held stays as it is.</summary>
    public Task Grant(int company, int person, Role role, int? grantedBy, CancellationToken stop) =>
        source.Command("insert into user_role (company_id, user_id, role, granted_by) values ($1, $2, $3, $4) on conflict (company_id, user_id, role) where ended_at is null do nothing",
            company, person, Words<Role>.Of(role), grantedBy).Run(stop);

    /// <summary>Ends a grant of a company; its history stays.</summary>
    /// <returns>Whether there was such a grant running.</returns>
    public async Task<bool> EndGrant(int company, int grant, int endedBy, CancellationToken stop) =>
        await source.Command("update user_role set ended_at = now(), ended_by = $3 where company_id = $1 and id = $2 and ended_at is null", company, grant, endedBy).Run(stop) == 1;

    /// <summary>Grants of a company, running ones first.</summary>
    public Task<List<Grant>> Grants(int company, CancellationToken stop) =>
        source.Command("""
            select g.id, p.shown_as, c.code, g.role, g.granted_at, giver.shown_as, g.ended_at, ender.shown_as
            from user_role g
            join app_user p on p.id = g.user_id
            join company c on c.id = g.company_id
            left join app_user giver on giver.id = g.granted_by
            left join app_user ender on ender.id = g.ended_by
            where g.company_id = $1
            order by g.ended_at is not null, p.name_fold, g.id
            """, company).List(row => new Grant(row.GetInt32(0), row.GetString(1), row.GetString(2), Words<Role>.TryParse(row.GetString(3), out var role) ? role : Role.Viewer,
                row.GetDateTime(4), row.TextOrNull(5), row.IsDBNull(6) ? null : row.GetDateTime(6), row.TextOrNull(7)), stop);

    static Person Read(NpgsqlDataReader row) =>
        new(row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetString(3), row.GetGuid(4), row.IsDBNull(5) ? null : row.GetDateTime(5));
}
