using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Formats.Rulebooks;
using NJsonSchema;

namespace Assignum.Formats.Tests;

/// <summary>The schemas in docs/ say what the readers do.</summary>
public class SchemaTests
{
    static readonly System.Collections.Concurrent.ConcurrentDictionary<string, Task<JsonSchema>> read = new(StringComparer.Ordinal);

    // Reading a schema takes longer than asking it.
    static Task<JsonSchema> Schema(string name) => read.GetOrAdd(name, static name => JsonSchema.FromFileAsync($"files/{name}.schema.json"));

    [Fact]
    public async Task The_demo_fits_the_schemas()
    {
        Assert.Empty((await Schema("rulebook")).Validate(await File.ReadAllTextAsync("files/rulebook.json")));
        var events = await Schema("event");
        Assert.All(await File.ReadAllLinesAsync("files/events.ndjson"), line => Assert.Empty(events.Validate(line)));
    }

    [Fact]
    public async Task The_rulebook_reader_knows_every_property_of_the_schema_and_no_other()
    {
        var schema = JsonNode.Parse(await File.ReadAllTextAsync("files/rulebook.schema.json"))!;
        Assert.DoesNotContain(RulebookReader.Read(Encoding.UTF8.GetBytes(FilledBook(schema, strange: false).ToJsonString())).Findings, f => f.Check == "unknown-property");

        // With one strange property in every object, each of them is refused by name.
        var strange = FilledBook(schema, strange: true);
        var refused = RulebookReader.Read(Encoding.UTF8.GetBytes(strange.ToJsonString())).Findings.Count(f => f.Check == "unknown-property");
        Assert.Equal(Objects(schema) + 1, refused);
    }

    [Fact]
    public async Task The_schema_of_events_is_the_table_of_types()
    {
        // After a change of the table the file made here takes the place of the one in docs/schemas.
        await File.WriteAllTextAsync("files/event.schema.made.json", EventSchema.Write());
        Assert.Equal(await File.ReadAllTextAsync("files/event.schema.json"), EventSchema.Write());
    }

    public static TheoryData<string> Types => [.. EventTypes.All.Select(type => type.Name)];

    [Theory]
    [MemberData(nameof(Types))]
    public async Task The_reader_of_events_knows_every_field_of_a_type_and_no_other(string type)
    {
        var schema = JsonNode.Parse(await File.ReadAllTextAsync("files/event.schema.json"))!["definitions"]![type]!;
        var filled = Filled(schema, strange: false)!;
        var read = Read(filled);
        Assert.True(read.Event is not null, read.Fault?.Message);
        Assert.Empty((await Schema("event")).Validate(filled.ToJsonString()));

        // What is read is written again, field for field: none is dropped on the way.
        Assert.Equal(Names(filled), Names(JsonNode.Parse(EventWriter.Write(read.Event!))!));

        // A strange field is refused by name wherever it stands, and the schema refuses it too.
        foreach (var place in filled.AsObject().Where(p => p.Value is JsonArray).Select(p => p.Key).Append(""))
        {
            var strange = filled.DeepClone();
            (place.Length == 0 ? strange : strange[place]![0]!).AsObject()["strange"] = 1;
            Assert.Contains("strange", Read(strange).Fault!.Field, StringComparison.Ordinal);
            Assert.NotEmpty((await Schema("event")).Validate(strange.ToJsonString()));
        }
    }

    static ReadEvent Read(JsonNode happened) => new EventReader().Read(Encoding.UTF8.GetBytes(happened.ToJsonString()), 1);

    // Every property by its path, in order.
    static List<string> Names(JsonNode? node, string path = "") => node switch
    {
        JsonObject inner => [.. inner.SelectMany(p => Names(p.Value, path + "." + p.Key).Prepend(path + "." + p.Key)).Order(StringComparer.Ordinal)],
        JsonArray list => [.. list.SelectMany(one => Names(one, path + "[]"))],
        _ => [],
    };

    // Rates stand on a tax code or on its components, so there is one of each.
    static JsonNode FilledBook(JsonNode schema, bool strange)
    {
        var book = Filled(schema, strange)!;
        var codes = book["taxCodes"]!.AsArray();
        var plain = codes[0]!.DeepClone().AsObject();
        plain.Remove("components");
        codes[0]!.AsObject().Remove("rates");
        codes[0]!.AsObject().Remove("recoverablePercent");
        codes.Add(plain);
        return book;
    }

    // An example with every property of a schema.
    static JsonNode? Filled(JsonNode schema, bool strange)
    {
        if (schema["enum"] is { } words)
            return words[0]!.DeepClone();
        if (schema["anyOf"] is not null)
            return 1;
        var type = schema["type"] is JsonArray several ? several[0]!.GetValue<string>() : schema["type"]!.GetValue<string>();
        switch (type)
        {
            case "object":
                var made = new JsonObject();
                foreach (var (name, inner) in schema["properties"]?.AsObject() ?? [])
                    made[name] = Example(name, inner!, strange);
                if (schema["additionalProperties"] is JsonObject)
                    return made;
                // What a rule asks for is no list of properties but of facts.
                if (strange && !schema["properties"]!.AsObject().ContainsKey("itemKind"))
                    made["strange"] = 1;
                return made;
            case "array": return new JsonArray(Filled(schema["items"]!, strange));
            case "boolean": return true;
            case "integer" or "number": return 1;
            default: return schema["pattern"]?.GetValue<string>().StartsWith("^\\d", StringComparison.Ordinal) == true ? "2026-01-01" : "EUR";
        }
    }

    // What is no default, so that it is written again.
    static JsonNode? Example(string name, JsonNode schema, bool strange) => name switch
    {
        "revision" => 2,
        "pricesInclude" => "tax",
        "dimensions" when !strange && schema["additionalProperties"] is { } value => new JsonObject { ["CC"] = Filled(value, strange) },
        _ => Filled(schema, strange),
    };

    static int Objects(JsonNode schema) =>
        (schema["additionalProperties"] is JsonValue && !schema["properties"]!.AsObject().ContainsKey("itemKind") ? 1 : 0)
        + (schema["properties"]?.AsObject().Sum(p => Objects(p.Value!)) ?? 0) + (schema["items"] is { } items ? Objects(items) : 0);
}
