using System.Security.Cryptography;
using Assignum.Storage.People;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Connections;

/// <summary>A token of a connection, without what makes it one.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Name">What it is for.</param>
/// <param name="Begins">How it begins, so that it is known again.</param>
/// <param name="MadeAt">When it was made.</param>
/// <param name="LastUsed">When it was last used; null: never.</param>
/// <param name="RevokedAt">When it was revoked; null: it holds.</param>
public sealed record TokenRow(int Id, string Name, string Begins, DateTime MadeAt, DateTime? LastUsed, DateTime? RevokedAt);

/// <summary>Whom a token speaks for.</summary>
public sealed record TokenHolder(int Company, string CompanyCode, string Connection, int Token);

/// <summary>Tokens by which systems sign in: each speaks for one connection, is shown once and kept as its hash.</summary>
public sealed class TokenStore(NpgsqlDataSource source)
{
    const string Mark = "asn_";
    const int Shown = 12;

    /// <summary>Makes a token.</summary>
    /// <returns>The token itself; it can't be shown again.</returns>
    public async Task<string> Make(int company, int user, ConnectionRow connection, string name, CancellationToken stop)
    {
        var token = Mark + Convert.ToHexString(RandomNumberGenerator.GetBytes(32)).ToLowerInvariant();
        await using var open = await source.OpenConnectionAsync(stop);
        await using var transaction = await open.BeginTransactionAsync(stop);
        await open.Command("insert into connection_token (company_id, connection_id, name, hash, begins, made_by) values ($1, $2, $3, $4, $5, $6)", company,
            connection.Id, name.Trim(), LinkToken.HashOf(token), token[..Shown], user).Run(stop);
        await ChangeLog.Note(open, company, user, "connection", connection.Id, $"Token {name.Trim()} ({token[..Shown]}…) of {connection.Code} made.", stop);
        await transaction.CommitAsync(stop);
        return token;
    }

    /// <summary>The tokens of a connection, the latest first.</summary>
    public Task<List<TokenRow>> Of(int company, int connection, CancellationToken stop) =>
        source.Command("""
            select id, name, begins, made_at, last_used, revoked_at from connection_token where company_id = $1 and connection_id = $2 order by id desc
            """, company, connection).List(row => new TokenRow(row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetDateTime(3),
                row.MomentOrNull(4), row.MomentOrNull(5)), stop);

    /// <summary>Ends a token at once.</summary>
    public async Task<bool> Revoke(int company, int user, ConnectionRow connection, int id, CancellationToken stop)
    {
        await using var open = await source.OpenConnectionAsync(stop);
        await using var transaction = await open.BeginTransactionAsync(stop);
        var name = await open.Command("""
            update connection_token set revoked_at = now() where company_id = $1 and connection_id = $2 and id = $3 and revoked_at is null returning name
            """, company, connection.Id, id).FirstOrDefault(row => row.GetString(0), stop);
        if (name is null)
            return false;
        await ChangeLog.Note(open, company, user, "connection", connection.Id, $"Token {name} of {connection.Code} revoked.", stop);
        await transaction.CommitAsync(stop);
        return true;
    }

    /// <summary>Whom a token speaks for; null: nobody, or it is revoked. Its use is noted once a minute.</summary>
    public async Task<TokenHolder?> Holder(string token, CancellationToken stop)
    {
        if (!token.StartsWith(Mark, StringComparison.Ordinal))
            return null;
        var hash = LinkToken.HashOf(token);
        var found = await source.Command("""
            select t.company_id, c.code, n.code, t.id, t.last_used is null or t.last_used < now() - interval '1 minute'
            from connection_token t join company c on c.id = t.company_id
            join connection n on n.company_id = t.company_id and n.id = t.connection_id
            where t.hash = $1 and t.revoked_at is null and c.put_away_at is null
            """, hash).FirstOrDefault(row => (Holder: new TokenHolder(row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetInt32(3)),
                Note: row.GetBoolean(4)), stop);
        if (found is { Holder: not null, Note: true })
            await source.Command("update connection_token set last_used = now() where company_id = $1 and id = $2", found.Holder.Company,
                found.Holder.Token).Run(stop);
        return found.Holder;
    }
}
