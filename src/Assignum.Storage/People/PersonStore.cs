using Assignum.Core;
using Assignum.Storage.Settings;
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
/// <param name="Disabled">Signs in no more.</param>
/// <param name="SecondFactor">Protected secret of time-based codes; null: none.</param>
public sealed record Person(int Id, string Name, string ShownAs, string PasswordHash, Guid Stamp, bool Disabled, string? SecondFactor);

/// <summary>A grant, running or ended.</summary>
public sealed record Grant(int Id, int PersonId, string Person, string Company, Role Role, DateTime GrantedAt, string? GrantedBy, DateTime? EndedAt,
    string? EndedBy);

/// <summary>People and the roles they were granted by company. Every act is in the change log of the company whose administrator did it.</summary>
public sealed class PersonStore(NpgsqlDataSource source)
{
    const string Columns = "id, name, shown_as, password_hash, stamp, disabled_at is not null, second_factor";

    /// <summary>The person of a name, in any case; null when there is none.</summary>
    public Task<Person?> Find(string name, CancellationToken stop) =>
        source.Command($"select {Columns} from app_user where name_fold = $1", Fold.Of(name)).FirstOrDefault(Read, stop);

    /// <summary>The person of an id; null when there is none.</summary>
    public Task<Person?> Find(int id, CancellationToken stop) => source.Command($"select {Columns} from app_user where id = $1", id).FirstOrDefault(Read, stop);

    /// <summary>The person whom an outside identity provider knows under a subject; null when there is none.</summary>
    public Task<Person?> FindOutside(string subject, CancellationToken stop) =>
        source.Command($"select {Columns} from app_user where outside_subject = $1", subject).FirstOrDefault(Read, stop);

    /// <summary>Ties a person to the subject of an outside identity provider, once.</summary>
    public Task TieOutside(int person, string subject, CancellationToken stop) =>
        source.Command("update app_user set outside_subject = $2 where id = $1 and outside_subject is null", person, subject).Run(stop);

    /// <summary>Keeps how a person reads and types.</summary>
    public Task Like(int person, Likes likes, CancellationToken stop) =>
        source.Command("update app_user set numbers = $2, dates = $3, paper = $4 where id = $1", person, likes.Numbers, likes.Dates, likes.Paper).Run(stop);

    /// <summary>Adds a person, without any role.</summary>
    public async Task<int> Add(string name, string shownAs, string passwordHash, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await Insert(connection, name, shownAs, passwordHash, stop);
    }

    /// <summary>Adds a person with a first role; both or neither.</summary>
    /// <returns>Why nobody was added; null when somebody was.</returns>
    public async Task<Refusal?> Add(int company, int by, string name, string shownAs, string passwordHash, Role role, CancellationToken stop)
    {
        try
        {
            await Logged(company, by, async connection =>
            {
                var id = await Insert(connection, name, shownAs, passwordHash, stop);
                await Grant(connection, company, id, role, by, stop);
                return (id, $"{shownAs} added, as {Words<Role>.Of(role)}.");
            }, stop);
            return null;
        }
        catch (PostgresException taken) when (taken.SqlState == PostgresErrorCodes.UniqueViolation)
        {
            return new Refusal("name", $"{name.Trim()} is taken. Grant a role to the person who has it, or choose another name.");
        }
    }

    internal static Task<int> Insert(NpgsqlConnection connection, string name, string shownAs, string passwordHash, CancellationToken stop) =>
        connection.Command("insert into app_user (name, name_fold, shown_as, password_hash) values ($1, $2, $3, $4) returning id",
            name.Trim(), Fold.Of(name), shownAs, passwordHash).Value<int>(stop);

    /// <summary>People with a role, running or ended, in one of some companies, by name.</summary>
    public Task<List<Person>> Of(int[] companies, CancellationToken stop) =>
        source.Command($"select {Columns} from app_user p where exists (select from user_role g where g.user_id = p.id and g.company_id = any($1)) order by " +
            "name_fold", companies).List(Read, stop);

    /// <summary>Roles somebody has now, by company's code. Where a company demands a second factor, an approver without one only prepares.</summary>
    public Task<List<(string Company, Role Role)>> RolesOf(int person, bool secondFactor, CancellationToken stop) =>
        source.Command("""
            select company.code, case when user_role.role = 'approver' and company.second_factor and not $2 then 'preparer' else user_role.role end
            from user_role join company on company.id = user_role.company_id
            where user_role.user_id = $1 and user_role.ended_at is null
            order by user_role.id
            """, person, secondFactor).List(row => (row.GetString(0), Words<Role>.TryParse(row.GetString(1), out var role) ? role : Role.Viewer), stop);

    /// <summary>Companies that want a second factor of somebody before they may release, by code.</summary>
    public Task<List<string>> WantingSecondFactor(int person, CancellationToken stop) =>
        source.Command("select c.code from user_role g join company c on c.id = g.company_id where g.user_id = $1 and g.role = 'approver' and g.ended_at is " +
            "null and c.second_factor order by c.code_fold", person)
            .List(row => row.GetString(0), stop);

    /// <summary>Grants a role in a company; a role already held stays as it is. Without somebody who grants, it is the system's doing.</summary>
    public Task Grant(int company, int person, Role role, int? grantedBy, CancellationToken stop) => Logged(company, grantedBy, async connection =>
    {
        await Grant(connection, company, person, role, grantedBy, stop);
        return (person, $"{await Name(connection, person, stop)} is granted the role {Words<Role>.Of(role)}.");
    }, stop);

    /// <summary>Ends a grant of a company; its history stays.</summary>
    /// <returns>Whether there was such a grant running.</returns>
    public async Task<bool> EndGrant(int company, int grant, int endedBy, CancellationToken stop)
    {
        var ended = false;
        await Logged(company, endedBy, async connection =>
        {
            var gone = await connection.Command("update user_role set ended_at = now(), ended_by = $3 where company_id = $1 and id = $2 and ended_at is null " +
                "returning user_id, role", company, grant, endedBy)
                .FirstOrDefault(row => ((int Person, string Role)?)(row.GetInt32(0), row.GetString(1)), stop);
            ended = gone is not null;
            return gone is { } was ? (was.Person, $"{await Name(connection, was.Person, stop)} is no longer {was.Role}.") : (0, "");
        }, stop);
        return ended;
    }

    /// <summary>Lets a person sign in no more, or again. Sessions that run end.</summary>
    public Task Disable(int company, int by, int person, bool disabled, CancellationToken stop) => Logged(company, by, async connection =>
    {
        await connection.Command("update app_user set disabled_at = case when $2 then now() end, stamp = gen_random_uuid() where id = $1", person,
            disabled).Run(stop);
        await EndSessions(connection, person, null, stop);
        return (person, $"{await Name(connection, person, stop)} {(disabled ? "can sign in no more" : "can sign in again")}.");
    }, stop);

    /// <summary>Gives a person another password; every session but the one named ends.</summary>
    public async Task SetPassword(int person, string passwordHash, Guid? but, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await connection.Command("update app_user set password_hash = $2, stamp = gen_random_uuid() where id = $1", person, passwordHash).Run(stop);
        await EndSessions(connection, person, but, stop);
        await transaction.CommitAsync(stop);
    }

    /// <summary>Notes a link by which a person gives themselves a password, once, until it ends.</summary>
    public Task MakeLink(int company, int by, int person, byte[] tokenHash, TimeSpan lasts, CancellationToken stop) => Logged(company, by, async connection =>
    {
        await connection.Command("insert into reset_link (token_hash, user_id, made_by, ends_at) values ($1, $2, $3, now() + $4)", tokenHash, person, by,
            lasts).Run(stop);
        return (person, $"A link to set a new password was made for {await Name(connection, person, stop)}.");
    }, stop);

    /// <summary>The person a link is for; null when it was used, has ended or never was.</summary>
    public Task<Person?> OfLink(byte[] tokenHash, CancellationToken stop) =>
        source.Command("""
            select p.id, p.name, p.shown_as, p.password_hash, p.stamp, p.disabled_at is not null, p.second_factor
            from reset_link l join app_user p on p.id = l.user_id where l.token_hash = $1 and l.used_at is null and l.ends_at > now() and p.disabled_at is null
            """, tokenHash).FirstOrDefault(Read, stop);

    /// <summary>Uses a link: the password changes and every session ends, once.</summary>
    /// <returns>Whether the link still held.</returns>
    public async Task<bool> UseLink(byte[] tokenHash, string passwordHash, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        if (await connection.Command("update reset_link set used_at = now() where token_hash = $1 and used_at is null and ends_at > now() returning user_id",
            tokenHash).FirstOrDefault(row => (int?)row.GetInt32(0), stop) is not { } person)
            return false;
        // Other links of the same person are of no use any more.
        await connection.Command("update reset_link set used_at = now() where user_id = $1 and used_at is null", person).Run(stop);
        await connection.Command("update app_user set password_hash = $2, stamp = gen_random_uuid() where id = $1", person, passwordHash).Run(stop);
        await EndSessions(connection, person, null, stop);
        await transaction.CommitAsync(stop);
        return true;
    }

    /// <summary>Gives a person a second factor, or takes it away; every session but the one named ends.</summary>
    public async Task SetSecondFactor(int person, string? protectedSecret, Guid? but, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await connection.Command("update app_user set second_factor = $2, second_factor_step = 0 where id = $1", person, protectedSecret).Run(stop);
        await EndSessions(connection, person, but, stop);
        await transaction.CommitAsync(stop);
    }

    /// <summary>Takes a step of time as used, so that no code works twice.</summary>
    /// <returns>Whether it was later than every one used before.</returns>
    public async Task<bool> UseStep(int person, long step, CancellationToken stop) =>
        await source.Command("update app_user set second_factor_step = $2 where id = $1 and second_factor_step < $2", person, step).Run(stop) == 1;

    /// <summary>Grants of a company, running ones first.</summary>
    public Task<List<Grant>> Grants(int company, CancellationToken stop) =>
        source.Command("""
            select g.id, p.id, p.shown_as, c.code, g.role, g.granted_at, giver.shown_as, g.ended_at, ender.shown_as
            from user_role g
            join app_user p on p.id = g.user_id
            join company c on c.id = g.company_id
            left join app_user giver on giver.id = g.granted_by
            left join app_user ender on ender.id = g.ended_by
            where g.company_id = $1
            order by g.ended_at is not null, p.name_fold, g.id
            """, company).List(row => new Grant(row.GetInt32(0), row.GetInt32(1), row.GetString(2), row.GetString(3),
                Words<Role>.TryParse(row.GetString(4), out var role) ? role : Role.Viewer,
                row.GetDateTime(5), row.TextOrNull(6), row.MomentOrNull(7), row.TextOrNull(8)), stop);

    internal static Task<int> Grant(NpgsqlConnection connection, int company, int person, Role role, int? by, CancellationToken stop) =>
        connection.Command("insert into user_role (company_id, user_id, role, granted_by) values ($1, $2, $3, $4) on conflict (company_id, user_id, role) " +
            "where ended_at is null do nothing", company, person, Words<Role>.Of(role), by).Run(stop);

    static Task<string> Name(NpgsqlConnection connection, int person, CancellationToken stop) =>
        connection.Command("select shown_as from app_user where id = $1", person).Value<string>(stop);

    static Task<int> EndSessions(NpgsqlConnection connection, int person, Guid? but, CancellationToken stop) =>
        connection.Command("update user_session set ended_at = now() where user_id = $1 and ended_at is null and id is distinct from $2::uuid", person,
            but).Run(stop);

    // Does an act and writes its sentence into the change log, both or neither; an empty sentence is nothing done.
    async Task Logged(int company, int? by, Func<NpgsqlConnection, Task<(int Person, string Sentence)>> act, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        var (person, sentence) = await act(connection);
        if (sentence.Length > 0)
            await ChangeLog.Note(connection, company, by, "person", person, sentence, stop);
        await transaction.CommitAsync(stop);
    }

    static Person Read(NpgsqlDataReader row) =>
        new(row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetString(3), row.GetGuid(4), row.GetBoolean(5), row.TextOrNull(6));
}
