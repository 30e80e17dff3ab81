using System.Globalization;
using System.Net;
using System.Text;
using Assignum.Formats.Sheets;
using Assignum.Testing;

namespace Assignum.Web.Tests;

/// <summary>The chart over HTTP, without scripts.</summary>
public sealed class ChartPageTests(App app) : IClassFixture<App>
{
    async Task<Visitor> At(string path, string name = "ines") => await (await Visitor.SignedIn(app, name)).Get("/qn/" + path);

    [Fact]
    public async Task The_chart_is_a_tree_with_computed_totals()
    {
        var visitor = await At("chart");
        var rows = visitor.Rows();

        Assert.True(rows.Length >= 149);
        Assert.True(decimal.Parse(rows[0].Split(' ')[^1], CultureInfo.InvariantCulture) > 0);
        // What fits stands under its headings.
        await visitor.Get("/qn/chart?q=trade+SEEDS%2C");
        Assert.Equal(["4", "40", "4015"], visitor.Page.QuerySelectorAll("main tbody td:first-child").Select(n => n.TextContent.Trim()));
        Assert.All((await visitor.Get("/qn/chart?view=control")).Rows(), r => Assert.DoesNotContain("Wages", r, StringComparison.Ordinal));
        Assert.Contains("No account fits “zzz”", (await visitor.Get("/qn/chart?q=zzz")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_heading_closes_and_hides_what_stands_below_it()
    {
        var visitor = await At("chart?turned=62");

        Assert.DoesNotContain(visitor.Rows(), r => r.Contains("6210", StringComparison.Ordinal));
        Assert.Contains(visitor.Rows(), r => r.Contains("62 Selling", StringComparison.Ordinal) && r.Contains("below", StringComparison.Ordinal));
        Assert.Equal(8, (await visitor.Get("/qn/chart?all=closed")).Rows().Length);
    }

    [Fact]
    public async Task Every_view_answers_and_a_contra_account_on_its_own_side_is_not_on_the_wrong_one()
    {
        var visitor = await At("chart");
        foreach (var view in new[] { "used", "control", "untaxed", "unposted", "inactive", "wrong" })
            Assert.Equal((view, HttpStatusCode.OK), (view, (await visitor.Get("/qn/chart?view=" + view)).Last.StatusCode));
        Assert.DoesNotContain((await visitor.Get("/qn/chart?view=wrong")).Rows(), r => r.Contains("4310", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Columns_are_chosen_and_remembered_and_a_heading_sorts()
    {
        var visitor = await At("chart?cols=&cols=group&cols=balance&sort=-balance");
        Assert.Equal(["Number", "Name", "Group account", "Balance"], visitor.Page.QuerySelectorAll("main th").Select(h => h.TextContent.Trim()));
        var balances = visitor.Page.QuerySelectorAll("td.col-balance .num").Select(n => decimal.Parse(n.TextContent.Replace('−', '-'), CultureInfo.InvariantCulture)).ToList();
        Assert.Equal(balances.OrderDescending(), balances);

        Assert.Equal(4, (await visitor.Get("/qn/chart")).Page.QuerySelectorAll("main th").Length);
        await visitor.Get("/qn/chart?cols=&cols=class&cols=tax&cols=control&cols=used&cols=trend&cols=movement&cols=balance");
    }

    [Fact]
    public async Task A_span_of_periods_bounds_the_movement()
    {
        var visitor = await At("chart");
        var months = visitor.Page.QuerySelectorAll("#from option").ToDictionary(o => o.TextContent, o => o.GetAttribute("value"));
        await visitor.Get($"/qn/chart?from={months["January 2025"]}&to={months["December 2025"]}");

        Assert.Empty(visitor.Page.QuerySelectorAll("td.col-movement .num"));
    }

    [Theory]
    [InlineData("csv")]
    [InlineData("xlsx")]
    public async Task What_is_shown_is_exported_and_can_be_brought_back(string kind)
    {
        var visitor = await At("chart");
        var rows = SheetFile.Read(await visitor.Download($"/qn/chart?handler=export&as={kind}&view=control")).Sheets[0].Rows;

        Assert.Equal(["number", "name", "class", "kind", "parent"], rows[0].Cells.Take(5));
        Assert.Contains(rows, r => r[0] == "1100" && r[6] == "receivables");
        Assert.DoesNotContain(rows, r => r[0] == "6010");
    }

    [Fact]
    public async Task A_number_is_answered_while_it_is_typed()
    {
        var visitor = await At("chart/account/-?handler=number&Number=6220&Parent=62&Beside=6210");
        Assert.Contains("6220 is taken by Packing material.", visitor.Text, StringComparison.Ordinal);
        Assert.Equal("6215", visitor.Page.QuerySelector("[data-number]")!.TextContent);

        Assert.Contains("outside 6200 to 6299", (await visitor.Get("/qn/chart/account/-?handler=number&Number=6711&Parent=62&Class=expense")).Text, StringComparison.Ordinal);
        Assert.Contains("6216 is free. It stands under 62 Selling. Expenses: lowers net profit, not gross profit.", (await visitor.Get("/qn/chart/account/-?handler=number&Number=6216&Parent=62&Class=expense")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_account_is_added_beside_another_and_faults_stand_beside_their_fields()
    {
        var visitor = await At("chart?handler=new&beside=6210");
        await visitor.Submit("form.account", ("Number", "6220"), ("Name", "Parking at markets"));
        Assert.Contains("6225", visitor.Page.QuerySelector(".field:has(#acc-number) .fault")!.TextContent, StringComparison.Ordinal);

        await visitor.Submit("form.account", ("Number", "6215"), ("Name", "Parking at markets"));
        await visitor.Follow();
        Assert.Contains("6215 Parking at markets is in draft", visitor.Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(visitor.Rows(), r => r.StartsWith("6215", StringComparison.Ordinal));
    }

    [Fact]
    public async Task One_account_for_each_chosen_tax_code_is_added_in_one_act()
    {
        var visitor = await At("chart?handler=new&below=42");
        await visitor.Submit("form.account", ("Number", "4260"), ("Name", "Hire of tools"), ("EachTaxCode", "S20"), ("EachTaxCode", "R8"));
        await visitor.Follow();

        Assert.Contains("2 accounts in draft", visitor.Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(visitor.Rows(), r => r.StartsWith("4261 Hire of tools", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_copy_has_all_settings_of_its_model_and_a_free_number()
    {
        var visitor = await At("chart?handler=new&like=1120");

        Assert.Equal("receivables", ((AngleSharp.Html.Dom.IHtmlSelectElement)visitor.Page.QuerySelector("#acc-control")!).Value);
        Assert.Contains("framework contract", visitor.Page.QuerySelector("#acc-text")!.TextContent, StringComparison.Ordinal);
        Assert.Equal("1125", visitor.Page.QuerySelector("#acc-number")!.GetAttribute("value"));
    }

    [Fact]
    public async Task The_panel_shows_use_last_lines_notes_and_changes()
    {
        var visitor = await At("chart/account/1120");
        await visitor.Submit("form.note", ("note", "Councils pay in May."));
        await visitor.Follow();
        var text = visitor.Text;

        Assert.Contains("Councils pay in May.", text, StringComparison.Ordinal);
        Assert.Contains("Receivable, Councils", text, StringComparison.Ordinal);
        Assert.Contains("entry", text, StringComparison.Ordinal);
        Assert.Contains("short name Councils given", text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_stale_save_changes_nothing_and_shows_both_versions()
    {
        var first = await At("chart?handler=account&number=6390");
        var second = await At("chart?handler=account&number=6390", "tomas");
        await first.Submit("form.account", ("Name", "Travel and meals"));
        await second.Submit("form.account", ("Name", "Trips"));

        Assert.Contains("Somebody else has changed", second.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
        Assert.Contains(second.Rows("main table.flat tbody tr"), r => r == "Name Travel and meals Trips");
        Assert.Contains((await first.Get("/qn/chart")).Rows(), r => r.Contains("Travel and meals", StringComparison.Ordinal));
    }

    [Fact]
    public async Task An_account_rules_answer_with_is_made_inactive_with_a_replacement()
    {
        var visitor = await At("chart/account/4040");
        await visitor.Submit("form.account", ("Active", null));
        Assert.Contains("still answer", visitor.Page.QuerySelector(".replace")!.TextContent, StringComparison.Ordinal);
        await visitor.Submit("form.account", ("Active", null), ("Replacement", "4030"));
        await visitor.Follow();

        Assert.Contains(visitor.Rows(), r => r.StartsWith("4040", StringComparison.Ordinal) && r.Contains("inactive", StringComparison.Ordinal));
        Assert.DoesNotContain((await visitor.Get("/qn/chart?view=used")).Rows(), r => r.StartsWith("4040", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Deleting_says_what_stands_against_it()
    {
        var visitor = await (await At("chart/account/1100")).Press("button.defect");

        Assert.Contains("1100 Trade receivables can't be deleted", visitor.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_merge_shows_what_will_happen_and_does_it()
    {
        var visitor = await At("chart/merge?from=4015&to=4010");
        Assert.Contains("will answer with 4010", visitor.Text, StringComparison.Ordinal);
        await visitor.Submit("form.plan", ("day", "2026-11-30"));
        await visitor.Follow();
        Assert.Contains("4015 Sales of seeds, trade is merged into 4010", visitor.Page.QuerySelector(".done")!.TextContent, StringComparison.Ordinal);

        Assert.Contains("Nothing stands on 4015", (await visitor.Get("/qn/chart/merge?from=4015&to=4010")).Text, StringComparison.Ordinal);
        await visitor.Get("/qn/journal?account=4015");
        await visitor.Get(visitor.Page.QuerySelector("main tbody a")!.GetAttribute("href")!);
        Assert.Contains("Reclassification", visitor.Text, StringComparison.Ordinal);
        await visitor.Get(visitor.Page.QuerySelector("td .num[href]")!.GetAttribute("href")!);
        Assert.Contains("The line was given with the entry.", visitor.Page.QuerySelector("#drawer")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_plan_shows_the_new_numbers_before_anything_is_renumbered()
    {
        var visitor = await (await Visitor.SignedIn(app, "ines")).Get("/ql/chart/numbering");
        await visitor.Submit("form.plan", ("Pattern", "##.##.##"));
        Assert.Contains("would be renumbered", visitor.Text, StringComparison.Ordinal);
        Assert.Contains((await visitor.Get("/ql/chart")).Rows(), r => r.StartsWith("101000", StringComparison.Ordinal));

        await visitor.Get("/ql/chart/numbering");
        await visitor.Submit("form.plan", ("Pattern", "##.##.##"));
        await visitor.Press("button[formaction]");
        await visitor.Get("/ql/chart");
        Assert.Contains(visitor.Rows(), r => r.StartsWith("10.10.00 Bank of the office", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Dimensions_are_defined_and_offered_on_the_account()
    {
        var visitor = await At("chart/dimensions");
        await visitor.Submit("main form:not([action*=emove])", ("code", "SITE"), ("name", "Site"), ("values", "N North\nS South"));
        await visitor.Follow();
        Assert.Contains(visitor.Rows(), r => r.StartsWith("SITE Site N, S", StringComparison.Ordinal));
        Assert.NotNull((await visitor.Get("/qn/chart/account/6310")).Page.QuerySelector("[name='Needs[SITE]']"));
    }
}

/// <summary>Starting a chart and importing one.</summary>
public sealed class ChartStartTests(App app) : IClassFixture<App>
{
    static int opened;

    async Task<(Visitor Ines, string Company)> NewCompany()
    {
        var code = "QT" + Interlocked.Increment(ref opened);
        var adam = await (await Visitor.SignedIn(app, "adam")).Get("/qn/companies");
        await adam.Submit("form[action*=Open]", ("code", code), ("name", "Quillmoss Trials"), ("currency", "EUR"), ("starts", "2026-01-01"));
        await adam.Follow();
        await adam.Submit("form[action*=Grant]", ("person", "ines"), ("role", "preparer"));
        return (await Visitor.SignedIn(app, "ines"), code.ToLowerInvariant());
    }

    [Fact]
    public async Task A_company_is_refused_with_a_code_that_is_taken()
    {
        var adam = await (await Visitor.SignedIn(app, "adam")).Get("/qn/companies");
        await adam.Submit("form[action*=Open]", ("code", "qn"), ("name", "Again"));

        Assert.Contains("QN is Quillmoss Nurseries already", adam.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task An_empty_chart_offers_the_ways_to_start_and_a_template_fills_it()
    {
        var (ines, company) = await NewCompany();
        await ines.Get($"/{company}/chart");
        await ines.Follow();
        Assert.Contains("Growing and building", ines.Text, StringComparison.Ordinal);
        await ines.Submit("form[action*=Template]:has([value=services])");
        await ines.Follow();

        Assert.Contains("Services", ines.Page.QuerySelector(".done")!.TextContent, StringComparison.OrdinalIgnoreCase);
        Assert.Contains(ines.Rows(), r => r.StartsWith("4110 Fees", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Another_company_s_chart_is_copied()
    {
        var (ines, company) = await NewCompany();
        await ines.Get($"/{company}/chart/start");
        await ines.Submit("form[action*=Company]:has([value=QG])");
        await ines.Follow();

        Assert.Contains(ines.Rows(), r => r.StartsWith("G-100 Cash and banks", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_messy_chart_of_1700_rows_is_understood_and_taken_in_and_its_refused_rows_come_back()
    {
        var (ines, company) = await NewCompany();
        await ines.Get($"/{company}/chart/import");
        await ines.Upload("main form", "alt.csv", MessyChart.Csv());
        await ines.Follow();
        Assert.Contains("Windows-1252, separated by semicolons. Headings in line 5.", ines.Text, StringComparison.Ordinal);
        Assert.Contains(ines.Rows(), r => r.Contains("neither in the file nor in the chart", StringComparison.Ordinal));
        var file = ines.Page.QuerySelector("input[name=file]")!.GetAttribute("value");
        Assert.Equal(MessyChart.Refused + 1, SheetFile.Read(await ines.Download($"/{company}/chart/import?handler=refused&file={file}")).Sheets[0].Rows.Count);

        await ines.Press("button.main[formaction*=take]");
        await ines.Follow();
        for (; ines.Page.QuerySelector("progress") is not null; await ines.Get(ines.Last.RequestMessage!.RequestUri!.PathAndQuery))
            await Task.Delay(100);
        Assert.Equal([$"New {MessyChart.Sound:N0}", "Changed 0", "Unchanged 0", "Refused 3 The refused rows with their reasons"], ines.Rows("main .counts tr"));
        var kept = SheetFile.Read(await ines.Download(ines.Page.QuerySelector(".counts a")!.GetAttribute("href")!)).Sheets[0].Rows;
        Assert.Equal("refused because", kept[0].Cells[^1]);

        await ines.Get($"/{company}/chart/import");
        await ines.Upload("main form", "alt again.csv", MessyChart.Csv());
        await ines.Follow();
        Assert.Contains("Read as the last file with these headings.", ines.Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_code_nobody_understands_is_mapped_beside_a_guide()
    {
        var (ines, company) = await NewCompany();
        await ines.Get($"/{company}/chart/import");
        await ines.Upload("main form", "codes.csv", Encoding.UTF8.GetBytes("Konto;Bezeichnung;Kontoart\n8000;Was auch immer;08\n1000;Kasse;Aktiv\n"));
        await ines.Follow();
        Assert.Contains("1 of 2 codes are not understood yet", ines.Text, StringComparison.Ordinal);
        Assert.Contains("lowers net profit, not gross profit", ines.Page.QuerySelector(".guide")!.TextContent, StringComparison.Ordinal);
        var file = ines.Page.QuerySelector("input[name=file]")!.GetAttribute("value");
        await ines.Get($"/{company}/chart/import?file={file}&header=1&header-was=1&placing=number&f.0=number&f.1=name&f.2=class&class.08=expense&class.Aktiv=asset");

        Assert.Contains("Import 2 accounts", ines.Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Rows_are_pasted_with_number_and_name_only_and_find_their_place()
    {
        var ines = await (await Visitor.SignedIn(app, "ines")).Get("/qn/chart/import?paste=yes");
        await ines.Submit("main form", ("rows", "6281\tParking at fairs\n6282\tTolls and ferries\n6283\tHire of trailers\n"));
        await ines.Follow();

        Assert.Contains(ines.Rows("main > form > table:last-of-type tbody tr"), r => r.StartsWith("1 6281 Parking at fairs expense posting 62 new", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Without_a_column_for_the_name_nothing_is_taken_in()
    {
        var (ines, company) = await NewCompany();
        await ines.Get($"/{company}/chart/import");
        await ines.Upload("main form", "odd.csv", Encoding.UTF8.GetBytes("Konto;Kontoart\n1000;Aktiv\n1200;Aktiv\n"));
        await ines.Follow();

        Assert.Contains("No column gives the name", ines.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
        Assert.Null(ines.Page.QuerySelector("button[formaction*=take]"));
    }

    public static TheoryData<string, int, string> Refused => new() { { "empty", 0, "empty" }, { "junk", 1000, "not text" }, { "large", 50 << 20, "50 MB" } };

    [Theory]
    [MemberData(nameof(Refused))]
    public async Task A_file_that_is_no_chart_is_refused_and_changes_nothing(string what, int size, string why)
    {
        var junk = new byte[size];
        new Random(7).NextBytes(junk);
        var visitor = await (await (await Visitor.SignedIn(app, "ines")).Get("/qn/chart/import")).Upload("main form", what + ".csv", junk);

        if (visitor.Last.StatusCode == HttpStatusCode.Redirect)
            await visitor.Follow();
        Assert.Contains(why, visitor.Page.QuerySelector(".fault")!.TextContent, StringComparison.Ordinal);
    }
}
