using System.Buffers;

namespace Assignum.Formats.Events;

/// <summary>A stretch of an events file that holds whole lines. Give its bytes back with <see cref="Dispose"/>.</summary>
public sealed class EventBlock : IDisposable
{
    byte[]? bytes;

    internal EventBlock(byte[] bytes, int length, long firstLine)
    {
        this.bytes = bytes;
        Length = length;
        FirstLine = firstLine;
    }

    int Length { get; }

    /// <summary>Number of its first line, from 1.</summary>
    public long FirstLine { get; }

    /// <summary>Its bytes: lines, each but perhaps the last ended by LF.</summary>
    public ReadOnlySpan<byte> Bytes => bytes.AsSpan(0, Length);

    /// <inheritdoc/>
    public void Dispose()
    {
        if (Interlocked.Exchange(ref bytes, null) is { } rented)
            ArrayPool<byte>.Shared.Return(rented);
    }
}

/// <summary>Cuts a stream of NDJSON into blocks of whole lines, so that a file of any length is read in constant memory.</summary>
public static class EventBlocks
{
    const int BlockSize = 1 << 18;

    /// <summary>Blocks in the order of the stream; a line longer than a block makes its block as long as it needs to be.</summary>
    /// <param name="stream">UTF-8, with or without a byte order mark.</param>
    public static IEnumerable<EventBlock> Read(Stream stream)
    {
        var line = 1L;
        var kept = 0;
        var atStart = true;
        var buffer = ArrayPool<byte>.Shared.Rent(BlockSize);
        while (true)
        {
            if (kept == buffer.Length)
                buffer = Grown(buffer, kept);
            var read = stream.ReadAtLeast(buffer.AsSpan(kept), 1, throwOnEndOfStream: false);
            var filled = kept + read;
            if (atStart && (filled >= 3 || read == 0))
            {
                filled = WithoutMark(buffer, filled);
                atStart = false;
            }
            if (read == 0)
            {
                if (filled > 0)
                    yield return new EventBlock(buffer, filled, line);
                else
                    ArrayPool<byte>.Shared.Return(buffer);
                yield break;
            }
            var end = buffer.AsSpan(0, filled).LastIndexOf((byte)'\n') + 1;
            // A file fills its blocks; a pipe hands over what has come.
            if (end == 0 || (filled < buffer.Length / 2 && stream.CanSeek))
            {
                kept = filled;
                continue;
            }
            var next = ArrayPool<byte>.Shared.Rent(Math.Max(BlockSize, filled - end));
            buffer.AsSpan(end, filled - end).CopyTo(next);
            var block = new EventBlock(buffer, end, line);
            line += block.Bytes.Count((byte)'\n');
            yield return block;
            (kept, buffer) = (filled - end, next);
        }
    }

    static int WithoutMark(byte[] buffer, int filled)
    {
        if (!buffer.AsSpan(0, filled).StartsWith("\uFEFF"u8))
            return filled;
        buffer.AsSpan(3, filled - 3).CopyTo(buffer);
        return filled - 3;
    }

    static byte[] Grown(byte[] buffer, int kept)
    {
        var larger = ArrayPool<byte>.Shared.Rent(buffer.Length * 2);
        buffer.AsSpan(0, kept).CopyTo(larger);
        ArrayPool<byte>.Shared.Return(buffer);
        return larger;
    }
}
