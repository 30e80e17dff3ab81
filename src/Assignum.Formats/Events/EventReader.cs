using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>A line of an events file: an event, or why it is none.</summary>
/// <param name="Id">Its id, or "line N" when it has none that can be read.</param>
/// <param name="Event">The event, or null.</param>
/// <param name="Fault">What is malformed, or null.</param>
public readonly record struct ReadEvent(string Id, BusinessEvent? Event, HeldReason? Fault);

/// <summary>Reads events from JSON, one object at a time. For one thread; keep it, its memory of codes makes it quick.</summary>
public sealed class EventReader
{
    readonly StringPool pool = new();

    /// <summary>Reads one event.</summary>
    /// <param name="json">A JSON object in UTF-8.</param>
    /// <param name="lineNumber">Number of the line, from 1, for one that has no id.</param>
    public ReadEvent Read(ReadOnlySpan<byte> json, long lineNumber)
    {
        try
        {
            var parser = new EventParser(json, pool);
            var happened = parser.Parse();
            if (happened is not null)
                return new(happened.Id, happened, null);
            return new(TextOf(json, "id"u8) ?? NameOf(lineNumber), null, parser.Fault);
        }
        catch (Exception fault) when (fault is JsonException or InvalidOperationException)
        {
            return new(NameOf(lineNumber), null,
                HeldReason.Invalid("", $"Line {lineNumber} can't be read as JSON: {FirstSentence(fault)} Write one event, a JSON object, on each line."));
        }
    }

    /// <summary>One event as it is kept; null where it can't be read.</summary>
    /// <param name="json">A JSON object.</param>
    public static BusinessEvent? Kept(string json) => new EventReader().Read(System.Text.Encoding.UTF8.GetBytes(json), 1).Event;

    static string NameOf(long lineNumber) => FormattableString.Invariant($"line {lineNumber}");

    static string FirstSentence(Exception fault) => fault.Message.Split(". ")[0].TrimEnd('.') + ".";

    static string? TextOf(ReadOnlySpan<byte> json, ReadOnlySpan<byte> property)
    {
        var reader = new Utf8JsonReader(json);
        string? text = null;
        while (reader.Read())
            if (reader is { CurrentDepth: 1, TokenType: JsonTokenType.PropertyName } && reader.ValueTextEquals(property) && reader.Read()
                && reader.TokenType == JsonTokenType.String)
                text = reader.GetString();
        return string.IsNullOrWhiteSpace(text) ? null : text;
    }
}
