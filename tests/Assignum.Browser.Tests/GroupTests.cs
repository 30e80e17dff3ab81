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
}
