namespace Assignum.Browser.Tests;

/// <summary>A screen, looked at by an accessibility checker and by the browser's own console.</summary>
static class Screen
{
    internal static void Check(Browser browser, string name, string path)
    {
        browser.SignIn(name);
        browser.Open(path);
        browser.Run(File.ReadAllText(System.IO.Path.Combine(AppContext.BaseDirectory, "axe.min.js")));
        var broken = (string)browser.Run("""
            return axe.run({ runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"] }).then(r => r.violations.map(v => v.id + ": " + v.nodes.slice(0, 3).map(n => n.html).join(" | ")).join("\n"));
            """)!;

        Assert.Equal("", broken);
        // Nothing of how a page is written is to be read on it.
        Assert.DoesNotContain("else {", browser.Find("main").Text, StringComparison.Ordinal);
        Assert.True((bool)browser.Run("return document.documentElement.scrollWidth <= window.innerWidth && document.querySelector('main').scrollWidth <= document.querySelector('main').clientWidth")!);
        Assert.Empty(browser.Complaints());
    }
}

/// <summary>Every main screen of the settings.</summary>
public sealed class SettingScreensTests(Browser browser) : IClassFixture<Browser>
{
    [Theory]
    [InlineData("ines", "/qn/chart")]
    [InlineData("ines", "/qn/chart?handler=account&number=4010")]
    [InlineData("ines", "/qn/chart/account/4010")]
    [InlineData("ines", "/qn/chart?handler=new&beside=6210")]
    [InlineData("ines", "/qn/chart/import")]
    [InlineData("ines", "/qn/chart/import?paste=yes")]
    [InlineData("ines", "/qn/chart/start?template=trading")]
    [InlineData("ines", "/qn/chart/numbering")]
    [InlineData("ines", "/qn/chart/dimensions")]
    [InlineData("ines", "/qn/chart/merge?from=4020&to=4010")]
    [InlineData("adam", "/qn/companies")]
    [InlineData("ines", "/qn/groups/item?group=SEEDS")]
    [InlineData("ines", "/qn/groups/item?group=SEEDS&view=lands")]
    [InlineData("ines", "/qn/groups/item?handler=group&code=SEEDS")]
    [InlineData("ines", "/qn/groups/party?handler=member&code=C-10")]
    [InlineData("ines", "/qn/groups/item/sheet")]
    [InlineData("ines", "/qn/tax")]
    [InlineData("ines", "/qn/tax?handler=cell&row=HOME&column=STANDARD")]
    [InlineData("ines", "/qn/tax/codes?handler=code&code=DIST")]
    [InlineData("ines", "/qn/tax/codes?handler=options")]
    [InlineData("ines", "/qn/rules/revenue")]
    [InlineData("ines", "/qn/rules/revenue?handler=cell&row=SEEDS&column=TRADE")]
    [InlineData("ines", "/qn/rules/revenue/list")]
    [InlineData("ines", "/qn/rules/revenue/gaps")]
    [InlineData("ines", "/qn/rules/revenue/ladder?r=itemGroup&r=itemGroup%2BpartyGroup&r=item&r=default")]
    [InlineData("ines", "/qn/rules/sales-return/copy?from=purpose&of=revenue")]
    [InlineData("ines", "/qn/where?q=retail+seeds+shop")]
    [InlineData("vera", "/qn/map?month=2026-10")]
    [InlineData("tomas", "/qn/editions/compare?from=1&to=2")]
    [InlineData("ines", "/qn/rules/revenue?handler=rule&rung=itemGroup")]
    [InlineData("tomas", "/qn/editions")]
    [InlineData("ines", "/qn/chart/4010/lands")]
    [InlineData("ines", "/qn/begin")]
    [InlineData("ines", "/qn/chart?view=unruled")]
    [InlineData("adam", "/qn/people")]
    [InlineData("ines", "/ql/group")]
    [InlineData("ines", "/qn/groups/partner")]
    [InlineData("ines", "/qn/groups/project?handler=member&code=P-1")]
    public void A_screen_breaks_no_rule_of_wcag_aa_fits_its_window_and_leaves_the_console_silent(string name, string path) =>
        Screen.Check(browser, name, path);
}

/// <summary>Every main screen of the books.</summary>
public sealed class BookScreensTests(Browser browser) : IClassFixture<Browser>
{
    [Theory]
    [InlineData("vera", "/qn/tax/report?from=2026-09&to=2026-11")]
    [InlineData("vera", "/qn/tax/entries?from=2026-09&to=2026-11")]
    [InlineData("ines", "/qn/exceptions")]
    [InlineData("ines", "/qn/try-out?party=C-10&item=SEED-01")]
    [InlineData("ines", "/qn/try-out?type=purchase-invoice")]
    [InlineData("ines", "/qn/try-out?type=purchase-credit-note&party=S-12&item=TREE-01")]
    [InlineData("ines", "/qn/try-out?type=customer-payment&example=yes")]
    [InlineData("ines", "/qn/try-out?type=manual-journal&example=yes")]
    [InlineData("ines", "/qn/try-out?type=payout&example=yes")]
    [InlineData("ines", "/qn/try-out?type=takings&example=yes")]
    [InlineData("ines", "/qn/rates")]
    [InlineData("ines", "/qn/desk")]
    [InlineData("ines", "/qn/held")]
    [InlineData("tomas", "/qn/month-end")]
    [InlineData("tomas", "/qn/periods")]
    [InlineData("ines", "/qn/revaluation?on=2026-10-31")]
    [InlineData("vera", "/qn/proof")]
    [InlineData("vera", "/qn/trial-balance?beside=year-before")]
    [InlineData("vera", "/qn/balance-sheet")]
    [InlineData("vera", "/qn/income-statement?beside=month-before")]
    [InlineData("vera", "/qn/account-statement?account=1100")]
    [InlineData("vera", "/qn/document-trail?document=INV")]
    [InlineData("ines", "/qn/controls")]
    [InlineData("ines", "/qn/open-items/receivables")]
    [InlineData("ines", "/qn/open-items/receivables/C-10")]
    [InlineData("ines", "/qn/open-items/receivables/C-10/statement")]
    [InlineData("ines", "/qn/stock")]
    [InlineData("ines", "/qn/receipts")]
    [InlineData("ines", "/qn/money")]
    [InlineData("ines", "/qn/terms")]
    [InlineData("ines", "/qn/standing")]
    [InlineData("ines", "/qn/opening")]
    [InlineData("ines", "/qn/try-out?type=customer-payment&party=C-10")]
    [InlineData("ines", "/qn/journal")]
    [InlineData("ines", "/qn/journal/3?handler=trail&line=1")]
    [InlineData("ines", "/qn/checks")]
    [InlineData("ines", "/qn/checks?view=accepted")]
    [InlineData("vera", "/qn/journal?print=yes")]
    [InlineData("vera", "/you")]
    [InlineData("adam", "/qn/connections")]
    [InlineData("vera", "/api")]
    [InlineData("ines", "/qn/projects/P-1")]
    [InlineData("ines", "/qn/assets")]
    [InlineData("ines", "/qn/between?all=true")]
    [InlineData("ines", "/ql/recognition")]
    [InlineData("ines", "/ql/late-charges")]
    [InlineData("ines", "/qg/consolidated")]
    public void A_screen_breaks_no_rule_of_wcag_aa_fits_its_window_and_leaves_the_console_silent(string name, string path) =>
        Screen.Check(browser, name, path);
}
