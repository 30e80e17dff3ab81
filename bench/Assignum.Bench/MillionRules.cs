using System.Diagnostics;
using System.Globalization;
using Npgsql;

namespace Assignum.Bench;

/// <summary>A rulebook of 1,000,000 rules checked, brought in by COPY and released, against a bare COPY of the same rows into a table with the same indexes.</summary>
static class MillionRules
{
    const int Rules = 1_000_000;

    internal static async Task Run()
    {
        var book = Sample.Book(Rules);
        var watch = Stopwatch.StartNew();
        await using var database = await BenchDatabase.Make(book);
        var ours = watch.Elapsed.TotalSeconds;

        await using var connection = new NpgsqlConnection(new NpgsqlConnectionStringBuilder(database.Owner) { CommandTimeout = 0 }.ConnectionString);
        await connection.OpenAsync();
        var bare = await BareCopy.Of(connection, "rule");
        watch.Restart();
        await bare.Copy();
        var reference = watch.Elapsed.TotalSeconds;
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"million: {Rules:N0} rules checked, written by COPY and released in {ours:0.0} s, {ours / reference:0.0} × a bare COPY of the rows ({reference:0.0} s); goal: about two minutes"));
    }
}
