using Assignum.Formats.Events;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Bench;

/// <summary>Posting through PostgreSQL, landing included, against a bare COPY of the same rows into tables with the same indexes.</summary>
static class PostingBatches
{
    const int Events = 4000;
    static readonly string[] Tables = ["event", "entry", "line_2026", "subledger_line_2026"];

    internal static async Task Run()
    {
        var sample = Sample.Book(10_000);
        await using var database = await BenchDatabase.Make(sample);
        await using var connection = new NpgsqlConnection(database.Owner);
        await connection.OpenAsync();
        PostableEvent[] events = [.. Sample.Invoices(sample, Events * 8).Select(d => EventWriter.Write(d) is var json ? new PostableEvent(d, json, json, CanonicalJson.Digest(json)) : null!)];
        var run = 0;
        await Post();

        // The rows of the first run, as COPY's own binary, go into empty tables of the same shape, row after row.
        var rows = new Dictionary<string, byte[]>();
        foreach (var table in Tables)
        {
            await Run($"create table bare_{table} (like {table} including all)");
            using var kept = new MemoryStream();
            await using (var from = await connection.BeginRawBinaryCopyAsync($"copy (select {await Columns(table)} from {table}) to stdout binary"))
                await from.CopyToAsync(kept);
            rows[table] = kept.ToArray();
        }
        var count = 0L;
        foreach (var table in Tables)
            count += (long)(await new NpgsqlCommand($"select count(*) from {table}", connection).ExecuteScalarAsync())!;
        var seconds = await Ratio.PrintAsync($"post: {Events} events, {count} rows", "at most 2 ×", Post, Copy);
        Ratio.Say($"post: {Events / seconds:0} events/s, {count / seconds / 1000:0} k rows/s");

        async Task Post()
        {
            var posted = await database.Posting.Post(database.Company, null, [.. events.Skip(Events * run++).Take(Events)], default);
            if (posted.Any(p => p.Fate != PostingFate.Landed))
                throw new InvalidOperationException("An event of the bench did not land.");
        }

        async Task Copy()
        {
            await using var transaction = await connection.BeginTransactionAsync();
            foreach (var table in Tables)
            {
                await Run($"truncate bare_{table}");
                await using var to = await connection.BeginRawBinaryCopyAsync($"copy bare_{table} ({await Columns(table)}) from stdin binary");
                await to.WriteAsync(rows[table]);
            }
            await transaction.CommitAsync();
        }

        async Task Run(string sql)
        {
            await using var command = new NpgsqlCommand(sql, connection);
            await command.ExecuteNonQueryAsync();
        }

        async Task<string> Columns(string table)
        {
            await using var command = new NpgsqlCommand($"select string_agg(quote_ident(attname), ', ' order by attnum) from pg_attribute where attrelid = '{table}'::regclass and attnum > 0 and not attisdropped", connection);
            return (string)(await command.ExecuteScalarAsync())!;
        }
    }
}
