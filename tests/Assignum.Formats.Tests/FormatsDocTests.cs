using Assignum.Core.Posting;

namespace Assignum.Formats.Tests;

/// <summary>docs/formats.md lists the fields of every type out of the table of types.</summary>
public class FormatsDocTests
{
    const string Begin = "<!-- made of the table of types -->\n", End = "<!-- end -->";

    [Fact]
    public async Task The_fields_of_every_type_stand_in_the_page_of_formats()
    {
        var page = await File.ReadAllTextAsync("files/formats.md");
        // After a change of the table the text made here takes the place of the one in the page.
        await File.WriteAllTextAsync("files/formats.made.md", Made());
        Assert.Equal(Made(), page[(page.IndexOf(Begin, StringComparison.Ordinal) + Begin.Length)..page.IndexOf(End, StringComparison.Ordinal)]);
    }

    static string Made() => "| type | fields of its own |\n|---|---|\n" + string.Concat(EventTypes.All.Where(type => type.Document is null)
        .Select(type => $"| `{type.Name}` | {string.Join(", ", type.Fields.Select(Written))} |\n"));

    static string Written(EventField field)
    {
        var inner = field.Inner.Count > 0 ? $": [{{{string.Join(", ", field.Inner.Select(Written))}}}]" : "";
        var words = field.Words.Count > 0 ? $" ({string.Join(", ", field.Words)})" : "";
        return $"`{field.Name}`{(field.Required ? "\\*" : "")}{words}{inner}";
    }
}
