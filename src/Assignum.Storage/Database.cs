using DbUp;
using Npgsql;

namespace Assignum.Storage;

/// <summary>The database: brought up to date by its owner, used with a role that owns nothing.</summary>
public static class Database
{
    const long MigrationLock = 72_169;

    /// <summary>Runs the migrations that are missing. Several instances may start at once: one migrates, the others wait.</summary>
    /// <param name="owner">Connection string of a role that may create tables, roles and extensions.</param>
    public static void Migrate(string owner)
    {
        // A connection of its own, really closed at the end: one in a pool would keep the lock.
        using var guard = new NpgsqlConnection(new NpgsqlConnectionStringBuilder(owner) { Pooling = false }.ConnectionString);
        guard.Open();
        using var take = new NpgsqlCommand("select pg_advisory_lock($1)", guard) { Parameters = { new() { Value = MigrationLock } }, CommandTimeout = 0 };
        take.ExecuteNonQuery();

        var result = DeployChanges.To.PostgresqlDatabase(owner)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly)
            .WithVariablesDisabled().WithTransactionPerScript().LogToNowhere()
            .Build().PerformUpgrade();
        if (!result.Successful)
            throw new InvalidOperationException($"Migration {result.ErrorScript?.Name} failed: {result.Error.Message}", result.Error);
    }

    /// <summary>Connections for the application, with the rights of its role whoever signs in.</summary>
    public static NpgsqlDataSource Open(string connection) =>
        NpgsqlDataSource.Create(new NpgsqlConnectionStringBuilder(connection) { Options = "-c role=assignum_app", MaxAutoPrepare = 100, IncludeErrorDetail = false });
}
