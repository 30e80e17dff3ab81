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

    /// <summary>Its name, for others that are made like it.</summary>
    public string Name => name;

    /// <summary>Makes it.</summary>
    /// <param name="like">Name of a database that nobody uses; this one begins as it is.</param>
    public static async Task<FreshDatabase> Make(string? like = null)
    {
        var cluster = Environment.GetEnvironmentVariable("ASSIGNUM_TEST_DB") ?? throw new InvalidOperationException("ASSIGNUM_TEST_DB is not set. These tests need PostgreSQL: run them by ./test.");
        var database = new FreshDatabase(cluster, "test_" + Guid.NewGuid().ToString("N"));
        await database.Run($"create database {database.name}{(like is null ? "" : " template " + like)}");
        return database;
    }

    /// <summary>Takes the database away from whoever uses it, or brings it back: nobody can connect, and who was connected is cut off.</summary>
    public async Task Away(bool away)
    {
        await Run(away ? $"alter database {name} rename to {name}_away" : $"alter database {name}_away rename to {name}", away
            ? $"select pg_terminate_backend(pid) from pg_stat_activity where datname = '{name}'" : null);
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        NpgsqlConnection.ClearAllPools();
        await Run($"drop database if exists {name} with (force)");
    }

    async Task Run(string sql, string? before = null)
    {
        await using var connection = new NpgsqlConnection(cluster);
        await connection.OpenAsync();
        for (var tries = 0; ; tries++)
        {
            try
            {
                if (before is not null)
                    await using (var first = new NpgsqlCommand(before, connection))
                        await first.ExecuteNonQueryAsync();
                await using var command = new NpgsqlCommand(sql, connection);
                await command.ExecuteNonQueryAsync();
                return;
            }
            catch (PostgresException inUse) when (inUse.SqlState == PostgresErrorCodes.ObjectInUse && tries < 20)
            {
                await Task.Delay(100);
            }
        }
    }
}
