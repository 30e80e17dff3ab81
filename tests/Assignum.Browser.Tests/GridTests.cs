using OpenQA.Selenium;

namespace Assignum.Browser.Tests;

/// <summary>The rule grid by keyboard only.</summary>
public sealed class GridTests(Browser browser) : IClassFixture<Browser>
{
    const string Pane = "[role=grid]";

    string Cell(int row, int column) => browser.Find($"#cell-{row}-{column}").Text;

    [Fact]
    public void Cells_are_typed_filled_pasted_undone_and_released_without_a_mouse()
    {
        browser.SignIn("tomas");
        browser.Open("/qn/rules/revenue?rung=item%2Bparty");
        browser.Find("#cell-1-1");
        browser.TabTo(Pane);

        // One cell by a part of a name; Enter goes down.
        browser.Press(Keys.ArrowDown + Keys.ArrowRight);
        browser.Press("council contr" + Keys.Enter);
        browser.Sees("1 cell changed", ".said-grid");
        browser.Until(() => Cell(1, 1).StartsWith("4220", StringComparison.Ordinal), "4220 in the first cell");

        // Filled down over three more.
        browser.Press(Keys.ArrowUp + Keys.Shift + Keys.ArrowDown + Keys.ArrowDown + Keys.ArrowDown + Keys.Shift);
        browser.Press(Keys.Control + "d" + Keys.Control);
        browser.Sees("3 cells changed", ".said-grid");
        browser.Until(() => Cell(4, 1).StartsWith("4220", StringComparison.Ordinal), "4220 in the fourth cell");

        // A block of 20 × 5 from a spreadsheet, numbers and names.
        browser.Clip(string.Join("\r\n", Enumerable.Range(0, 20).Select(r => string.Join('\t', Enumerable.Range(0, 5).Select(c => (r + c) % 2 == 0 ? "4320" : "Discounts given")))));
        browser.Press(Keys.ArrowRight + Keys.ArrowUp + Keys.ArrowUp + Keys.ArrowUp);
        browser.Press(Keys.Control + "v" + Keys.Control);
        browser.Sees("100 cells changed", ".said-grid");
        browser.Until(() => Cell(1, 2).StartsWith("4320", StringComparison.Ordinal) && Cell(1, 3).StartsWith("4310", StringComparison.Ordinal), "the block");
        browser.Sees("106 changes", "[data-draft]");

        // Taken back in one step, and a fault in one cell lets nothing in.
        browser.Press(Keys.Control + "z" + Keys.Control);
        browser.Sees("Undone: ", ".said-grid");
        browser.Sees("and 99 more", ".said-grid");
        browser.Until(() => !Cell(1, 3).StartsWith("4310", StringComparison.Ordinal), "what stood there before");
        browser.Sees("6 changes", "[data-draft]");
        browser.Clip("4030\tno such account");
        browser.Press(Keys.Control + "v" + Keys.Control);
        browser.Sees("1 of 2 cells can't be taken, so nothing was changed", ".said-grid");
        browser.Sees("6 changes", "[data-draft]");
        browser.Press(Keys.Escape);

        // Why a cell says what it says.
        browser.Press(Keys.Control + Keys.Enter + Keys.Control);
        browser.Sees("lands on", "#drawer");
        browser.Press(Keys.Escape);

        browser.Press("/");
        browser.Press("editions");
        browser.Sees("Editions", "#found");
        browser.Press(Keys.Enter);
        browser.Until(() => browser.Path == "/qn/editions");
        browser.TabTo("#note");
        browser.Press("By keyboard.");
        browser.TabTo("#release button");
        browser.Press(Keys.Enter);
        browser.Sees("Edition 3 is released", ".done");
        Assert.Empty(browser.Complaints());
    }

}

/// <summary>Two people at one draft.</summary>
public sealed class TwoPeopleTests(Browser browser) : IClassFixture<Browser>
{
    [Fact]
    public void What_another_changes_comes_into_an_open_grid_by_itself()
    {
        browser.SignIn("ines");
        browser.Open("/qn/rules/cost-of-sales?rung=itemGroup");
        browser.Find("#cell-1-0");
        var other = browser.AsAnother("tomas", "/qn/rules/cost-of-sales?rung=itemGroup", "/qn/rules/cost-of-sales?rung=itemGroup&handler=cells", """[{"row":"OVERHEAD","column":null,"text":"5060","own":null,"seen":null,"typed":true}]""");

        Assert.Contains("1 cell changed", other, StringComparison.Ordinal);
        browser.Sees("Tomas: Rule", "#draft-note");
        browser.Until(() => browser.All(".cell").Any(c => c.Text.StartsWith("5060", StringComparison.Ordinal) && c.GetAttribute("aria-label")!.StartsWith("OVERHEAD", StringComparison.Ordinal)), "5060 for OVERHEAD");
    }
}
