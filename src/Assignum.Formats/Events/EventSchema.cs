using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Nodes;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>The JSON Schema (draft 7) of an events file's lines, out of the table of types; docs/schemas/event.schema.json is a copy.</summary>
public static class EventSchema
{
    static readonly JsonSerializerOptions Options = new() { WriteIndented = true, IndentSize = 1, NewLine = "\n",
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>The schema of all types, one definition each.</summary>
    public static string Write()
    {
        var schema = new JsonObject
        {
            ["$schema"] = "http://json-schema.org/draft-07/schema#",
            ["title"] = "An event that can be landed",
            ["description"] = "One line of an events file. Each type has the fields of every event and its own.",
            ["oneOf"] = new JsonArray([.. EventTypes.All.Select(type => new JsonObject { ["$ref"] = "#/definitions/" + type.Name })]),
            ["definitions"] = new JsonObject(EventTypes.All.Select(type => KeyValuePair.Create(type.Name, (JsonNode?)OfType(type)))),
        };
        return schema.ToJsonString(Options) + "\n";
    }

    static JsonObject OfType(EventType type)
    {
        var made = OfFields([.. EventFields.Header, .. type.Fields]);
        made["properties"]!["type"] = new JsonObject { ["enum"] = new JsonArray(type.Name) };
        return made;
    }

    static JsonObject OfFields(IReadOnlyList<EventField> fields)
    {
        var made = new JsonObject { ["type"] = "object", ["additionalProperties"] = false };
        string[] required = [.. fields.Where(field => field.Required).Select(field => field.Name)];
        if (required.Length > 0)
            made["required"] = new JsonArray([.. required.Select(name => (JsonNode)name)]);
        made["properties"] = new JsonObject(fields.Select(field => KeyValuePair.Create(field.Name, (JsonNode?)OfField(field))));
        return made;
    }

    static JsonObject OfField(EventField field) => field.Kind switch
    {
        FieldKind.Text => Of(field, "string"),
        FieldKind.Code => With(Of(field, "string"), "pattern", "\\S"),
        FieldKind.Date => With(Of(field, "string"), "pattern", "^\\d{4}-\\d{2}-\\d{2}$"),
        FieldKind.Word => field.Words.Count == 0 ? Of(field, "string")
            : With(new JsonObject(), "enum", new JsonArray([.. field.Words.Select(word => (JsonNode)word), .. field.Required ? [] : new JsonNode?[] { null }])),
        FieldKind.Whole => Of(field, "integer"),
        FieldKind.Year => new JsonObject { ["type"] = new JsonArray(["string", "integer", .. field.Required ? [] : new JsonNode[] { "null" }]) },
        FieldKind.Flag => Of(field, "boolean"),
        // Amounts may be texts, so that no program on the way makes floats of them.
        FieldKind.Amount => new JsonObject { ["type"] = new JsonArray(["number", "string", .. field.Required ? [] : new JsonNode[] { "null" }]),
            ["pattern"] = "^-?\\d+(\\.\\d+)?([eE][+-]?\\d+)?$" },
        FieldKind.Dimensions => With(Of(field, "object"), "additionalProperties", new JsonObject { ["type"] = new JsonArray("string", "null") }),
        FieldKind.List => With(Of(field, "array"), "items", OfFields(field.Inner)),
        _ => throw new InvalidOperationException($"Fields of kind {field.Kind} have no schema."),
    };

    // A null is the same as an absent property.
    static JsonObject Of(EventField field, string type) => new() { ["type"] = field.Required ? type : new JsonArray(type, "null") };

    static JsonObject With(JsonObject made, string name, JsonNode value)
    {
        made[name] = value;
        return made;
    }
}
