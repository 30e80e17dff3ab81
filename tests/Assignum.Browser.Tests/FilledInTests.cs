using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>In the form of every type that takes something from the books, what is filled in follows what was posted before.</summary>
public sealed class FilledInTests(Browser browser) : IClassFixture<Browser>
{
    void Fill(string type, params (string Field, string Value)[] typed)
    {
        browser.Open("/qn/try-out?type=" + type);
        foreach (var (field, value) in typed)
            if (value is "tick" or "untick")
                browser.Tick($"input[type=checkbox][name='{field}']", value == "tick");
            else if (field.EndsWith(".of", StringComparison.Ordinal) || field == "kind")
                browser.Choose($"[name='{field}']", value);
            else
                browser.Type($"[name='{field}']", value + Keys.Tab);
    }

    void Post(string type, params (string Field, string Value)[] typed)
    {
        Fill(type, typed);
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
    }

    void Filled(string text) => browser.Sees(text, "#filled");

    void NotFilled(string text)
    {
        browser.Sees("Entry", "#result");
        Assert.DoesNotContain(text, browser.Find("#result").Text, StringComparison.Ordinal);
    }

    void Came(string item, string cost) => Post("purchase-receipt", ("party", "S-12"), ("location", "GLASS"), ("Lines[0].item", item), ("Lines[0].quantity",
        "10"),
        ("Lines[0].unitCost", cost));

    public static TheoryData<string, string, (string, string)[]> Goods => new()
    {
        { "shipment-return", "TREE-02", [("location", "GLASS"), ("Lines[0].item", "TREE-02"), ("Lines[0].quantity", "1")] },
        { "stock-adjustment", "TREE-04", [("location", "GLASS"), ("Lines[0].item", "TREE-04"), ("Lines[0].quantity", "-1"), ("Lines[0].reason", "damage")] },
        { "stock-transfer", "TREE-05", [("location", "GLASS"), ("toLocation", "SHOP"), ("Lines[0].item", "TREE-05"), ("Lines[0].quantity", "1")] },
        { "production", "TREE-06", [("item", "TREE-08"), ("quantity", "1"), ("location", "GLASS"), ("Lines[0].item", "TREE-06"), ("Lines[0].quantity", "1")] },
        { "sales-invoice", "TREE-07", [("Party", "C-10"), ("Location", "GLASS"), ("Lines[0].Sold", "TREE-07"), ("Lines[0].Price", "9")] },
        { "takings", "TREE-10", [("Location", "GLASS"), ("Lines[0].Sold", "TREE-10"), ("Lines[0].Price", "9"), ("Cash", "9"), ("Into", "MAIN")] },
        { "sales-credit-note", "TREE-13", [("Party", "C-10"), ("Location", "GLASS"), ("Lines[0].Sold", "TREE-13"), ("Lines[0].Price", "9"),
            ("Lines[0].Shipped", "tick")] },
        { "purchase-credit-note", "TREE-14", [("Party", "S-12"), ("Location", "GLASS"), ("Lines[0].Sold", "TREE-14"), ("Lines[0].Price", "9"),
            ("Lines[0].Shipped", "tick")] },
    };

    [Theory]
    [MemberData(nameof(Goods))]
    public void The_cost_of_goods_follows_what_came_last(string type, string item, (string, string)[] typed)
    {
        browser.SignIn("ines");
        Came(item, "4");
        Fill(type, typed);
        Filled($"4 the average of {item} at GLASS");
        Came(item, "6");
        Fill(type, typed);
        Filled($"5 the average of {item} at GLASS");
    }

    [Fact]
    public void Goods_that_come_after_their_invoice_cost_what_it_says()
    {
        browser.SignIn("ines");
        (string, string)[] receipt = [("party", "S-12"), ("location", "GLASS"), ("Lines[0].item", "POT-36"), ("Lines[0].quantity", "2")];
        Fill("purchase-receipt", receipt);
        NotFilled("invoiced it so");
        Post("purchase-invoice", ("Party", "S-12"), ("Location", "GLASS"), ("Lines[0].Sold", "POT-36"), ("Lines[0].Quantity", "2"), ("Lines[0].Price",
            "7.25"), ("Lines[0].Shipped", "untick"));
        Fill("purchase-receipt", receipt);
        Filled("7.25");
        Filled("invoiced it so");
    }

    public static TheoryData<string, (string, string)[], string, (string, string)[]> Items => new()
    {
        { "supplier-payment", [("party", "S-20"), ("amount", "100000"), ("moneyAccount", "MAIN")], "purchase-invoice", Bill("S-20", "6110") },
        { "refund", [("party", "C-16"), ("amount", "100000"), ("moneyAccount", "MAIN")], "sales-credit-note", Bill("C-16", "4110") },
        { "gift-card-used", [("party", "C-31"), ("amount", "100000")], "sales-invoice", Bill("C-31", "4110") },
        { "deposit-returned", [("party", "C-12"), ("amount", "30"), ("moneyAccount", "MAIN")], "deposit-received", Ahead("C-12") },
        { "deposit-applied", [("party", "C-15"), ("amount", "30")], "deposit-received", Ahead("C-15") },
        { "deposit-recovered", [("party", "S-11"), ("amount", "30"), ("moneyAccount", "MAIN")], "deposit-paid", Ahead("S-11") },
        { "deposit-settled", [("party", "S-10"), ("amount", "30")], "deposit-paid", Ahead("S-10") },
    };

    static (string, string)[] Bill(string party, string account) =>
        [("Party", party), ("Lines[0].Sold", account), ("Lines[0].Price", "30"), ("Lines[0].TaxCode", "E0")];

    static (string, string)[] Ahead(string party) => [("party", party), ("amount", "30"), ("moneyAccount", "MAIN")];

    [Theory]
    [MemberData(nameof(Items))]
    public void What_is_settled_or_freed_follows_what_is_open(string type, (string, string)[] typed, string before, (string, string)[] opens)
    {
        browser.SignIn("ines");
        Post(before, opens);
        var opened = browser.Find("main h1 + p .mono").Text;
        Fill(type, typed);
        Filled(opened);
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
        browser.Sees("30.00", ".chain");
    }

    [Fact]
    public void Items_settled_against_each_other_stand_where_they_were_opened()
    {
        browser.SignIn("ines");
        Post("sales-invoice", Bill("C-13", "4110"));
        var invoice = browser.Find("main h1 + p .mono").Text;
        Post("sales-credit-note", Bill("C-13", "4110"));
        var note = browser.Find("main h1 + p .mono").Text;
        Fill("settlement", ("party", "C-13"));
        browser.Type($"input[aria-label='Taken away, {invoice}']", "30" + Keys.Tab);
        browser.Type($"input[aria-label='Taken away, {note}']", "-30" + Keys.Tab);
        Filled($"{invoice} stands there");
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
        // Both are settled: once more there is nothing to take.
        Fill("settlement", ("party", "C-13"));
        browser.Until(() => browser.All("input[readonly]").All(i => i.GetAttribute("value") != invoice), "a list without the invoice");
        browser.Type("[aria-label='Another item']", invoice + Keys.Tab);
        browser.Choose("tr:has([aria-label='Another item']) select", "receivable");
        browser.Type("tr:has([aria-label='Another item']) [aria-label='Settled of it']", "30" + Keys.Tab);
        browser.Sees($"nothing of {invoice} is open", "#result");
        Assert.False(browser.Find("#post button").Enabled);
    }

    [Fact]
    public void The_rate_of_the_day_is_filled_in_for_whatever_is_in_another_currency()
    {
        (string, (string, string)[])[] foreign =
        [
            ("deposit-received", [("party", "C-10"), ("amount", "10"), ("moneyAccount", "MAIN")]), ("deposit-paid", [("party", "S-12"), ("amount", "10"),
                ("moneyAccount", "MAIN")]),
            ("late-charge", [("party", "C-10"), ("fee", "5")]), ("opening-item", [("kind", "receivable"), ("party", "C-10"), ("amount", "10")]),
            ("manual-journal", [("text", "Bank"), ("Lines[0].account", "6110"), ("Lines[0].debit", "10"), ("Lines[1].moneyAccount", "MAIN"),
                ("Lines[1].credit", "10")]),
        ];
        browser.SignIn("ines");
        foreach (var (type, typed) in foreign)
        {
            Fill(type, [.. typed, ("currency", "NOK")]);
            browser.Sees("rate", "#result");
            Assert.Empty(browser.All("#filled"));
        }
        browser.Open("/qn/rates");
        browser.Type("#code", "NOK");
        browser.Run("const d = document.getElementById('day'); d.value = '2026-01-01'; d.dispatchEvent(new Event('change', { bubbles: true }));");
        browser.Type("#rate", "0.0875");
        browser.Click("#one button.main");
        browser.Sees("NOK is 0.0875", ".done");
        foreach (var (type, typed) in foreign)
        {
            Fill(type, [.. typed, ("currency", "NOK")]);
            Filled("0.0875");
        }
    }

    [Fact]
    public void A_receipt_of_goods_that_have_left_already_says_which_change_of_cost_goes_with_it()
    {
        browser.SignIn("ines");
        Came("POT-60", "4");
        Post("shipment", ("location", "GLASS"), ("Lines[0].item", "POT-60"), ("Lines[0].quantity", "12"));
        Fill("purchase-receipt", ("party", "S-12"), ("location", "GLASS"), ("Lines[0].item", "POT-60"), ("Lines[0].quantity", "5"), ("Lines[0].unitCost", "6"));
        browser.Sees("POT-60 at GLASS", "#cost-change");
        browser.Sees("−4.00", "#cost-change");
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
        browser.Sees("Cost change", ".chain");
    }
}
