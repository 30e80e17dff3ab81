using Assignum.Core.Rulebooks;
using Assignum.Storage;
using Assignum.Storage.Companies;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Bench;

/// <summary>A database of its own on the cluster of ASSIGNUM_BENCH_DB, with one company.</summary>
sealed class BenchDatabase : IAsyncDisposable
{
    readonly string cluster;
    readonly string name = "bench_" + Guid.NewGuid().ToString("N");

    BenchDatabase(string cluster)
    {
        this.cluster = cluster;
        Owner = new NpgsqlConnectionStringBuilder(cluster) { Database = name }.ConnectionString;
    }

    internal string Owner { get; }
    internal NpgsqlDataSource Source { get; private set; } = null!;
    internal int Company { get; private set; }
    internal PostingStore Posting { get; private set; } = null!;

    internal static async Task<BenchDatabase> Make(Rulebook book, string? cluster = null)
    {
        var made = new BenchDatabase(cluster ?? Environment.GetEnvironmentVariable("ASSIGNUM_BENCH_DB")
            ?? throw new InvalidOperationException("ASSIGNUM_BENCH_DB is not set. Start with bench/run, which makes a cluster."));
        await made.Run($"create database {made.name}");
        Database.Migrate(made.Owner);
        made.Source = Database.Open(made.Owner);
        var (companies, rulebooks) = (new CompanyStore(made.Source), new RulebookStore(made.Source));
        var draft = new Draft(made.Source, rulebooks);
        made.Company = (await companies.Open("B", "Bench", "EUR", default)).Id;
        await companies.OpenFiscalYear(made.Company, new(2026, 1, 1), new(2026, 12, 31), default);
        if (await new RulebookImport(draft).IntoEmpty(made.Company, null, book, default) is { } refused)
            throw new InvalidOperationException(refused.Message);
        if (await new EditionStore(made.Source, rulebooks).Release(made.Company, null, await rulebooks.StateOf(made.Company, default), "", default) is { } unreleased)
            throw new InvalidOperationException(unreleased.Message);
        // As autovacuum does within a minute of such an import.
        await using (var analyze = new NpgsqlConnection(made.Owner))
        {
            await analyze.OpenAsync();
            await using var command = new NpgsqlCommand("analyze", analyze);
            await command.ExecuteNonQueryAsync();
        }
        made.Posting = new PostingStore(made.Source, new RulebookCache(rulebooks),
            new EventText(Formats.Events.EventWriter.Write, Formats.Events.EventReader.Kept));
        return made;
    }

    /// <summary>Another company with a rulebook.</summary>
    internal async Task<int> OpenAnother(string code, Rulebook book)
    {
        var (companies, rulebooks) = (new CompanyStore(Source), new RulebookStore(Source));
        var company = (await companies.Open(code, "Another", "EUR", default)).Id;
        await companies.OpenFiscalYear(company, new(2026, 1, 1), new(2026, 12, 31), default);
        if (await new RulebookImport(new Draft(Source, rulebooks)).IntoEmpty(company, null, book, default) is { } refused)
            throw new InvalidOperationException(refused.Message);
        if (await new EditionStore(Source, rulebooks).Release(company, null, await rulebooks.StateOf(company, default), "", default) is { } unreleased)
            throw new InvalidOperationException(unreleased.Message);
        return company;
    }

    public async ValueTask DisposeAsync()
    {
        await Source.DisposeAsync();
        NpgsqlConnection.ClearAllPools();
        await Run($"drop database {name} with (force)");
    }

    async Task Run(string sql)
    {
        await using var connection = new NpgsqlConnection(cluster);
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }
}
