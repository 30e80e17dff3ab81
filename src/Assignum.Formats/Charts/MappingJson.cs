using System.Text.Encodings.Web;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Formats.Rulebooks;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Charts;

/// <summary>
/// A mapping as a file, <c>assignum-chart-mapping/1</c>: columns by their heading, or by their place from 1 where they have none, so that it also fits the
/// next file of the same make.
/// </summary>
public static class MappingJson
{
    /// <summary>Name of the format.</summary>
    public const string Format = "assignum-chart-mapping/1";
    static readonly JsonSerializerOptions Written = new() { WriteIndented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>Writes a mapping of a sheet.</summary>
    public static string Write(Sheet sheet, ChartMapping mapping)
    {
        var headings = ChartSheet.HeadingsOf(sheet, mapping);
        var columns = mapping.Columns.OrderBy(c => c.Value).ToDictionary(c => c.Key, c => mapping.HeaderLine > 0
            && headings.Count(h => Fold.Same(h, headings[c.Value])) == 1 && !headings[c.Value].StartsWith("column ", StringComparison.Ordinal)
            ? headings[c.Value] : (object)(c.Value + 1));
        var written = new Dictionary<string, object>
        {
            ["format"] = Format, ["sheet"] = mapping.Sheet, ["headerLine"] = mapping.HeaderLine, ["columns"] = columns, ["classes"] = mapping.Classes,
                ["kinds"] = mapping.Kinds,
            ["placing"] = mapping.Placing == Placing.ByNumber ? "number" : "column",
        };
        if (mapping.Values.Count > 0)
            written["values"] = mapping.Values;
        if (mapping.Lenience != ChartLenience.None)
            written["unknown"] = new Dictionary<string,
                string> { ["tax"] = Words<Unknown>.Of(mapping.Lenience.Tax), ["parents"] = Words<Unknown>.Of(mapping.Lenience.Parents) };
        return JsonSerializer.Serialize(written, Written);
    }

    /// <summary>Reads a mapping for the sheets of a file.</summary>
    /// <param name="json">The mapping, in UTF-8.</param>
    /// <param name="sheets">The file's sheets.</param>
    /// <param name="fault">Why it does not do, and the mend; null when it does.</param>
    public static ChartMapping? Read(ReadOnlyMemory<byte> json, IReadOnlyList<Sheet> sheets, out string? fault)
    {
        var findings = new List<Finding>();
        try
        {
            using var document = JsonDocument.Parse(json, new JsonDocumentOptions { AllowDuplicateProperties = false });
            var mapping = Read(new JsonPlace(document.RootElement, "", findings), sheets, findings);
            fault = findings.Count > 0 ? findings[0].Message : null;
            return fault is null ? mapping : null;
        }
        catch (Exception unreadable) when (unreadable is JsonException or InvalidOperationException)
        {
            fault = $"The mapping can't be read as JSON: {unreadable.Message} Correct it there, or leave it out to have one proposed.";
            return null;
        }
    }

    static ChartMapping? Read(JsonPlace root, IReadOnlyList<Sheet> sheets, List<Finding> findings)
    {
        if (root.Text("format") is var format && format != Format)
        {
            root.Note("bad-value", $"The mapping's format is {format ?? "not given"}. Give it as \"format\": \"{Format}\".");
            return null;
        }
        var name = root.Text("sheet") ?? "";
        var sheet = name.Length == 0 ? sheets[0] : sheets.FirstOrDefault(s => Fold.Same(s.Name, name));
        if (sheet is null)
        {
            root.Note("bad-value", $"The file has no sheet {name}. It has {string.Join(", ", sheets.Select(s => s.Name))}.");
            return null;
        }
        var mapping = new ChartMapping { Sheet = sheet.Name, HeaderLine = HeaderLine(root, sheet), Placing = root.Text("placing") == "number" ? Placing.ByNumber
            : Placing.ByColumn };
        mapping = mapping with { Columns = Columns(root, sheet, mapping), Classes = Codes<AccountClass>(root, "classes"),
            Kinds = Codes<AccountKind>(root, "kinds") };
        mapping = mapping with { Values = ValuesOf(root) };
        if (root.Inner("unknown") is { } unknown)
            mapping = mapping with { Lenience = new(unknown.RequiredWord<Unknown>("tax"), unknown.RequiredWord<Unknown>("parents")) };
        root.Done();
        return mapping;
    }

    // The headings may stand in another line of the next file: they are looked for where the line given does not have them.
    static int HeaderLine(JsonPlace root, Sheet sheet)
    {
        var given = root.Amount("headerLine") is { } line and >= 0 and < 100_000 ? (int)line : 0;
        var headings = root.Inner("columns")?.Properties().Where(p => p.Value.ValueKind == JsonValueKind.String).Select(p =>
            p.Value.GetString()!).ToList() ?? [];
        if (given == 0 || headings.Count == 0)
            return given;
        var fitting = sheet.Rows.Take(100).Where(r => headings.All(h => r.Cells.Any(c => Fold.Same(c, h)))).Select(r => r.Line).ToList();
        return fitting.Contains(given) || fitting.Count == 0 ? given : fitting[0];
    }

    static Dictionary<string, int> Columns(JsonPlace root, Sheet sheet, ChartMapping mapping)
    {
        var columns = new Dictionary<string, int>();
        var headings = ChartSheet.HeadingsOf(sheet, mapping);
        foreach (var property in root.Inner("columns")?.Properties() ?? [])
        {
            if (ChartFields.Find(property.Name) is null)
                root.Note("unknown-property", $"columns: an account has no field {property.Name}. Fields are " +
                    $"{string.Join(", ", ChartFields.All.Select(f => f.Name))}.");
            else if (PlaceOf(property.Value, headings) is not { } place)
                root.Note("bad-value", $"columns: the sheet has no column {property.Value} for {property.Name}. Its headings in line {mapping.HeaderLine} " +
                    $"are {string.Join(", ", headings)}.");
            else
                columns[property.Name] = place;
        }
        return columns;
    }

    static int? PlaceOf(JsonElement value, IReadOnlyList<string> headings)
    {
        if (value.ValueKind == JsonValueKind.Number)
            return value.TryGetInt32(out var place) && place >= 1 && place <= headings.Count ? place - 1 : null;
        var at = value.ValueKind == JsonValueKind.String ? headings.ToList().FindIndex(h => Fold.Same(h, value.GetString())) : -1;
        return at < 0 ? null : at;
    }

    static Dictionary<string, IReadOnlyDictionary<string, string>> ValuesOf(JsonPlace root)
    {
        var values = new Dictionary<string, IReadOnlyDictionary<string, string>>();
        foreach (var field in root.Inner("values")?.Properties() ?? [])
        {
            if (!ChartMapping.FieldsOfValues.TryGetValue(field.Name, out var words) || field.Value.ValueKind != JsonValueKind.Object)
            {
                root.Note("unknown-property", $"values: codes can have meanings in {string.Join(", ", ChartMapping.FieldsOfValues.Keys)}, and not in " +
                    $"{field.Name}.");
                continue;
            }
            var meanings = new Dictionary<string, string>();
            foreach (var code in field.Value.EnumerateObject())
                if (code.Value.ValueKind == JsonValueKind.String && words.Contains(code.Value.GetString()))
                    meanings[code.Name] = code.Value.GetString()!;
                else
                    root.Note("bad-value", $"values: {code.Value} is no meaning for code {code.Name} of {field.Name}. Write one of " +
                        $"{string.Join(", ", words)}.");
            values[field.Name] = meanings;
        }
        return values;
    }

    static Dictionary<string, string> Codes<T>(JsonPlace root, string name) where T : struct, Enum
    {
        var codes = new Dictionary<string, string>();
        if (root.Inner(name) is { } inner)
            foreach (var property in inner.Properties())
                codes[property.Name] = Words<T>.Of(inner.RequiredWord<T>(property.Name));
        return codes;
    }
}
