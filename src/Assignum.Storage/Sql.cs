using System.Runtime.CompilerServices;
using Npgsql;

namespace Assignum.Storage;

/// <summary>A value for a column of JSON.</summary>
/// <param name="Text">JSON, or null.</param>
readonly record struct Jsonb(string? Text)
{
    internal NpgsqlParameter Parameter => new() { Value = (object?)Text ?? DBNull.Value, NpgsqlDbType = NpgsqlTypes.NpgsqlDbType.Jsonb };
}

/// <summary>Plain ADO.NET with positional parameters, in one line.</summary>
static class Sql
{
    internal static NpgsqlCommand With(this NpgsqlCommand command, params ReadOnlySpan<object?> values)
    {
        foreach (var value in values)
            command.Parameters.Add(value is Jsonb json ? json.Parameter : new NpgsqlParameter { Value = value ?? DBNull.Value });
        return command;
    }

    internal static NpgsqlCommand Command(this NpgsqlConnection connection, string sql, params ReadOnlySpan<object?> values) =>
        new NpgsqlCommand(sql, connection).With(values);

    internal static NpgsqlCommand Command(this NpgsqlDataSource source, string sql, params ReadOnlySpan<object?> values) =>
        source.CreateCommand(sql).With(values);

    internal static async Task<List<T>> List<T>(this NpgsqlCommand command, Func<NpgsqlDataReader, T> read, CancellationToken stop)
    {
        await using (command)
        {
            await using var reader = await command.ExecuteReaderAsync(stop);
            var list = new List<T>();
            while (await reader.ReadAsync(stop))
                list.Add(read(reader));
            return list;
        }
    }

    internal static async Task<T?> FirstOrDefault<T>(this NpgsqlCommand command, Func<NpgsqlDataReader, T> read, CancellationToken stop)
    {
        await using (command)
        {
            await using var reader = await command.ExecuteReaderAsync(stop);
            return await reader.ReadAsync(stop) ? read(reader) : default;
        }
    }

    internal static async IAsyncEnumerable<T> Stream<T>(this NpgsqlCommand command, Func<NpgsqlDataReader, T> read, [EnumeratorCancellation] CancellationToken stop)
    {
        await using (command)
        {
            await using var reader = await command.ExecuteReaderAsync(stop);
            while (await reader.ReadAsync(stop))
                yield return read(reader);
        }
    }

    internal static async Task<T> Value<T>(this NpgsqlCommand command, CancellationToken stop)
    {
        await using (command)
            return (T)(await command.ExecuteScalarAsync(stop))!;
    }

    internal static async Task<int> Run(this NpgsqlCommand command, CancellationToken stop)
    {
        await using (command)
            return await command.ExecuteNonQueryAsync(stop);
    }

    internal static string? TextOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetString(column);

    internal static int? IntOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetInt32(column);

    internal static long? LongOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetInt64(column);

    internal static decimal? DecimalOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetDecimal(column);

    internal static DateOnly? DateOrNull(this NpgsqlDataReader reader, int column) => reader.IsDBNull(column) ? null : reader.GetFieldValue<DateOnly>(column);
}
