using Assignum.Core.Charts;
using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.DemoEvents.Year;
using Assignum.Formats.Events;
using Assignum.Formats.Rulebooks;
using Assignum.Storage.Companies;
using Assignum.Storage.Controls;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Storage.Subledgers;
using Npgsql;

namespace Assignum.Bench;

/// <summary>Ledger against subledger over two million lines, and the ageing of two hundred thousand open items, beside the bare sums of the same rows.</summary>
static class Subledgers
{
    const int Lines = 2_000_000, OpenItems = 200_000;

    static readonly DateOnly Day = new(2026, 11, 30);

    internal static async Task Run(string repository)
    {
        var book = RulebookReader.Read(await File.ReadAllBytesAsync(Path.Combine(repository, "demo", "qn", "rulebook.json"))).Book!;
        var year = Thirteen.UpTo(book, Day);
        await using var database = await BenchDatabase.Make(year.Stages[^1].Book);
        await new CompanyStore(database.Source).OpenFiscalYear(database.Company, new(2025, 1, 1), new(2025, 12, 31), default);
        await database.Posting.Post(database.Company, null, [.. year.Events.Select(e => EventWriter.Write(e) is var json
            ? new PostableEvent(e, e.Connection ?? PostableEvent.Own, json, json, CanonicalJson.Digest(json)) : null!)], default);
        await using var connection = new NpgsqlConnection(database.Owner);
        await connection.OpenAsync();
        await Multiply(connection);
        await Compare(database);
        await Age(database);
    }

    // The same year over and over, under ids of its own.
    static async Task Multiply(NpgsqlConnection connection)
    {
        var (lines, step) = (await Ask<long>(connection, "select count(*) from line"), await Ask<long>(connection, "select max(id) from event") + 1);
        for (var round = 1; round <= (Lines - 1) / lines; round++)
            foreach (var table in new[] { "event", "entry", "line", "party_movement", "stock_movement", "tax_movement", "money_movement", "open_item" })
                await Copy(connection, table, round, round * step);
        var open = await Ask<long>(connection, "select count(*) from open_item where document_amount <> 0");
        for (var round = 1; round <= (OpenItems - 1) / open; round++)
            await Run(connection, $"""
                insert into open_item (company_id, item_event_id, subledger, purpose, party_id, account_id, currency, due_date, document_amount, amount)
                select company_id, item_event_id, subledger, purpose || '-{round}', party_id, account_id, currency, due_date - {round}, document_amount, amount
                from open_item where document_amount <> 0 and purpose !~ '-[0-9]+$'
                """);
        await Run(connection, "analyze");
        var (all, moved) = (await Ask<long>(connection, "select count(*) from line"), await Ask<long>(connection, "select count(*) from movement"));
        var items = await Ask<long>(connection, "select count(*) from open_item where document_amount <> 0");
        Ratio.Say($"subledgers: {all:N0} lines, {moved:N0} movements, {items:N0} open items");
    }

    static async Task Copy(NpgsqlConnection connection, string table, int round, long step)
    {
        var columns = (await Ask<string>(connection, $"select string_agg(column_name, ',' order by ordinal_position) from information_schema.columns where table_name = '{table}' and is_generated = 'NEVER'"))
            .Split(',');
        var chosen = columns.Select(c => (table, c) switch
        {
            (_, "source_id") => $"source_id || '-{round}'",
            ("event" or "entry", "id") or (_, "event_id" or "entry_id" or "item_event_id" or "receipt_event_id" or "reverses") => $"{c} + {step}",
            ("entry", "number") => $"{c} + {step}",
            _ => c,
        });
        await Run(connection, $"insert into {table} ({string.Join(", ", columns)}) overriding system value select {string.Join(", ", chosen)} from {table} where {Own(table)} < {step / round}");
    }

    static string Own(string table) => table switch { "event" or "entry" => "id", "line" => "entry_id", "open_item" => "item_event_id", _ => "event_id" };

    static async Task Compare(BenchDatabase database)
    {
        var stored = await new RulebookStore(database.Source).Load(database.Company, null, default);
        var controls = new ControlStore(database.Source);
        var accounts = stored.Book.Accounts.Where(a => a.Control is not null && a.Kind == AccountKind.Posting).ToLookup(a => a.Control!.Value, a => stored.Labels.Account(a.Number)!.Value);
        async Task Bare()
        {
            await Ask<long>(database.Source, $"select count(*) from (select account_id, sum(amount) from line where company_id = {database.Company} and date <= '2026-11-30' group by account_id) s");
            await Ask<long>(database.Source, $"select count(*) from (select subledger, sum(amount) from movement where company_id = {database.Company} and date <= '2026-11-30' group by subledger) s");
        }
        var found = 0;
        async Task All()
        {
            var days = (await controls.Compare(database.Company, [.. accounts.SelectMany(of => of.Select(a => (a, of.Key.Word())))], Day, default)).ToLookup(d => d.Of);
            found = 0;
            foreach (var of in accounts)
                found += (await controls.Gaps(database.Company, of.Key.Word(), [.. of], [.. days[of.Key.Word()].Where(d => d.Apart).Select(d => d.Day)], default)).Count;
        }
        await Ratio.PrintAsync("subledgers: every control account compared, and every event that differs found", "at most 4 × the bare sums", All, Bare);
        Ratio.Say($"subledgers: {found:N0} events differ");
    }

    static async Task Age(BenchDatabase database)
    {
        var items = new OpenItemStore(database.Source);
        foreach (var by in Enum.GetValues<AgedBy>())
            await Ratio.PrintAsync($"subledgers: ageing by {by.ToString().ToLowerInvariant()}", "at most 4 × a bare sum by party", () => items.Parties(database.Company, "receivables", Day, by, default),
                () => Ask<long>(database.Source, $"""
                    select count(*) from (select o.party_id, sum(o.amount) from open_item o join event e on e.company_id = o.company_id and e.id = o.item_event_id
                        where o.company_id = {database.Company} and o.document_amount <> 0 group by o.party_id) s
                    """));
    }

    static async Task<T> Ask<T>(NpgsqlConnection connection, string sql)
    {
        await using var command = new NpgsqlCommand(sql, connection) { CommandTimeout = 600 };
        return (T)(await command.ExecuteScalarAsync())!;
    }

    static async Task<T> Ask<T>(NpgsqlDataSource source, string sql)
    {
        await using var command = source.CreateCommand(sql);
        command.CommandTimeout = 600;
        return (T)(await command.ExecuteScalarAsync())!;
    }

    static async Task Run(NpgsqlConnection connection, string sql)
    {
        await using var command = new NpgsqlCommand(sql, connection) { CommandTimeout = 600 };
        await command.ExecuteNonQueryAsync();
    }
}
