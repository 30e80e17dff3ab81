using System.Net;
using System.Text;

namespace Assignum.Web.Tests;

/// <summary>Smaller promises of the chart's pages.</summary>
public sealed class ChartDetailTests(App app) : IClassFixture<App>
{
    async Task<Visitor> At(string path, string name = "ines") => await (await Visitor.SignedIn(app, name)).Get("/qn/" + path);

    [Theory]
    [InlineData("chart/import")]
    [InlineData("chart/start")]
    [InlineData("chart/merge?from=4015")]
    public async Task A_viewer_brings_nothing_in_and_merges_nothing(string path) => Assert.Equal(HttpStatusCode.Forbidden, (await At(path, "vera")).Last.StatusCode);

    [Theory]
    [InlineData("chart/account/4010")]
    [InlineData("chart/numbering")]
    [InlineData("chart/dimensions")]
    public async Task A_viewer_reads_and_finds_nothing_to_press(string path)
    {
        var vera = await At(path, "vera");

        Assert.Equal(HttpStatusCode.OK, vera.Last.StatusCode);
        Assert.Empty(vera.Page.QuerySelectorAll("main button[type=submit]"));
    }

    [Fact]
    public async Task Only_who_has_a_role_in_several_companies_is_offered_to_change_between_them()
    {
        var ines = await At("chart");

        Assert.Equal(["Quillmoss Group", "Quillmoss Landscapes"], ines.Page.QuerySelectorAll("details.company a").Select(a => a.TextContent));
        Assert.Equal("/ql/desk", ines.Page.QuerySelectorAll("details.company a")[1].GetAttribute("href"));
    }

    [Fact]
    public async Task A_short_name_finds_its_account()
    {
        var visitor = await At("chart?q=unbilled+receipts");

        Assert.Contains(visitor.Rows(), r => r.StartsWith("2050", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Accounts_of_the_group_s_chart_count_what_is_matched_to_them_and_name_it()
    {
        var visitor = await (await Visitor.SignedIn(app, "ines")).Get("/qg/chart/account/G-400");
        Assert.Contains("4010 Sales of seeds", visitor.Text, StringComparison.Ordinal);

        await visitor.Get("/qg/chart?view=used");
        Assert.Contains(visitor.Rows(), r => r.StartsWith("G-400", StringComparison.Ordinal));
    }

    [Fact]
    public async Task An_account_that_is_not_there_is_not_found() => Assert.Equal(HttpStatusCode.NotFound, (await At("chart/account/9999")).Last.StatusCode);

    [Fact]
    public async Task A_merge_into_another_control_is_refused_before_anything_is_asked()
    {
        var visitor = await At("chart/merge?from=1100&to=4010");

        Assert.Contains("ledger and subledger would differ", visitor.Text, StringComparison.Ordinal);
        Assert.Null(visitor.Page.QuerySelector("form.plan"));
        Assert.Contains("fits several", (await visitor.Get("/qn/chart/merge?from=1100&to=sales+of")).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_plan_s_faults_stand_beside_their_ranges()
    {
        var visitor = await At("chart/numbering");
        await visitor.Submit("form.plan", ("From[asset]", "1999"), ("To[asset]", "1000"));

        Assert.Equal(HttpStatusCode.BadRequest, visitor.Last.StatusCode);
        Assert.Contains("1999 comes after 1000", visitor.Page.QuerySelector("form.plan .fault")!.TextContent, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Fields_of_the_panel_that_can_t_be_read_are_named_and_nothing_is_saved()
    {
        foreach (var (field, value, why) in new[] { ("Reporting", "no colon", "colon between them"), ("Activity", "flying", "no activity flying"), ("GroupAccount", "zzz", "no group account"), ("Currencies", "EURO", "no ISO 4217 code"), ("Parent", "zzz", "no account with") })
        {
            var visitor = await At("chart/account/6320");
            await visitor.Submit("form.account", (field, value));
            Assert.Contains(why, visitor.Page.QuerySelector("form.account .fault")!.TextContent, StringComparison.Ordinal);
        }
        Assert.DoesNotContain("EURO", (await At("chart/account/6320")).Page.QuerySelector("#acc-currencies")!.GetAttribute("value")!, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Refused_rows_let_nothing_in_where_that_was_chosen()
    {
        var visitor = await At("chart/import");
        await visitor.Upload("main form", "two.csv", Encoding.UTF8.GetBytes("number;name;class\n6391;Tolls;expense\n6392;;expense\n"));
        await visitor.Follow();
        var file = visitor.Page.QuerySelector("input[name=file]")!.GetAttribute("value");
        await visitor.Get($"/qn/chart/import?file={file}&whole=true&header=1&header-was=1&placing=number&f.0=number&f.1=name&f.2=class");
        Assert.Contains("nothing is imported until none is", visitor.Text, StringComparison.Ordinal);
        Assert.NotNull(visitor.Page.QuerySelector("button.main[disabled]"));

        await visitor.Get($"/qn/chart/import?file={file}&show=refused&header=1&header-was=1&placing=number&f.0=number&f.1=name&f.2=class");
        Assert.Equal("3 6392", string.Join(' ', Assert.Single(visitor.Rows("#mapped > table tbody tr")).Split(' ').Take(2)));
    }

    [Fact]
    public async Task A_file_of_somebody_else_is_not_shown()
    {
        var ines = await At("chart/import");
        await ines.Upload("main form", "mine.csv", Encoding.UTF8.GetBytes("number;name\n6391;Tolls\n"));
        await ines.Follow();
        var address = ines.Last.RequestMessage!.RequestUri!.PathAndQuery;

        Assert.Contains("Tolls", ines.Text, StringComparison.Ordinal);
        Assert.Contains("no longer kept here", (await (await Visitor.SignedIn(app, "tomas")).Get(address)).Text, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("csv")]
    [InlineData("xlsx")]
    public async Task The_file_to_be_filled_in_is_there_to_take(string kind)
    {
        var rows = Formats.Sheets.SheetFile.Read(await (await At("chart/import")).Download("/qn/chart/import?handler=template&as=" + kind)).Sheets[0].Rows;

        Assert.Equal(["number", "name", "class"], rows[0].Cells.Take(3));
    }

    [Fact]
    public async Task Dimensions_of_document_and_line_go_with_the_entry_into_the_journal()
    {
        var ines = await At("try-out?party=C-10&item=SEED-01");
        await ines.Submit("#try", ("Dimensions", "CC 300"), ("Lines[0].Price", "2.5"));
        Assert.Contains("names no dimension with a value", ines.Text, StringComparison.Ordinal);
        await ines.Submit("#try", ("Dimensions", "CC=300"), ("Lines[0].Dimensions", "CC=400"), ("Lines[0].Price", "2.5"));
        await ines.Follow();

        Assert.Contains(ines.Rows(), r => r.Contains("revenue", StringComparison.Ordinal) && r.Contains("CC=400", StringComparison.Ordinal));
        Assert.Contains(ines.Rows(), r => r.Contains("receivable", StringComparison.Ordinal) && r.Contains("CC=300", StringComparison.Ordinal));
    }

    [Fact]
    public async Task A_required_dimension_that_is_missing_holds_the_invoice_and_names_it()
    {
        var ines = await At("try-out?party=C-10&item=6010");
        await ines.Submit("#try", ("Lines[0].Price", "5"));

        Assert.Contains("requires dimension CC", ines.Text, StringComparison.Ordinal);
    }
}
