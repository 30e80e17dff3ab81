using System.Runtime.CompilerServices;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage;

/// <summary>A value for a column of JSON.</summary>
/// <param name="Text">JSON, or null.</param>
readonly record struct Jsonb(string? Text)
{
    internal NpgsqlParameter Parameter => new() { Value = (object?)Text ?? DBNull.Value, NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Jsonb };
}

/// <summary>A text that no text of PostgreSQL can hold; it never reaches the database.</summary>
public sealed class UnkeepableTextException() : Exception("A text has a character that can't be kept (NUL).");

/// <summary>Plain ADO.NET with positional parameters, in one line. A connection on which anything went wrong is not given back.</summary>
static class Sql
{
    static readonly ConditionalWeakTable<NpgsqlCommand, NpgsqlDataSource> sources = [];

    internal static NpgsqlCommand With(this NpgsqlCommand command, params ReadOnlySpan<object?> values)
    {
        foreach (var value in values)
        {
            if (value is string text ? text.Contains('\0', StringComparison.Ordinal) : value is string?[] texts
                && Array.Exists(texts, t => t?.Contains('\0', StringComparison.Ordinal) == true))
                throw new UnkeepableTextException();
            command.Parameters.Add(value is Jsonb json ? json.Parameter : new NpgsqlParameter { Value = value ?? DBNull.Value });
        }
        return command;
    }

    // What is an answer to what was asked says nothing about the connection: a constraint, a guard, a lock, a cancel.
    static bool IsAnswer(PostgresException fault) => fault.SqlState[..2] is "23" or "P0" or "40" or "42" or "55" or "57";

    static async Task<T> Guarded<T>(NpgsqlCommand command, Func<Task<T>> run)
    {
        try
        {
            return await run();
        }
        catch (PostgresException fault) when (!IsAnswer(fault))
        {
            if (sources.TryGetValue(command, out var source))
                source.Clear();
            else if (command.Connection is { } connection)
                NpgsqlConnection.ClearPool(connection);
            throw;
        }
    }

    internal static NpgsqlCommand Command(this NpgsqlConnection connection, string sql, params ReadOnlySpan<object?> values) =>
        new NpgsqlCommand(sql, connection).With(values);

    internal static NpgsqlCommand Command(this NpgsqlDataSource source, string sql, params ReadOnlySpan<object?> values)
    {
        var command = source.CreateCommand(sql).With(values);
        sources.Add(command, source);
        return command;
    }

    internal static async Task<List<T>> List<T>(this NpgsqlCommand command, Func<NpgsqlDataReader, T> read, CancellationToken stop)
    {
        await using (command)
        {
            return await Guarded(command, async () =>
            {
                await using var reader = await command.ExecuteReaderAsync(stop);
                var list = new List<T>();
                while (await reader.ReadAsync(stop))
                    list.Add(read(reader));
                return list;
            });
        }
    }

    internal static async Task<T?> FirstOrDefault<T>(this NpgsqlCommand command, Func<NpgsqlDataReader, T> read, CancellationToken stop)
    {
        await using (command)
        {
            return await Guarded(command, async () =>
            {
                await using var reader = await command.ExecuteReaderAsync(stop);
                return await reader.ReadAsync(stop) ? read(reader) : default;
            });
        }
    }

    internal static async IAsyncEnumerable<T> Stream<T>(this NpgsqlCommand command, Func<NpgsqlDataReader, T> read,
        [EnumeratorCancellation] CancellationToken stop)
    {
        await using (command)
        {
            await using var reader = await Guarded(command, () => command.ExecuteReaderAsync(stop));
            while (await reader.ReadAsync(stop))
                yield return read(reader);
        }
    }

    internal static async Task<T> Value<T>(this NpgsqlCommand command, CancellationToken stop)
    {
        await using (command)
            return (T)(await Guarded(command, () => command.ExecuteScalarAsync(stop)))!;
    }

    internal static async Task<int> Run(this NpgsqlCommand command, CancellationToken stop)
    {
        await using (command)
            return await Guarded(command, () => command.ExecuteNonQueryAsync(stop));
    }

    /// <summary>One act, one transaction: what it writes stands, unless it is refused.</summary>
    internal static async Task<Refusal?> Act(this NpgsqlDataSource source, Func<NpgsqlConnection, Task<Refusal?>> act, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        if (await act(connection) is { } refusal)
            return refusal;
        await transaction.CommitAsync(stop);
        return null;
    }

    internal static string? TextOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetString(column);

    internal static int? IntOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetInt32(column);

    internal static long? LongOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetInt64(column);

    internal static decimal? DecimalOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetDecimal(column);

    internal static DateOnly? DateOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetFieldValue<DateOnly>(column);

    internal static DateTime? MomentOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetDateTime(column);
}
