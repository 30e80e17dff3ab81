using System.Security.Cryptography;
using System.Text.Json;
using Assignum.Core;

namespace Assignum.Formats.Events;

/// <summary>The digest by which two deliveries of an event are known to say the same, however they are spelled.</summary>
public static class CanonicalJson
{
    /// <summary>SHA-256 of the JSON with its properties in ordinal order, without nulls, and numbers without needless zeros.</summary>
    /// <param name="json">A JSON text.</param>
    public static byte[] Digest(string json)
    {
        using var document = JsonDocument.Parse(json);
        using var bytes = new MemoryStream();
        using (var writer = new Utf8JsonWriter(bytes))
            Write(writer, document.RootElement);
        return SHA256.HashData(bytes.ToArray());
    }

    static void Write(Utf8JsonWriter writer, JsonElement element)
    {
        switch (element.ValueKind)
        {
            case JsonValueKind.Object:
                writer.WriteStartObject();
                foreach (var property in element.EnumerateObject().Where(p => p.Value.ValueKind != JsonValueKind.Null).OrderBy(p => p.Name,
                    StringComparer.Ordinal))
                {
                    writer.WritePropertyName(property.Name);
                    Write(writer, property.Value);
                }
                writer.WriteEndObject();
                break;
            case JsonValueKind.Array:
                writer.WriteStartArray();
                foreach (var item in element.EnumerateArray())
                    Write(writer, item);
                writer.WriteEndArray();
                break;
            case JsonValueKind.Number when element.TryGetDecimal(out var number):
                writer.WriteNumberValue(Money.Plain(number));
                break;
            default:
                element.WriteTo(writer);
                break;
        }
    }
}
