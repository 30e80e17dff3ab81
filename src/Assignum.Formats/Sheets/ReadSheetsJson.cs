using System.IO.Compression;
using System.Text.Json;

namespace Assignum.Formats.Sheets;

/// <summary>Sheets as a worker has read them, kept until somebody looks: JSON, compressed.</summary>
public static class ReadSheetsJson
{
    /// <summary>Writes them.</summary>
    public static ReadOnlyMemory<byte> Write(ReadSheets sheets)
    {
        // Packed text is shorter than the text; a buffer that need not grow is never there twice.
        var content = new MemoryStream(sheets.Sheets.Sum(s => s.Rows.Sum(r => r.Cells.Sum(c => c.Length))) + 1_000);
        using (var packed = new BrotliStream(content, CompressionLevel.Fastest, leaveOpen: true))
            JsonSerializer.Serialize(packed, sheets);
        return content.GetBuffer().AsMemory(0, (int)content.Length);
    }

    /// <summary>Reads what was written here.</summary>
    public static ReadSheets Read(byte[] written)
    {
        using var packed = new BrotliStream(new MemoryStream(written), CompressionMode.Decompress);
        return JsonSerializer.Deserialize<ReadSheets>(packed)!;
    }
}
