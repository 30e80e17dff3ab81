using System.Text.Json;
using Assignum.Formats.Connections;
using Assignum.Formats.Events;

namespace Assignum.Formats.Tests.Connections;

/// <summary>Events as other systems send them become ours: codes by their matches, moments by the connection's days.</summary>
public class SentEventTests
{
    static readonly Dictionary<(string, string), string> Matched = new()
    {
        [("items", "S-1")] = "SEED-01", [("customers", "K-1")] = "C-10", [("tax-codes", "VAT8")] = "R8", [("accounts", "7310")] = "4210", [("categories", "C-SEED")] = "SEEDS",
        [("people", "anna")] = "WORK-H", [("projects", "PR-7")] = "P-1", [("projects", "PR-8/20")] = "P-1/10",
        [("projects", "PR-9")] = "P-1/20",
    };

    static SentReading Reading(bool byCategory = false, string? collective = null, string zone = "Europe/Vienna", string dayEnd = "00:00", params string[] kept) =>
        new("web-shop", (list, code) => Matched.GetValueOrDefault((list, code)), list => kept.Length == 0 || kept.Contains(list), TimeZoneInfo.FindSystemTimeZoneById(zone),
            TimeOnly.Parse(dayEnd, System.Globalization.CultureInfo.InvariantCulture), byCategory, collective);

    static JsonElement Ours(string raw, SentReading? reading = null) => JsonDocument.Parse(SentEvent.Read(raw, reading ?? Reading()).Translated!).RootElement;

    [Fact]
    public void Every_code_becomes_the_one_it_is_matched_with_also_within_lines_and_taxes()
    {
        var ours = Ours("""{"id":"O-1","type":"sales-invoice","date":"2026-10-01","party":"K-1","project":"PR-7","tax":[{"taxCode":"VAT8","amount":1}],"lines":[{"item":"S-1","taxCode":"VAT8","price":1},{"account":"7310","price":2}]}""");

        Assert.Equal("C-10", ours.GetProperty("party").GetString());
        Assert.Equal("P-1", ours.GetProperty("project").GetString());
        Assert.Equal("R8", ours.GetProperty("tax")[0].GetProperty("taxCode").GetString());
        Assert.Equal(("SEED-01", "R8"), (ours.GetProperty("lines")[0].GetProperty("item").GetString(), ours.GetProperty("lines")[0].GetProperty("taxCode").GetString()));
        Assert.Equal("4210", ours.GetProperty("lines")[1].GetProperty("account").GetString());
        Assert.Equal("web-shop", ours.GetProperty("connection").GetString());
    }

    // A code of theirs that happens to be one of ours is not ours before somebody has said so.
    [Fact]
    public void A_code_without_a_match_is_none_of_ours_and_is_named()
    {
        var sent = SentEvent.Read("""{"id":"O-1","type":"sales-invoice","date":"2026-10-01","party":"C-10","lines":[{"item":"SEED-01","price":1}]}""", Reading());

        Assert.Equal([new("customers", "C-10"), new("items", "SEED-01")], sent.Unmatched);
        Assert.Contains("\"SEED-01@web-shop\"", sent.Translated, StringComparison.Ordinal);
    }

    [Fact]
    public void Codes_of_a_list_that_is_not_kept_are_ours_already() =>
        Assert.Equal("C-99", Ours("""{"id":"O-1","type":"refund","date":"2026-10-01","party":"C-99","amount":1,"method":"card"}""", Reading(kept: "items")).GetProperty("party").GetString());

    [Fact]
    public void A_party_without_a_match_is_the_collective_one_where_there_is_one() =>
        Assert.Equal("C-31", Ours("""{"id":"O-1","type":"refund","date":"2026-10-01","party":"K-9","amount":1,"method":"card"}""", Reading(collective: "C-31")).GetProperty("party").GetString());

    [Fact]
    public void An_unknown_item_lands_by_its_category_where_that_is_wanted_matched_and_the_document_takes_it()
    {
        const string order = """{"id":"O-1","type":"sales-invoice","date":"2026-10-01","party":"K-1","lines":[{"item":"S-9","category":"C-SEED","price":1},{"item":"S-8","category":"C-BENCH","price":1},{"item":"S-1","category":"C-SEED","price":1}]}""";
        var sent = SentEvent.Read(order, Reading(byCategory: true));
        var lines = JsonDocument.Parse(sent.Translated!).RootElement.GetProperty("lines");

        Assert.Equal(("SEEDS", 1), (lines[0].GetProperty("itemGroup").GetString(), sent.ByCategory));
        Assert.Equal(("S-8@web-shop", "SEED-01"), (lines[1].GetProperty("item").GetString(), lines[2].GetProperty("item").GetString()));
        Assert.All(lines.EnumerateArray(), l => Assert.False(l.TryGetProperty("category", out _)));
        // What moves stock needs its item.
        Assert.Contains("S-9@web-shop", SentEvent.Read("""{"id":"S-1","type":"shipment","date":"2026-10-01","lines":[{"item":"S-9","category":"C-SEED","quantity":1}]}""", Reading(byCategory: true)).Translated, StringComparison.Ordinal);
    }

    [Fact]
    public void Who_worked_becomes_the_labour_they_are_matched_with() =>
        Assert.Equal("WORK-H", Ours("""{"id":"T-1","type":"production","date":"2026-10-01","item":"S-1","quantity":1,"lines":[{"person":"anna","quantity":2}]}""").GetProperty("lines")[0].GetProperty("item").GetString());

    // A project with its task is one entry of their list; where only the project is matched, its tasks are called as ours.
    [Theory]
    [InlineData("PR-7", null, "P-1", null)]
    [InlineData("PR-7", "30", "P-1", "30")]
    [InlineData("PR-8", "20", "P-1", "10")]
    [InlineData("PR-9", null, "P-1", "20")]
    [InlineData("PR-8", null, "PR-8@web-shop", null)]
    [InlineData("PR-8", "10", "PR-8/10@web-shop", null)]
    public void Where_somebody_worked_becomes_the_project_and_task_it_is_matched_with(string theirs, string? theirTask, string project, string? task)
    {
        var ours = Ours($$"""{"id":"T-1","type":"project-usage","date":"2026-10-01","project":"{{theirs}}"{{(theirTask is null ? "" : $",\"task\":\"{theirTask}\"")}},"lines":[{"person":"anna","quantity":2}]}""");

        Assert.Equal((project, task), (ours.GetProperty("project").GetString(), ours.TryGetProperty("task", out var one) ? one.GetString() : null));
        Assert.Equal("WORK-H", ours.GetProperty("lines")[0].GetProperty("item").GetString());
    }

    [Theory]
    [InlineData("2026-11-12T22:40:00+01:00", "Europe/Vienna", "00:00", "2026-11-12")]
    [InlineData("2026-11-12T23:40:00Z", "Europe/Vienna", "00:00", "2026-11-13")]
    [InlineData("2026-11-13T00:40:00+01:00", "Europe/Vienna", "04:00", "2026-11-12")]
    [InlineData("2026-11-13T04:00:00+01:00", "Europe/Vienna", "04:00", "2026-11-13")]
    [InlineData("2026-07-01T22:30:00Z", "Europe/Vienna", "00:00", "2026-07-02")]
    [InlineData("2026-11-12T23:40:00", "UTC", "00:00", "2026-11-12")]
    public void A_moment_is_of_the_day_it_is_there_until_the_day_ends(string at, string zone, string dayEnd, string day) =>
        Assert.Equal(day, Ours($$"""{"id":"O-1","type":"refund","at":"{{at}}","party":"K-1","amount":1,"method":"card"}""", Reading(zone: zone, dayEnd: dayEnd)).GetProperty("date").GetString());

    [Theory]
    [InlineData("\"an order\"", "is no event")]
    [InlineData("{broken", "can't be read as JSON")]
    [InlineData("{\"id\":\"A\",\"id\":\"B\"}", "can't be read as JSON")]
    [InlineData("{\"type\":\"refund\"}", "has no id")]
    [InlineData("{\"id\":\"A\",\"at\":\"yesterday\"}", "“yesterday”")]
    [InlineData("null", "is no event")]
    public void What_is_no_event_says_why_and_what_to_send(string raw, string said)
    {
        var sent = SentEvent.Read(raw, Reading());

        Assert.Null(sent.Translated);
        Assert.Contains(said, sent.Fault, StringComparison.Ordinal);
        Assert.Equal(32, SentEvent.DigestOf(raw).Length);
    }

    [Fact]
    public void However_it_is_spelled_the_same_event_has_the_same_digest_and_another_has_another()
    {
        const string one = """{"id":"O-1","lines":[{"price":2.50,"item":"S-1"}],"type":"sales-invoice"}""";

        Assert.Equal(SentEvent.DigestOf(one), SentEvent.DigestOf("""{ "type" : "sales-invoice", "id":"O-1", "lines":[ {"item":"S-1","price":2.5} ] }"""));
        Assert.NotEqual(SentEvent.DigestOf(one), SentEvent.DigestOf(one.Replace("2.50", "2.51", StringComparison.Ordinal)));
    }

    // What is ours already comes out as it went in: the samples of every type.
    [Fact]
    public void Every_type_of_event_passes_as_it_is_where_no_list_is_kept()
    {
        foreach (var type in Core.Posting.EventTypes.All)
        {
            var raw = EventSamples.Of(type.Name)!;
            var sent = SentEvent.Read(raw, Reading(kept: "none"));
            var read = new EventReader().Read(System.Text.Encoding.UTF8.GetBytes(sent.Translated!), 1);

            Assert.True(read.Event is not null, read.Fault?.Message);
            Assert.Equal(type.Name, read.Event.TypeName);
        }
    }

    [Fact]
    public void A_sheet_of_matches_is_read_by_its_headings_and_says_what_is_missing()
    {
        static ReadOnlyMemory<byte> File(string text) => System.Text.Encoding.UTF8.GetBytes(text);
        var (rows, fault) = MatchSheet.Read(File("name,ours,theirs,decision\nPoppy,SEED-01,S-1,\nBench,,S-2,not needed\nNothing,,S-3,\n"));

        Assert.Null(fault);
        Assert.Equal([("S-1", "SEED-01", false, 2), ("S-2", "", true, 3), ("S-3", "", false, 4)], rows.Select(r => (r.Theirs, r.Ours, r.IsNotNeeded, r.Line)));
        Assert.Contains("headings theirs and ours", MatchSheet.Read(File("a,b\n1,2\n")).Fault, StringComparison.Ordinal);
    }
}
