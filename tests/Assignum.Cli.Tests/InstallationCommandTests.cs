using System.Diagnostics;
using Assignum.Storage;
using Assignum.Storage.People;
using Assignum.Testing;
using Npgsql;

namespace Assignum.Cli.Tests;

/// <summary>The commands of whoever runs an installation, as processes.</summary>
public class InstallationCommandTests
{
    static async Task<(int Code, string Out, string Err)> Run(FreshDatabase database, params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("dotnet",
            [Path.Combine(AppContext.BaseDirectory, "assignum.dll"), .. arguments, "--db", database.Owner]) { RedirectStandardOutput = true,
            RedirectStandardError = true })!;
        var (output, error) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync();
        return (process.ExitCode, await output, await error);
    }

    static Task<(int Code, string Out, string Err)> Begin(FreshDatabase database, string currency = "EUR") =>
        Run(database, "begin", "--company", "QN", "--name", "Quillmoss Nurseries", "--currency", currency, "--first-day", "2026-01-01", "--administrator",
            "adam");

    [Fact]
    public async Task The_first_administrator_sets_a_password_by_a_link_and_nobody_begins_twice()
    {
        await using var database = await FreshDatabase.Make();
        Assert.Equal((2, true), await Begin(database) is var early ? (early.Code, early.Err.Contains("./assignum migrate", StringComparison.Ordinal))
            : default);
        Database.Migrate(database.Owner);

        Assert.Equal((2, true), await Begin(database, "euro") is var wrong ? (wrong.Code, wrong.Err.Contains("euro is no currency", StringComparison.Ordinal))
            : default);
        var (code, link, error) = await Begin(database);
        Assert.True(code == 0, error);
        Assert.Equal((2, true), await Begin(database) is var second
            ? (second.Code, second.Err.Contains("There are people here already", StringComparison.Ordinal)) : default);

        await using var source = Database.Open(database.Owner);
        var people = new PersonStore(source);
        var adam = await people.OfLink(LinkToken.HashOf(link.Trim().Split('/')[^1]), default);
        Assert.Equal("adam", adam?.Name);
        Assert.Equal([("QN", Role.Administrator)], await people.RolesOf(adam!.Id, false, default));
    }

    [Theory]
    [InlineData("update line set amount = amount + 0.01 where line_no = 1", "1 out of balance")]
    [InlineData("update entry set number = 7", "6 numbers missing")]
    [InlineData("update balance set debit = debit + 5 where debit > 0", "1 balances adrift")]
    [InlineData("delete from line", "1 without their other half")]
    public async Task Books_that_do_not_hold_together_are_found(string harm, string found)
    {
        await using var database = await FreshDatabase.Make();
        Database.Migrate(database.Owner);
        Assert.Equal(0, (await Begin(database)).Code);
        await Owner(database, """
            insert into account (company_id, number, number_fold, name, find_fold) values (1, '1', '1', 'Bank', 'bank'), (1, '2', '2', 'Sales', 'sales');
            insert into event (company_id, id, source, connection, source_id, revision, type, date, document_date, tax_date, due_date, digest, received, prepared, outcome, edition, came)
            values (1, 1, 'own', 'own', 'E', 1, 'manual-journal', '2026-03-01', '2026-03-01', '2026-03-01', '2026-03-01', '', 'null', 'null', 'landed', 1, 1);
            insert into entry (company_id, id, fiscal_year_id, number, date, period_id, event_id, edition, total)
            select 1, 1, fiscal_year_id, 1, '2026-03-01', id, 1, 1, 10 from period where not adjustment and starts = '2026-03-01';
            insert into line (company_id, date, entry_id, line_no, account_id, amount, currency, document_amount, answered_by, rung, edition, facts)
            select 1, '2026-03-01', 1, n, id, 30 - 20 * n, 'EUR', 30 - 20 * n, 'given', 'given', 1, '' from account join generate_series(1, 2) n on number = n::text;
            select add_to_balances(1)
            """);
        Assert.Equal((0, true), await Run(database, "books") is var sound
            ? (sound.Code, sound.Out.Contains("QN: 1 entries, 2 lines, debits 10.00; 0 out of balance", StringComparison.Ordinal)) : default);

        await Owner(database, harm);

        var (code, said, _) = await Run(database, "books");
        Assert.Equal(5, code);
        Assert.Contains(found, said, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_company_s_books_are_verified_with_the_heads_that_were_kept()
    {
        await using var database = await FreshDatabase.Make();
        Database.Migrate(database.Owner);
        Assert.Equal(0, (await Begin(database)).Code);
        Assert.Equal((0, true), await Run(database, "verify", "--company", "qn") is var sound ? (sound.Code, sound.Out.EndsWith("Nothing is wrong.\n", StringComparison.Ordinal)) : default);
        Assert.Equal((2, true), await Run(database, "verify", "--company", "QX") is var unknown ? (unknown.Code, unknown.Err.Contains("There is no company QX", StringComparison.Ordinal)) : default);

        var head = Path.GetTempFileName();
        await File.WriteAllTextAsync(head, """{"format":"assignum-head/1","company":"QN","year":"2026-01-01","place":3,"digest":"00"}""");
        var (code, said, _) = await Run(database, "verify", "--company", "QN", "--head", head);
        Assert.Equal(5, code);
        Assert.Contains("had 3 events when its head was kept, and has fewer now", said, StringComparison.Ordinal);
        await File.WriteAllTextAsync(head, "{}");
        Assert.Equal((2, true), await Run(database, "verify", "--company", "QN", "--head", head) is var wrong ? (wrong.Code, wrong.Err.Contains("is no head of a chain", StringComparison.Ordinal)) : default);
        File.Delete(head);
    }

    static async Task Owner(FreshDatabase database, string sql)
    {
        await using var connection = new NpgsqlConnection(database.Owner);
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }
}
