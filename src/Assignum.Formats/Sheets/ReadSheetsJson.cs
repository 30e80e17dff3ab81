using System.IO.Compression;
using System.Text.Json;

namespace Assignum.Formats.Sheets;

/// <summary>Sheets as a worker has read them, kept until somebody looks: JSON, compressed.</summary>
public static class ReadSheetsJson
{
    /// <summary>Writes them.</summary>
    public static byte[] Write(ReadSheets sheets)
    {
        var content = new MemoryStream();
        using (var packed = new BrotliStream(content, CompressionLevel.Fastest))
            JsonSerializer.Serialize(packed, sheets);
        return content.ToArray();
    }

    /// <summary>Reads what was written here.</summary>
    public static ReadSheets Read(byte[] written)
    {
        using var packed = new BrotliStream(new MemoryStream(written), CompressionMode.Decompress);
        return JsonSerializer.Deserialize<ReadSheets>(packed)!;
    }
}
