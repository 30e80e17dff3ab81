using Assignum.Core.Charts;

namespace Assignum.Core.Tests.Charts;

/// <summary>An import that names what nobody has: refused, left out or made, as whoever imports has chosen.</summary>
public class ChartLenienceTests
{
    static readonly ChartBook Chart = new(Book.Nursery);
    static readonly ChartRow[] Rows =
    [
        new(2, "8100", "Honey", "income", "", "81") { TaxCode = "H7" }, new(3, "8110", "Wax", "income", "", "81") { ItemTaxGroup = "BEES" },
        new(4, "8200", "Hives", "income", "", "") { TaxCode = "S20" },
    ];

    static ChartPlan Plan(Unknown tax, Unknown parents) => ChartImport.Plan(Rows, Chart, lenience: new ChartLenience(tax, parents));

    static string[] Fates(ChartPlan plan) => [.. plan.Rows.Select(r => $"{r.Row.Number} {r.Fate} {r.Field}".TrimEnd())];

    [Fact]
    public void Without_a_choice_such_rows_are_refused_at_their_cell()
    {
        var plan = ChartImport.Plan(Rows, Chart);

        Assert.Equal(["8200 New"], Fates(plan).Where(f => !f.Contains("Refused", StringComparison.Ordinal)));
        Assert.Equal(Fates(plan), Fates(Plan(Unknown.Refused, Unknown.Refused)));
    }

    [Fact]
    public void Left_out_takes_the_rows_without_what_they_name()
    {
        var plan = Plan(Unknown.LeftOut, Unknown.LeftOut);

        Assert.Equal(["8100 New", "8110 New", "8200 New"], Fates(plan));
        Assert.Equal([(null, null, null), (null, null, null), (null, "S20", (string?)null)],
            plan.Rows.Select(r => (r.Account!.Parent, r.Account.TaxCode, r.Account.ItemTaxGroup)));
        Assert.Equal((0, 0), (plan.TaxCodes.Count, plan.ItemTaxGroups.Count));
    }

    [Fact]
    public void Made_makes_one_heading_for_all_that_stand_under_it_and_names_the_tax_settings_to_make()
    {
        var plan = Plan(Unknown.Made, Unknown.Made);

        Assert.Equal(["81 New", "8100 New", "8110 New", "8200 New"], Fates(plan));
        Assert.Equal((AccountKind.Heading, AccountClass.Income, "81"), (plan.Rows[0].Account!.Kind, plan.Rows[0].Account!.Class, plan.Rows[1].Account!.Parent));
        Assert.Equal("H7 BEES", string.Join(" ", plan.TaxCodes.Concat(plan.ItemTaxGroups)));
    }

    [Fact]
    public void A_heading_can_never_be_picked_and_the_refusal_names_what_stands_below()
    {
        Account[] accounts = [Book.Account("6", "Expenses", AccountClass.Expense) with { Kind = AccountKind.Heading },
            Book.Account("61", "Rent", AccountClass.Expense) with { Parent = "6" }];

        Assert.Equal("Account 6 Expenses is a heading. Choose a posting account below it: 61.",
            AccountPick.One("6", accounts, Assignum.Core.Rulebooks.Purpose.Find("rounding")!).Fault);
        Assert.Equal("61", AccountPick.One("rent", accounts, Assignum.Core.Rulebooks.Purpose.Find("rounding")!).Thing!.Number);
    }
}
