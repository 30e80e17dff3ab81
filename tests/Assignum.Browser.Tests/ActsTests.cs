using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>The main act of each page of settings, by the buttons that do it.</summary>
public sealed class ActsTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void The_rules_of_a_group_are_copied_for_another_after_a_look()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue/copy");
        browser.Choose("#of-group", "itemGroup=SEEDS");
        browser.Choose("#to-group", "itemGroup=PACKING");
        browser.Click("form:has(#of-group) button");
        browser.Sees("PACKING", "table.flat");
        browser.Click("form button.main");
        browser.Sees("in draft", ".done");
        browser.Open("/qn/editions");
        browser.Sees("PACKING", "#changes");
    }

    [Fact]
    public void A_gap_is_closed_where_it_is_shown()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue/gaps");
        var before = browser.All("form.mend").Count;
        Assert.True(before > 0);
        var when = browser.Find("form.mend input[name=account]").GetAttribute("aria-label");
        browser.Type("form.mend input[name=account]", "4110");
        browser.Click("form.mend button");
        browser.Sees("4110", ".done");
        Assert.DoesNotContain(browser.All("form.mend input[name=account]"), f => f.GetAttribute("aria-label") == when);
    }

    [Fact]
    public void A_ladder_is_reordered_after_what_moves_was_seen()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/cost-of-sales/ladder");
        var first = browser.Find("table.ladder-edit tr:first-child td:nth-child(2)").Text;
        browser.Click("table.ladder-edit tr:first-child a[aria-label$=down]");
        browser.Until(() => browser.All("form.row-of button.main:enabled").Count == 1, "what the move changes");
        browser.Click("form.row-of button.main");
        browser.Sees("in draft", ".done");
        browser.Open("/qn/rules/cost-of-sales/ladder");
        Assert.Equal(first, browser.Find("table.ladder-edit tr:nth-child(2) td:nth-child(2)").Text);
    }

    [Fact]
    public void A_rule_is_ended_from_its_drawer()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/payable/list");
        browser.Click("#work table a[href*='handler=rule']");
        browser.Sees("End it", "#drawer");
        browser.Type("#rule-last", "2031-12-31");
        browser.Click("#drawer button[formaction*='handler=end']");
        browser.Sees("The rule ends after 2031-12-31", ".done");
    }

    [Fact]
    public void Redundant_exceptions_go_in_one_act()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/inventory?handler=rule&rung=item&item=SEED-01");
        browser.Type("#rule-account", "1320" + Keys.Tab);
        browser.Has("#rule-account", "1320 · Seeds");
        browser.Click("#drawer button.main");
        browser.Sees("SEED-01", ".done");
        browser.Open("/qn/exceptions?redundant=true&purpose=inventory");
        browser.Sees("SEED-01", "table.flat");
        browser.Click(".do button.main");
        browser.Sees("in draft", ".done");
        browser.Open("/qn/exceptions?redundant=true&purpose=inventory");
        Assert.Empty(browser.All(".do button.main"));
    }

    [Fact]
    public void A_group_is_added_with_rules_of_another_renamed_merged_and_deleted()
    {
        browser.SignIn("ines");
        browser.Open("/qn/groups/item");
        browser.Click("a[data-add]");
        browser.Type("#g-code", "BULBS");
        browser.Type("#g-name", "Bulbs");
        browser.Choose("#g-copy", "SEEDS");
        browser.Click("#drawer button.main");
        browser.Sees("BULBS", ".done");
        browser.Open("/qn/groups/item?group=BULBS&view=lands");
        browser.Has(".lands-form input[name=account][aria-label^='Account of revenue']", "4010 · Sales of seeds");

        Change("BULBS");
        browser.Type("#g-new", "TUBERS");
        browser.Click("#drawer button[formaction*='handler=rename']");
        browser.Sees("Group BULBS is TUBERS from now on", ".done");

        Change("TUBERS");
        browser.Choose("#drawer select[name=Into]", "SEEDS");
        browser.Click("#drawer button[formaction*='handler=merge']");
        browser.Sees("TUBERS becomes one with SEEDS", ".done");

        browser.Open("/qn/groups/item");
        browser.Click("a[data-add]");
        browser.Type("#g-code", "EMPTY");
        browser.Type("#g-name", "Nobody yet");
        browser.Click("#drawer button.main");
        browser.Sees("EMPTY", ".done");
        Change("EMPTY");
        browser.Click("#drawer button[formaction*='handler=delete']");
        browser.Until(() => browser.All("nav.list a[href*='EMPTY']").Count == 0, "the list without EMPTY");
    }

    void Change(string group)
    {
        browser.Open("/qn/groups/item?group=" + group);
        browser.Click(".bar .aside a");
        browser.Sees("Another code", "#drawer");
    }

    [Fact]
    public void What_a_group_lands_on_is_typed_for_several_purposes_at_once()
    {
        browser.SignIn("ines");
        browser.Open("/qn/groups/item?group=COMPOST&view=lands");
        browser.Type(".lands-form input[name=account][aria-label^='Account of revenue']", "4110");
        browser.Type(".lands-form input[name=account][aria-label^='Account of cost of sales']", "5030");
        browser.Click(".save-row button");
        browser.Sees("in draft", ".done");
        browser.Open("/qn/editions");
        browser.Sees("COMPOST", "#changes");
    }

    [Fact]
    public void Members_are_added_changed_and_moved()
    {
        browser.SignIn("ines");
        browser.Open("/qn/groups/item");
        browser.Click(".do a.act:not(.main):not([href*=sheet])");
        browser.Type("#m-code", "SEED-99");
        browser.Choose("#m-kind", "stock");
        browser.Type("#m-name", "Night-scented stock, 1 g");
        browser.Choose("#m-group", "SEEDS");
        browser.Type("#m-cost", "0.42");
        browser.Click("#drawer button.main");
        browser.Sees("SEED-99", ".done");

        browser.Open("/qn/groups/item?q=SEED-99");
        browser.Click("#members input[name=members]");
        browser.Choose("#to", "POTS");
        browser.Click("#members .row-of button");
        browser.Sees("POTS", ".done");
        browser.Open("/qn/groups/item?q=SEED-99");
        browser.Sees("POTS", "#members tbody");
    }

    [Fact]
    public void Members_go_out_as_a_sheet_and_come_back_into_the_draft()
    {
        browser.SignIn("ines");
        browser.Open("/qn/groups/party/sheet");
        var sheet = Path.Combine(Path.GetTempPath(), $"assignum-{Guid.NewGuid():N}.csv");
        File.WriteAllText(sheet, "code,name,role,group\nC-901,Bellhollow Parish,customer,COUNCIL\n");
        try
        {
            browser.Find("#file").SendKeys(sheet);
            browser.Click("form:has(#file) button.main");
            browser.Sees("Put the 1 change into the draft", "#job");
            browser.Click("#job button.main");
            browser.Sees("Look at the draft", "#job");
        }
        finally
        {
            File.Delete(sheet);
        }
        browser.Open("/qn/groups/party?q=C-901");
        browser.Sees("Bellhollow Parish", "#members");
    }

    [Fact]
    public void A_tax_code_is_added_with_its_rate_and_account_and_deleted_again()
    {
        browser.SignIn("ines");
        browser.Open("/qn/tax/codes");
        browser.Click("a[data-add]");
        browser.Type("#t-code", "L12");
        browser.Type("#t-name", "Local 12 %");
        browser.Type("[name='Components[0].Rates']", "2026-01-01 12");
        browser.Click("#drawer button.main");
        browser.Sees("L12", ".done");
        browser.Sees("12 %", "table.flat");
        browser.Open("/qn/tax/codes?handler=code&code=L12");
        browser.Click("#drawer button[formaction*='handler=delete']");
        browser.Until(() => !browser.Find("table.flat").Text.Contains("L12", StringComparison.Ordinal), "the list without L12");
    }

    [Fact]
    public void Where_two_tax_groups_meet_a_code_is_typed_into_the_cell()
    {
        browser.SignIn("ines");
        browser.Open("/qn/tax");
        browser.Click("#cell-1-1");
        browser.Press("E0" + Keys.Enter);
        browser.Until(() => browser.Find(".said-grid").Text.Length > 0, "what was done");
        browser.Sees("draft", ".said-grid");
    }

    [Fact]
    public void Rounding_and_tolerance_are_set_in_the_draft()
    {
        browser.SignIn("ines");
        browser.Open("/qn/tax/codes?handler=options");
        browser.Choose("#o-rounding", "line");
        browser.Type("#o-tolerance", "0.05");
        browser.Click("#drawer button.main");
        browser.Sees("draft", ".done");
        browser.Open("/qn/tax/codes?handler=options");
        browser.Has("#o-tolerance", "0.05");
    }

    [Fact]
    public void A_finding_is_accepted_with_a_reason_and_opened_again()
    {
        browser.SignIn("ines");
        browser.Open("/qn/checks");
        browser.Click("a[trail*='handler=accept'], a[href*='handler=accept']");
        browser.Type("#accept-reason", "Known, and looked at every month.");
        browser.Click("#drawer button.main");
        browser.Sees("Accepted until", ".done");
        browser.Open("/qn/checks?view=accepted");
        browser.Sees("Known, and looked at every month.", "table.findings");
        browser.Click("table.findings form button");
        browser.Until(() => !browser.Find("main").Text.Contains("Known, and looked at", StringComparison.Ordinal), "the finding, open again");
    }

    [Fact]
    public void Another_option_says_what_it_would_do_before_it_is_saved()
    {
        browser.SignIn("ines");
        browser.Open("/qn/tax");
        browser.Click(".aside a[href*=options]");
        browser.Sees("Stock is kept at cost", "#drawer");
        browser.Click("#drawer input[name=PerpetualStock]");
        browser.Sees("would land otherwise", "#effect");
        browser.Sees("1320", "#effect");
        browser.Click("#drawer input[name=PerpetualStock]");
        browser.Until(() => browser.Run("return document.getElementById('effect').innerText.trim()")!.ToString()!.Length == 0, "no effect of what is as it was");
    }
}
