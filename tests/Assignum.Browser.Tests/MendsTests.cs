using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>Acts that had tests below the page, done here by their own buttons and keys.</summary>
public sealed class MendsTests(Browser browser) : IClassFixture<Browser>
{
    void AddRule(string group, string account)
    {
        browser.Open($"/qn/rules/revenue?handler=rule&rung=itemGroup&itemGroup={group}");
        browser.Type("#drawer input[name=Account]", account);
        browser.Press(Keys.Enter);
        browser.Until(() => browser.Find("#drawer input[name=Account]").GetAttribute("value")!.StartsWith(account + " · ", StringComparison.Ordinal),
            "the account, named");
        browser.Press(Keys.Enter);
        browser.Sees(group, ".done");
    }

    [Fact]
    public void Chosen_changes_are_ticked_looked_at_and_released_with_their_note()
    {
        browser.SignIn("tomas");
        AddRule("VOUCHER", "4310");
        AddRule("OVERHEAD", "4120");
        browser.Open("/qn/editions");
        var before = browser.All("input[name=chosen]").Count;
        Assert.False(browser.Find("[data-ticked]").Enabled);
        browser.Sees("Nothing is ticked yet.", "#changes");
        browser.Click("input[name=chosen][aria-label*=VOUCHER]");
        browser.Click("#changes button[type=submit]:not([name])");

        browser.Sees("Release 1 change", "#release-chosen");
        Assert.True(browser.Find("input[name=chosen][aria-label*=VOUCHER]").Selected);
        browser.Type("#note-chosen", "Vouchers first.");
        browser.Click("#release-chosen button.main");

        browser.Sees("is released", ".done");
        browser.Sees("Vouchers first.");
        Assert.Equal(before - 1, browser.All("input[name=chosen]").Count);
        Assert.Empty(browser.All("input[name=chosen][aria-label*=VOUCHER]"));
    }

    [Fact]
    public void A_try_out_says_at_once_that_its_day_is_closed_and_asks_for_a_price()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out");
        browser.Type("#party", "C-10");
        browser.Type("input[name='Lines[0].Sold']", "SEED-01");
        browser.Sees("The price of one unit is missing", "#result");
        Assert.False(browser.Find("#post button").Enabled);
        browser.Type("input[name='Lines[0].Price']", "2.50");
        browser.Until(() => browser.Find("#post button").Enabled, "Post it");
        browser.Run("const d = document.getElementById('date'); d.value = '2031-03-14'; d.dispatchEvent(new Event('change', { bubbles: true }));");

        browser.Sees("2031-03-14 lies after the last fiscal year", "#result");
        browser.Sees("This date can't be posted on", "#standing");
        Assert.False(browser.Find("#post button").Enabled);
    }

    [Fact]
    public void A_cell_that_somebody_else_has_changed_while_it_was_typed_is_not_overwritten()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue?rung=itemGroup%2BpartyGroup");
        browser.Click("#cell-1-1");
        browser.Press("4");
        browser.Find(".editor input");
        var (row, column) = ((string)browser.Run("return document.querySelector('[data-grid]').grid.data.rows[1].code")!,
            (string)browser.Run("return document.querySelector('[data-grid]').grid.data.columns[1].code")!);
        var own = browser.Run("const c = document.querySelector('[data-grid]').grid.cell(1, 1); return c.own ? c.own + '=' + c.answer[0] : ''")!.ToString()!.Split('=');
        var seen = own[0].Length == 0 ? "\"own\":null,\"seen\":null" : $"\"own\":\"{own[0]}\",\"seen\":\"{own[1]}\"";
        browser.AsAnother("tomas", "/qn/rules/revenue", "/qn/rules/revenue?rung=itemGroup%2BpartyGroup&handler=cells",
            $"[{{\"row\":\"{row}\",\"column\":\"{column}\",\"text\":\"4120\",{seen},\"typed\":true}}]");
        // The page hears of it, and draws the grid anew beneath the typing.
        browser.Run("document.querySelector('[data-grid]').grid.load()");
        browser.Until(() => browser.Run("return document.querySelector('[data-grid]').grid.cell(1, 1).answer[0]")!.ToString() == "4120", "what the other did");
        browser.Press("010" + Keys.Enter);

        browser.Sees("Somebody else has changed this cell", ".said-grid");
    }

    [Fact]
    public void Undo_says_what_it_undoes()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/cost-of-sales?rung=itemGroup%2BpartyGroup");
        browser.Click("#cell-2-2");
        browser.Press("5020" + Keys.Enter);
        browser.Sees("1 cell changed", ".said-grid");
        browser.Run("document.querySelector('.pane').focus()");
        browser.Press(Keys.Control + "z");

        browser.Sees("falls back again", ".said-grid");
        browser.Sees("Undone: ", ".said-grid");
    }

    [Fact]
    public void A_subledger_is_closed_for_a_period_and_opened_again_and_the_log_says_so()
    {
        browser.SignIn("tomas");
        browser.Open("/qn/periods");
        browser.Click("#periods button[title='Close tax  for January 2026']");
        browser.Sees("Tax: closed for the period", ".done");
        browser.Click("#periods button[title='Open tax again for January 2026']");
        browser.Sees("Tax: open again for the period", ".done");
        browser.SignIn("adam");
        browser.Open("/qn/companies");
        browser.Sees("tax closed for a period.");
        browser.Sees("tax opened again for a period.");
    }

    [Fact]
    public void What_one_person_had_pinned_and_typed_is_gone_when_another_signs_in()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out");
        browser.Type("input[name='Lines[0].Sold']", "SEED-01");
        browser.Until(() => browser.Run("return Object.keys(sessionStorage).some(k => k.startsWith('kept:'))") is true, "the kept form");
        browser.Click("form.who button");
        browser.Find("#name");
        Assert.Equal(false, browser.Run("return Object.keys(sessionStorage).some(k => k.startsWith('kept:'))"));

        browser.SignIn("tomas");
        browser.Open("/qn/try-out");
        browser.Has("input[name='Lines[0].Sold']", "");
    }

    [Fact]
    public void A_password_is_changed_and_a_second_factor_set_up_on_ones_own_page()
    {
        browser.SignIn("vera");
        // What earlier tests left in the browser's log is theirs: one signs out while a try-out still lands.
        browser.Complaints();
        browser.Click(".who a");
        browser.Sees("Sessions");
        browser.Click("#offer-form button");
        var secret = browser.Find("#secret").Text;
        browser.Type("#code", new OtpNet.Totp(OtpNet.Base32Encoding.ToBytes(secret)).ComputeTotp());
        browser.Type("#take-now", Web.Tests.App.Password + Keys.Enter);
        browser.Sees("From now on a code is asked for", ".done");
        browser.Type("#up-now", Web.Tests.App.Password + Keys.Enter);
        browser.Sees("You sign in with name and password only", ".done");
        Assert.Empty(browser.Complaints());
    }

    [Fact]
    public void A_merge_is_carried_out_from_its_page_and_shows_where_its_items_stand()
    {
        browser.SignIn("ines");
        browser.Open("/qn/chart/merge?from=1100&to=1120");
        browser.Run("const b = document.querySelector('form.plan input[name=balance]'); if (b && !b.checked) b.click();");
        browser.Click("form.plan button.main");
        browser.Sees("is merged into 1120", ".done");
        browser.Open("/qn/journal/1");
        browser.Sees("stands on");
    }

    [Fact]
    public void Enter_in_the_find_box_waits_for_what_the_typed_words_find()
    {
        browser.SignIn("ines");
        browser.Open("/qn/chart");
        browser.Press("/");
        browser.Press("sales of tools" + Keys.Enter);
        browser.Sees("4040 Sales of tools", "#drawer");
    }

    [Fact]
    public void What_opens_in_the_drawer_is_typed_into_at_once_and_a_refused_field_is_stood_in()
    {
        browser.SignIn("ines");
        browser.Open("/qn/chart?handler=account&number=4040");
        browser.Click("#drawer a[hx-get*=beside]");
        browser.Sees("New account beside 4040", "#drawer");
        browser.Until(() => browser.Run("return document.activeElement.id")!.ToString() == "acc-number", "the number, ready to be typed");
        browser.Press("4050" + Keys.Tab + "Sales of wax" + Keys.Enter);
        browser.Sees("4050 is taken", "#drawer .fault");
        browser.Until(() => browser.Run("return document.activeElement.id")!.ToString() == "acc-number", "the number, to be typed again");
        browser.Press("4069");
        browser.Has("#acc-number", "4069");
    }
}
