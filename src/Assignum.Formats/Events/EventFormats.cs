using System.Collections.Frozen;
using System.Text.Json;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>What only the type of an event has, while it is read: a small reader for one event.</summary>
abstract class OwnFields
{
    /// <summary>Reads the value of a property; false where the type has none of that name.</summary>
    internal abstract bool Read(ref EventParser parser, string name);

    /// <summary>The event under its header, or null with the parser's fault set.</summary>
    internal abstract BusinessEvent? Make(ref EventParser parser, EventHeader header);
}

/// <summary>How one type of event stands in files.</summary>
/// <param name="Name">The type, as the formats spell it.</param>
/// <param name="Begin">Begins to read one.</param>
/// <param name="Write">Writes what only its type has; what is absent or default is left out.</param>
sealed record EventFormat(string Name, Func<OwnFields> Begin, Action<Utf8JsonWriter, BusinessEvent> Write);

/// <summary>How each type of event stands in files; the types themselves are in <see cref="EventTypes"/>.</summary>
static class EventFormats
{
    static volatile FrozenDictionary<string, EventFormat> byName = FrozenDictionary<string, EventFormat>.Empty;

    static EventFormats() => Set([.. EventTypes.All.Where(type => type.Document is not null).Select(type => DocumentJson.FormatOf(type.Document!)),
        .. StockJson.All, .. ProjectJson.All, .. AssetJson.All, .. PaymentJson.All, .. JournalJson.All, ReclassificationJson.Format]);

    internal static EventFormat? Find(string name) => byName.GetValueOrDefault(name);

    internal static EventFormat Of(BusinessEvent happened) => byName[happened.TypeName];

    /// <summary>Adds the format of a type that stands in another assembly; to be called while the program starts.</summary>
    internal static void Add(EventFormat format) => Set([.. byName.Values.Where(known => known.Name != format.Name), format]);

    static void Set(IEnumerable<EventFormat> formats) => byName = formats.ToFrozenDictionary(format => format.Name);
}
