using System.Net;
using System.Text.Json;
using Assignum.Web.Access;

namespace Assignum.Web.Tests;

/// <summary>Every field of every form and address, as the code lists them, sent the same list of nasty values: each gets a clear answer, and none is a fault
/// of ours.</summary>
public sealed class NastyValuesTests(App app) : IClassFixture<App>
{
    static readonly string[] Nasty =
    [
        "", "\0", "a\0b", "\uFFFD", "\u202Egnp.exe", "'; drop table line; --", "<script>alert(1)</script>", "99999999999999999999999999999999999999999",
            "-79228162514264337593543950335", "1e400", "0.0000000000000000000000000001",
        "9999-12-31", "0001-01-01", "2026-02-30", "%00", "%", "[null]", "null", "{}", "####-##.##\u0660", "default+default", "item+item", "+",
            "../../../../etc/passwd", "4010 ", "\uD83D\uDE00", new string('x', 3_000), "🌱=+-@\t\r\n;|",
    ];

    async Task<Visitor> Caller(Need need)
    {
        if (need == Need.Nothing)
            return await new Visitor(app).Get("/sign-in");
        var visitor = await Visitor.SignedIn(app, need == Need.Administers ? "adam" : "tomas");
        return await visitor.Get(need == Need.Administers ? "/qn/people" : "/qn/chart");
    }

    const int Parts = 4;

    public static TheoryData<int> Shares => [.. Enumerable.Range(0, Parts)];

    [Theory]
    [MemberData(nameof(Shares))]
    public async Task No_value_in_no_field_is_a_fault_of_ours(int share)
    {
        var handlers = PageHandler.All(app.Services).Where(h => !h.Address.Contains("sign-out", StringComparison.Ordinal) && h.Json is null).ToList();
        Assert.Contains(handlers, h => h.Fields.Count > 5);
        var faults = new List<string>();
        foreach (var group in handlers.Where((_, i) => i % Parts == share).GroupBy(h => h.Need))
        {
            var visitor = await Caller(group.Key);
            foreach (var handler in group)
                foreach (var field in handler.Fields)
                    foreach (var value in Nasty)
                    {
                        var status = handler.Verb == "Get"
                            ? (await visitor.GetBare(handler.At(handler.Name) is var at && at.Contains('?', StringComparison.Ordinal)
                                ? $"{at}&{field}={Uri.EscapeDataString(value)}" : $"{at}?{field}={Uri.EscapeDataString(value)}")).StatusCode
                            : (await visitor.Post(handler.At(handler.Name), (field, value))).StatusCode;
                        if ((int)status >= 500)
                            faults.Add($"{handler.Verb} {handler.At(handler.Name)} with {field} = {JsonSerializer.Serialize(value.Length > 60 ? value[..60] : value)}: {status}");
                    }
        }
        Assert.True(faults.Count == 0, string.Join("\n", faults));
    }

    [Fact]
    public async Task No_body_of_a_grid_is_a_fault_of_ours()
    {
        var visitor = await Caller(Need.Prepares);
        var handlers = PageHandler.All(app.Services).Where(h => h.Json is not null).ToList();
        Assert.Equal(2, handlers.Count);
        var faults = new List<string>();
        foreach (var handler in handlers)
        {
            string[] bodies =
            [
                "", "null", "[null]", "[]", "{}", "[{}]", "[[]]", "\"x\"", "[", new string('[', 2_000) + new string(']', 2_000),
                .. from property in handler.Json!.GetElementType()!.GetProperties()
                   from value in Nasty.Select(v => JsonSerializer.Serialize(v)).Append("null").Append("[]").Append("1e400").Append("true")
                   select $"[{{\"{JsonNamingPolicy.CamelCase.ConvertName(property.Name)}\":{value}}}]",
            ];
            foreach (var body in bodies)
            {
                var status = await visitor.SendBare(handler.At(handler.Name), body);
                if ((int)status >= 500)
                    faults.Add($"{handler.At(handler.Name)} with {body[..Math.Min(body.Length, 80)]}: {status}");
            }
        }
        Assert.True(faults.Count == 0, string.Join("\n", faults));
    }

    [Fact]
    public async Task A_nul_in_a_filter_is_refused_and_spoils_nothing_for_whoever_comes_next()
    {
        var visitor = await Caller(Need.Reads);
        for (var i = 0; i < 30; i++)
        {
            Assert.Equal(HttpStatusCode.BadRequest, (await visitor.GetBare("/qn/find?q=%00" + i)).StatusCode);
            Assert.Equal(HttpStatusCode.OK, (await visitor.GetBare("/qn/find?q=seed" + i)).StatusCode);
        }
    }

    [Fact]
    public async Task An_invoice_of_500_lines_and_a_selection_of_all_rows_are_taken()
    {
        var visitor = await (await Visitor.SignedIn(app, "ines")).Get("/qn/try-out");
        var fields = Enumerable.Range(0, 500).SelectMany(i =>
            new[] { ($"Lines[{i}].Sold", "SEED-01"), ($"Lines[{i}].Quantity", "1"), ($"Lines[{i}].Price", "1"), ($"Lines[{i}].Shipped", "true") })
            .Prepend(("Party", "C-10")).Append(("Date", "2026-10-14"));
        var answer = await visitor.Post("/qn/try-out?handler=land", [.. fields]);
        Assert.Contains("540.00", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);

        var all = await visitor.Post("/qn/groups/item?handler=move", [.. Enumerable.Range(0, 5_000).Select(i => ("members", "SEED-01")), ("to", "POTS")]);
        Assert.Equal(HttpStatusCode.BadRequest, all.StatusCode);
        Assert.Contains("have changed since you looked", await all.Content.ReadAsStringAsync(), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("no address")]
    [InlineData("http://[")]
    [InlineData("//////")]
    public async Task A_broken_address_of_the_page_before_changes_nothing_about_what_was_done(string from)
    {
        var visitor = await (await Visitor.SignedIn(app, "ines")).Get("/qn/chart/dimensions");
        using var request = new HttpRequestMessage(HttpMethod.Post, "/qn/chart/dimensions?handler=remove");
        request.Headers.TryAddWithoutValidation("HX-Request", "true");
        request.Headers.TryAddWithoutValidation("HX-Current-URL", from);

        Assert.True((int)await visitor.SendBare(request, ("code", "NONE"),
            ("seen", visitor.Page.QuerySelector("input[name=seen]")!.GetAttribute("value")!)) < 400);
    }
}
