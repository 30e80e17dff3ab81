using System.Text;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Formats.Landing;
using Assignum.Formats.Rulebooks;
using Assignum.Web.Tests;
using NJsonSchema;

namespace Assignum.NewEvent.Tests;

/// <summary>A new type of event is one unit: it lands from a file, is tried on the page and posted, and no file of src/ knows it.</summary>
public sealed class NewEventTests(App app) : IClassFixture<App>
{
    const string Given = """{"id":"SMP-1","type":"samples-given","date":"2026-03-14","location":"GLASS","text":"Spring fair","lines":[{"item":"SEED-01","quantity":4},{"item":"SEED-02","quantity":2,"unitCost":1.5,"dimensions":{"CC":"100"}}]}""";

    [Fact]
    public void It_lands_from_a_file_with_its_rows_and_its_movements()
    {
        var book = new CompiledRulebook(RulebookReader.Read(File.ReadAllBytes("demo/qn/rulebook.json")).Book!);
        var (journal, held, subledger) = (new MemoryStream(), new MemoryStream(), new MemoryStream());
        LandingRun.Run(book, new MemoryStream(Encoding.UTF8.GetBytes(Given + "\n" + Given.Replace("\"quantity\":4", "\"quantity\":-4", StringComparison.Ordinal) + "\n")), new LandingOutputs(journal, held, subledger, null));

        // 4 at 0.85 and 2 at 1.50.
        Assert.Equal(["stock-difference 3.40 ", "inventory  3.40", "stock-difference 3.00 ", "inventory  3.00"], Lines(journal).Skip(1).Select(l => l.Split(',')).Select(c => $"{c[8]} {c[4]} {c[5]}"));
        Assert.Equal(["SEED-01@GLASS -4 -3.40", "SEED-02@GLASS -2 -3.00"], Lines(subledger).Skip(1).Select(l => l.Split(',')).Select(c => $"{c[3]} {c[4]} {c[6]}"));
        Assert.Contains("Give a quantity above 0", Assert.Single(Lines(held)), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Its_schema_comes_of_the_table_and_what_is_written_is_read_again()
    {
        var schema = await JsonSchema.FromJsonAsync(EventSchema.Write());
        Assert.Empty(schema.Validate(Given));
        Assert.NotEmpty(schema.Validate(Given.Replace("\"item\":\"SEED-01\",", "", StringComparison.Ordinal)));

        var read = new EventReader().Read(Encoding.UTF8.GetBytes(Given), 1).Event!;
        Assert.Equal(Given, EventWriter.Write(read));
        Assert.Equal("lines[0].colour", new EventReader().Read(Encoding.UTF8.GetBytes(Given.Replace("\"item\"", "\"colour\":1,\"item\"", StringComparison.Ordinal)), 1).Fault!.Field);
    }

    [Fact]
    public async Task It_is_tried_on_the_page_and_posted_and_its_amounts_have_trails()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/try-out?type=samples-given");
        Assert.Equal("Samples given", ines.Page.QuerySelector("h1")!.TextContent);
        Assert.Equal(["Item", "Quantity", "Cost of one", "Lands on"], ines.Page.QuerySelectorAll("table.lines th").Select(h => h.TextContent));

        using var tried = await ines.Post("/qn/try-out?handler=land", ("Type", "samples-given"), ("date", "2026-03-14"), ("location", "glasshouse"), ("Lines[0].item", "field poppy"), ("Lines[0].quantity", "4"));
        var shown = await tried.Content.ReadAsStringAsync();
        Assert.Contains("Where it lands", shown, StringComparison.Ordinal);
        Assert.Contains("3.40", shown, StringComparison.Ordinal);
        using var wrong = await ines.Post("/qn/try-out?handler=land", ("Type", "samples-given"), ("date", "2026-03-14"), ("Lines[0].item", "field poppy"));
        Assert.Contains("Line 1: Quantity is missing", await wrong.Content.ReadAsStringAsync(), StringComparison.Ordinal);

        await ines.Get("/qn/try-out?type=samples-given");
        await ines.Submit("#try", ("date", "2026-11-20"), ("location", "GLASS"), ("Lines[0].item", "SEED-01"), ("Lines[0].quantity", "4"));
        await ines.Follow();

        Assert.Contains("is posted", ines.Text, StringComparison.Ordinal);
        Assert.Contains(ines.Rows(), r => r.StartsWith("inventory SEED-01 GLASS", StringComparison.Ordinal));
        Assert.Contains(ines.Rows(), r => r.Contains("Stock difference", StringComparison.OrdinalIgnoreCase) && r.Contains("3.40", StringComparison.Ordinal));
        Assert.Contains("samples given", (await ines.Get("/qn/journal?event=samples-given")).Text, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public void Nothing_in_src_knows_it()
    {
        var root = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(root.FullName, "Assignum.slnx")))
            root = root.Parent!;
        var sources = Directory.EnumerateFiles(Path.Combine(root.FullName, "src"), "*.cs*", SearchOption.AllDirectories).Where(f => !f.Contains("node_modules", StringComparison.Ordinal) && !f.Contains("/obj/", StringComparison.Ordinal)).ToList();

        Assert.True(sources.Count > 200);
        Assert.DoesNotContain(sources, file => File.ReadAllText(file).Contains("samples-given", StringComparison.OrdinalIgnoreCase));
    }

    static List<string> Lines(MemoryStream stream) => [.. Encoding.UTF8.GetString(stream.ToArray()).Split('\n', StringSplitOptions.RemoveEmptyEntries)];
}
