using Assignum.Core.Rulebooks;
using Npgsql;

namespace Assignum.Bench;

/// <summary>Pages of a chart of 20,000 accounts over 2,000,000 journal lines, asked for over HTTP, against a page without data.</summary>
static class ChartPages
{
    const int Lines = 2_000_000, LinesOfAnEntry = 10, Rounds = 40;
    static readonly string[] Paths =
    [
        "chart", "chart?turned=101000", "chart?all=open", "chart?q=4100", "chart?q=account", "chart?view=wrong", "chart?view=unposted", "chart?sort=-balance", "chart/account/101001",
    ];

    internal static async Task Run()
    {
        var book = new Rulebook { Company = new Company("B", "Bench", "EUR", new CompanyOptions()), Accounts = [.. BenchChart.Accounts()] };
        await using var database = await BenchDatabase.Make(book);
        await Fill(database);
        await PagesOverHttp.Measure(database, "chart", Paths, "at most 10 ×, and 100 ms", Rounds);
    }

    static async Task Fill(BenchDatabase database)
    {
        await using var connection = new NpgsqlConnection(database.Owner);
        await connection.OpenAsync();
        var entries = Lines / LinesOfAnEntry;
        foreach (var sql in new[]
        {
            "create temporary table leaf as select row_number() over (order by a.id) - 1 as place, a.id from account a join account_setting s on s.company_id = a.company_id and s.account_id = a.id where s.kind = 'posting'",
            $"""
             insert into event (company_id, id, source, connection, source_id, revision, type, date, document_date, tax_date, due_date, digest, received, prepared, outcome, edition, came)
             select {database.Company}, i, 'own', 'OWN', 'E' || i, 1, 'manual-journal', d, d, d, d, '', 'null', 'null', 'landed', 2, i from (select i, date '2026-01-01' + (i * 7 % 365)::integer as d from generate_series(1, {entries}) i) e
             """,
            $"""
             insert into entry (company_id, id, fiscal_year_id, number, date, period_id, event_id, edition, total)
             select {database.Company}, e.id, p.fiscal_year_id, e.id, e.date, p.id, e.id, 2, 100 from event e join period p on p.company_id = e.company_id and not p.adjustment and e.date between p.starts and p.ends
             """,
            $"""
             insert into line (company_id, date, entry_id, line_no, account_id, amount, currency, document_amount, answered_by, rung, edition, facts)
             select {database.Company}, e.date, e.id, n, leaf.id, case when n % 2 = 0 then 10 else -10 end, 'EUR', case when n % 2 = 0 then 10 else -10 end, 'given', 'given', 2, ''
             from entry e cross join generate_series(1, {LinesOfAnEntry}) n join leaf on leaf.place = (e.id * 7919 + n * 104729) % (select count(*) from leaf)
             """,
            $"""
             insert into balance (company_id, account_id, period_id, currency, debit, credit, document_amount)
             select l.company_id, l.account_id, e.period_id, 'EUR', sum(greatest(l.amount, 0)), sum(greatest(-l.amount, 0)), sum(l.amount) from line l join entry e on e.company_id = l.company_id and e.id = l.entry_id group by 1, 2, 3
             """,
            $"update posting_row set last_entry = {entries}, last_event = {entries}",
            "insert into balance_row (company_id, last_entry) select company_id, last_entry from posting_row on conflict (company_id) do update set last_entry = excluded.last_entry", "analyze",
        })
        {
            await using var command = new NpgsqlCommand(sql, connection) { CommandTimeout = 0 };
            await command.ExecuteNonQueryAsync();
        }
    }
}
