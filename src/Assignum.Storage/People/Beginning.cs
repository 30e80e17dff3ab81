using Assignum.Core;
using Assignum.Storage.Companies;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.People;

/// <summary>The first company and its first administrator, where nobody is there yet who could add them.</summary>
public static class Beginning
{
    /// <summary>Opens the company and adds the person, who sets a password by a link; both or neither.</summary>
    /// <param name="source">Connections of the application.</param>
    /// <param name="code">Code of the company.</param>
    /// <param name="name">Its name.</param>
    /// <param name="currency">ISO 4217 code of its books.</param>
    /// <param name="firstDay">First day of its first fiscal year, of twelve months.</param>
    /// <param name="person">Name the administrator signs in with.</param>
    /// <param name="tokenHash">Hash of the link's token, see <see cref="LinkToken"/>.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Why nothing was begun; null when it was.</returns>
    public static async Task<string?> With(NpgsqlDataSource source, string code, string name, string currency, DateOnly firstDay, string person,
        byte[] tokenHash, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        // Two who begin at once: the second finds the first.
        await connection.Command("select pg_advisory_xact_lock(72170)").Run(stop);
        if (await connection.Command("select exists (select from app_user)").Value<bool>(stop))
            return "There are people here already. An administrator adds the next one, under People.";
        // No password fits an empty hash; the link sets the first.
        var id = await PersonStore.Insert(connection, person, person.Trim(), "", stop);
        var company = await connection.Command("select open_company($1, $2, $3, $4)", code.Trim(), Fold.Of(code), name, currency).Value<int>(stop);
        await CompanyStore.OpenYear(connection, company, firstDay, firstDay.AddYears(1).AddDays(-1), null, stop);
        await PersonStore.Grant(connection, company, id, Role.Administrator, null, stop);
        await connection.Command("insert into reset_link (token_hash, user_id, made_by, ends_at) values ($1, $2, $2, now() + $3)", tokenHash, id,
            LinkToken.Lasts).Run(stop);
        await ChangeLog.Note(connection, company, null, "company", company,
            $"{code.Trim()} {name} opened, with books in {currency}, by the command line.", stop);
        await ChangeLog.Note(connection, company, null, "person", id, $"{person.Trim()} added, as administrator, by the command line.", stop);
        await transaction.CommitAsync(stop);
        return null;
    }
}
