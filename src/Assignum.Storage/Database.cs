using System.Globalization;
using DbUp;
using DbUp.Engine;
using Npgsql;

namespace Assignum.Storage;

/// <summary>The database: brought up to date by its owner, used with a role that owns nothing.</summary>
public static class Database
{
    const long MigrationLock = 72_169;

    /// <summary>Runs the migrations that are missing. Several may start at once: one migrates, the others wait.</summary>
    /// <param name="owner">Connection string of a role that may create tables, roles and extensions.</param>
    /// <returns>Names of the migrations that were run.</returns>
    public static IReadOnlyList<string> Migrate(string owner) => Migrate(owner, _ => true);

    /// <summary>Runs those of the missing migrations that are asked for.</summary>
    internal static IReadOnlyList<string> Migrate(string owner, Func<int, bool> asked)
    {
        // A connection of its own, really closed at the end: one in a pool would keep the lock.
        using var guard = new NpgsqlConnection(new NpgsqlConnectionStringBuilder(owner) { Pooling = false }.ConnectionString);
        guard.Open();
        using var take = new NpgsqlCommand("select pg_advisory_lock($1)", guard) { Parameters = { new() { Value = MigrationLock } }, CommandTimeout = 0 };
        take.ExecuteNonQuery();

        var result = DeployChanges.To.PostgresqlDatabase(owner)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly, name => asked(int.Parse(ShortName(name)[..4], CultureInfo.InvariantCulture)))
            .WithVariablesDisabled().WithTransactionPerScript().LogToNowhere()
            .Build().PerformUpgrade();
        return result.Successful ? [.. result.Scripts.Select(s => ShortName(s.Name))]
            : throw new InvalidOperationException($"Migration {result.ErrorScript?.Name} failed: {result.Error.Message}", result.Error);
    }

    /// <summary>Connections for the application, with the rights of its role whoever signs in. Where several hosts are named, a primary and its standbys, the
    /// one that takes writes is used, also after they have changed places.</summary>
    public static NpgsqlDataSource Open(string connection)
    {
        var settings = new NpgsqlConnectionStringBuilder(connection) { Options = "-c role=assignum_app", MaxAutoPrepare = 100, IncludeErrorDetail = false };
        return settings.Host?.Contains(',', StringComparison.Ordinal) == true
            ? new NpgsqlDataSourceBuilder(settings.ConnectionString).BuildMultiHost().WithTargetSession(TargetSessionAttributes.Primary)
            : NpgsqlDataSource.Create(settings);
    }

    /// <summary>Why the application can't work with the database as it is; null when it can.</summary>
    /// <param name="source">Connections of the application.</param>
    /// <param name="stop">Cancels.</param>
    public static async Task<string?> WhyNot(NpgsqlDataSource source, CancellationToken stop)
    {
        var known = typeof(Database).Assembly.GetManifestResourceNames().Where(n =>
            n.EndsWith(".sql", StringComparison.Ordinal)).ToHashSet(StringComparer.Ordinal);
        List<string> run;
        try
        {
            run = await source.Command("select scriptname::text from schemaversions").List(row => row.GetString(0), stop);
        }
        catch (PostgresException none) when (none.SqlState is PostgresErrorCodes.UndefinedTable
            or PostgresErrorCodes.InsufficientPrivilege or PostgresErrorCodes.UndefinedObject
            or PostgresErrorCodes.InvalidParameterValue)
        {
            return "The database has not been made ready for the application yet. Run ./assignum migrate with the owner's connection, then start again.";
        }
        var missing = known.Except(run).Order(StringComparer.Ordinal).ToList();
        if (missing.Count > 0)
            return $"The database is older than the application: it lacks {string.Join(", ", missing.Select(ShortName))}. Run ./assignum migrate with the " +
                "owner's connection, then start again.";
        var unknown = run.Except(known).Order(StringComparer.Ordinal).ToList();
        return unknown.Count == 0 ? null
            : $"The database is newer than the application: it has {string.Join(", ", unknown.Select(ShortName))}. Start the version of the application that " +
                "belongs to it.";
    }

    // "Assignum.Storage.Migrations.0008_sources_and_reversals.sql" is 0008_sources_and_reversals.
    static string ShortName(string script) => script.Split('.') is [.., var name, "sql"] ? name : script;
}
