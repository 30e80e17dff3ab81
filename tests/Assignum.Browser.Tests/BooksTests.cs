using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>What the books fill in, exchange rates, and entries that are taken back or posted again: by their own buttons and keys.</summary>
public sealed class BooksTests(Browser browser) : IClassFixture<Browser>
{
    void Post()
    {
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
    }

    void Receipt(string quantity, string cost, string item = "TREE-03", string place = "NORTH")
    {
        browser.Open("/qn/try-out?type=purchase-receipt");
        browser.Type("[name=party]", "S-12" + Keys.Tab);
        browser.Type("[name=location]", place + Keys.Tab);
        browser.Type("[name='Lines[0].item']", item + Keys.Tab);
        browser.Type("[name='Lines[0].quantity']", quantity);
        browser.Type("[name='Lines[0].unitCost']", cost);
        Post();
    }

    void Shipment(string quantity)
    {
        browser.Open("/qn/try-out?type=shipment");
        browser.Type("[name=location]", "NORTH" + Keys.Tab);
        browser.Type("[name='Lines[0].item']", "TREE-03" + Keys.Tab);
        browser.Type("[name='Lines[0].quantity']", quantity);
    }

    [Fact]
    public void The_cost_of_what_leaves_follows_what_came_and_can_be_typed_over()
    {
        browser.SignIn("ines");
        Receipt("10", "4");
        Shipment("2");
        browser.Sees("the average of TREE-03 at NORTH", "#filled");
        browser.Sees("8.00", "#entry");
        Receipt("10", "6");
        browser.Open("/qn/try-out?type=shipment");
        browser.Sees("10.00", "#entry");
        browser.Type("[name='Lines[0].unitCost']", "7");
        browser.Sees("14.00", "#entry");
        browser.Until(() => !browser.Find("#filled").Text.Contains("cost of one unit", StringComparison.Ordinal), "the cost as typed");
        Post();
        browser.Sees("14.00", "main table");
        browser.Click("#prepared summary");
        browser.Sees("standsOn", "#prepared");
    }

    [Fact]
    public void A_payment_finds_what_is_open_and_settles_the_oldest_first()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out?type=customer-payment");
        browser.Type("[name=party]", "C-11" + Keys.Tab);
        browser.Type("[name=amount]", "50");
        browser.Type("[name=moneyAccount]", "MAIN");
        browser.Sees("the oldest first", "#filled");
        browser.Sees("takes from INV-1010", "#movements");
        Post();
        // The invoice is drawn beside its payment, one click away.
        browser.Sees("settles 50.00", ".chain");
        browser.Click(".chain a[aria-label*='INV-1010'], .chain a[aria-label*='2026-1010']");
        browser.Sees("2026-1010", "main h1 + p");
        // What is open of it is less by that.
        browser.Open("/qn/try-out?type=customer-payment");
        browser.Type("[name=party]", "C-11" + Keys.Tab);
        browser.Type("[name=amount]", "100000");
        browser.Type("[name=moneyAccount]", "MAIN");
        browser.Sees("INV-1010", "#filled");
        browser.Until(() => browser.All("#filled tr").Count > 1, "the items after it");
    }

    [Fact]
    public void An_invoice_takes_what_was_received_before_and_its_receipt_is_drawn_beside_it()
    {
        browser.SignIn("ines");
        Receipt("6", "4", "TREE-09");
        browser.Open("/qn/try-out?type=purchase-invoice");
        browser.Type("#party", "S-12" + Keys.Tab);
        browser.Type("input[name='Lines[0].Sold']", "TREE-09" + Keys.Tab);
        browser.Type("input[name='Lines[0].Quantity']", "6");
        browser.Click("input[type=checkbox][name='Lines[0].Shipped']");
        browser.Type("input[name='Lines[0].Price']", "4.50");
        browser.Sees("received at", "#filled");
        browser.Sees("3.00", "#entry");
        Post();
        browser.Sees("goods for 24.00", ".chain");
    }

    [Fact]
    public void What_is_invoiced_and_shipped_in_another_month_stands_under_both_months()
    {
        browser.SignIn("ines");
        Receipt("4", "5", "TREE-15");
        browser.Open("/qn/try-out?type=sales-invoice");
        browser.Type("#party", "C-14" + Keys.Tab);
        browser.Run("const d = document.getElementById('date'); d.value = '2026-05-30'; d.dispatchEvent(new Event('change', { bubbles: true }));");
        browser.Type("input[name='Lines[0].Sold']", "TREE-15" + Keys.Tab);
        browser.Type("input[name='Lines[0].Quantity']", "2");
        browser.Type("input[name='Lines[0].Price']", "11");
        browser.Click("input[type=checkbox][name='Lines[0].Shipped']");
        Post();
        var id = browser.Find("main h1 + p .mono").Text;
        browser.Press("/");
        browser.Press("timing" + Keys.Enter);
        browser.Click("#months a[href*='2026-05']");
        browser.Sees("not shipped: the revenue", "#apart");
        browser.Open("/qn/try-out?type=shipment");
        browser.Type("[name=location]", "NORTH" + Keys.Tab);
        browser.Type("[name=refersTo]", id);
        browser.Type("[name='Lines[0].item']", "TREE-15" + Keys.Tab);
        browser.Type("[name='Lines[0].quantity']", "2");
        Post();
        browser.Open("/qn/timing?month=2026-05");
        browser.Sees("10.00", "#apart");
        browser.Click("#apart tbody a");
        browser.Sees("refers to", ".chain");
    }

    [Fact]
    public void Events_of_a_file_are_looked_at_told_what_their_columns_are_and_posted_once()
    {
        var file = Path.Combine(Path.GetTempPath(), Guid.NewGuid().ToString("N") + ".csv");
        File.WriteAllText(file, "Voucher,day,Customer,Article,Qty,Price\nF-1,2026-11-02,C-10,SEED-01,2,3.00\nF-1,,,POT-12,1,4.00\nF-2,2026-11-02,C-10,NOTHING,1,1.00\nF-3,2026-11-02,C-10,SEED-01,x,1.00\n");
        browser.SignIn("ines");
        browser.Open("/qn/journal");
        browser.Click(".views a[href$='/events']");
        browser.Find("#file").SendKeys(file);
        browser.Choose("#type", "sales-invoice");
        browser.Click("#choose button.main");
        browser.Sees("has no id", "#refused");
        browser.Choose("#columns th:first-child select", "id");
        browser.Click("button[formaction*=again]");
        browser.Sees("Post 2 events", "#file-found");
        browser.Sees("there is no item NOTHING", "#job");
        browser.Sees("quantity is “x”", "#refused");
        browser.Click("#file-found button.main");
        browser.Sees("1 events of", "#job .said");
        browser.Open("/qn/journal?document=F-1");
        browser.Sees("F-1", "#entries tbody");

        // The same file once more posts nothing, and its columns are remembered.
        browser.Open("/qn/events");
        browser.Find("#file").SendKeys(file);
        browser.Choose("#type", "sales-invoice");
        browser.Click("#choose button.main");
        browser.Sees("Here already 2", "#file-found");
        File.Delete(file);
    }

    [Fact]
    public void A_document_is_kept_with_an_entry_and_what_is_none_is_refused()
    {
        var (scan, other) = (Path.Combine(Path.GetTempPath(), "scan.pdf"), Path.Combine(Path.GetTempPath(), "scan.exe"));
        File.WriteAllText(scan, "%PDF-1.7\nA bill.");
        File.WriteAllText(other, "MZ");
        browser.SignIn("ines");
        browser.Open("/qn/journal/5");
        browser.Find("#document").SendKeys(other);
        browser.Click("#attach button");
        browser.Sees("scan.exe is no PDF", ".fault");
        browser.Find("#document").SendKeys(scan);
        browser.Click("#attach button");
        browser.Sees("scan.pdf is kept with entry 5", ".done");
        Assert.Equal("%PDF-1.7\nA bill.", browser.Run("const r = new XMLHttpRequest(); r.open('GET', document.querySelector('a[download]').href, false); r.send(); return r.responseText;"));
        Assert.Equal("attachment; filename=scan.pdf; filename*=UTF-8''scan.pdf", browser.Run("const r = new XMLHttpRequest(); r.open('GET', document.querySelector('a[download]').href, false); r.send(); return r.getResponseHeader('content-disposition');"));
    }

    [Fact]
    public void An_entry_is_a_template_for_the_next_and_a_journal_is_turned_round_in_the_month_after()
    {
        browser.SignIn("ines");
        browser.Open("/qn/journal/5");
        browser.Click("a[href*='handler=copy']");
        browser.Until(() => browser.Find("#party").GetAttribute("value")!.StartsWith("C-", StringComparison.Ordinal), "its customer");
        Post();

        browser.Open("/qn/try-out?type=manual-journal");
        browser.Type("[name=text]", "Heating not billed yet");
        browser.Run("const d = document.querySelector('[name=date], [name=Date]'); d.value = '2026-10-31'; d.dispatchEvent(new Event('change', { bubbles: true }));");
        browser.Type("[name='Lines[0].account']", "6120" + Keys.Tab);
        browser.Type("[name='Lines[0].debit']", "310");
        browser.Type("[name='Lines[1].account']", "2490" + Keys.Tab);
        browser.Type("[name='Lines[1].credit']", "310");
        Post();
        browser.Click("a[href*='turned=true']");
        browser.Has("[name='Lines[0].credit']", "310");
        Assert.Equal("2026-11-01", browser.Find("[name=date], [name=Date]").GetAttribute("value"));
        Post();
        browser.Sees("2026-11-01", "main h1 + p");
        browser.Sees("refers to", ".chain");
    }

    void Journal(string text, string amount)
    {
        browser.Open("/qn/try-out?type=manual-journal");
        browser.Type("[name=text]", text);
        browser.Type("[name='Lines[0].account']", "6120" + Keys.Tab);
        browser.Type("[name='Lines[0].debit']", amount);
        browser.Type("[name='Lines[1].account']", "2490" + Keys.Tab);
        browser.Type("[name='Lines[1].credit']", amount);
        browser.Until(() => browser.Find("#post button").Enabled, "it may be posted");
    }

    [Fact]
    public void A_journal_is_kept_by_its_name_comes_back_on_its_day_and_is_turned_round_the_month_after()
    {
        browser.SignIn("ines");
        Journal("Heating, accrued", "210");
        browser.Click("#keep summary");
        browser.Type("#keepName", "Heating of the glasshouse");
        browser.Choose("#keepEvery", "Month");
        browser.Run("const d = document.getElementById('keepFrom'); d.value = '2026-08-31'; d.dispatchEvent(new Event('change', { bubbles: true }));");
        browser.Click("[name=keepTurned]");
        browser.Click("#keep button");
        browser.Sees("is kept, and is due on 2026-08-31", ".done");

        browser.Click("#due button.main");
        browser.Sees("1 journal posted", ".done");
        browser.Sees("2026-09-30", "#due tbody");
        browser.Open("/qn/journal?document=KEPT-");
        browser.Sees("2026-08-31", "#entries tbody");
        browser.Sees("2026-09-01", "#entries tbody");

        browser.Open("/qn/journal/kept");
        browser.Click("a[href*='handler=kept']");
        browser.Has("[name='Lines[0].debit']", "210");
        browser.Open("/qn/journal/kept");
        browser.Click("button[formaction*='handler=drop']");
        browser.Sees("is kept no longer", ".done");
    }

    [Fact]
    public void Above_the_amount_a_second_person_posts_a_journal_or_sends_it_back()
    {
        void Above(string amount)
        {
            browser.SignIn("adam");
            browser.Open("/qn/companies");
            browser.Type("#above", amount);
            browser.Click("form[action*='Above'] button");
            browser.Sees(amount.Length == 0 ? "need no second person" : "are posted by a second person", ".done");
        }

        Above("9,000");
        browser.SignIn("ines");
        Journal("Large", "9500");
        browser.Sees("somebody else posts", "#post");
        browser.Click("#post button:enabled");
        browser.Sees("waits for a second person", ".done");
        Assert.Empty(browser.All("section.waits button.main"));

        browser.SignIn("tomas");
        browser.Open("/qn/journal/waiting");
        browser.Click("section.waits summary");
        browser.Type("[name=word]", "Which contract?");
        browser.Click("section.waits details button");
        browser.Sees("is sent back", ".done");

        browser.SignIn("ines");
        browser.Open("/qn/journal/waiting");
        browser.Sees("Which contract?", "main");
        browser.Click("a[href*='handler=sentback']");
        browser.Click("#post button:enabled");
        browser.Sees("waits for a second person", ".done");
        browser.SignIn("tomas");
        browser.Open("/qn/journal/waiting");
        browser.Click("section.waits button.main");
        browser.Sees("is posted", ".done");
        browser.Sees("typed by Ines", "main");
        Above("");
    }

    [Fact]
    public void A_count_sheet_is_laid_beside_the_books_and_becomes_what_is_more_or_less()
    {
        browser.SignIn("ines");
        Receipt("10", "4", "TREE-12", "GLASS");
        browser.Open("/qn/try-out?type=stock-adjustment");
        browser.Click("#count summary");
        browser.Find("#countBlock").SendKeys("item;place;counted\nTREE-12;GLASS;7\nTREE-99;GLASS;1");
        browser.Click("#count button");
        browser.Sees("1 with another quantity than expected; 1 row not read", "#counted");
        browser.Sees("There is no item TREE-99", "#counted");
        browser.Has("[name='Lines[0].quantity']", "-3");
        browser.Sees("12.00", "#entry");
        Post();

        // In books that keep stock by count, the value follows.
        browser.Open("/qn/try-out?type=stock-closing");
        browser.Click("#count summary");
        browser.Find("#countBlock").SendKeys("TREE-12;GLASS;7;5");
        browser.Click("#count button");
        browser.Has("[name='Lines[0].amount']", "7");
        browser.Sees("7.00", "#entry");
    }

    [Fact]
    public void What_makes_ledger_and_subledger_differ_is_found_led_to_and_taken_back()
    {
        browser.SignIn("ines");
        browser.Open("/qn/chart");
        browser.Click("a[title=Controls]");
        browser.Click("#gauges a[href*='of=bank']");
        browser.Sees("every event has the same in both", "main");

        browser.Open("/qn/try-out?type=opening-balance");
        browser.Type("[name=text]", "Old bank balance");
        browser.Type("[name='Lines[0].account']", "1000" + Keys.Tab);
        browser.Type("[name='Lines[0].debit']", "25");
        Post();
        browser.Open("/qn/controls");
        browser.Sees("≠ 25.00", "#gauges .chosen");
        browser.Sees("moves nothing in the subledger", "#gaps");
        browser.Sees("25.00", "#since");
        browser.Click("#gaps tbody a");
        browser.Sees("Old bank balance", "main");
        browser.Click("summary.act");
        browser.Type("#reason", "Posted by account, not by money account");
        browser.Click("#back button");
        browser.Sees("is taken back", ".done");
        browser.Open("/qn/controls?of=bank");
        browser.Sees("equal", "#gauges .chosen");
        browser.Sees("2 events more were taken back or corrected", "main");
        Assert.Empty(browser.All("#gaps"));
    }

    [Fact]
    public void What_was_tried_lately_is_one_choice_away()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out?type=sales-invoice");
        browser.Type("#party", "C-12" + Keys.Tab);
        browser.Type("input[name='Lines[0].Sold']", "SEED-02" + Keys.Tab);
        browser.Type("input[name='Lines[0].Price']", "3.33");
        browser.Sees("C-12", "#standing");
        browser.Click("[data-empty]");
        browser.Until(() => browser.Find("#party").GetAttribute("value") == "", "an empty form");
        browser.Open("/qn/try-out?type=shipment");
        browser.Click("[data-lately] summary");
        browser.Sees("Sales invoice · C-12", "[data-lately]");
        browser.Click("[data-lately] a");
        browser.Has("input[name='Lines[0].Price']", "3.33");
        browser.Sees("3.33", "#entry");
    }

    [Fact]
    public void A_rate_of_the_day_is_saved_imported_and_taken_by_a_document_that_says_none()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rates");
        browser.Type("#code", "usd");
        browser.Type("#rate", "0.9");
        browser.Click("#one button.main");
        browser.Sees("USD is 0.9 EUR", ".done");
        browser.Type("#block", "2026-01-05, GBP, 1.15\n2026-01-06, GBP, none");
        browser.Click("#import button.main");
        browser.Sees("Line 2", "#import");
        browser.Type("#block", "2026-01-05, GBP, 1.15\n2026-01-06, GBP, 1.16");
        browser.Click("#import button.main");
        browser.Sees("2 rates imported", ".done");

        browser.Open("/qn/try-out?type=deposit-received");
        browser.Type("[name=party]", "C-10" + Keys.Tab);
        browser.Type("[name=amount]", "100");
        browser.Type("[name=moneyAccount]", "DOLLAR");
        browser.Type("[name=currency]", "USD");
        browser.Sees("the rate of USD", "#filled");
        browser.Sees("90.00", "#entry");
    }

    [Fact]
    public void An_entry_is_taken_back_with_a_reason_and_another_posted_again_by_the_edition_of_today()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out?type=late-charge&example=yes");
        Post();
        var entry = browser.Path;
        browser.Click(".do details:has(#back) summary");
        browser.Type("#reason", "Charged twice");
        browser.Click("#back button.main");
        browser.Sees("is taken back", ".done");
        browser.Sees("was taken back by a later one");
        browser.Click(".said a");
        browser.Sees("Charged twice");
        browser.Sees("takes back an earlier one");
        Assert.Empty(browser.All("#back"));

        browser.Open("/qn/try-out?type=late-charge&example=yes");
        Post();
        Assert.NotEqual(entry, browser.Path);
        browser.Click(".do details:has(#again) summary");
        browser.Click("#again button.main");
        browser.Sees("its event is posted by edition", ".done");
        browser.Sees("revision 2");
    }

    [Fact]
    public void A_credit_note_takes_off_no_more_than_is_left_of_the_invoice_it_refers_to()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out?type=sales-credit-note&example=yes");
        browser.Type("[name=Party]", "C-11" + Keys.Tab);
        browser.Type("[name=RefersTo]", "INV-1010");
        browser.Type("[name='Lines[0].Price']", "99999");
        browser.Sees("is left to credit", "main");
        browser.Sees("Not yet: see below", "#post");
        Assert.False(browser.Find("#post button").Enabled);
        browser.Type("[name='Lines[0].Price']", "0.01");
        browser.Until(() => !browser.Find("main").Text.Contains("is left to credit", StringComparison.Ordinal), "what is left to be enough");
    }
}
