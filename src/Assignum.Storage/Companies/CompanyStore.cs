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
/// <param name="FourEyes">Nobody releases a change they made or altered last.</param>
public sealed record CompanyRow(int Id, string Code, string Name, string Currency, int? Group = null, bool FourEyes = false);

/// <summary>Companies and their fiscal years.</summary>
public sealed class CompanyStore(NpgsqlDataSource source)
{
    /// <summary>All companies, by code.</summary>
    public Task<List<CompanyRow>> All(CancellationToken stop) =>
        source.Command("select id, code, name, currency, group_id, four_eyes from company order by code_fold").List(Read, stop);

    /// <summary>The company of a code, in any spelling; null when there is none.</summary>
    public Task<CompanyRow?> Find(string code, CancellationToken stop) =>
        source.Command("select id, code, name, currency, group_id, four_eyes from company where code_fold = $1", Fold.Of(code)).FirstOrDefault(Read, stop);

    /// <summary>Opens a company with edition 1, empty and released, and draft 2.</summary>
    public async Task<CompanyRow> Open(string code, string name, string currency, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        var id = await connection.Command("insert into company (code, code_fold, name, currency) values ($1, $2, $3, $4) returning id", code.Trim(), Fold.Of(code), name, currency).Value<int>(stop);
        await connection.Command("insert into edition (company_id, number, released_at, note) values ($1, 1, now(), 'Opened, empty.')", id).Run(stop);
        await connection.Command("insert into edition (company_id, number) values ($1, 2)", id).Run(stop);
        await connection.Command("insert into draft_row (company_id, edition) values ($1, 2)", id).Run(stop);
        await connection.Command("insert into posting_row (company_id, edition) values ($1, 1)", id).Run(stop);
        await transaction.CommitAsync(stop);
        return new CompanyRow(id, code.Trim(), name, currency);
    }

    /// <summary>The company of an id.</summary>
    public Task<CompanyRow?> Find(int id, CancellationToken stop) =>
        source.Command("select id, code, name, currency, group_id, four_eyes from company where id = $1", id).FirstOrDefault(Read, stop);

    /// <summary>Says which company's chart is that of the group; null: none.</summary>
    public Task<int> SetGroup(int company, int? group, CancellationToken stop) =>
        source.Command("update company set group_id = $2 where id = $1", company, group).Run(stop);

    /// <summary>Says whether releases want four eyes.</summary>
    public Task<int> SetFourEyes(int company, bool wanted, CancellationToken stop) =>
        source.Command("update company set four_eyes = $2 where id = $1", company, wanted).Run(stop);

    /// <summary>Opens a fiscal year with its periods.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="firstDay">First day; no other year of the company may have it.</param>
    /// <param name="lastDay">Last day.</param>
    /// <param name="stop">Cancels.</param>
    public Task<int> OpenFiscalYear(int company, DateOnly firstDay, DateOnly lastDay, CancellationToken stop) =>
        source.Command("select open_fiscal_year($1, $2, $3)", company, firstDay, lastDay).Value<int>(stop);

    /// <summary>Closes a period for posting, or opens it again. Whoever is posting ends first, so that nothing comes into a closed period.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who does it.</param>
    /// <param name="day">A day of the period.</param>
    /// <param name="closed">Whether it is closed.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Whether that changed anything.</returns>
    public async Task<bool> ClosePeriod(int company, int user, DateOnly day, bool closed, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await PostingStore.Lock(connection, company, stop);
        var changed = await connection.Command("update period set closed = $3 where company_id = $1 and starts <= $2 and ends >= $2 and not adjustment and closed <> $3 returning id, starts, ends", company, day, closed)
            .FirstOrDefault(row => ((int Id, DateOnly Starts, DateOnly Ends)?)(row.GetInt32(0), row.GetFieldValue<DateOnly>(1), row.GetFieldValue<DateOnly>(2)), stop);
        if (changed is { } period)
            await ChangeLog.Note(connection, company, user, "period", period.Id, $"Period {period.Starts:yyyy-MM-dd} to {period.Ends:yyyy-MM-dd} {(closed ? "closed" : "opened again")}.", stop);
        await transaction.CommitAsync(stop);
        return changed is not null;
    }

    static CompanyRow Read(NpgsqlDataReader row) => new(row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetString(3), row.IntOrNull(4), row.GetBoolean(5));
}
