using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>The workplaces of the subledgers, each act by its own buttons and keys.</summary>
public sealed class SubledgerTests(Browser browser) : IClassFixture<Browser>
{
    void Fill(string type, params (string Field, string Value)[] typed)
    {
        browser.Open("/qn/try-out?type=" + type);
        foreach (var (field, value) in typed)
            browser.Type($"[name='{field}']", value + Keys.Tab);
    }

    string Post()
    {
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
        return browser.Find("main h1 + p .mono").Text;
    }

    string Bill(string type, string party, string price) => Posted(type, ("Party", party), ("Lines[0].Sold", "4110"), ("Lines[0].Price", price), ("Lines[0].TaxCode", "E0"));

    string Posted(string type, params (string Field, string Value)[] typed)
    {
        Fill(type, typed);
        return Post();
    }

    void TakeBack()
    {
        browser.Click("summary.act");
        browser.Type("#reason", "By mistake");
        browser.Click("#back button");
        browser.Sees("is taken back", ".done");
    }

    [Fact]
    public void A_credit_note_is_settled_against_an_invoice_from_the_list_of_ages_and_undone_at_its_entry()
    {
        browser.SignIn("ines");
        var invoice = Bill("sales-invoice", "C-13", "80");
        var note = Bill("sales-credit-note", "C-13", "30");
        browser.Open("/qn/controls");
        browser.Click("a[href$='open-items/receivables']");
        browser.Type("main [name=q]", "ashgrove" + Keys.Enter);
        browser.Until(() => browser.All("#parties tbody tr").Count == 2, "one party and the sum");
        browser.Click("#parties tbody a");
        browser.Click($"#items tr:has(a[hx-get*='item=']) input[aria-label='Choose {invoice}']");
        browser.Click($"input[aria-label='Choose {note}']");
        browser.Click("#settle button:not([name])");
        browser.Sees("As typed", ".settles");
        browser.Has("input[aria-label='Taken away, " + invoice + "']", "30");
        Post();
        var entry = browser.Path;
        browser.Open("/qn/open-items/receivables/C-13");
        browser.Sees("50.00", "#items");
        Assert.DoesNotContain(note, browser.Find("#items").Text, StringComparison.Ordinal);
        browser.Click($"#items tr:has(input[aria-label='Choose {invoice}']) a.link");
        browser.Sees("Settlement", "#settlements");
        browser.Open(entry);
        TakeBack();
        browser.Open("/qn/open-items/receivables/C-13");
        browser.Sees(note, "#items");
        browser.Click("a[href$='/statement']");
        browser.Sees("taken back: Settlement", ".statement");
        browser.Open(browser.Path + "?print=yes");
        browser.Sees("Balance", ".statement .sum");
        Assert.Empty(browser.All(".rail"));
    }

    [Fact]
    public void What_is_owed_without_end_is_let_go()
    {
        browser.SignIn("ines");
        var invoice = Bill("sales-invoice", "C-18", "4");
        browser.Open("/qn/open-items/receivables/C-18");
        browser.Click($"input[aria-label='Choose {invoice}']");
        browser.Click("#settle button[name=letGo]");
        browser.Sees("payment tolerance", "#entry");
        Post();
        browser.Open("/qn/open-items/receivables/C-18");
        Assert.DoesNotContain(invoice, browser.Find("main").Text, StringComparison.Ordinal);
        browser.Open("/qn/try-out?handler=settle&party=C-18");
        browser.Sees("No item is chosen", ".fault");
    }

    [Fact]
    public void A_payment_shows_what_it_can_settle_takes_the_oldest_first_or_what_is_typed_and_what_the_terms_allow()
    {
        browser.SignIn("ines");
        browser.Open("/qn/terms");
        Terms("Days", "x");
        browser.Sees("no number of days", "#terms .fault");
        Terms("Days", "30");
        Terms("DiscountPercent", "2");
        Terms("DiscountDays", "10");
        Terms("Tolerance", "0.5");
        browser.Sees("COUNCIL pays within 30 days; 2 % off within 10 days; up to 0.50 is let go", ".done");
        var first = Bill("sales-invoice", "C-51", "100");
        browser.Open("/qn/open-items/receivables");
        browser.Click(".head .act");
        browser.Type("[name=party]", "C-51" + Keys.Tab);
        browser.Find($"input[aria-label='Settled now, {first}']");
        browser.Type("[name=moneyAccount]", "MAIN");
        browser.Type("[name=amount]", "97.6" + Keys.Tab);
        browser.Sees("2.00 may be taken off", "#settles-keeps");
        browser.Click("[data-fill=discount]");
        browser.Has("[name=discount]", "2");
        browser.Until(() => browser.All("[data-fill=discount]").Count == 0, "the discount taken");
        browser.Sees("0.40, may be let go", "#settles-keeps");
        browser.Click("[data-fill=tolerance]");
        browser.Sees("nothing left on account", "#settles-left");
        browser.Sees("100.00", "#settles-now");
        Post();

        var (a, b) = (Bill("sales-invoice", "C-51", "40"), Bill("sales-invoice", "C-51", "60"));
        Fill("customer-payment", ("party", "C-51"), ("amount", "70"), ("moneyAccount", "MAIN"));
        browser.Sees("Oldest first", "#settles-how");
        browser.Sees("30.00", "#settled-1");
        // The amount that is open is one press away, and what is typed holds.
        browser.Click("[data-fill='Lines[1].amount']");
        browser.Has("[name='Lines[1].amount']", "60");
        browser.Sees("As typed", "#settles-how");
        browser.Sees("left on account 10.00", "#settles-left");
        Post();
        browser.Open("/qn/open-items/receivables/C-51");
        browser.Sees(a, "#items");
        Assert.DoesNotContain(b, browser.Find("#items").Text, StringComparison.Ordinal);
        browser.Open("/qn/terms");
        browser.Click("#terms tr:has(input[aria-label='Days, COUNCIL']) button[name=none]");
        browser.Sees("COUNCIL has no terms", ".done");

        void Terms(string field, string value)
        {
            browser.Type($"#terms tr:has(input[aria-label='Days, COUNCIL']) [name={field}]", value);
            browser.Click("#terms tr:has(input[aria-label='Days, COUNCIL']) button:not([name])");
        }
    }

    [Fact]
    public void What_is_typed_of_a_payment_survives_a_walk_to_another_page()
    {
        browser.SignIn("ines");
        var invoice = Bill("sales-invoice", "C-53", "25");
        Fill("customer-payment", ("party", "C-53"), ("amount", "20"), ("moneyAccount", "MAIN"));
        browser.Find($"input[aria-label='Settled now, {invoice}']");
        browser.Type($"input[aria-label='Settled now, {invoice}']", "12" + Keys.Tab);
        browser.Sees("left on account 8.00", "#settles-left");
        browser.Open("/qn/money");
        browser.Open("/qn/try-out?type=customer-payment");
        browser.Sees("left on account 8.00", "#settles-left");
        browser.Has($"input[aria-label='Settled now, {invoice}']", "12");
    }

    [Fact]
    public void Stock_and_money_lead_to_every_movement_on_any_day()
    {
        browser.SignIn("ines");
        Posted("purchase-receipt", ("party", "S-12"), ("location", "SHOP"), ("Lines[0].item", "POT-50"), ("Lines[0].quantity", "8"), ("Lines[0].unitCost", "5"));
        Posted("shipment", ("location", "SHOP"), ("Lines[0].item", "POT-50"), ("Lines[0].quantity", "10"));
        browser.Open("/qn/stock?q=POT-50");
        browser.Click("[name=odd]");
        browser.Sees("short", "#stock");
        browser.Click("#stock a[hx-get*='location=SHOP']");
        browser.Sees("Shipment", "#moves");
        browser.Sees("−10", "#moves tbody tr:first-child");
        browser.Open("/qn/stock?on=2026-01-01&q=POT-50");
        browser.Sees("No stock stands in the books on this day", "main");
        Posted("customer-payment", ("party", "C-10"), ("amount", "11"), ("moneyAccount", "DOLLAR"));
        browser.Open("/qn/money");
        browser.Click("#accounts tr:has(a[hx-get*='account=DOLLAR']) a.link");
        browser.Sees("11.00", "#moves");
    }

    [Fact]
    public void Rests_of_receipts_are_seen_before_they_are_cleared()
    {
        browser.SignIn("ines");
        var receipt = Posted("purchase-receipt", ("party", "S-20"), ("location", "NORTH"), ("Lines[0].item", "POT-36"), ("Lines[0].quantity", "3"), ("Lines[0].unitCost", "2"));
        browser.Open("/qn/receipts?older=1");
        Assert.DoesNotContain(receipt, browser.Find("main").Text, StringComparison.Ordinal);
        browser.Open("/qn/receipts?q=" + receipt);
        browser.Click("#receipts + .row-of button");
        browser.Sees("No line is chosen", ".fault");
        browser.Click($"input[aria-label='Choose {receipt}, POT-36']");
        browser.Click("#receipts + .row-of button");
        browser.Sees("price variance", "#clearing");
        browser.Sees("6.00", "#clearing");
        browser.Click("#clearing button");
        browser.Sees("1 line cleared", ".done");
        browser.Open("/qn/receipts?q=" + receipt);
        Assert.Empty(browser.All("#receipts"));
    }

    [Fact]
    public void What_stands_on_an_old_account_is_moved_where_its_rule_sends_it_today()
    {
        browser.SignIn("ines");
        Posted("stock-adjustment", ("location", "NORTH"), ("Lines[0].item", "TREE-05"), ("Lines[0].quantity", "10"), ("Lines[0].unitCost", "7"), ("Lines[0].reason", "count"), ("Lines[0].standsOn", "1360"));
        browser.Open("/qn/standing");
        browser.Sees("1360 Saplings from abroad: 70.00", "main");
        browser.Click(".aside .act");
        browser.Sees("1360 1310", "#lands-0");
        Post();
        browser.Open("/qn/standing");
        browser.Sees("stands where its rule sends it today", "main");
        browser.Open("/qn/stock?q=TREE-05");
        browser.Sees("1310", "#stock");
    }

    [Fact]
    public void A_trial_balance_proves_what_was_taken_over()
    {
        browser.SignIn("ines");
        browser.Open("/qn/opening");
        browser.Click("#trial button");
        browser.Sees("There is no trial balance yet", ".fault");
        // The first of January, before anything was sold.
        Day("2026-01-02");
        browser.Run("document.getElementById('block').value = 'account\\tdebit\\tcredit\\n1000\\t900\\t\\n6110\\t100\\t\\n9999\\t\\t1\\n3010\\t\\t1000\\n'");
        browser.Click("#trial button");
        browser.Sees("There is no account 9999", "#not-taken");
        browser.Run("document.getElementById('block').value = 'account\\tdebit\\tcredit\\n1000\\t900\\t\\n6110\\t100\\t\\n1100\\t50\\t\\n3010\\t\\t1050\\n'");
        browser.Click("#trial button");
        browser.Sees("items of receivables", "#agrees");
        browser.Click("#rest button");
        browser.Sees("The opening balance is posted", ".done");
        browser.Sees("3010", "main");
        browser.Open("/qn/opening");
        Day("2026-01-02");
        browser.Run("document.getElementById('block').value = '1000\\t900\\n6110\\t100\\n1100\\t50\\n3010\\t-1050\\n'");
        browser.Click("#trial button");
        browser.Sees("1 of", ".head");
        browser.Sees("50.00", "#agrees tbody tr:first-child");

        void Day(string day)
        {
            browser.Type("#on", day + Keys.Tab);
        }
    }

    [Fact]
    public void What_a_connected_system_states_stands_beside_the_books()
    {
        browser.SignIn("ines");
        Fill("balance-statement", ("connection", "till"));
        browser.Choose("[name='Lines[0].subledger']", "bank");
        browser.Type("[name='Lines[0].member']", "MAIN");
        browser.Type("[name='Lines[0].amount']", "1" + Keys.Tab);
        browser.Click("#post button:enabled");
        browser.Sees("has landed without an entry", ".done");
        browser.Open("/qn/controls?of=bank");
        browser.Sees("What its source says: 1 of 1 balance differs", "main");
        browser.Sees("≠", "#stated");
    }
}
