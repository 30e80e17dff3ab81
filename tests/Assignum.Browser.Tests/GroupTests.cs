using Assignum.Web.Tests;
using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>The landscapers within their group: their chart is matched to the group's, and what the nurseries invoice them lands in both journals.</summary>
public sealed class GroupTests(Browser browser) : IClassFixture<Browser>
{
    void Decide(Action act)
    {
        var before = browser.Find("#board").Text;
        act();
        browser.Until(() => browser.Find("#board").Text != before, "the board after a decision");
    }

    void Pick(string text)
    {
        browser.Press(text);
        browser.Until(() => browser.All("#picks [role=option]").Count > 0, "what fits " + text);
        browser.Press(Keys.Enter);
    }

    void MapByFile(string rows)
    {
        var file = Path.Combine(Directory.CreateTempSubdirectory("mapping").FullName, "mapping.csv");
        File.WriteAllText(file, rows);
        browser.Open("/ql/group");
        browser.Click(".do summary");
        browser.Find("#sheet").SendKeys(file);
        browser.Click(".do form button");
    }

    void Release(string company)
    {
        browser.SignIn("tomas");
        browser.Open($"/{company}/editions");
        browser.Click("#release button.main");
        browser.Sees("is released", ".done");
    }

    [Fact]
    public void The_landscapers_chart_is_matched_within_the_group_and_an_invoice_between_companies_lands_in_both_journals()
    {
        browser.SignIn("ines");
        browser.Open("/ql/group");
        browser.Sees("Goods received, bill to come", ".hand");
        Decide(() => { browser.Press("f"); Pick("G-250"); browser.Press(Keys.Enter); });
        browser.Sees("Wages to be paid", ".hand");
        browser.Press("f");
        Pick("G-230");
        browser.Choose("#rate", "historical");
        Decide(() => browser.Click("#by-hand button"));
        // The rest comes by a file; a row that can't be is named, and nothing of the file is taken.
        MapByFile("account,debit\n241000,G-240\n309000,G-999\n");
        browser.Sees("G-999", "main");
        MapByFile("account,debit,credit,rate\n241000,G-240,,\n309000,G-310,,\n413000,G-410,,\n431000,G-420,,\n522000,G-510,,\n523000,G-520,,\n529000,G-510,,\n611000,G-610,,\n621000,G-620,,\n" +
            "631000,G-630,,\n632000,G-630,,\n701000,G-700,,\n701500,G-700,,\n801000,G-800,,\n801500,G-800,,\n205000,G-250,,\n");
        browser.Until(() => browser.All(".hand").Count == 0, "nothing left");
        browser.Click("a[href*='view=done']");
        browser.Has("[aria-label='Rate, 231000']", "historical");
        browser.Open("/qg/consolidated");
        browser.Sees("Trade receivables", "main");

        browser.SignIn("adam");
        browser.Open("/ql/connections");
        browser.Choose("#partner", "QN");
        browser.Click("#new-partner button");
        browser.Sees("is connected", ".done");
        browser.Click("#fetch button, #reach button");
        browser.Sees("Fetched", ".done");

        browser.SignIn("ines");
        browser.Open("/ql/connections/qn/match/items?hand=TREE-01");
        browser.Sees("Silver birch", ".hand");
        browser.Press("f");
        Pick("P-BIRCH");
        Decide(() => browser.Press(Keys.Enter));
        Release("ql");
        browser.SignIn("ines");

        // Two invoices: one for birches, one for what the landscapers have not matched.
        Invoice("TREE-01", "10", "4");
        Invoice("TREE-02", "5", "6");

        browser.Open("/ql/connections/qn");
        browser.Click("#run button");
        browser.Sees("events came", "main");
        browser.Open("/ql/connections/qn/inbox");
        browser.Sees("posted 1", "main");
        browser.Sees("held 2", "main");
        browser.Sees("TREE-02@qn", "#inbox");
        browser.Click("#inbox a[href*='/journal/']");
        browser.Sees("201900", "main");
        browser.Sees("131000", "main");
        browser.Sees("43.20", "main");

        // Both books say the same of the first, and only one of the second.
        browser.Open("/ql/between?all=true");
        browser.Sees("only at QN", "main");
        browser.Sees("agree", "main");
        Assert.Empty(browser.Complaints());
    }

    void Invoice(string item, string quantity, string price)
    {
        browser.Open("/qn/try-out");
        browser.Type("#party", "QL");
        browser.Type("[name='Lines[0].Sold']", item);
        browser.Type("[name='Lines[0].Quantity']", quantity);
        browser.Type("[name='Lines[0].Price']", price);
        browser.Sees("1130", "#entry");
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
    }

    [Fact]
    public async Task Projects_are_estimated_recognised_and_finished_assets_depreciated_and_late_customers_charged()
    {
        await TypedEvents.Post(browser.Services, "QL",
            """{"id":"U-1","type":"project-usage","date":"2026-09-10","project":"L-1","task":"20","lines":[{"item":"HOUR","quantity":100}]}""",
            """{"id":"U-2","type":"project-usage","date":"2026-09-12","project":"L-2","task":"20","lines":[{"item":"HOUR","quantity":50}]}""",
            """{"id":"I-1","type":"project-invoice","date":"2026-09-15","dueDate":"2026-09-20","party":"K-3","project":"L-2","lines":[{"item":"WORK","price":4000}]}""",
            """{"id":"B-1","type":"purchase-invoice","date":"2026-09-01","party":"Y-5","lines":[{"asset":"DIG-1","price":31200,"taxCode":"S20"}]}""");

        browser.SignIn("ines");
        browser.Open("/ql/projects/L-1");
        browser.Type("#e-from", "2026-09-01");
        browser.Type("#e-cost", "31000");
        browser.Type("#e-revenue", "40000");
        browser.Click("#estimate button");
        browser.Sees("31,000.00", "#estimates");
        browser.Open("/ql/projects/L-2");
        browser.Type("#day", "2026-09-28");
        browser.Click(".do form button");
        browser.Sees("was finished on 2026-09-28", ".done");

        // A tenth of the cost, a tenth of the revenue; and of the finished one all of both.
        browser.Open("/ql/recognition?on=2026-09-30");
        browser.Sees("10 %", "main");
        browser.Click(".do button.main");
        browser.Sees("2 recognitions posted", ".done");
        browser.Sees("4,000.00", "main");
        browser.Open("/ql/recognition?on=2026-09-30");
        Assert.Empty(browser.All(".do button.main:enabled"));

        browser.Open("/ql/depreciation?on=2026-09-30");
        browser.Sees("350.00", "main");
        browser.Click(".do button.main");
        browser.Sees("1 asset depreciated", ".done");
        browser.Open("/ql/assets?on=2026-09-30");
        browser.Sees("The register equals its control accounts", "main");

        browser.Open("/ql/terms");
        browser.Type("input[aria-label='Days, CLIENTS']", "30");
        browser.Type("input[aria-label='Interest, CLIENTS']", "10");
        browser.Type("input[aria-label='Reminder, CLIENTS']", "5");
        browser.Press(Keys.Enter);
        browser.Sees("CLIENTS", ".done");
        browser.Open("/ql/late-charges?on=2026-10-20");
        // 4,800 for thirty days at ten per cent of 365.
        browser.Sees("39.45", "main");
        browser.Click(".do button.main");
        browser.Sees("charged", ".done");
        browser.Open("/ql/late-charges?on=2026-10-20");
        Assert.Empty(browser.All(".do button.main:enabled"));
        Assert.Empty(browser.Complaints());
    }

    // Of a document that is open: who it is with, what of, and for how much.
    void Line(string party, string sold, string price)
    {
        browser.Type("#party", party + Keys.Tab);
        browser.Type("[name='Lines[0].Sold']", sold + Keys.Tab);
        browser.Type("[name='Lines[0].Price']", price);
    }

    void PostIt()
    {
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
    }

    [Fact]
    public void An_asset_is_added_bought_transferred_sold_and_written_off_from_its_register()
    {
        browser.SignIn("ines");
        browser.Open("/ql/assets");
        browser.Click(".do a[href$='groups/asset']");
        browser.Click(".do a[hx-get*='handler=member']");
        browser.Type("#drawer [name=Code]", "MIX-1");
        browser.Type("#drawer [name=Name]", "Concrete mixer");
        browser.Choose("#drawer [name=Kind]", "straight-line");
        browser.Choose("#drawer [name=Group]", "MACHINES");
        browser.Type("#drawer [name=LifeMonths]", "24");
        browser.Press(Keys.Enter);
        browser.Sees("MIX-1", ".done");

        browser.Open("/ql/assets");
        browser.Click(".do a[href*='purchase-invoice']");
        Line("Y-5", "MIX-1", "4800");
        browser.Sees("161000", "#entry");
        PostIt();
        browser.Open("/ql/assets");
        browser.Sees("4,800.00", "#assets");
        browser.Sees("The register equals its control accounts", "main");

        // A part of it goes to another, by a form that begins with how it stands.
        browser.Open("/ql/assets/MIX-1");
        browser.Click(".do a[href*='asset-transfer']");
        browser.Until(() => browser.Find("[name=from]").GetAttribute("value")!.StartsWith("MIX-1", StringComparison.Ordinal), "the asset, named");
        browser.Has("[name=cost]", "4800.00");
        browser.Type("[name=cost]", "800");
        browser.Type("[name=to]", "SAW-1" + Keys.Tab);
        browser.Sees("800.00", "#entry");
        PostIt();

        browser.Open("/ql/assets");
        browser.Click(".do a[href*='sales-invoice']");
        Line("K-1", "SAW-1", "500");
        browser.Sees("500.00", "#entry");
        PostIt();

        browser.Open("/ql/assets/MIX-1");
        browser.Click(".do a[href*='asset-disposal']");
        browser.Has("[name=cost]", "4000.00");
        browser.Sees("4,000.00", "#entry");
        PostIt();
        browser.Open("/ql/assets");
        browser.Sees("gone", "#assets");
        browser.Sees("The register equals its control accounts", "main");
        browser.Open("/ql/assets/MIX-1");
        Assert.Equal(3, browser.All("#moves tbody tr").Count);
        Assert.Empty(browser.Complaints());
    }

    [Fact]
    public void A_project_is_added_used_billed_and_its_figures_lead_to_the_entries_behind_them()
    {
        browser.SignIn("ines");
        browser.Open("/ql/projects");
        browser.Click(".do a[href$='groups/project']");
        browser.Click(".do a[hx-get*='handler=member']");
        browser.Type("#drawer [name=Code]", "L-9");
        browser.Type("#drawer [name=Name]", "Orchard wall, Hollin House");
        browser.Choose("#drawer [name=Group]", "BUILD");
        browser.Choose("#drawer [name=Kind]", "percentage-of-completion");
        browser.Click("#drawer button.main");
        browser.Sees("L-9", ".done");

        browser.Open("/ql/projects/L-9");
        browser.Click(".empty a[href*='project-usage']");
        browser.Type("[name=project]", "L-9" + Keys.Tab);
        browser.Type("[name='Lines[0].item']", "HOUR" + Keys.Tab);
        browser.Type("[name='Lines[0].quantity']", "12");
        browser.Sees("372.00", "#entry");
        PostIt();
        browser.Open("/ql/try-out?type=project-invoice");
        browser.Type("[name=Project]", "L-9" + Keys.Tab);
        Line("K-1", "WORK", "900");
        browser.Sees("900.00", "#entry");
        PostIt();

        browser.Open("/ql/projects");
        browser.Type("main [name=q]", "orchard" + Keys.Enter);
        browser.Until(() => browser.All("#projects a.link").Count == 1, "one project");
        browser.Sees("372.00", "#projects");
        browser.Click("#projects a.link");
        browser.Sees("900.00", "#figures");
        browser.Click("a[href*='figure=project-billed']");
        browser.Sees("900.00", "#behind .sum");
        browser.Click("#behind tbody a.link");
        browser.Sees("K-1", "main");
        Assert.Empty(browser.Complaints());
    }

    [Fact]
    public void A_group_chart_is_matched_by_keys_one_by_one_with_a_way_back_and_a_figure_leads_to_its_accounts()
    {
        browser.SignIn("ines");
        var known = File.ReadAllLines(Path.Combine(AppContext.BaseDirectory, "demo", "ql", "group.csv"));
        MapByFile("account,debit\n" + string.Concat(known.Skip(1).Select(row => row.Split(',')[0] + ",\n")));
        browser.Until(() => browser.All("[data-key=g]").Count == 1, "good suggestions");
        var (first, before) = (browser.Find(".hand h2").Text, Matched());
        Decide(() => { browser.Press("f"); Pick("G-250"); browser.Press(Keys.Enter); });
        browser.Sees("went to G-250", "#back");
        Decide(() => browser.Press("b"));
        browser.Until(() => browser.Find(".hand h2").Text == first, "the account back in hand");

        // Good suggestions are looked at together, and one of them is left out.
        browser.Press("g");
        browser.Sees("Leave out what is not right", "#good");
        var good = browser.All("#good [name=accounts]").Count;
        browser.Click("#good [name=accounts]");
        Decide(() => browser.Click("#good button.main"));
        browser.Until(() => Matched() == before + good - 1, "all but one of them");
        MapByFile(string.Join('\n', known));
        browser.Until(() => browser.All("#board p.fault").Count == 0, "the mapping as it was");

        browser.Open("/qg/consolidated");
        browser.Click("#consolidated a[hx-get]");
        browser.Find("#drawer table, #trail table");
        Assert.Empty(browser.Complaints());

        int Matched() => int.Parse(browser.Find("#board a[href$='view=done']").Text.Split(' ')[^1], System.Globalization.CultureInfo.InvariantCulture);
    }
}
