using Assignum.Core;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Companies;

/// <summary>A company as it is kept.</summary>
/// <param name="Id">Its id, in every key of what it owns.</param>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Currency">ISO 4217 code of its books.</param>
/// <param name="Group">Id of the company whose chart is that of the group; null: none.</param>
/// <param name="FourEyes">Nobody releases a change they had a hand in.</param>
/// <param name="SecondFactor">Approvers release only when they have signed in with a second factor.</param>
/// <param name="PracticeOf">Id of the company it is a practice company of; null: it is a real one.</param>
public sealed record CompanyRow(int Id, string Code, string Name, string Currency, int? Group = null, bool FourEyes = false, bool SecondFactor = false,
    int? PracticeOf = null);

/// <summary>Companies and their fiscal years.</summary>
public sealed class CompanyStore(NpgsqlDataSource source)
{
    internal const string Columns = "id, code, name, currency, group_id, four_eyes, second_factor, practice_of";

    /// <summary>All companies, by code.</summary>
    public Task<List<CompanyRow>> All(CancellationToken stop) =>
        source.Command($"select {Columns} from company where put_away_at is null order by code_fold").List(Read, stop);

    /// <summary>The company of a code, in any spelling; null when there is none.</summary>
    public Task<CompanyRow?> Find(string code, CancellationToken stop) =>
        source.Command($"select {Columns} from company where code_fold = $1 and put_away_at is null", Fold.Of(code)).FirstOrDefault(Read, stop);

    /// <summary>Opens a company with edition 1, empty and released, and draft 2; whole or not at all.</summary>
    /// <param name="code">Its code.</param>
    /// <param name="name">Its name.</param>
    /// <param name="currency">ISO 4217 code of its books.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="firstDay">First day of its first fiscal year; null: no year yet.</param>
    /// <param name="administrator">Who opens it, and administers it from then on; null: the system.</param>
    public async Task<CompanyRow> Open(string code, string name, string currency, CancellationToken stop, DateOnly? firstDay = null, int? administrator = null)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        var id = await connection.Command("select open_company($1, $2, $3, $4)", code.Trim(), Fold.Of(code), name, currency).Value<int>(stop);
        if (firstDay is { } starts)
            await OpenYear(connection, id, starts, starts.AddYears(1).AddDays(-1), administrator, stop);
        if (administrator is { } person)
            await connection.Command("insert into user_role (company_id, user_id, role, granted_by) values ($1, $2, 'administrator', $2)", id,
                person).Run(stop);
        await ChangeLog.Note(connection, id, administrator, "company", id, $"{code.Trim()} {name} opened, with books in {currency}.", stop);
        await transaction.CommitAsync(stop);
        return new CompanyRow(id, code.Trim(), name, currency);
    }

    /// <summary>The company of an id.</summary>
    public Task<CompanyRow?> Find(int id, CancellationToken stop) =>
        source.Command($"select {Columns} from company where id = $1", id).FirstOrDefault(Read, stop);

    /// <summary>Says which company's chart is that of the group; null: none.</summary>
    public Task SetGroup(int company, int user, int? group, CancellationToken stop) =>
        Noted(company, user, "update company set group_id = $2 where id = $1 and group_id is distinct from $2 returning coalesce((select 'The chart of ' || " +
            "g.code || ' ' || g.name || ' is that of the group.' from company g where g.id = $2), 'The company has no group chart any more.')", group, stop);

    /// <summary>Says whether releases want four eyes.</summary>
    public Task SetFourEyes(int company, int user, bool wanted, CancellationToken stop) =>
        Noted(company, user, "update company set four_eyes = $2 where id = $1 and four_eyes <> $2 returning case when $2 then 'Four eyes switched on: nobody " +
            "releases a change they had a hand in.' else 'Four eyes switched off.' end", wanted, stop);

    /// <summary>Says whether approvers need a second factor to release.</summary>
    public Task SetSecondFactor(int company, int user, bool wanted, CancellationToken stop) =>
        Noted(company, user, "update company set second_factor = $2 where id = $1 and second_factor <> $2 returning case when $2 then 'A second factor is " +
            "demanded of everybody who releases.' else 'A second factor is no longer demanded.' end", wanted, stop);

    /// <summary>Says above which amount a second person posts journals by hand; null: nobody need.</summary>
    public Task SetSecondPersonAbove(int company, int user, decimal? above, CancellationToken stop) =>
        Noted(company, user, "update company set second_person_above = $2 where id = $1 and second_person_above is distinct from $2 returning " +
            "coalesce('Journals by hand above ' || trim_scale($2::numeric) || ' ' || currency || ' are posted by a second person.', " +
            "'Journals by hand need no second person any more.')", above, stop);

    // Changes the company, and writes the sentence that comes back into the change log; nothing where nothing changed.
    async Task Noted(int company, int user, string sql, object? value, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        if (await connection.Command(sql, company, value).FirstOrDefault(row => row.GetString(0), stop) is { } sentence)
            await ChangeLog.Note(connection, company, user, "company", company, sentence, stop);
        await transaction.CommitAsync(stop);
    }

    /// <summary>Opens a fiscal year with its periods.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="firstDay">First day; no other year of the company may have it.</param>
    /// <param name="lastDay">Last day.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="user">Who opens it; null for the system.</param>
    /// <returns>Why it was not opened; null when it was.</returns>
    public async Task<Refusal?> OpenFiscalYear(int company, DateOnly firstDay, DateOnly lastDay, CancellationToken stop, int? user = null)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        try
        {
            await OpenYear(connection, company, firstDay, lastDay, user, stop);
            await transaction.CommitAsync(stop);
            return null;
        }
        catch (PostgresException inTheWay) when (Constraints.InWords(inTheWay) is { } said)
        {
            return new Refusal("firstDay", said);
        }
    }

    internal static async Task OpenYear(NpgsqlConnection connection, int company, DateOnly firstDay, DateOnly lastDay, int? user, CancellationToken stop)
    {
        var year = await connection.Command("select open_fiscal_year($1, $2, $3)", company, firstDay, lastDay).Value<int>(stop);
        await ChangeLog.Note(connection, company, user, "fiscal-year", year, $"Fiscal year {firstDay:yyyy-MM-dd} to {lastDay:yyyy-MM-dd} opened.", stop);
    }

    /// <summary>Changes of the company itself, its periods and its people, newest first.</summary>
    public Task<List<LoggedChange>> Log(int company, int most, CancellationToken stop) =>
        source.Command("""
            select c.id, c.at, u.shown_as, c.edition, c.subject, c.subject_id, c.sentence from change_log c left join app_user u on u.id = c.user_id
            where c.company_id = $1 and c.subject in ('company', 'fiscal-year', 'period', 'person') order by c.id desc limit $2
            """, company, most).List(row =>
                new LoggedChange(row.GetInt64(0), row.GetDateTime(1), row.TextOrNull(2), row.IntOrNull(3), row.GetString(4), row.LongOrNull(5),
                row.GetString(6)), stop);

    internal static CompanyRow Read(NpgsqlDataReader row) =>
        new(row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetString(3), row.IntOrNull(4), row.GetBoolean(5), row.GetBoolean(6), row.IntOrNull(7));
}
