using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>Bills, tried and posted by the buttons and keys of the page.</summary>
public sealed class PurchaseTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void A_bill_with_goods_a_service_and_reverse_charge_is_tried_and_posted_and_taken_back_in_part()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out");
        browser.Click(".views a[href*='purchase-invoice']");
        browser.Sees("Purchase invoice", "h1");
        browser.Type("#party", "wendmoor");
        browser.Press(Keys.Enter);
        browser.Has("#party", "S-12 · Wendmoor Saplings");
        Line(0, "TREE-01", "10", "4");
        Line(1, "6110", "1", "100", tax: "RC20");

        // Goods come with the bill; the service's tax is owed and recovered at once.
        browser.Sees("40.00", "#net-0");
        browser.Sees("RC20", "#tax-1");
        browser.Sees("payable", "#entry");
        browser.Sees("input tax", "#entry");
        browser.Sees("output tax", "#entry");
        browser.Sees("143.20", "#result");
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
        browser.Sees("TREE-01", "main");
        browser.Sees("payables", "main");

        // The amount's trail, from the entry.
        browser.Click("main tbody a.num");
        browser.Sees("edition", "#drawer");

        // Two of them go back for more than they came for; the form begins with nothing moving, and the books know their cost.
        browser.Open("/qn/try-out?type=purchase-credit-note");
        browser.Type("#party", "S-12");
        Line(0, "TREE-01", "2", "5");
        browser.Click("[name='Lines[0].Shipped']");
        browser.Sees("inventory", "#entry");
        browser.Sees("price variance", "#entry");
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");

        // The report has both sides of the reverse charge, and the tax accounts agree.
        browser.Open("/qn/tax/report");
        browser.Sees("RC20", "main");
        browser.Sees("reverse charge", "main");
        browser.Sees("agree", "main");
    }

    [Fact]
    public void Goods_received_before_leave_what_waits_and_the_rest_is_variance_and_a_wrong_party_is_named()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out?type=purchase-invoice");
        browser.Type("#party", "C-10");
        Line(0, "TREE-02", "10", "5");
        browser.Sees("C-10 Larkfield Gardens is a customer. Name a supplier", "#result");
        browser.Type("#party", "S-12");
        browser.Click("[name='Lines[0].Shipped']");
        browser.Type("[name='Lines[0].ReceivedCost']", "4.6");
        browser.Sees("goods received not invoiced", "#entry");
        browser.Sees("46.00", "#entry");
        browser.Sees("price variance", "#entry");
        browser.Sees("4.00", "#entry");
        browser.Click("#entry a.num");
        browser.Sees("not invoiced", "#drawer");

        // Typed and not posted, it is there again after a walk.
        browser.Open("/qn/tax");
        browser.Open("/qn/try-out?type=purchase-invoice");
        browser.Has("[name='Lines[0].ReceivedCost']", "4.6");
        browser.Click("[data-empty]");
        browser.Has("[name='Lines[0].ReceivedCost']", "");
    }

    void Line(int line, string thing, string quantity, string price, string? tax = null)
    {
        browser.Type($"[name='Lines[{line}].Sold']", thing);
        browser.Type($"[name='Lines[{line}].Quantity']", quantity);
        browser.Type($"[name='Lines[{line}].Price']", price);
        if (tax is not null)
            browser.Type($"[name='Lines[{line}].TaxCode']", tax);
    }
}
