using Assignum.Core.Charts;
using Assignum.Core.Posting;

namespace Assignum.Core.Tests.Charts;

public class MergeTests
{
    static AccountMerge Plan(Account from, Account to) =>
        AccountMerge.Plan(new ChartBook(Book.Nursery with { Accounts = [.. Book.Nursery.Accounts.Where(a => a.Number != from.Number && a.Number != to.Number), from, to] }), from, to);

    static Account Account(string number) => Book.Nursery.Accounts.Single(a => a.Number == number);

    [Fact]
    public void It_names_the_rules_that_move() => Assert.Equal(Book.Nursery.Rules.Where(r => r.Account == "4010").Select(r => r.Id), Plan(Account("4010"), Account("4030")).Rules.Select(r => r.Id));

    [Fact]
    public void Accounts_of_different_controls_are_not_merged() => Assert.Contains("subledger", Assert.Single(Plan(Account("1100"), Account("4030")).Faults), StringComparison.Ordinal);

    [Fact]
    public void Headings_and_inactive_accounts_are_not_merged() =>
        Assert.Equal(2, Plan(Account("4010") with { Kind = AccountKind.Heading }, Account("4030") with { Active = false }).Faults.Count);

    [Fact]
    public void Another_class_is_said_before() => Assert.Contains("income becomes expense", Assert.Single(Plan(Account("4010"), Account("4030") with { Class = AccountClass.Expense }).Cautions), StringComparison.Ordinal);

    [Fact]
    public void A_target_without_tax_takes_it_over_and_one_with_its_own_keeps_it()
    {
        var from = Account("4010") with { TaxCode = "R8", ItemTaxGroup = null };

        Assert.Equal("R8", Plan(from, Account("4030") with { TaxCode = null, ItemTaxGroup = null }).ToAfterwards.TaxCode);
        Assert.Equal("S20", Plan(from, Account("4030") with { TaxCode = "S20" }).ToAfterwards.TaxCode);
    }

    [Fact]
    public void A_difference_names_field_before_and_after()
    {
        var changes = AccountDifference.Between(Account("4010"), AccountDescription.None, Account("4010") with { Name = "Seeds", TaxCode = null }, AccountDescription.None with { ShortName = "Seeds" });

        Assert.Contains("name from Sales of seeds to Seeds", AccountDifference.InWords(changes), StringComparison.Ordinal);
        Assert.Contains("short name Seeds given", AccountDifference.InWords(changes), StringComparison.Ordinal);
    }

    [Theory]
    [InlineData(AccountClass.Asset, null, -1, true)]
    [InlineData(AccountClass.Asset, UsualSide.Credit, -1, false)]
    [InlineData(AccountClass.Income, null, -1, false)]
    [InlineData(AccountClass.Income, null, 1, true)]
    [InlineData(AccountClass.Expense, null, 0, false)]
    public void A_balance_on_the_other_side_than_usual_is_seen(AccountClass accountClass, UsualSide? side, int balance, bool wrong) => Assert.Equal(wrong, Standing.IsWrongSide(accountClass, side, balance));

    [Fact]
    public void Uses_are_counted_and_put_into_words()
    {
        var uses = new AccountUses(Book.Nursery);

        Assert.Equal(uses.Count("4010"), uses.Of("4010").Count);
        Assert.All(uses.Of("4010"), u => Assert.Equal(UseKind.Rule, u.Kind));
    }
}
