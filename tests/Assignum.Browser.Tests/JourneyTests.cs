using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>The way of a newcomer: a chart comes in, a rule is made, an invoice tried, released, posted, and asked where it came from.</summary>
public sealed class JourneyTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void From_a_chart_file_to_the_trail_of_a_posted_amount()
    {
        browser.SignIn("ines");

        // The file has an account for vouchers, and a row nobody can use.
        var file = Path.Combine(Directory.CreateTempSubdirectory("chart").FullName, "chart.csv");
        File.WriteAllText(file, "number;name;class;kind;parent\n4060;Vouchers, redeemed;;;40\n4061;Lost;;;99\n");
        browser.Open("/qn/chart");
        browser.Click(".head details.more summary");
        browser.Click(".head a[href$='import']");
        browser.Find("#file").SendKeys(file);
        browser.Click("main form button");
        browser.Sees("neither in the file nor in the chart", "#mapped > table");
        browser.Click("main .head button.main");
        browser.Sees("The refused rows with their reasons");

        // Without a rule, vouchers fall to suspense; the trail leads to the rules.
        browser.Open("/qn/try-out");
        browser.Type("#party", "larkfield");
        browser.Type("[name='Lines[0].Sold']", "VOU-25");
        browser.Type("[name='Lines[0].Price']", "25");
        browser.Sees("1999 Suspense", "#entry");
        browser.Click("#entry a.num");
        browser.Sees("No closer rule answers", "#drawer");

        // A rule for the item group, on the new account, found by a part of its name.
        browser.Open("/qn/rules/revenue?rung=itemGroup");
        browser.Click("[data-add]");
        browser.Type("#fact-itemGroup", "VOUCHER");
        browser.Type("#rule-account", "redeemed");
        browser.Click("#drawer button.main");
        browser.Sees("VOUCHER, lands on 4060", ".done");

        browser.SignIn("tomas");
        browser.Open("/qn/editions");
        browser.Sees("VOUCHER → 4060 Vouchers, redeemed is new");
        browser.Type("#note", "Vouchers have an account.");
        browser.Click("#release button.main");
        browser.Sees("Edition 3 is released", ".done");

        browser.SignIn("ines");
        browser.Open("/qn/try-out");
        browser.Type("#party", "C-10");
        browser.Type("[name='Lines[0].Sold']", "VOU-25");
        browser.Type("[name='Lines[0].Quantity']", "2");
        browser.Type("[name='Lines[0].Price']", "25");
        browser.Sees("4060 Vouchers, redeemed", "#entry");
        browser.Sees("50.00", "#net-0");
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");

        browser.Click("main tbody a.num");
        browser.Sees("4060 Vouchers, redeemed", "#drawer h1");
        browser.Sees("edition 3, released", "#drawer");
        browser.Sees("by Tomas", "#drawer");
        Assert.Contains("item group: answers with 4060", browser.Find("#drawer svg[role=img]").GetAttribute("aria-label"), StringComparison.Ordinal);
        Assert.Empty(browser.Complaints());
    }
}

public sealed class MendTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void What_is_missing_leads_to_its_mend_and_lands_afterwards()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out?party=C-70&item=SEED-04");
        browser.Sees("It would be held", "#result");
        browser.Click("#result td.mend a");
        browser.Until(() => browser.Path == "/qn/tax?row=ABROAD&column=REDUCED");
        browser.Sees("type a tax code", "#cell-1-2.at.o-n");
        browser.Press("Z0" + Keys.Enter);
        browser.Sees("1 cell changed in draft", ".said-grid");

        browser.Open("/qn/try-out?party=C-70&item=SEED-04");
        browser.Type("[name='Lines[0].Price']", "9.50");
        browser.Sees("Z0", "#tax-0");
        browser.Sees("edition 2 would hold it", "#standing");
        browser.Until(() => !browser.Find("#post button").Enabled);
    }

    [Fact]
    public void What_is_tried_survives_a_walk_to_another_page_until_it_is_posted()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out");
        browser.Type("#party", "C-10");
        for (var i = 0; i < 4; i++)
        {
            browser.Type($"[name='Lines[{i}].Sold']", "SEED-0" + (i + 1));
            browser.Type($"[name='Lines[{i}].Price']", "2");
        }
        browser.Sees("2.00", "#net-3");
        browser.Open("/qn/tax");
        browser.Open("/qn/try-out");
        browser.Sees("2.00", "#net-3");
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
        browser.Open("/qn/try-out");
        browser.Has("#party", "");
    }

    [Fact]
    public void A_held_amount_shows_its_ladder_and_the_rule_form_opens_with_its_facts()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue/list");
        browser.Click("#rung-default + table a");
        browser.Sees("Revenue, company default", "#drawer h2");
        browser.Click("#drawer [formaction]");
        browser.Sees("The rule ends", ".done");

        browser.Open("/qn/try-out?party=C-10&item=VOU-50");
        browser.Type("[name='Lines[0].Price']", "50");
        browser.Sees("Revenue has no account for", "#result");
        browser.Click("#result td.mend a:last-of-type");
        browser.Sees("no rule", "#drawer svg");
        browser.Click("#drawer a.main");
        browser.Has("#fact-itemGroup", "VOUCHER");

        // Mended beside the try-out, it lands anew, and nothing that was typed is lost.
        browser.Type("#rule-account", "4220");
        browser.Click("#drawer button.main");
        browser.Sees("lands on 4220", "#drawer .said");
        browser.Sees("4220 Council contracts", "#entry");
        browser.Has("[name='Lines[0].Price']", "50");
    }
}

public sealed class KeyboardTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void The_find_box_is_worked_by_keys_alone()
    {
        browser.SignIn("vera");
        browser.Open("/qn/journal");
        browser.Press("/");
        browser.Press("sales of saplings");
        browser.Find("#found a");
        browser.Press(Keys.ArrowDown);
        browser.Press(Keys.Enter);
        browser.Until(() => browser.Path.StartsWith("/qn/chart?handler=account&number=402", StringComparison.Ordinal));
        browser.Sees("Sales of saplings", "#drawer h1");
        browser.Press(Keys.Escape);
        browser.Until(() => browser.All("#drawer:empty").Count == 1);
    }

    [Fact]
    public void Lists_are_walked_with_j_and_k_opened_with_enter_and_keys_are_told()
    {
        browser.SignIn("ines");
        browser.Open("/qn/chart");
        browser.Press("j");
        browser.Press("j");
        browser.Press("j");
        browser.Press("k");
        Assert.Equal("10", browser.Find("tr.at a:not(.turn)").Text);
        browser.Press(Keys.ArrowLeft);
        browser.Until(() => browser.All("#a1000").Count == 0);
        browser.Press(Keys.ArrowRight);
        browser.Find("#a1000");
        browser.Press(Keys.Enter);
        browser.Sees("10 Money", "#drawer h1");
        browser.Press(Keys.Escape);
        browser.Press("?");
        Assert.NotNull(browser.Find("#keys[open]"));
        browser.Press(Keys.Escape);
        browser.Press("n");
        browser.Sees("New account", "#drawer h2");
    }

    [Fact]
    public void A_pinned_drawer_stays_while_the_page_changes()
    {
        browser.SignIn("vera");
        browser.Open("/qn/journal/3");
        browser.Click("main tbody a.num");
        browser.Sees("landed on", "#drawer");
        browser.Click("[data-pin]");
        browser.Open("/qn/chart");
        browser.Sees("landed on", "#drawer");
        browser.Click("[data-close]");
        browser.Open("/qn/journal");
        Assert.Empty(browser.All("#drawer *"));
    }

    [Fact]
    public void The_rail_folds_and_stays_folded()
    {
        browser.SignIn("vera");
        browser.Open("/qn/chart");
        browser.Click("[data-fold]");
        browser.Open("/qn/journal");
        Assert.Equal(48L, browser.Run("return document.querySelector('.rail').offsetWidth"));
        browser.Click("[data-fold]");
        Assert.Equal(176L, browser.Run("return document.querySelector('.rail').offsetWidth"));
    }

    [Fact]
    public void A_new_line_appears_when_the_last_one_is_begun()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out");
        browser.Type("#party", "C-10");
        browser.Type("[name='Lines[1].Sold']", "SEED-01");
        browser.Type("[name='Lines[1].Price']", "2");
        browser.Type("[name='Lines[2].Sold']", "pot-12");
        browser.Type("[name='Lines[2].Price']", "3");
        browser.Sees("3.00", "#net-2");
        Assert.NotNull(browser.Find("[name='Lines[3].Sold']"));
    }
}
