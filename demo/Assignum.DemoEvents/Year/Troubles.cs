using System.Text.Json;
using System.Text.Json.Serialization;

namespace Assignum.DemoEvents.Year;

/// <summary>A document that has a trouble, and the money in it, in company currency.</summary>
sealed record TroubledDocument([property: JsonPropertyName("event")] string Event, [property: JsonPropertyName("amount")] decimal Amount);

/// <summary>The troubles that are planted, each with its documents and its money, reckoned by the program that plants them.</summary>
sealed class Troubles
{
    static readonly JsonSerializerOptions Readable = new() { WriteIndented = true };

    readonly SortedDictionary<string, List<TroubledDocument>> planted = new(StringComparer.Ordinal);

    internal void Plant(string trouble, string document, decimal amount)
    {
        if (!planted.TryGetValue(trouble, out var documents))
            planted[trouble] = documents = [];
        documents.Add(new(document, amount));
    }

    internal IReadOnlyDictionary<string, List<TroubledDocument>> Planted => planted;

    internal string Json(DateOnly first, DateOnly last) => JsonSerializer.Serialize(new
    {
        format = "assignum-troubles/1", from = first, to = last,
        troubles = planted.Select(t => new { trouble = t.Key, count = t.Value.Count, amount = t.Value.Sum(d => d.Amount), documents = t.Value }),
    }, Readable) + "\n";
}
