using System.Globalization;
using System.Text.Json;

namespace Assignum.Formats;

/// <summary>Properties as our formats write them: what is absent is left out.</summary>
static class JsonProperties
{
    internal static void Text(this Utf8JsonWriter json, string name, string? value)
    {
        if (value is not null)
            json.WriteString(name, value);
    }

    internal static void Amount(this Utf8JsonWriter json, string name, decimal? value)
    {
        if (value is { } amount)
            json.WriteNumber(name, amount);
    }

    internal static void Day(this Utf8JsonWriter json, string name, DateOnly? value)
    {
        if (value is { } day)
            json.WriteString(name, day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
    }

    /// <summary>A list of objects.</summary>
    internal static void List<T>(this Utf8JsonWriter json, string name, IEnumerable<T> things, Action<T> write)
    {
        json.WriteStartArray(name);
        foreach (var thing in things)
        {
            json.WriteStartObject();
            write(thing);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }

    /// <summary>An object of texts.</summary>
    internal static void Texts(this Utf8JsonWriter json, string name, IEnumerable<KeyValuePair<string, string>> values)
    {
        var begun = false;
        foreach (var (key, value) in values)
        {
            if (!begun)
                json.WriteStartObject(name);
            begun = true;
            json.WriteString(key, value);
        }
        if (begun)
            json.WriteEndObject();
    }
}
