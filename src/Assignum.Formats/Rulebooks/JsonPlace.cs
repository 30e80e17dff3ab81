using System.Globalization;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Findings;

namespace Assignum.Formats.Rulebooks;

/// <summary>An object of a rulebook file with its place. Reads properties by name, notes what is wrong with them, and at the end what nobody asked
/// for.</summary>
sealed class JsonPlace(JsonElement element, string where, List<Finding> findings)
{
    readonly HashSet<string> asked = [];

    internal string Where => where;

    internal void Note(string check, string message) => findings.Add(new Finding(check, Severity.Error, where, message));

    internal string? Text(string name)
    {
        if (!TryGet(name, out var value))
            return null;
        if (value.ValueKind == JsonValueKind.String)
            return value.GetString();
        Note("bad-value", $"{where}: {name} must be text in quotation marks.");
        return null;
    }

    internal string Code(string name)
    {
        var code = Text(name);
        if (string.IsNullOrWhiteSpace(code))
            Note("missing-value", $"{where} has no {name}. Give it one.");
        return code ?? "";
    }

    internal decimal? Amount(string name)
    {
        if (!TryGet(name, out var value))
            return null;
        var text = value.ValueKind switch { JsonValueKind.Number => value.GetRawText(), JsonValueKind.String => value.GetString()!, _ => "" };
        if (Decimals.TryParse(text, out var amount))
            return amount;
        Note("bad-value", $"{where}: {name} must be a number with a decimal point, of at most 28 digits.");
        return null;
    }

    internal int? Whole(string name)
    {
        if (Amount(name) is not { } number)
            return null;
        if (number == decimal.Truncate(number) && Math.Abs(number) <= int.MaxValue)
            return (int)number;
        Note("bad-value", $"{where}: {name} is {number}. It must be a whole number.");
        return null;
    }

    internal bool? Flag(string name)
    {
        if (!TryGet(name, out var value))
            return null;
        if (value.ValueKind is JsonValueKind.True or JsonValueKind.False)
            return value.GetBoolean();
        Note("bad-value", $"{where}: {name} must be true or false.");
        return null;
    }

    internal DateOnly? Date(string name)
    {
        if (Text(name) is not { } text)
            return null;
        if (DateOnly.TryParseExact(text, "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var date))
            return date;
        Note("bad-value", $"{where}: {name} is {text}. Write dates as YYYY-MM-DD.");
        return null;
    }

    internal T? Word<T>(string name) where T : struct, Enum
    {
        if (Text(name) is not { } text)
            return null;
        if (Words<T>.TryParse(text, out var value))
            return value;
        Note("bad-value", $"{where}: {name} is {text}. It must be one of {string.Join(", ", Words<T>.All)}.");
        return null;
    }

    internal T RequiredWord<T>(string name) where T : struct, Enum
    {
        if (!TryGet(name, out _))
            Note("missing-value", $"{where} has no {name}. It must be one of {string.Join(", ", Words<T>.All)}.");
        return Word<T>(name) ?? default;
    }

    internal JsonPlace? Inner(string name)
    {
        if (!TryGet(name, out var value))
            return null;
        if (value.ValueKind == JsonValueKind.Object)
            return new JsonPlace(value, Below(name), findings);
        Note("bad-value", $"{where}: {name} must be an object.");
        return null;
    }

    /// <summary>Objects of a list; each is named by its code where it has one.</summary>
    internal List<T> List<T>(string name, Func<JsonPlace, T?> one, string key = "code") where T : class
    {
        var list = new List<T>();
        foreach (var (value, i) in Elements(name))
        {
            if (value.ValueKind != JsonValueKind.Object)
            {
                Note("bad-value", $"{Below(name)}/{i} must be an object.");
                continue;
            }
            var label = value.TryGetProperty(key, out var code) && code.ValueKind == JsonValueKind.String ? code.GetString()
                : i.ToString(CultureInfo.InvariantCulture);
            var place = new JsonPlace(value, $"{Below(name)}/{label}", findings);
            if (one(place) is { } thing)
                list.Add(thing);
            place.Done();
        }
        return list;
    }

    internal List<string> Texts(string name)
    {
        var texts = new List<string>();
        foreach (var (value, i) in Elements(name))
            if (value.ValueKind == JsonValueKind.String)
                texts.Add(value.GetString()!);
            else
                Note("bad-value", $"{Below(name)}/{i} must be text in quotation marks.");
        return texts;
    }

    internal IEnumerable<(JsonElement Value, int Index)> Elements(string name)
    {
        if (!TryGet(name, out var list))
            return [];
        if (list.ValueKind == JsonValueKind.Array)
            return list.EnumerateArray().Select((value, i) => (value, i));
        Note("bad-value", $"{where}: {name} must be a list.");
        return [];
    }

    internal IEnumerable<JsonProperty> Properties()
    {
        foreach (var property in element.EnumerateObject())
            asked.Add(property.Name);
        return element.EnumerateObject().Where(p => p.Value.ValueKind != JsonValueKind.Null);
    }

    internal bool Has(string name) => TryGet(name, out _);

    /// <summary>Notes the properties nobody asked for.</summary>
    internal void Done()
    {
        foreach (var property in element.EnumerateObject())
            if (!asked.Contains(property.Name))
                findings.Add(new Finding("unknown-property", Severity.Error, Below(property.Name),
                    $"{(where.Length == 0 ? "The rulebook" : where)} has no property {property.Name}. Correct its name, or delete it."));
    }

    string Below(string name) => where.Length == 0 ? name : where + "/" + name;

    bool TryGet(string name, out JsonElement value)
    {
        asked.Add(name);
        return element.TryGetProperty(name, out value) && value.ValueKind != JsonValueKind.Null;
    }
}
