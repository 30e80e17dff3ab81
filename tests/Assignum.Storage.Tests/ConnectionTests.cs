using System.Net;
using System.Net.Sockets;
using Assignum.Storage.Settings;
using Assignum.Testing;
using Npgsql;

namespace Assignum.Storage.Tests;

/// <summary>How the application finds its database, and how what the database refuses is said.</summary>
public sealed class ConnectionTests : IAsyncLifetime
{
    FreshDatabase database = null!;

    public async Task InitializeAsync()
    {
        database = await FreshDatabase.Make();
        Database.Migrate(database.Owner);
    }

    public async Task DisposeAsync() => await database.DisposeAsync();

    [Fact]
    public async Task Of_several_hosts_the_one_that_takes_writes_is_used_though_the_first_is_dead()
    {
        using var dead = new TcpListener(IPAddress.Loopback, 0);
        dead.Start();
        var port = ((IPEndPoint)dead.LocalEndpoint).Port;
        dead.Stop();
        var alive = new NpgsqlConnectionStringBuilder(database.Owner);
        alive.Host = $"{alive.Host}:{port},{alive.Host}:{alive.Port}";

        await using var source = Database.Open(alive.ConnectionString);

        Assert.Null(await Database.WhyNot(source, default));
        await using var command = source.CreateCommand("select current_user::text");
        Assert.Equal("assignum_app", await command.ExecuteScalarAsync());
    }

    [Fact]
    public async Task No_constraint_that_the_application_can_meet_is_without_words()
    {
        await using var source = NpgsqlDataSource.Create(database.Owner);
        var constraints = new List<(string Kind, string Table, string Name)>();
        await using (var command = source.CreateCommand("""
            select c.contype::text, t.relname::text, c.conname::text from pg_constraint c join pg_class t on t.oid = c.conrelid join pg_namespace n on n.oid = t.relnamespace
            where n.nspname = 'public' and c.contype in ('u', 'p', 'x', 'f', 'c') and has_table_privilege('assignum_app', t.oid, 'insert') and not t.relispartition
            """))
        await using (var rows = await command.ExecuteReaderAsync())
            while (await rows.ReadAsync())
                constraints.Add((rows.GetString(0), rows.GetString(1), rows.GetString(2)));
        Assert.True(constraints.Count > 60);

        Assert.All(constraints, constraint =>
        {
            var state = constraint.Kind switch { "x" => "23P01", "f" => "23503", "c" => "23514", _ => "23505" };
            var said = Constraints.InWords(new PostgresException("refused", "ERROR", "ERROR", state, tableName: constraint.Table, constraintName: constraint.Name));
            Assert.NotNull(said);
            Assert.EndsWith(".", said, StringComparison.Ordinal);
            // The names of tables and constraints are ours; nobody who types has heard of them.
            Assert.DoesNotContain('_', said);
        });
    }

    [Theory]
    [InlineData("rule", "rule_no_overlap", "End the one before the other begins")]
    [InlineData("tax_rule", "tax_rule_no_overlap", "End the one before the other begins")]
    [InlineData("fiscal_year", "fiscal_year_no_overlap", "Choose days that no year has yet")]
    public void An_overlap_says_what_overlaps_and_the_fix(string table, string constraint, string fix) =>
        Assert.Contains(fix, Constraints.InWords(new PostgresException("x", "ERROR", "ERROR", "23P01", tableName: table, constraintName: constraint)), StringComparison.Ordinal);

    [Fact]
    public void What_is_no_user_s_doing_has_no_words() => Assert.Null(Constraints.InWords(new PostgresException("x", "ERROR", "ERROR", "42P01")));
}
