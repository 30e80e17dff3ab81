using System.Text.Json;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages;

/// <summary>The API to read: what docs/schemas/api.openapi.json says, with its examples.</summary>
[Authorize(Policy = Policies.SignedIn)]
public sealed class ApiReadingModel : PageModel
{
    static readonly JsonDocument Document =
        JsonDocument.Parse(typeof(ApiReadingModel).Assembly.GetManifestResourceStream("api.openapi.json")!);
    /// <summary>The document.</summary>
    public JsonElement Root => Document.RootElement;

    /// <summary>Its operations: method, path and what is said of it.</summary>
    public static IEnumerable<(string Method, string Path, JsonElement Operation)> Operations =>
        Document.RootElement.GetProperty("paths").EnumerateObject().SelectMany(p =>
            p.Value.EnumerateObject().Select(o => (o.Name.ToUpperInvariant(), p.Name, o.Value)));

    /// <summary>Text of a property, or empty.</summary>
    public static string Text(JsonElement of, string name) =>
        of.TryGetProperty(name, out var value) && value.ValueKind == JsonValueKind.String ? value.GetString()! : "";

    /// <summary>Bodies and answers of an operation with an example: where, of what kind, and the example.</summary>
    public static IEnumerable<(string Where, string Kind, string Example)> Examples(JsonElement operation)
    {
        if (operation.TryGetProperty("requestBody", out var body))
            foreach (var (kind, example) in Of(body))
                yield return ("Send", kind, example);
        foreach (var answer in operation.GetProperty("responses").EnumerateObject())
            foreach (var (kind, example) in Of(answer.Value))
                yield return ($"{answer.Name}, {Text(answer.Value, "description").TrimEnd('.').ToLowerInvariant()}", kind, example);

        static IEnumerable<(string, string)> Of(JsonElement with) => !with.TryGetProperty("content", out var content) ? []
            : content.EnumerateObject().Where(c => c.Value.TryGetProperty("example", out _)).Select(c => (c.Name, Shown(c.Value.GetProperty("example"))));

        static string Shown(JsonElement example) =>
            example.ValueKind == JsonValueKind.String ? example.GetString()! : LaidOut.Json(example);
    }

    /// <summary>Shows it.</summary>
    [Needs(Need.SignedIn)]
    public void OnGet() { }
}
