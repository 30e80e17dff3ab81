using Assignum.Web.Pages.TryOut;
using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>Every type of event, by its own form: begun with one key, landed, asked why, posted.</summary>
public sealed class EveryFormTests(Browser browser) : IClassFixture<Browser>
{
    public static TheoryData<string> Types => [.. EventForm.All.Select(form => form.Name)];

    [Theory]
    [MemberData(nameof(Types))]
    public void It_starts_from_an_example_shows_where_it_lands_and_is_posted(string type)
    {
        browser.SignIn("ines");
        // What is taken of a deposit or of an asset has to be there.
        if (type is "deposit-applied" or "deposit-returned")
            Example("deposit-received");
        else if (type is "deposit-settled" or "deposit-recovered")
            Example("deposit-paid");
        else if (type == "standing-transfer")
            Stands();
        else if (type is "asset-transfer" or "asset-disposal")
            Owns();
        Example(type);
        Assert.Empty(browser.Complaints());
    }

    // What a transfer moves has to stand there.
    void Stands()
    {
        browser.Open("/qn/try-out?type=stock-adjustment");
        foreach (var (field, value) in new[] { ("location", "NORTH"), ("Lines[0].item", "TREE-01"), ("Lines[0].quantity", "10"), ("Lines[0].unitCost", "4"), ("Lines[0].reason", "count"), ("Lines[0].standsOn", "1360") })
            browser.Type($"[name='{field}']", value + Keys.Tab);
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
    }

    // What goes of a van has to have come.
    void Owns()
    {
        browser.Open("/qn/try-out?type=opening-item");
        browser.Choose("[name='kind']", "asset");
        foreach (var (field, value) in new[] { ("asset", "VAN-1"), ("cost", "25000"), ("accumulated", "9000") })
            browser.Type($"[name='{field}']", value + Keys.Tab);
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
    }

    void Example(string type)
    {
        browser.Open("/qn/try-out?type=" + type);
        browser.Run("document.activeElement.blur()");
        browser.Press("e");
        browser.Until(() => browser.Path.Contains("example", StringComparison.Ordinal), "the example");
        browser.Click("#post button:enabled");
        browser.Sees(type == "balance-statement" ? "has landed without an entry" : "is posted", ".done");
    }

    [Fact]
    public void A_payment_is_typed_from_the_first_field_to_the_last_without_a_mouse_and_every_amount_says_why()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out?type=customer-payment");
        browser.Press("larkfield" + Keys.Enter);
        browser.Has("[name=party]", "C-10 · Larkfield Gardens");
        browser.TabTo("[name=amount]");
        browser.Press("50");
        browser.TabTo("[name=moneyAccount]");
        browser.Press("MAIN");
        browser.TabTo("[name$='.event']:not([readonly])");
        browser.Press("INV-1" + Keys.Tab + "50" + Keys.Tab + "1120" + Keys.Tab);
        browser.Sees("1120", "#entry");
        browser.Sees("standing", "#entry");
        browser.Sees("takes from INV-1", "#movements");
        browser.Click("#entry tbody tr:nth-child(2) a.num");
        browser.Sees("stands on this account already", "#drawer");
    }

    [Fact]
    public void What_is_missing_of_a_journal_is_said_and_taken_with_one_key()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out?type=manual-journal");
        browser.Type("[name=text]", "Rent");
        browser.Type("[name='Lines[0].account']", "6110" + Keys.Tab);
        browser.Type("[name='Lines[0].debit']", "80");
        browser.Sees("80.00 credit missing", "#lands-1");
        Assert.False(browser.Find("#post button").Enabled);
        browser.Type("[name='Lines[1].moneyAccount']", "MAIN");
        browser.Type("[name='Lines[1].credit']", "=");
        browser.Sees("1000", "#lands-1");
        browser.Click("#post button:enabled");
        browser.Sees("is posted", ".done");
    }

    [Fact]
    public void A_block_out_of_a_spreadsheet_is_pasted_into_the_lines()
    {
        browser.SignIn("ines");
        browser.Open("/qn/try-out?type=year-end");
        browser.Type("[name=fiscalYear]", "2026");
        browser.Clip("4010\t-500\n4020\t-300\n6110\t120\n");
        browser.Click("[name='Lines[0].account']");
        browser.Press(Keys.Control + "v");
        browser.Sees("3020", "#entry");
        browser.Sees("680.00", "#entry");
        browser.Has("[name='Lines[2].amount']", "120");
    }
}
