using Npgsql;
using NpgsqlTypes;

namespace Assignum.Storage;

/// <summary>Values of a COPY row that may be null.</summary>
static class CopyValues
{
    internal static void WriteOrNull(this NpgsqlBinaryImporter copy, string? value)
    {
        if (value is null)
            copy.WriteNull();
        else
            copy.Write(value, NpgsqlDbType.Text);
    }

    internal static void WriteOrNull<T>(this NpgsqlBinaryImporter copy, T? value) where T : struct
    {
        if (value is { } known)
            copy.Write(known);
        else
            copy.WriteNull();
    }
}
