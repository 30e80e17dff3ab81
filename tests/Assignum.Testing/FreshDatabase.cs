using Npgsql;

namespace Assignum.Testing;

/// <summary>An empty database of its own on the cluster that ./test has started; gone when disposed.</summary>
public sealed class FreshDatabase : IAsyncDisposable
{
    readonly string cluster;
    readonly string name;

    FreshDatabase(string cluster, string name)
    {
        this.cluster = cluster;
        this.name = name;
        Owner = new NpgsqlConnectionStringBuilder(cluster) { Database = name }.ConnectionString;
    }

    /// <summary>Connection string of its owner.</summary>
    public string Owner { get; }

    /// <summary>Makes it.</summary>
    public static async Task<FreshDatabase> Make()
    {
        var cluster = Environment.GetEnvironmentVariable("ASSIGNUM_TEST_DB") ?? throw new InvalidOperationException("ASSIGNUM_TEST_DB is not set. These tests need PostgreSQL: run them by ./test.");
        var database = new FreshDatabase(cluster, "test_" + Guid.NewGuid().ToString("N"));
        await database.Run($"create database {database.name}");
        return database;
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        NpgsqlConnection.ClearAllPools();
        await Run($"drop database if exists {name} with (force)");
    }

    async Task Run(string sql)
    {
        await using var connection = new NpgsqlConnection(cluster);
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }
}
