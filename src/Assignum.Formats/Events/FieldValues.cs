using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>The values of one object of an event, read by the table of its fields; cleared, it reads the next.</summary>
sealed class FieldValues(IReadOnlyList<EventField> fields)
{
    readonly Slot[] slots = new Slot[fields.Count];

    struct Slot
    {
        internal object? Thing;
        internal decimal Number;
        internal bool Given;
    }

    /// <summary>Makes one entry of a list out of its values.</summary>
    /// <param name="list">Name of the list.</param>
    /// <param name="values">The values of the entry.</param>
    internal delegate object Entry(string list, FieldValues values);

    /// <summary>Reads the value of a property; false where the table has no field of that name.</summary>
    internal bool Read(ref EventParser parser, string name, string place, Entry? entry)
    {
        var at = IndexOf(name);
        if (at < 0)
            return false;
        ref var slot = ref slots[at];
        var field = fields[at];
        switch (field.Kind)
        {
            case FieldKind.Amount: Take(ref slot, parser.Amount(name, place)); break;
            case FieldKind.Whole: Take(ref slot, parser.Whole(name, place)); break;
            case FieldKind.Flag: Take(ref slot, parser.Flag(name, place) is { } flag ? Convert.ToDecimal(flag) : null); break;
            case FieldKind.Text: slot.Thing = parser.Text(name, place); break;
            case FieldKind.Year: slot.Thing = parser.TextOrWhole(name, place); break;
            case FieldKind.Word: slot.Thing = parser.WordOf(name, place, field.Words); break;
            case FieldKind.Dimensions: slot.Thing = parser.ReadDimensions(place.Length == 0 ? name : place + "." + name); break;
            case FieldKind.List: slot.Thing = ReadList(ref parser, field, entry!); break;
            default: slot.Thing = parser.Code(name, place); break;
        }
        slot.Given |= slot.Thing is not null;
        return true;
    }

    static void Take(ref Slot slot, decimal? number)
    {
        if (number is { } given)
            (slot.Number, slot.Given) = (given, true);
    }

    static List<object>? ReadList(ref EventParser parser, EventField list, Entry entry)
    {
        var values = new FieldValues(list.Inner);
        return parser.List(list.Name, (ref EventParser inner, string place) =>
        {
            values.Clear();
            var seen = new EventParser.Seen();
            while (inner.Next(ref seen, place, out var name))
                if (!values.Read(ref inner, name, place, null))
                    inner.Unknown(name, place + "." + name, EntryOf(list.Name));
            if (inner.Fault is null && values.Missing is { } missing)
                inner.Refuse(place + "." + missing, $"{place} has no {missing}. Give it.");
            return inner.Fault is null ? entry(list.Name, values) : (object)place;
        });
    }

    static string EntryOf(string list) => list switch { "settles" => "a part", "numbers" => "a range of numbers", _ => "a line" };

    void Clear() => Array.Clear(slots);

    /// <summary>The first field that must be there and is not.</summary>
    internal string? Missing
    {
        get
        {
            for (var i = 0; i < slots.Length; i++)
                if (fields[i].Required && !slots[i].Given)
                    return fields[i].Name;
            return null;
        }
    }

    int IndexOf(string name)
    {
        for (var i = 0; i < fields.Count; i++)
            if (fields[i].Name == name)
                return i;
        return -1;
    }

    // A field that the type does not have has no value.
    Slot Of(string name) => IndexOf(name) is >= 0 and var at ? slots[at] : default;

    internal string? Text(string name) => Of(name).Thing as string;
    internal decimal? Amount(string name) => Of(name) is { Given: true } slot ? slot.Number : null;
    internal int? Whole(string name) => (int?)Amount(name);
    internal bool Flag(string name) => Amount(name) is 1;
    internal T? Word<T>(string name) where T : struct, Enum => Text(name) is { } word ? Words<T>.Parse(word) : null;
    internal Dimensions? Dimensions(string name) => Of(name).Thing as Dimensions;
    internal IReadOnlyList<T> List<T>(string name) => Of(name).Thing is List<object> list ? list.ConvertAll(thing => (T)thing) : [];
}
