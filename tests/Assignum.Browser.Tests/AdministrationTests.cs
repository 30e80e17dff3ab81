using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>Companies, people, one's own page, and the chart of a company that begins.</summary>
public sealed class AdministrationTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void A_company_is_opened_given_to_people_and_begins_with_a_template_a_plan_and_a_dimension()
    {
        browser.SignIn("adam");
        browser.Open("/qn/companies");
        browser.Type("#code", "QV");
        browser.Type("#name", "Quillmoss Vale");
        browser.Click("form[action*='handler=Open'] button.main, form:has(#starts) button.main");
        browser.Sees("Quillmoss Vale", ".done");
        browser.Open("/qv/companies");
        browser.Click("#next-year summary");
        browser.Click("#next-year button");
        browser.Until(() => browser.All("table.facts tr").Count(r => r.Text.StartsWith("Fiscal year", StringComparison.Ordinal)) == 2, "the next fiscal year");
        browser.Open("/qv/people");
        browser.Type("#person", "ines");
        browser.Choose("#role", "preparer");
        browser.Click("form:has(#person) button");
        browser.Sees("preparer", "table.flat");

        browser.SignIn("ines");
        browser.Open("/qv/begin");
        browser.Sees("From an empty company to the first entry");
        browser.Open("/qv/chart/start");
        browser.Click(".way form button.main");
        browser.Sees("account", ".done");

        browser.Open("/qv/chart/dimensions");
        browser.Type("#code", "SITE");
        browser.Type("#name", "Site");
        browser.Type("#values", "N North\nS South");
        browser.Click("form:has(#values) button.main");
        browser.Sees("SITE", "table");
        browser.Click("form:has(input[value=SITE]) button.defect");
        browser.Until(() => browser.All("form:has(input[value=SITE]) button.defect").Count == 0, "the list without SITE");

        browser.Open("/qv/chart/numbering");
        browser.Type("#pattern", "#####");
        browser.Click("form.plan .acts button.main");
        browser.Sees("would be renumbered", "main");
        browser.Click("button[formaction*='handler=renumber']");
        browser.Sees("the accounts have their new numbers", ".done");
    }

    [Fact]
    public void A_person_is_added_given_a_link_disabled_and_enabled_and_a_grant_ended()
    {
        browser.SignIn("adam");
        browser.Open("/qn/people");
        browser.Type("#p-name", "odile");
        browser.Type("#p-shown", "Odile Marsh");
        browser.Type("#p-password", "a-long-first-password");
        browser.Choose("#p-role", "viewer");
        browser.Click("form:has(#p-name) button");
        browser.Sees("Odile Marsh", "#signing-in");
        Row("Odile Marsh", "New password");
        Assert.Contains("/new-password/", browser.Find("#link").Text, StringComparison.Ordinal);
        var link = new Uri(browser.Find("#link").Text).PathAndQuery;
        Row("Odile Marsh", "Disable");
        browser.Sees("disabled", "#signing-in");
        Row("Odile Marsh", "Enable");
        browser.Until(() => !browser.Find("#signing-in").Text.Contains("disabled", StringComparison.Ordinal), "everybody can sign in");
        Row("Odile Marsh", "End", "table.flat:not(#signing-in)");
        browser.Until(() => browser.All("table.flat:not(#signing-in) tr.off").Any(r => r.Text.Contains("Odile Marsh", StringComparison.Ordinal)), "the ended grant");

        browser.Open(link);
        foreach (var field in browser.All("input[type=password]").ToList())
            field.SendKeys("another-long-password");
        browser.Click("main button, form button");
        browser.Until(() => browser.Path.StartsWith("/sign-in", StringComparison.Ordinal), "the sign-in, with the new password");
    }

    void Row(string person, string button, string table = "#signing-in") =>
        browser.All(table + " tr").First(r => r.Text.Contains(person, StringComparison.Ordinal))
            .FindElements(By.TagName("button")).First(b => b.Text.StartsWith(button, StringComparison.Ordinal)).Click();

    [Fact]
    public void Four_eyes_a_second_factor_and_the_chart_of_the_group_are_set_for_a_company()
    {
        browser.SignIn("adam");
        foreach (var form in new[] { "Eyes", "Factor" })
        {
            browser.Open("/qn/companies");
            browser.Click($"form[action*='handler={form}'] input[type=checkbox]");
            browser.Click($"form[action*='handler={form}'] button");
            browser.Until(() => browser.Find($"form[action*='handler={form}'] input[type=checkbox]").Selected, "it is set");
            browser.Click($"form[action*='handler={form}'] input[type=checkbox]");
            browser.Click($"form[action*='handler={form}'] button");
            browser.Until(() => !browser.Find($"form[action*='handler={form}'] input[type=checkbox]").Selected, "it is not set any more");
        }
        browser.Open("/qn/companies");
        var group = browser.Find("#group").FindElements(By.TagName("option")).Last().GetAttribute("value")!;
        browser.Choose("#group", group);
        browser.Click("form:has(#group) button");
        browser.Until(() => browser.Find("#group").GetAttribute("value") == group, "the group");
    }

    [Fact]
    public void Numbers_and_dates_are_written_as_one_likes_and_another_session_is_ended()
    {
        browser.SignIn("vera");
        browser.SignIn("vera", anew: true);
        browser.Open("/you");
        browser.Choose("#numbers", browser.Find("#numbers").FindElements(By.TagName("option"))[1].GetAttribute("value")!);
        browser.Choose("#dates", browser.Find("#dates").FindElements(By.TagName("option"))[1].GetAttribute("value")!);
        browser.Click("#likes-form button");
        browser.Find(".done");
        var sessions = browser.All("main table.flat tbody tr").Count;
        browser.Click("form:has(input[name=session]) button");
        browser.Until(() => browser.All("main table.flat tbody tr").Count == sessions - 1, "one session less");
    }

    [Fact]
    public void An_account_is_noted_upon_added_and_deleted_again()
    {
        browser.SignIn("ines");
        browser.Open("/qn/chart/account/6370");
        browser.Type("textarea[name=note], input[name=note]", "Below 800 each; above it is equipment.");
        browser.Click("form:has([name=note]) button");
        browser.Sees("Below 800 each");

        browser.Open("/qn/chart?handler=new");
        browser.Until(() => browser.All("input[name=Number]").Any(f => f.Displayed), "the form of a new account");
        browser.Type("input[name=Number]", "6371");
        browser.Type("input[name=Name]", "Small tools, hired");
        browser.Choose("select[name=Class]", "expense");
        browser.Click("form:has(input[name=Number]) button.main");
        browser.Sees("6371", ".done");
        browser.Open("/qn/chart/account/6371");
        browser.Click("button[formaction*='handler=delete']");
        browser.Confirm();
        browser.Sees("6371", ".done");
        browser.Open("/qn/chart?q=6371");
        browser.Until(() => browser.All("#a6371").Count == 0, "the chart without it");
    }

    [Fact]
    public void A_practice_company_is_made_with_its_events_used_begun_again_and_put_away()
    {
        browser.SignIn("adam");
        browser.Open("/qn/companies");
        browser.Click("input[name=events]");
        browser.Click("form[action*=Practice] button");
        browser.Sees("is ready: ", "#job");
        browser.SignIn("ines");
        browser.Open("/qn-practice/journal");
        browser.Sees("Practice", "header .practice");
        browser.Sees("2026-1001", "#entries tbody");
        // What is posted here stays here.
        browser.Open("/qn-practice/try-out?type=sales-invoice");
        browser.Type("#party", "C-10" + Keys.Tab);
        browser.Type("input[name='Lines[0].Sold']", "SEED-01" + Keys.Tab);
        browser.Type("input[name='Lines[0].Price']", "77.77");
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
        browser.Open("/qn/journal?amount=77.77");
        browser.Until(() => browser.All("#entries tbody a").Count == 0, "no such entry in the real books");

        browser.SignIn("adam");
        browser.Open("/qn/companies");
        browser.Click("form[action*=Practice] button");
        browser.Sees("is ready.", "#job");
        browser.Open("/qn-practice/people");
        browser.Sees("Ines", "main");
        browser.Open("/qn-practice/companies");
        browser.Click("form[action*=Away] button");
        browser.Sees("is put away", ".done");
        browser.Sees("Make a practice company", "main");
    }
}

/// <summary>Changes of a draft taken back: one, all, and by an edition of before.</summary>
public sealed class DraftTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void A_change_is_taken_back_all_are_discarded_and_an_edition_is_brought_back()
    {
        browser.SignIn("tomas");
        Rule("VOUCHER", "4110");
        Rule("OVERHEAD", "4120");
        browser.Open("/qn/editions");
        var all = Changes();
        browser.Click("#changes button[name=undo], #changes button[formaction*=ndo]");
        browser.Until(() => Changes() == all - 1, "one change less");

        browser.Click(".do details.more summary");
        browser.Click(".do details.more form button");
        browser.Sees("It changes nothing yet");

        browser.Click("form[action*='handler=Back'] button");
        browser.Sees("change", ".done");
        Assert.True(Changes() > 0);
    }

    int Changes() => browser.All("input[name=chosen]").Count;

    void Rule(string group, string account)
    {
        browser.Open($"/qn/rules/revenue?handler=rule&rung=itemGroup&itemGroup={group}");
        browser.Type("#rule-account", account + Keys.Tab);
        browser.Until(() => browser.Find("#rule-account").GetAttribute("value")!.StartsWith(account + " · ", StringComparison.Ordinal), "the account, named");
        browser.Click("#drawer button.main");
        browser.Sees(group, ".done");
    }
}
