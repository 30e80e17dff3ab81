using System.Text.Encodings.Web;
using System.Text.Json;

namespace Assignum.Web.Showing;

/// <summary>JSON as people read it: a line for each member, letters as they are.</summary>
static class LaidOut
{
    static readonly JsonSerializerOptions Indented = new() { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    internal static string Json(JsonElement element) => JsonSerializer.Serialize(element, Indented);

    /// <summary>A text that may be no JSON; it stays as it is then.</summary>
    internal static string Json(string text)
    {
        try
        {
            using var read = JsonDocument.Parse(text);
            return Json(read.RootElement);
        }
        catch (JsonException)
        {
            return text;
        }
    }
}
