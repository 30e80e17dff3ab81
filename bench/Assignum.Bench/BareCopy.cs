using Npgsql;

namespace Assignum.Bench;

/// <summary>The reference for whatever stores rows: the same rows, as COPY's own binary, into empty tables of the same shape and with the same indexes.</summary>
sealed class BareCopy
{
    readonly NpgsqlConnection connection;
    readonly Dictionary<string, (string Columns, byte[] Rows)> tables = [];

    BareCopy(NpgsqlConnection connection) => this.connection = connection;

    /// <summary>How many rows it copies.</summary>
    internal long Count { get; private set; }

    /// <summary>Takes the rows of tables as they are now.</summary>
    internal static async Task<BareCopy> Of(NpgsqlConnection connection, params string[] names)
    {
        var copy = new BareCopy(connection);
        foreach (var name in names)
        {
            await copy.Run($"create table bare_{name} (like {name} including all)");
            var columns = (string)await copy.Ask($"select string_agg(quote_ident(attname), ', ' order by attnum) from pg_attribute where attrelid = '{name}'::regclass and attnum > 0 and not attisdropped and attgenerated = ''");
            using var kept = new MemoryStream();
            await using (var from = await connection.BeginRawBinaryCopyAsync($"copy (select {columns} from {name}) to stdout binary"))
                await from.CopyToAsync(kept);
            copy.tables[name] = (columns, kept.ToArray());
            copy.Count += (long)await copy.Ask($"select count(*) from {name}");
        }
        return copy;
    }

    /// <summary>Copies them anew.</summary>
    internal async Task Copy()
    {
        await using var transaction = await connection.BeginTransactionAsync();
        foreach (var (name, (columns, rows)) in tables)
        {
            await Run($"truncate bare_{name}");
            await using var to = await connection.BeginRawBinaryCopyAsync($"copy bare_{name} ({columns}) from stdin binary");
            await to.WriteAsync(rows);
        }
        await transaction.CommitAsync();
    }

    async Task Run(string sql)
    {
        await using var command = new NpgsqlCommand(sql, connection) { CommandTimeout = 0 };
        await command.ExecuteNonQueryAsync();
    }

    async Task<object> Ask(string sql)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        return (await command.ExecuteScalarAsync())!;
    }
}
