using System.Net;
using System.Text.Json;
using AngleSharp.Dom;

namespace Assignum.Web.Tests;

/// <summary>The pages of a purpose.</summary>
public sealed class RulePageTests(App app) : IClassFixture<App>
{
    const string Grid = "/qn/rules/revenue?rung=itemGroup%2BpartyGroup";

    static object Cell(string? row, string? column, string text, string? own = null, string? seen = null, bool typed = true) => new { row, column, text, own, seen, typed };

    // The cell where a row meets a column: answer, origin, own rule.
    static (string? Answer, string Origin, string? Own) At(JsonElement grid, string? row, string? column)
    {
        var (rows, columns) = (Codes(grid.GetProperty("rows")), Codes(grid.GetProperty("columns")));
        var cell = grid.GetProperty("cells")[rows.IndexOf(row) * columns.Count + columns.IndexOf(column)];
        var answer = cell[0].GetInt32();
        return (answer < 0 ? null : grid.GetProperty("answers")[answer][0].GetString(), cell[1].GetString()!, cell[2].GetString());

        static List<string?> Codes(JsonElement side) => [.. side.EnumerateArray().Select(v => v.GetProperty("code").GetString())];
    }

    static string[] Faults(JsonElement answer) => [.. answer.GetProperty("faults").EnumerateArray().Select(f => f[1].GetString()!)];

    [Fact]
    public async Task A_cell_shows_its_answer_and_where_it_comes_from()
    {
        var vera = await Visitor.SignedIn(app, "vera");
        var grid = await vera.Read(Grid + "&handler=cells");

        Assert.Equal(("4015", "o"), At(grid, "SEEDS", "TRADE") is var own ? (own.Answer, own.Origin) : default);
        Assert.Equal(("4010", "r"), At(grid, "SEEDS", "RETAIL") is var row ? (row.Answer, row.Origin) : default);
        Assert.Equal(("1999", "d"), At(grid, "OVERHEAD", "RETAIL") is var fallen ? (fallen.Answer, fallen.Origin) : default);
    }

    [Fact]
    public async Task Both_sides_of_the_grid_are_filtered()
    {
        var grid = await (await Visitor.SignedIn(app, "vera")).Read(Grid + "&q=seed&top=trade&handler=cells");

        Assert.Equal([null, "SEEDS"], grid.GetProperty("rows").EnumerateArray().Select(r => r.GetProperty("code").GetString()));
        Assert.Equal([null, "TRADE"], grid.GetProperty("columns").EnumerateArray().Select(c => c.GetProperty("code").GetString()));
        Assert.Equal("4015", At(grid, "SEEDS", "TRADE").Answer);
    }

    [Fact]
    public async Task Cells_take_any_part_of_a_name_all_or_none_and_never_over_somebody_elses_change()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get(Grid);
        var refused = await ines.Send(Grid + "&handler=cells", new[] { Cell("POTS", "TRADE", "4220"), Cell("POTS", "EXPORT", "no such account") });
        Assert.Contains("“no such account”", Assert.Single(Faults(refused)), StringComparison.Ordinal);
        Assert.Equal("r", At(await ines.Read(Grid + "&handler=cells"), "POTS", "TRADE").Origin);

        var taken = (await ines.Send(Grid + "&handler=cells", new[] { Cell("POTS", "TRADE", "council con"), Cell("POTS", "RETAIL", "4030", typed: false) })).GetProperty("grid");
        Assert.Equal(("4220", "o"), At(taken, "POTS", "TRADE") is var now ? (now.Answer, now.Origin) : default);
        // A filled cell that says what holds already makes no rule.
        Assert.Equal("r", At(taken, "POTS", "RETAIL").Origin);

        var tomas = await (await Visitor.SignedIn(app, "tomas")).Get(Grid);
        Assert.Contains("Somebody else has changed this cell: it is 4220",
            Assert.Single(Faults(await tomas.Send(Grid + "&handler=cells", new[] { Cell("POTS", "TRADE", "4030") }))), StringComparison.Ordinal);
        var cleared = (await tomas.Send(Grid + "&handler=cells", new[] { Cell("POTS", "TRADE", "", At(taken, "POTS", "TRADE").Own, "4220") })).GetProperty("grid");
        Assert.Equal(("4030", "r"), At(cleared, "POTS", "TRADE") is var fallen ? (fallen.Answer, fallen.Origin) : default);
    }

    [Fact]
    public async Task A_viewer_reads_the_grid_and_its_trails_and_changes_nothing()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get(Grid);
        Assert.Equal("no", vera.Page.QuerySelector("[data-grid]")!.GetAttribute("data-editable"));
        await Assert.ThrowsAsync<HttpRequestException>(() => vera.Send(Grid + "&handler=cells", new[] { Cell("POTS", "TRADE", "4220") }));

        await vera.Get(Grid + "&handler=cell&row=SEEDS&column=TRADE");
        Assert.Contains("4015 Sales of seeds, trade", vera.Page.QuerySelector("#drawer")!.TextContent, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await vera.Get("/qn/rules/no-such-purpose")).Last.StatusCode);
    }

    [Fact]
    public async Task An_open_page_is_told_what_others_did_and_not_what_it_did_itself()
    {
        var (ines, tomas) = (await (await Visitor.SignedIn(app, "ines")).Get(Grid), await (await Visitor.SignedIn(app, "tomas")).Get(Grid));
        var (stamp, since) = (ines.Page.Body!.GetAttribute("data-stamp"), ines.Page.Body!.GetAttribute("data-since"));
        Assert.Equal(HttpStatusCode.NoContent, (await ines.GetBare($"/qn/draft-state?stamp={stamp}&since={since}")).StatusCode);

        await tomas.Send(Grid + "&handler=cells", new[] { Cell("TOOLS", "EXPORT", "4030") });
        var told = await ines.Read($"/qn/draft-state?stamp={stamp}&since={since}");
        Assert.Contains("Tomas: Rule", Assert.Single(told.GetProperty("said").EnumerateArray()).GetString(), StringComparison.Ordinal);
        Assert.Empty((await tomas.Read($"/qn/draft-state?stamp={stamp}&since={since}")).GetProperty("said").EnumerateArray());
    }

    [Fact]
    public async Task A_gap_is_mended_in_one_step()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/revenue/gaps");
        var row = ines.Page.QuerySelectorAll(".gaps tbody tr").First(r => r.TextContent.Contains("OVERHEAD", StringComparison.Ordinal));
        row.QuerySelector("form")!.Id = "mend";
        await ines.Submit("#mend", ("account", "sales of"));
        Assert.Contains("fits several", ines.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
        ines.Page.QuerySelectorAll(".gaps tbody tr").First(r => r.TextContent.Contains("OVERHEAD", StringComparison.Ordinal)).QuerySelector("form")!.Id = "mend";
        await ines.Submit("#mend", ("account", "planting"));

        Assert.DoesNotContain((await ines.Follow()).Rows(".gaps tbody tr"), r => r.StartsWith("OVERHEAD", StringComparison.Ordinal));
    }

    [Fact]
    public async Task What_only_events_bring_is_a_gap_too_and_mended_like_any_other()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/payment-clearing/gaps");
        Assert.Contains("Seen in events", ines.Text, StringComparison.Ordinal);
        ines.Page.QuerySelectorAll(".gaps tbody tr").First(r => r.TextContent.Contains("till", StringComparison.Ordinal)).QuerySelector("form")!.Id = "mend";
        await ines.Submit("#mend", ("account", "web payments"));

        Assert.DoesNotContain("Seen in events", (await ines.Follow()).Text, StringComparison.Ordinal);
        Assert.Contains("1055", (await ines.Get("/qn/rules/payment-clearing/list")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_ladder_shows_what_moves_before_it_is_changed_and_keeps_rungs_with_rules()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/revenue/ladder?r=itemGroup&r=itemGroup%2BpartyGroup&r=item&r=default");
        Assert.Contains(ines.Rows("main .two > div:last-child tbody tr"), r => r.StartsWith("SEEDS × TRADE 4015 4010", StringComparison.Ordinal));
        await ines.Get("/qn/rules/revenue/ladder?r=item&r=itemGroup&r=default");
        Assert.Contains("stand on a rung that would be dropped", ines.Text, StringComparison.Ordinal);
        await ines.Submit("main .two form[method=post]");
        Assert.Contains("in this draft, then drop the rung", ines.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);

        await ines.Get("/qn/rules/stock-difference/ladder?add=location&add=reason");
        await ines.Submit("main .two form[method=post]");
        Assert.Contains("location + reason", Assert.Single((await ines.Follow()).Rows(".ladder-edit tr"), r => r.Contains("location + reason", StringComparison.Ordinal)), StringComparison.Ordinal);
        Assert.Contains("is on the ladder already", (await ines.Get("/qn/rules/stock-difference/ladder?add=reason")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task What_counts_all_combinations_is_there_on_its_own_for_pages_that_did_not_wait_for_it()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/rules/revenue/ladder?handler=moves&r=itemGroup&r=itemGroup%2BpartyGroup&r=item&r=default");
        Assert.Contains("SEEDS × TRADE", vera.Text, StringComparison.Ordinal);
        Assert.Contains("No tax code is set where Abroad", (await vera.Get("/qn/editions?handler=findings")).Text, StringComparison.Ordinal);
        Assert.Contains(" %", (await vera.Get("/qn/rules/revenue?handler=meters")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_rule_with_dates_shows_when_it_holds()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/revenue?handler=rule&rung=itemGroup&itemGroup=TOOLS");
        await ines.Submit("#drawer form", ("Account", "4030"), ("From", "2027-01-01"));
        Assert.Contains("hold on the same days. End one before the other begins", ines.Page.QuerySelector("#drawer .fault")!.TextContent,
            StringComparison.Ordinal);
        await ines.Get("/qn/rules/revenue/list");
        await ines.Get(ines.Page.QuerySelectorAll("#rung-itemGroup + table tr").First(r => r.TextContent.Contains("TOOLS", StringComparison.Ordinal)).QuerySelector("a")!.GetAttribute("href")!);
        ines.Page.QuerySelector("#rule-last")!.SetAttribute("value", "2026-12-31");
        await ines.Press("#drawer button[formaction*=end]");
        await ines.Get("/qn/rules/revenue?handler=rule&rung=itemGroup&itemGroup=TOOLS");
        await ines.Submit("#drawer form", ("Account", "4030"), ("From", "2027-01-01"));
        await ines.Follow();
        await ines.Get(ines.Page.QuerySelectorAll("#rung-itemGroup + table tr").First(r => r.TextContent.Contains("TOOLS", StringComparison.Ordinal)).QuerySelector("a")!.GetAttribute("href")!);
        Assert.Contains("4030 from 2027-01-01", ines.Page.QuerySelector("#drawer svg[role=img]")!.GetAttribute("aria-label"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Rules_are_copied_from_another_purpose_a_group_or_a_company_and_what_can_t_be_copied_says_why()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/sales-return/copy?from=purpose&of=revenue");
        Assert.Contains(ines.Rows(), r => r.StartsWith("SEEDS × TRADE 4015", StringComparison.Ordinal));
        await ines.Submit("main .work form[method=post]", ("chosen", "0"));
        Assert.Contains("1 rule copied to sales return", (await ines.Follow()).Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);

        await ines.Get("/qn/rules/revenue/copy?from=group&of=itemGroup%3DSEEDS&to=itemGroup%3DVOUCHER");
        Assert.Contains(ines.Rows(), r => r.StartsWith("VOUCHER × TRADE 4015", StringComparison.Ordinal));
        await ines.Get("/ql/rules/revenue/copy?from=company&of=QN");
        Assert.Contains(ines.Rows(), r => r.Contains("There is no", StringComparison.Ordinal));
        await ines.Submit("main .work form[method=post]");
        Assert.Contains("Nothing is ticked", ines.Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Exceptions_that_say_what_a_lower_rung_says_end_in_one_act()
    {
        const string items = "/qn/rules/inventory?rung=item";
        var ines = await (await Visitor.SignedIn(app, "ines")).Get(items);
        await ines.Send(items + "&handler=cells", new[] { Cell("SEED-01", null, "1320"), Cell("SEED-02", null, "1320"), Cell("SEED-03", null, "1330") });
        await ines.Get("/qn/exceptions");
        Assert.Contains("item group says so too", Assert.Single(ines.Rows(), r => r.Contains("SEED-01", StringComparison.Ordinal)), StringComparison.Ordinal);
        await ines.Submit("main form.do");
        await ines.Follow();
        Assert.Contains("2 exceptions end", ines.Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(ines.Rows(), r => r.Contains("SEED-03", StringComparison.Ordinal));
        Assert.DoesNotContain(ines.Rows(), r => r.Contains("SEED-01", StringComparison.Ordinal) || r.Contains("SEED-02", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_cell_a_rule_and_a_gap_each_lead_to_a_try_out_with_members_of_their_groups()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/rules/revenue/list");
        await ines.Get(ines.Page.QuerySelectorAll(".rules tr").First(r => r.TextContent.Contains("SEEDS × TRADE", StringComparison.Ordinal)).QuerySelector("a")!.GetAttribute("href")!);
        Assert.Contains(await Landed(ines, "#drawer a[href*='try-out']"), r => r.StartsWith("4015 Sales of seeds, trade revenue", StringComparison.Ordinal));
        await ines.Get("/qn/rules/revenue?rung=itemGroup%2BpartyGroup&handler=cell&row=SAPLINGS&column=EXPORT");
        Assert.Contains(await Landed(ines, "#drawer a[href*='try-out']"), r => r.StartsWith("4025 Sales of saplings, export revenue", StringComparison.Ordinal));
        await ines.Get("/qn/rules/revenue/gaps");
        Assert.Contains(await Landed(ines, ".gaps a[href*='try-out']"), r => r.StartsWith("1999 Suspense", StringComparison.Ordinal));

        static async Task<string[]> Landed(Visitor visitor, string link) => (await visitor.Get(visitor.Page.QuerySelector(link)!.GetAttribute("href")!)).Rows("#entry tbody tr");
    }

    [Fact]
    public async Task One_line_asks_where_all_purposes_land()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/where?q=" + Uri.EscapeDataString("larkfield meadow mix, 50"));
        Assert.Contains(vera.Rows(".lands tr"), r => r.StartsWith("Revenue 4015 Sales of seeds, trade", StringComparison.Ordinal) && r.EndsWith("item group + party group", StringComparison.Ordinal));
        // The tax code is the one a document would find.
        Assert.Contains(vera.Rows(".lands tr"), r => r.StartsWith("Output tax 2210 Output tax 8 %", StringComparison.Ordinal));
        Assert.Contains("fits several", (await vera.Get("/qn/where?q=meadow")).Text, StringComparison.Ordinal);
        Assert.Contains("is in no code and no name", (await vera.Get("/qn/where?q=xyzzy")).Text, StringComparison.Ordinal);
        await vera.Get("/qn/where?q=SEEDS&handler=trail&purpose=inventory");
        Assert.Contains("1320 Seeds", vera.Page.QuerySelector("#drawer")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task The_landing_map_draws_a_month_from_posted_lines()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/map?month=2026-10");
        var ribbons = vera.Page.QuerySelectorAll(".landing-map a[aria-label]").Select(a => a.GetAttribute("aria-label")!).ToList();
        Assert.Contains(ribbons, r => r.StartsWith("Till, bank: ", StringComparison.Ordinal));
        Assert.Contains(ribbons, r => r.StartsWith("revenue, 1999 Suspense: ", StringComparison.Ordinal));

        // A ribbon leads to its lines.
        await vera.Get(vera.Page.QuerySelectorAll(".landing-map a[aria-label]").First(a => a.GetAttribute("aria-label")!.StartsWith("Till, bank: ", StringComparison.Ordinal)).GetAttribute("href")!);
        Assert.NotEmpty(vera.Rows());
        Assert.Contains("Only events from Till", vera.Text, StringComparison.Ordinal);
        Assert.Contains("Nothing is posted in this month", (await vera.Get("/qn/map?month=2025-01")).Text, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await vera.Get("/qn/map?month=soon")).Last.StatusCode);
    }
}

/// <summary>Tax codes, the tax grid, the report and the entries.</summary>
public sealed class TaxPageTests(App app) : IClassFixture<App>
{
    [Fact]
    public async Task A_hole_of_the_tax_grid_is_mended_in_place()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/tax");
        Assert.Contains("1 meeting of two groups has none", ines.Text, StringComparison.Ordinal);
        var answer = await ines.Send("/qn/tax?area=&handler=cells", new[] { new { row = "ABROAD", column = "REDUCED", text = "export", own = (string?)null, seen = (string?)null, typed = true } });
        Assert.Empty(answer.GetProperty("faults").EnumerateArray());

        Assert.Contains("Every meeting of two groups has a code", (await ines.Get("/qn/tax")).Text, StringComparison.Ordinal);
        Assert.Contains("ABROAD × REDUCED → Z0", (await ines.Get("/qn/editions")).Text, StringComparison.Ordinal);
        await ines.Get("/qn/tax?handler=cell&row=HOME&column=STANDARD");
        Assert.Contains("S20", ines.Page.QuerySelector("#drawer")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_tax_code_has_components_rates_by_date_and_accounts_and_says_what_is_wrong()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/tax/codes?handler=code");
        (string, string?)[] typed = [("Code", "L5"), ("Name", "Local 5 %"), ("Components[0].Rates", "2026-01-01 5\n2027-01-01 6.5"), ("Components[0].Authority", "STATE-BOARD"), ("OutputAccount", "2230")];
        await ines.Submit("#drawer form", typed);
        Assert.Contains("has no code. Give it one", ines.Page.QuerySelector("#drawer .fault")!.TextContent, StringComparison.Ordinal);
        await ines.Submit("#drawer form", [.. typed.Where(t => t.Item1 != "Components[0].Rates"), ("Components[0].Code", "STATE"), ("Components[0].Rates", "soon 5")]);
        Assert.Contains("Rate “soon 5” can't be read", ines.Page.QuerySelector("#drawer .fault")!.TextContent, StringComparison.Ordinal);
        await ines.Submit("#drawer form", [.. typed, ("Components[0].Code", "STATE")]);
        Assert.Contains(await Rows(ines), r => r.StartsWith("L5 Local 5 %", StringComparison.Ordinal) && r.Contains("STATE-BOARD", StringComparison.Ordinal) && r.Contains("2230", StringComparison.Ordinal));

        await ines.Get("/qn/tax/codes?handler=code&code=S20");
        await ines.Press("#drawer button[formaction*=delete]");
        Assert.Contains("Tax code S20 is in use: ", ines.Page.QuerySelector("#drawer .fault")!.TextContent, StringComparison.Ordinal);
        await ines.Get("/qn/tax/codes?handler=code&code=L5");
        await ines.Submit("#drawer form", ("OutputAccount", ""), ("Name", "Local"));
        Assert.Contains(await Rows(ines), r => r.StartsWith("L5 Local", StringComparison.Ordinal));

        static async Task<string[]> Rows(Visitor visitor) => (await visitor.Follow()).Rows();
    }

    [Fact]
    public async Task Rounding_and_tolerance_go_into_the_draft()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/tax/codes?handler=options");
        await ines.Submit("#drawer form", ("TaxTolerance", "-1"));
        Assert.Contains("0 or more", ines.Page.QuerySelector("#drawer .fault")!.TextContent, StringComparison.Ordinal);
        await ines.Submit("#drawer form", ("TaxTolerance", "0.05"), ("TaxRounding", "line"));
        Assert.Contains("tolerance", (await ines.Get("/qn/editions?q=tolerance")).Text, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public async Task The_report_agrees_with_the_tax_accounts_and_every_figure_leads_to_its_documents()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/tax/report?from=2026-09&to=2026-11");
        Assert.Contains("Tax entries and tax accounts agree.", vera.Text, StringComparison.Ordinal);
        Assert.Contains(vera.Rows(".tax-report tr"), r => r.StartsWith("Due to EASTMERE-TOWN Town of Eastmere", StringComparison.Ordinal));
        var told = vera.Rows(".tax-report tbody tr").First(r => r.StartsWith("R8", StringComparison.Ordinal)).Split(' ');

        await vera.Get(vera.Page.QuerySelectorAll(".tax-report tbody tr").First(r => r.TextContent.Contains("R8", StringComparison.Ordinal)).QuerySelector("a")!.GetAttribute("href")!);
        Assert.Equal(int.Parse(told[3], System.Globalization.CultureInfo.InvariantCulture), vera.Rows().Length);
        Assert.Contains($"base {told[4]}, tax {told[5]}", vera.Text, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.OK, (await vera.Get(vera.Page.QuerySelector("main tbody a")!.GetAttribute("href")!)).Last.StatusCode);
        Assert.StartsWith("authority,code,component,side,base,tax", System.Text.Encoding.UTF8.GetString(await vera.Download("/qn/tax/report?handler=export&kind=csv")).TrimStart('\uFEFF'), StringComparison.Ordinal);
    }
}

/// <summary>Groups of every family, their members, and the sheet.</summary>
public sealed class GroupPageTests(App app) : IClassFixture<App>
{
    [Fact]
    public async Task A_group_is_renamed_with_all_that_names_it_and_its_former_code_is_never_given_away()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?handler=group&code=COMPOST");
        await ines.Submit("#drawer form", ("NewCode", "SOIL"));
        await ines.Get("/qn/groups/item?handler=group&code=COMPOST");
        ines.Page.QuerySelector("#g-new")!.SetAttribute("value", "SOIL");
        await ines.Press("#drawer button[formaction*=rename]");
        Assert.Contains("SOIL from now on", (await ines.Follow()).Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);

        Assert.Contains(ines.Rows(), r => r.Contains("SOIL", StringComparison.Ordinal));
        Assert.Contains("SOIL", (await ines.Get("/qn/rules/revenue/list")).Text, StringComparison.Ordinal);
        await ines.Get("/qn/groups/item?handler=group");
        await ines.Submit("#drawer form", ("Code", "compost"), ("Name", "Again"));
        Assert.Contains("was once the code of SOIL", ines.Page.QuerySelector("#drawer .fault")!.TextContent, StringComparison.Ordinal);
        // What landed under the former code is still explained.
        var entries = await ines.Get("/qn/journal?account=5050");
        await ines.Get(entries.Page.QuerySelector("main tbody a")!.GetAttribute("href")!);
        await ines.Get(ines.Page.QuerySelectorAll("main tbody tr").First(r => r.TextContent.Contains("5050", StringComparison.Ordinal)).QuerySelector("a.num")!.GetAttribute("href")!);
        Assert.Contains("SOIL · Compost", ines.Page.QuerySelector("#drawer")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_group_in_use_stays_and_says_by_what_and_two_can_become_one()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?handler=group&code=TOOLS");
        await ines.Press("#drawer button[formaction*=delete]");
        Assert.Contains("Item group TOOLS is in use: 9 members", ines.Page.QuerySelector("#drawer .fault")!.TextContent, StringComparison.Ordinal);
        ines.Page.QuerySelectorAll("#g-into option").First(o => o.GetAttribute("value") == "POTS").SetAttribute("selected", "");
        await ines.Press("#drawer button[formaction*=merge]");
        Assert.Contains("TOOLS becomes one with POTS", (await ines.Follow()).Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(ines.Rows(), r => r.StartsWith("TOOL-01", StringComparison.Ordinal));
    }

    [Fact]
    public async Task All_members_that_fit_move_at_once_and_tax_groups_fall_back_to_the_posting_groups()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?q=TREE-&kind=stock");
        var fitting = ines.Rows().Length;
        await ines.Submit("#members", ("everyone", "true"), ("to", "SEEDS"));
        Assert.Contains($"{fitting} members in SEEDS", (await ines.Follow()).Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);

        await ines.Get("/qn/groups/item-tax?q=SEED-01");
        await ines.Submit("#members", ("members", "SEED-01"), ("to", "STANDARD"));
        Assert.Contains("STANDARD own", Assert.Single((await ines.Get("/qn/groups/item-tax?q=SEED-01")).Rows()), StringComparison.Ordinal);
        await ines.Submit("#members", ("members", "SEED-01"), ("to", "posting"));
        Assert.Contains("REDUCED 0.85", Assert.Single((await ines.Get("/qn/groups/item-tax?q=SEED-01")).Rows()), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_group_shows_what_it_lands_on_purpose_by_purpose()
    {
        var vera = await (await Visitor.SignedIn(app, "vera")).Get("/qn/groups/item?group=SEEDS&view=lands");
        Assert.Contains(vera.Rows(), r => r.StartsWith("Revenue 4010 · Sales of seeds 4010 Sales of seeds item group", StringComparison.Ordinal)
            && r.Contains("TRADE → 4015", StringComparison.Ordinal));
        Assert.Contains(vera.Rows(), r => r.StartsWith("Inventory 1320 · Seeds 1320 Seeds item group", StringComparison.Ordinal));
        Assert.Contains((await vera.Get("/qn/groups/party-tax?group=ABROAD&view=lands")).Rows(), r => r.StartsWith("REDUCED Reduced", StringComparison.Ordinal) && r.Contains("no rule", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Locations_projects_tasks_and_asset_groups_have_their_pages()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/location?handler=member");
        await ines.Submit("#drawer form", ("Code", "SOUTH"), ("Name", "South yard"));
        Assert.Contains("SOUTH South yard", Assert.Single((await ines.Follow()).Rows()), StringComparison.Ordinal);
        await ines.Get("/qn/groups/project?handler=member");
        await ines.Submit("#drawer form", ("Code", "P-77"), ("Name", "Show garden"));
        await ines.Get("/qn/groups/project?handler=member");
        await ines.Submit("#drawer form", ("Project", "P-77"), ("Code", "10"), ("Name", "Planting"));
        Assert.Contains("P-77/10 Planting as its project", Assert.Single((await ines.Follow()).Rows()), StringComparison.Ordinal);
        await ines.Get("/qn/groups/asset?handler=group");
        await ines.Submit("#drawer form", ("Code", "VANS"), ("Name", "Vans"));
        await ines.Follow();
        Assert.Contains("Depreciation", (await ines.Get("/qn/groups/asset?group=VANS&view=lands")).Text, StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await ines.Get("/qn/groups/nothing")).Last.StatusCode);
    }

    [Fact]
    public async Task A_members_other_settings_go_into_the_draft()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/party?handler=member&code=C-11");
        await ines.Submit("#drawer form", ("Kind", "both"), ("TaxArea", "EASTMERE"), ("TaxGroup", "ABROAD"));
        Assert.Contains("C-11", (await ines.Get("/qn/editions?q=C-11")).Rows()[0], StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_sheet_brought_back_becomes_moves_and_rules_and_its_refused_cells_say_why()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item/sheet");
        var sheet = System.Text.Encoding.UTF8.GetString(await ines.Download("/qn/groups/item/sheet?handler=take&group=POTS&purpose=revenue&kind=csv"));
        var filled = sheet.Split("\r\n");
        filled[1] = filled[1].Replace(",POTS,", ",sapl,", StringComparison.Ordinal);
        filled[2] = filled[2].Replace(",,4030 · Sales of pots,", ",council contr,4030 · Sales of pots,", StringComparison.Ordinal);
        filled[3] = filled[3].Replace(",,4030 · Sales of pots,", ",cheese,4030 · Sales of pots,", StringComparison.Ordinal);
        await ines.Upload("main form[enctype]", "pots.csv", System.Text.Encoding.UTF8.GetBytes(string.Join("\r\n", filled)));
        await Ended(ines);
        Assert.Contains("POT-09 moves to SAPLINGS.", ines.Text, StringComparison.Ordinal);
        Assert.Contains("Revenue of POT-12 lands on 4220 by a rule of its own.", ines.Text, StringComparison.Ordinal);
        Assert.Contains("“cheese”", Assert.Single(ines.Rows(), r => r.StartsWith("4 POT-18 revenue", StringComparison.Ordinal)), StringComparison.Ordinal);

        await ines.Submit("main form.row-of");
        await Ended(ines);
        Assert.Contains("2 changes of pots.csv are in draft 3", ines.Text, StringComparison.Ordinal);
        var changes = (await ines.Get("/qn/editions")).Text;
        Assert.Contains("POT-09", changes, StringComparison.Ordinal);
        Assert.Contains("POT-12 → 4220", changes, StringComparison.Ordinal);

        static async Task Ended(Visitor visitor)
        {
            var address = visitor.Last.Headers.Location!.OriginalString;
            for (var i = 0; i < 100; i++)
            {
                await visitor.Get(address);
                if (visitor.Page.QuerySelector("progress") is null)
                    return;
                await Task.Delay(100);
            }
            Assert.Fail("The work on the sheet did not end.");
        }
    }
}

/// <summary>The draft and the editions.</summary>
public sealed class EditionPageTests(App app) : IClassFixture<App>
{
    static async Task<Visitor> Changed(App app, string name, string row, string column, string account)
    {
        var visitor = await (await Visitor.SignedIn(app, name)).Get("/qn/rules/revenue?rung=itemGroup%2BpartyGroup");
        var answer = await visitor.Send("/qn/rules/revenue?rung=itemGroup%2BpartyGroup&handler=cells", new[] { new { row, column, text = account, own = (string?)null, seen = (string?)null, typed = true } });
        Assert.Empty(answer.GetProperty("faults").EnumerateArray());
        return visitor;
    }

    [Fact]
    public async Task Some_changes_are_released_with_what_they_need_others_wait_and_one_s_own_want_other_eyes()
    {
        var adam = await (await Visitor.SignedIn(app, "adam")).Get("/qn/companies");
        adam.Page.QuerySelectorAll("main form").First(f => f.InnerHtml.Contains("wanted", StringComparison.Ordinal)).Id = "eyes";
        await adam.Submit("#eyes", ("wanted", "true"));

        var tomas = await Changed(app, "tomas", "POTS", "COUNCIL", "4220");
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/groups/item?handler=group");
        await ines.Submit("#drawer form", ("Code", "BULBS"), ("Name", "Bulbs"), ("TaxGroup", "REDUCED"));
        await Changed(app, "ines", "BULBS", "TRADE", "4010");

        await tomas.Get("/qn/editions");
        await tomas.Submit("#release");
        Assert.Contains("With four eyes", tomas.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
        var rule = tomas.Page.QuerySelectorAll("input[name=chosen]").First(i => i.GetAttribute("aria-label")!.Contains("BULBS × TRADE", StringComparison.Ordinal)).GetAttribute("value")!;
        Assert.Equal(HttpStatusCode.OK, (await tomas.Post("/qn/editions?handler=look", ("chosen", rule))).StatusCode);
        var looked = await (await tomas.Post("/qn/editions?handler=look", ("chosen", rule))).Content.ReadAsStringAsync();
        Assert.Contains("With them, because they need it", looked, StringComparison.Ordinal);
        var stamp = tomas.Page.QuerySelector("#release input[name=stamp]")!.GetAttribute("value")!;
        Assert.Equal(HttpStatusCode.Redirect, (await tomas.Post("/qn/editions", ("draft", "3"), ("stamp", stamp), ("note", "Bulbs"), ("chosen", rule))).StatusCode);

        await tomas.Get("/qn/editions");
        Assert.Contains("Draft 4", tomas.Text, StringComparison.Ordinal);
        Assert.Contains(tomas.Rows("#changes tbody tr"), r => r.Contains("POTS × COUNCIL", StringComparison.Ordinal));
        Assert.DoesNotContain(tomas.Rows("#changes tbody tr"), r => r.Contains("BULBS", StringComparison.Ordinal));
        Assert.Contains((await tomas.Get("/qn/editions/compare?from=2&to=3")).Rows(), r => r.Contains("BULBS × TRADE → 4010", StringComparison.Ordinal));
    }
}

/// <summary>Taking back, and bringing back.</summary>
public sealed class DraftPageTests(App app) : IClassFixture<App>
{
    [Fact]
    public async Task One_change_is_taken_back_all_are_discarded_and_an_earlier_edition_is_brought_back()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/editions");
        Assert.Equal(2, ines.Rows("#changes tbody tr").Length);
        Assert.Single((await ines.Get("/qn/editions?of=revenue")).Rows("#changes tbody tr"));
        await ines.Press("#changes button[name=place]");
        Assert.Contains("Taken back: Rule for revenue", (await ines.Follow()).Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);
        await ines.Submit("details.more form");
        Assert.Contains("is the same as edition 2 again", (await ines.Follow()).Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);
        Assert.Empty(ines.Rows("#changes tbody tr"));

        ines.Page.QuerySelectorAll("main form").First(f => f.QuerySelector("input[name=edition][value='1']") is not null).Id = "back";
        await ines.Submit("#back");
        Assert.Contains("is as edition 1 was", (await ines.Follow()).Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);
        Assert.NotEmpty(ines.Rows("#changes tbody tr"));
        ines.Page.QuerySelectorAll("main form").First(f => f.QuerySelector("input[name=edition][value='1']") is not null).Id = "back";
        await ines.Submit("#back");
        Assert.Contains("has changes of its own", ines.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
        Assert.Contains("what,setting", System.Text.Encoding.UTF8.GetString(await ines.Download("/qn/editions/compare?from=1&to=2&handler=export&kind=csv")), StringComparison.Ordinal);
        Assert.Equal(HttpStatusCode.NotFound, (await ines.Get("/qn/editions/compare?from=1&to=99")).Last.StatusCode);
    }
}
