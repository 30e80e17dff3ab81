using System.Text;

namespace Assignum.Formats.Events;

/// <summary>Gives equal bytes the same string again, so that codes which repeat from event to event are made once. For one thread.</summary>
sealed class StringPool
{
    const int Size = 1 << 14;
    const int Longest = 48;
    readonly string?[] strings = new string?[Size];

    internal string Of(ReadOnlySpan<byte> ascii)
    {
        if (ascii.Length > Longest)
            return Encoding.UTF8.GetString(ascii);
        ref var pooled = ref strings[Hash(ascii) & (Size - 1)];
        if (pooled is null || !Ascii.Equals(ascii, pooled))
            pooled = Encoding.UTF8.GetString(ascii);
        return pooled;
    }

    static uint Hash(ReadOnlySpan<byte> bytes)
    {
        var hash = 2166136261u;
        foreach (var b in bytes)
            hash = (hash ^ b) * 16777619;
        return hash ^ (hash >> 15);
    }
}
