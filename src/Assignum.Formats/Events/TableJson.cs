using System.Text.Json;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>Events whose fields are read by their table: a type says how an event is made of its values, and how it is written.</summary>
sealed class TableJson(EventType type, Func<EventHeader, FieldValues, BusinessEvent> make, FieldValues.Entry? entry) : OwnFields
{
    readonly FieldValues values = new(type.Fields);

    /// <summary>The format of a type.</summary>
    /// <param name="name">The type, as the formats spell it.</param>
    /// <param name="make">Makes the event of its header and values.</param>
    /// <param name="write">Writes what only its type has.</param>
    /// <param name="entry">Makes one entry of a list; null where it has none.</param>
    internal static EventFormat Of<T>(string name, Func<EventHeader, FieldValues, T> make, Action<Utf8JsonWriter, T> write, FieldValues.Entry? entry = null)
        where T : BusinessEvent
    {
        var type = EventTypes.Find(name) ?? throw new InvalidOperationException($"There is no type {name}.");
        return new(name, () => new TableJson(type, make, entry), (json, happened) => write(json, (T)happened));
    }

    internal override bool Read(ref EventParser parser, string name) => values.Read(ref parser, name, "", entry);

    internal override BusinessEvent? Make(ref EventParser parser, EventHeader header) =>
        values.Missing is { } missing ? parser.Missing(missing, "Give it.") : make(header with { Adjustment = values.Flag("adjustment") }, values);
}

/// <summary>Values and properties that lines of many types share.</summary>
static class LineJson
{
    internal static LinePlace Place(this FieldValues values)
    {
        var made = new LinePlace
        {
            Location = values.Text("location"), Project = values.Text("project"), Task = values.Text("task"), TaxArea = values.Text("taxArea"),
            Text = values.Text("text"), RefersToLine = values.Whole("refersToLine"), Dimensions = values.Dimensions("dimensions") ?? Dimensions.None,
        };
        return made;
    }

    internal static void Place(this Utf8JsonWriter json, LinePlace place)
    {
        json.Text("location", place.Location);
        json.Text("project", place.Project);
        json.Text("task", place.Task);
        json.Text("taxArea", place.TaxArea);
        json.Text("text", place.Text);
        if (place.RefersToLine is { } line)
            json.WriteNumber("refersToLine", line);
        json.Texts("dimensions", place.Dimensions.All);
    }

    internal static void Adjustment(this Utf8JsonWriter json, BusinessEvent happened)
    {
        if (happened.Adjustment)
            json.WriteBoolean("adjustment", true);
    }
}
