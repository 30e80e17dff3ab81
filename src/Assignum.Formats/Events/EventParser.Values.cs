using System.Runtime.CompilerServices;
using System.Text.Json;
using Assignum.Core;

namespace Assignum.Formats.Events;

/// <summary>Single values: each is read, or refused with the name of its field. A null is the same as an absent property.</summary>
ref partial struct EventParser
{
    internal delegate T ReadOne<T>(ref EventParser parser, string place);

    /// <summary>Names already read in one object, to refuse one that comes twice.</summary>
    internal struct Seen
    {
        Names names;
        List<string>? more;
        int count;

        internal bool Add(string name)
        {
            for (var i = 0; i < Math.Min(count, Names.Size); i++)
                if (ReferenceEquals(names[i], name) || names[i] == name)
                    return false;
            if (more?.Contains(name) == true)
                return false;
            if (count++ < Names.Size)
                names[count - 1] = name;
            else
                (more ??= []).Add(name);
            return true;
        }

        [InlineArray(Size)]
        struct Names
        {
            internal const int Size = 16;
            string first;
        }
    }

    // Goes to the next property of the object the reader is in; false at its end, or once there is a fault.
    internal bool Next(ref Seen seen, string place, out string name)
    {
        name = "";
        if (Fault is not null || !reader.Read() || reader.TokenType == JsonTokenType.EndObject)
            return false;
        name = Pooled();
        if (!seen.Add(name))
        {
            var field = place.Length == 0 ? name : place + "." + name;
            Refuse(field, $"{field} is given twice. Keep one of them.");
            return false;
        }
        return true;
    }

    // Reads on to the value of the property; false when it is null.
    bool Value() => reader.Read() && reader.TokenType != JsonTokenType.Null;

    string Pooled() =>
        reader.ValueIsEscaped || !System.Text.Ascii.IsValid(reader.ValueSpan) ? reader.GetString()! : pool.Of(reader.ValueSpan);

    internal string? Text(string name, string place = "")
    {
        if (!Value())
            return null;
        if (reader.TokenType == JsonTokenType.String)
            return Pooled();
        Expect(name, place, "text in quotation marks");
        return null;
    }

    // Codes are text that says something.
    internal string? Code(string name, string place = "")
    {
        var code = Text(name, place);
        if (code is not null && string.IsNullOrWhiteSpace(code))
            Expect(name, place, "a code, and it is empty; leave it out where there is none");
        return code;
    }

    internal decimal? Amount(string name, string place = "")
    {
        if (!Value())
            return null;
        if (reader.TokenType is JsonTokenType.Number or JsonTokenType.String && Decimals.TryParse(reader.ValueSpan, out var amount))
            return amount;
        Expect(name, place, "a number with a decimal point, of at most 28 digits");
        return null;
    }

    internal int? Whole(string name, string place = "")
    {
        if (!Value())
            return null;
        if (reader.TokenType == JsonTokenType.Number && reader.TryGetInt32(out var whole))
            return whole;
        Expect(name, place, "a whole number");
        return null;
    }

    internal bool? Flag(string name, string place = "")
    {
        if (!Value())
            return null;
        if (reader.TokenType is JsonTokenType.True or JsonTokenType.False)
            return reader.GetBoolean();
        Expect(name, place, "true or false");
        return null;
    }

    internal DateOnly? Date(string name, string place = "")
    {
        if (!Value())
            return null;
        if (reader.TokenType == JsonTokenType.String && !reader.ValueIsEscaped && Days.TryParse(reader.ValueSpan, out var date))
            return date;
        Expect(name, place, "a date written YYYY-MM-DD");
        return null;
    }

    internal string? Word(string name, params ReadOnlySpan<string> words)
    {
        var word = Text(name);
        if (word is not null && !words.Contains(word))
            Expect(name, "", string.Join(" or ", words!));
        return word;
    }

    /// <summary>One of the words of a field.</summary>
    internal string? WordOf(string name, string place, IReadOnlyList<string> words)
    {
        var word = Text(name, place);
        if (word is null || words.Contains(word))
            return word;
        Expect(name, place, "one of " + string.Join(", ", words));
        return null;
    }

    /// <summary>A name that may be written as a number: a year.</summary>
    internal string? TextOrWhole(string name, string place)
    {
        if (!Value())
            return null;
        if (reader.TokenType == JsonTokenType.Number && reader.TryGetInt32(out var whole))
            return whole.ToString(System.Globalization.CultureInfo.InvariantCulture);
        if (reader.TokenType == JsonTokenType.String && Pooled() is { } text && !string.IsNullOrWhiteSpace(text))
            return text;
        Expect(name, place, "a year, such as 2026");
        return null;
    }

    internal T? Word<T>(string name, string place) where T : struct, Enum
    {
        var word = Text(name, place);
        if (word is null)
            return null;
        if (Words<T>.TryParse(word, out var value))
            return value;
        Expect(name, place, "one of " + string.Join(", ", Words<T>.All));
        return null;
    }

    internal List<T>? List<T>(string name, ReadOne<T> one)
    {
        if (!Value())
            return null;
        if (reader.TokenType != JsonTokenType.StartArray)
        {
            Expect(name, "", "a list");
            return null;
        }
        var list = new List<T>();
        while (Fault is null && reader.Read() && reader.TokenType != JsonTokenType.EndArray)
        {
            var place = Place(name, list.Count);
            if (reader.TokenType == JsonTokenType.StartObject)
                list.Add(one(ref this, place));
            else
                Expect(place, "", "an object");
        }
        return list;
    }

    // The places of the first lines are made once.
    static readonly string[] LinePlaces = [.. Enumerable.Range(0, 64).Select(i => $"lines[{i}]")];

    static string Place(string name, int index) =>
        name == "lines" && index < LinePlaces.Length ? LinePlaces[index] : $"{name}[{index}]";

    void Expect(string name, string place, string what)
    {
        var field = place.Length == 0 ? name : place + "." + name;
        Refuse(field, $"{field} must be {what}.");
    }

    internal void Unknown(string name, string field, string owner) =>
        Refuse(field, $"{field}: {owner} has no property {name}. Correct its name, or delete it.");
}
