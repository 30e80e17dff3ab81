using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>Forms that are never lost: a session that ends between two keys, leaving with something half typed.</summary>
public sealed class NeverLostTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void A_session_that_ends_while_a_cell_is_typed_signs_in_within_the_page_and_the_cell_is_saved()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue?rung=itemGroup%2BpartyGroup");
        browser.Click("#cell-2-2");
        browser.Press("41");
        browser.EndSession();
        browser.Press("20" + Keys.Enter);
        browser.Sees("Your session has ended", "dialog.again");
        browser.Has("dialog.again [name=name]", "ines");
        browser.SignInAgain("ines");
        browser.Sees("1 cell changed", ".said-grid");
        browser.Until(() => browser.Find("#cell-2-2").Text.StartsWith("4120", StringComparison.Ordinal), "4120 in the cell");
    }

    [Fact]
    public void Who_does_not_sign_in_again_sees_that_the_cell_is_not_saved_and_what_was_typed_stays()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/cost-of-sales?rung=itemGroup%2BpartyGroup");
        browser.Click("#cell-3-3");
        browser.Press("5040");
        browser.Until(() => browser.All("#picks [role=option]").Count > 0, "what fits");
        browser.EndSession();
        browser.Press(Keys.Enter);
        browser.Click("dialog.again [data-not-now]");
        browser.Sees("Not saved: you are not signed in", ".said-grid");
        browser.Until(() => browser.Find("#cell-3-3").Text.StartsWith("5040", StringComparison.Ordinal), "what was typed");
    }

    [Fact]
    public void A_session_that_ends_in_an_invoice_of_500_lines_keeps_every_line()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out");
        browser.Type("#party", "C-10" + Keys.Tab);
        browser.Run("""
            const body = document.querySelector("tbody[data-grows]"), set = (i, name, value) => { const f = document.getElementsByName(`Lines[${i}].${name}`)[0]; f.value = value; f.dispatchEvent(new Event("input", { bubbles: true })); };
            for (let i = 0; i < 500; i++) { set(i, "Sold", i % 2 ? "SEED-01" : "POT-12"); set(i, "Price", String(1 + i % 7)); }
            """);
        browser.Sees("2.00", "#net-498");
        browser.Click("[name='Lines[499].Price']");
        browser.Press(Keys.End);
        browser.EndSession();
        browser.Press("7");
        browser.Sees("Your session has ended", "dialog.again");
        browser.SignInAgain("ines");
        browser.Sees("37.00", "#net-499");
        Assert.Equal("POT-12", browser.Find("[name='Lines[0].Sold']").GetAttribute("value"));
        browser.EndSession();
        browser.Click("#post button");
        browser.Sees("Your session has ended", "dialog.again");
        browser.SignInAgain("ines");
        browser.Until(() => browser.Path.StartsWith("/qn/journal/", StringComparison.Ordinal), "the posted entry");
        browser.Sees("is posted", ".done");
    }

    [Fact]
    public void A_session_that_ends_in_an_import_goes_on_with_what_was_chosen()
    {
        browser.SignIn("ines");
        browser.Open("/qn/chart/import?paste=yes");
        browser.Run("""const t = document.querySelector("main textarea"); t.value = "6291\tHoney\tX\n6292\tBees\tX\n"; t.dispatchEvent(new Event("input", { bubbles: true }));""");
        browser.EndSession();
        browser.Click("main form button.main");
        browser.SignInAgain("ines");
        browser.Find("#mapped select[name='f.2']");
        browser.EndSession();
        browser.Choose("#mapped select[name='f.2']", "class");
        browser.SignInAgain("ines");
        browser.Find("#mapped select[name='class.X']");
        browser.Choose("#mapped select[name='class.X']", "expense");
        browser.Sees("Import 2 accounts");
        browser.EndSession();
        browser.Click("#mapped button[formaction*='handler=take']");
        browser.SignInAgain("ines");
        browser.Sees("is in the draft");
    }

    [Fact]
    public void Esc_a_link_and_another_form_ask_before_something_half_typed_is_lost()
    {
        browser.SignIn("ines");
        browser.Open("/qn/groups/item");
        browser.Click(".do a[data-add]");
        browser.Type("#g-code", "HALF");
        browser.Press(Keys.Escape);
        browser.Sees("What you typed under “New group of items” is not saved.", "dialog.leave");
        browser.Click("[data-stay]");
        browser.Has("#g-code", "HALF");
        browser.Click("nav.rail a[href='/qn/journal']");
        browser.Click("[data-stay]");
        Assert.StartsWith("/qn/groups/item", browser.Path, StringComparison.Ordinal);
        browser.Click(".do a.act:not(.main)[hx-get]");
        browser.Click("[data-stay]");
        browser.Has("#g-code", "HALF");
        browser.Click("nav.rail a[href='/qn/journal']");
        browser.Click("[data-leave]");
        browser.Until(() => browser.Path == "/qn/journal", "the journal");
    }

    [Fact]
    public void What_can_t_be_read_as_a_day_is_said_beside_the_form_that_stays()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue?handler=rule&rung=default");
        browser.Type("#rule-account", "4010" + Keys.Tab);
        browser.Type("#rule-from", "31/12/26");
        browser.Click("#drawer button.main");
        browser.Sees("“31/12/26” can't be read as a day. You write days as 2026-11-27.", "#drawer");
        browser.Has("#rule-from", "31/12/26");
    }
}

/// <summary>One way of finding by typing, and what is said where a mistake is typed.</summary>
public sealed class TypingTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void Words_in_any_order_find_best_first_and_Enter_takes_the_first_by_name()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out");
        browser.Type("#party", "larkfield");
        browser.Until(() => browser.All("#picks [role=option]").Count > 0, "what fits");
        browser.Press(Keys.Enter);
        browser.Has("#party", "C-10 · Larkfield Gardens");
        browser.Type("[name='Lines[0].Sold']", "50 meadow mix" + Keys.Enter);
        browser.Until(() => browser.Find("[name='Lines[0].Sold']").GetAttribute("value")!.StartsWith("SEED-04 · ", StringComparison.Ordinal),
            "SEED-04 by name");
        browser.Type("[name='Lines[0].Price']", "3.20");
        browser.Sees("C-10 Larkfield Gardens", "#standing");

        // Several fit: they are offered, the arrows choose, and Esc closes the list and nothing else.
        browser.Type("[name='Lines[1].Sold']", "pot");
        browser.Until(() => browser.All("#picks [role=option]").Count > 1, "several");
        browser.Press(Keys.ArrowDown);
        browser.Until(() => browser.All("#picks [role=option]")[1].GetAttribute("class") == "at", "the second one");
        var second = (string)browser.Run("return document.querySelector('#picks .at .num').textContent")!;
        browser.Press(Keys.Enter);
        browser.Until(() => browser.Find("[name='Lines[1].Sold']").GetAttribute("value")!.StartsWith(second + " · ", StringComparison.Ordinal), second);
        browser.Type("[name='Lines[2].Sold']", "seed");
        browser.Until(() => browser.All("#picks [role=option]").Count > 1, "several");
        browser.Press(Keys.Escape);
        browser.Has("[name='Lines[2].Sold']", "seed");
        Assert.Empty(browser.All("#picks:not([hidden])"));
    }

    [Fact]
    public void A_field_that_only_one_thing_fits_names_it_when_it_is_left()
    {
        browser.SignIn("ines");
        browser.Open("/qn/journal");
        browser.Type("#j-party", "larkf" + Keys.Tab);
        browser.Has("#j-party", "C-10 · Larkfield Gardens");
        browser.Until(() => browser.All("#entries tbody tr").All(r => r.Text.Contains("Larkfield", StringComparison.Ordinal)), "Larkfield's entries alone");
    }

    [Theory]
    [InlineData("5010", "is of class cost of sales; revenue belongs on income")]
    [InlineData("1000", "is a control account of bank, so ledger and subledger would differ")]
    [InlineData("1100", "is a control account of receivables and blocked for anything else")]
    [InlineData("40", "is a heading. Choose a posting account below it: 4010, 4015")]
    public void What_speaks_against_an_account_is_said_as_it_is_typed(string typed, string says)
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue?handler=rule&rung=itemGroup&itemGroup=POTS");
        browser.Type("#rule-account", typed + Keys.Tab);
        browser.Sees(says, "#drawer .warns");
        browser.Open("/qn/rules/revenue/gaps");
        browser.Type(".gaps input[name=account]", typed + Keys.Tab);
        browser.Sees(says, ".gaps .warns");
    }

    [Fact]
    public void A_cell_that_is_taken_and_does_not_suit_says_so_and_the_head_is_drawn_again()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue?rung=itemGroup");
        var before = browser.Find("#purpose-head .head p").Text;
        var row = Convert.ToInt32(browser.Run("return document.querySelector('[data-grid]').grid.data.rows.findIndex(r => r.code === 'VOUCHER')"),
            System.Globalization.CultureInfo.InvariantCulture);
        browser.Run($"document.querySelector('[data-grid]').grid.go({row}, 0)");
        browser.Press("5010" + Keys.Enter);
        browser.Sees("1 cell changed", ".said-grid");
        browser.Sees("5010 Cost of seeds is of class cost of sales", ".cells .said");
        browser.Until(() => browser.Find("#purpose-head .head p").Text != before, "the sentence drawn again");
    }

    [Fact]
    public void Enter_never_takes_another_account_for_a_heading_whose_number_was_typed()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue?rung=itemGroup");
        browser.Find("#cell-1-0");
        browser.Press(Keys.ArrowDown + "40");
        browser.Sees("a heading: choose an account below it", "#picks .barred");
        browser.Press(Keys.Enter);
        browser.Sees("Account 40 Sales of goods is a heading. Choose a posting account below it", ".said-grid");
    }

    [Fact]
    public void A_cell_that_is_left_with_Esc_says_what_is_not_saved_and_grid_keys_are_told()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/revenue?rung=itemGroup%2BpartyGroup");
        // The first key goes to the grid.
        browser.Find("#cell-1-1");
        browser.Press("4");
        browser.Find(".editor input");
        browser.Press(Keys.Escape);
        browser.Sees("Left as it was: “4” is not saved.", ".said-grid");
        browser.Press("?");
        browser.Sees("In the grid", "#keys");
        browser.Press(Keys.Escape);
    }

    [Fact]
    public void Rows_of_a_scrolled_grid_are_never_cut()
    {
        browser.SignIn("vera");
        browser.Open("/qn/rules/revenue?rung=item%2Bparty");
        browser.Find("#cell-1-1");
        browser.Run("document.querySelector('.pane').scrollTop = 70");
        browser.Until(() => Convert.ToInt64(browser.Run("return document.querySelector('.pane').scrollTop"),
            System.Globalization.CultureInfo.InvariantCulture) % 44 == 0, "a whole row at the top");
        Assert.Equal(0L, Convert.ToInt64(browser.Run("return (document.querySelector('.pane').clientHeight - 30) % 44"),
            System.Globalization.CultureInfo.InvariantCulture));
    }

    [Fact]
    public void Purposes_never_read_alike()
    {
        browser.SignIn("vera");
        browser.Open("/qn/rules/revenue");
        browser.Find("#cell-1-1");
        Assert.True((bool)browser.Run("return [...document.querySelectorAll('.purposes a > span:first-child')].every(s => s.scrollWidth <= s.clientWidth + 1)")!);
    }
}

/// <summary>Questions answered by the keyboard alone.</summary>
public sealed class AskedByKeysTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void Which_items_land_on_an_account()
    {
        browser.SignIn("vera");
        browser.Open("/qn/journal");
        browser.Press("/");
        browser.Press("4010");
        browser.Sees("What lands here", "#found");
        browser.Press(Keys.ArrowDown + Keys.ArrowDown + Keys.Enter);
        browser.Until(() => browser.Path == "/qn/chart/4010/lands", "what lands there");
        browser.Sees("SEED-04");
        browser.Sees("Meadow mix");
    }

    [Fact]
    public void What_changed_since_last_month_and_which_accounts_no_rule_uses()
    {
        browser.SignIn("vera");
        browser.Open("/qn/chart");
        browser.Press("/");
        browser.Press("since last month");
        browser.Sees("What changed since the end of last month", "#found a");
        browser.Press(Keys.Enter);
        browser.Until(() => browser.Path == "/qn/editions/compare?since=month", "the comparison");
        browser.Sees("Nothing and draft 3", "h1");
        browser.Sees("difference");
        browser.Press("/");
        browser.Press("used by no rule");
        browser.Find("#found a");
        browser.Press(Keys.Enter);
        browser.Until(() => browser.Path == "/qn/chart?view=unruled", "the view");
        browser.Sees("Accrued costs");
    }
}

/// <summary>Pages on dark paper, in a narrow window, and at twice the size.</summary>
public sealed class ReadingTests(Browser browser) : IClassFixture<Browser>
{
    static readonly string[] Screens =
    [
        "/qn/chart", "/qn/chart?handler=account&number=4010", "/qn/groups/item?group=SEEDS&view=lands", "/qn/tax", "/qn/rules/revenue",
            "/qn/rules/revenue?handler=cell&row=SEEDS&column=TRADE", "/qn/rules/revenue/gaps",
        "/qn/rules/revenue/ladder", "/qn/where?q=retail+seeds+shop", "/qn/map?month=2026-10", "/qn/try-out?party=C-10&item=SEED-01", "/qn/editions",
            "/qn/editions/compare?from=1&to=2", "/qn/journal", "/qn/journal/3?handler=trail&line=1", "/qn/checks", "/qn/chart/4010/lands", "/qn/begin", "/you",
    ];

    public static TheoryData<string> AllScreens => [.. Screens];

    [Theory]
    [MemberData(nameof(AllScreens))]
    public void No_page_scrolls_sideways_at_900_pixels_and_at_twice_the_size(string path)
    {
        browser.SignIn("tomas");
        foreach (var (width, height) in new[] { (900, 800), (640, 400) })
        {
            browser.Size(width, height);
            browser.Open(path);
            browser.Find("h1");
            Assert.True((bool)browser.Run("return document.documentElement.scrollWidth <= window.innerWidth && (document.querySelector('main.page')?.scrollWidth ?? 0) <= (document.querySelector('main.page')?.clientWidth ?? 1e6)")!, $"{path} at {width}");
        }
        browser.Size(1280, 800);
    }

    [Fact]
    public void Every_screen_is_legible_on_dark_paper()
    {
        browser.SignIn("tomas");
        browser.Open("/you");
        browser.Choose("#paper", "dark");
        browser.Click("#likes-form button");
        browser.Sees("on dark paper", ".done");
        var broken = new List<string>();
        foreach (var path in Screens)
        {
            browser.Open(path);
            browser.Run(File.ReadAllText(System.IO.Path.Combine(AppContext.BaseDirectory, "axe.min.js")));
            var found = (string)browser.Run("""return axe.run({ runOnly: ["wcag2aa", "wcag22aa"] }).then(r => r.violations.map(v => v.id + ": " + v.nodes.slice(0, 3).map(n => n.html).join(" | ")).join("\n"));""")!;
            if (found.Length > 0)
                broken.Add(path + " " + found);
        }
        browser.Open("/you");
        browser.Choose("#paper", "light");
        browser.Click("#likes-form button");
        browser.Sees("on light paper", ".done");

        Assert.Empty(broken);
    }
}
