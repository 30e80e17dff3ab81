using System.Text.Json.Nodes;
using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Tests;

/// <summary>Events as a sheet with one row a line.</summary>
public class EventSheetTests
{
    static readonly string[] Heads = ["id", "type", "date", "party", "item", "quantity", "price", "shipped", "dimensions"];

    static IReadOnlyList<SheetEvent> Read(params string[] rows)
    {
        var columns = EventSheet.Propose(Heads, EventSheet.Fields(null));
        return [.. EventSheet.Events(rows.Select((row, i) => new SheetRow(i + 2, row.Split('|'))), columns, null)];
    }

    [Fact]
    public void Rows_of_one_id_are_one_document_and_say_the_same_or_nothing()
    {
        var events = Read("A|sales-invoice|2026-03-14|C-10|SEED-01|2|3.5|yes|CC=100", "A||||POT-12|1|4||", "B|sales-invoice|2026-03-15|C-11|SEED-01|1|3|no|", "B||2026-03-16||SEED-02|1|3||");

        Assert.Equal(["A", "B"], events.Select(e => e.Id));
        var first = Assert.IsType<Document>(new EventReader().Read(System.Text.Encoding.UTF8.GetBytes(events[0].Json!), 1).Event);
        Assert.Equal([("SEED-01", 2m, true), ("POT-12", 1m, false)], first.Lines.Select(l => (l.Item!, l.Quantity, l.StockMoves)));
        Assert.Equal("Line 5 has date 2026-03-16, and line 4 of the same document 2026-03-15. Rows of one id say the same, or nothing.", events[1].Why);
    }

    [Theory]
    [InlineData("|sales-invoice|2026-03-14|C-10|SEED-01|2|3.5||", "Line 2 has no id. Give each document one, the same on each of its rows.")]
    [InlineData("A|invoice|2026-03-14|C-10|SEED-01|2|3.5||", "Line 2: “invoice” is no type of event. Write one as the formats spell it: sales-invoice.")]
    [InlineData("A|sales-invoice|2026-03-14|C-10|SEED-01|1,5|3.5||", "Line 2: quantity is “1,5”. Write a number with a decimal point and nothing else: 1234.50.")]
    [InlineData("A|sales-invoice|2026-03-14|C-10|SEED-01|1|3.5|maybe|", "Line 2: shipped is “maybe”. Write yes or no.")]
    [InlineData("A|sales-invoice|2026-03-14|C-10|SEED-01|1|3.5|no|CC", "Line 2: dimensions is “CC”. Write dimensions as CC=100, with ; between several.")]
    public void What_can_not_be_read_says_its_line_what_is_there_and_how_to_write_it(string row, string why) => Assert.Equal(why, Assert.Single(Read(row)).Why);

    public static TheoryData<string> Types => [.. EventTypes.All.Select(t => t.Name).Where(name => EventSamples.Of(name) is not null)];

    [Theory]
    [MemberData(nameof(Types))]
    public void Every_example_written_as_a_sheet_comes_back_as_it_was(string type)
    {
        var sample = JsonNode.Parse(EventSamples.Of(type)!)!.AsObject();
        var own = EventTypes.Find(type)!;
        var fields = EventSheet.Fields(own);
        // Of an event with two lists a sheet holds the first.
        var list = own.Fields.FirstOrDefault(f => f.Kind == FieldKind.List)?.Name;
        foreach (var other in own.Fields.Where(f => f.Kind == FieldKind.List && f.Name != list))
            sample.Remove(other.Name);
        var lines = list is null ? null : sample[list]?.AsArray();
        var rows = Enumerable.Range(0, Math.Max(1, lines?.Count ?? 0)).Select(i => new SheetRow(i + 2, [.. fields.Select(field => field.List is null
            ? i == 0 || field.Name == "id" ? Cell(sample[field.Name]) : "" : Cell(lines?.Count > i ? lines[i]![field.Field.Name] : null))]));

        var made = Assert.Single(EventSheet.Events(rows, [.. fields.Select(f => f.Name)], null));

        Assert.Null(made.Why);
        Assert.Equal(Written(sample.ToJsonString()), Written(made.Json!));
    }

    // Without its second list a day of a till can't be read: then the words themselves are held against each other.
    static string Written(string json) => EventReader.Kept(json) is { } happened ? EventWriter.Write(happened)
        : string.Join(' ', JsonNode.Parse(json)!.AsObject().Where(p => p.Value is not JsonArray).OrderBy(p => p.Key, StringComparer.Ordinal).Select(p => $"{p.Key}={p.Value}"));

    static string Cell(JsonNode? value) => value switch
    {
        null => "",
        JsonObject dimensions => string.Join("; ", dimensions.Select(d => $"{d.Key}={d.Value}")),
        _ => value.ToString(),
    };
}
