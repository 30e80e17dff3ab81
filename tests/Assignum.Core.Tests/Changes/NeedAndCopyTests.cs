using Assignum.Core.Changes;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Tests.Changes;

/// <summary>What a change takes along, what copies would say, and what uses a group.</summary>
public class NeedAndCopyTests
{
    static readonly Rulebook Nursery = Book.Nursery;

    [Fact]
    public void A_rule_for_a_new_group_on_a_new_account_takes_both_along_and_nothing_else()
    {
        var after = Nursery with
        {
            ItemGroups = [.. Nursery.ItemGroups, new Group("BULBS", "Bulbs", "REDUCED")],
            Accounts = [.. Nursery.Accounts, Book.Account("4050", "Sales of bulbs", Core.Charts.AccountClass.Income), Book.Account("4060", "Sales of nothing", Core.Charts.AccountClass.Income)],
            Rules = [.. Nursery.Rules, Book.Rule("revenue", "4050", (Fact.ItemGroup, "BULBS")) with { Id = "new" }],
        };
        var needs = new ChangeNeeds(Nursery, after, RulebookDifference.Between(Nursery, after));

        Assert.Equal(["accounts/4050", "itemGroups/BULBS"], needs.Of(["rules/new"]).Select(t => t.Change.Where).Order(StringComparer.Ordinal));
        Assert.Empty(needs.Of(["accounts/4060"]));
    }

    [Fact]
    public void Copies_leave_exceptions_and_say_why_they_can_t_be_made()
    {
        var from = Nursery with { Rules = [.. Nursery.Rules, Book.Rule("revenue", "4000", (Fact.Item, "SEED-01"))] };
        var copies = RuleCopy.Of(from, Purpose.Revenue, from, Purpose.CostOfSales, Book.Day);

        Assert.DoesNotContain(copies, c => c.When.Any(w => w.Fact == Fact.Item));
        Assert.All(copies, c => Assert.Contains("cost of sales needs cost-of-sales", c.Fault, StringComparison.Ordinal));
        Assert.Equal("5000", Assert.Single(copies, c => c.When.Count == 0).There!.Account);
        Assert.All(RuleCopy.Of(from, Purpose.Revenue, from, Purpose.SalesReturn, Book.Day), c => Assert.Null(c.Fault));
    }

    [Fact]
    public void Rules_of_a_group_are_copied_for_another_and_from_a_company_by_name_where_numbers_differ()
    {
        var copied = Assert.Single(RuleCopy.Of(Nursery, Purpose.Revenue, Nursery, Purpose.Revenue, Book.Day, new(Fact.ItemGroup, "SEEDS"), new(Fact.ItemGroup, "DELIVERY")));
        Assert.Equal(("DELIVERY", "4010"), (copied.When[0].Code, copied.Account!.Number));

        var other = Nursery with { Accounts = [.. Nursery.Accounts.Select(a => a.Number == "4010" ? a with { Number = "401000" } : a)], Rules = [], ItemGroups = [new Group("SEEDS", "Seeds")] };
        var copies = RuleCopy.Of(Nursery, Purpose.Revenue, other, Purpose.Revenue, Book.Day);
        Assert.Equal("401000", Assert.Single(copies, c => c.When.Any(w => w.Code == "SEEDS")).Account!.Number);
        Assert.Contains("There is no item group POTS here", Assert.Single(copies, c => c.When.Any(w => w.Code == "POTS")).Fault, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("item", "SEEDS", "member SEED-01")]
    [InlineData("party", "EXPORT", "member C-70")]
    [InlineData("party-tax", "ABROAD", "a tax rule; posting group EXPORT")]
    [InlineData("item-tax", "STANDARD", "a tax rule; posting groups POTS, DELIVERY")]
    [InlineData("asset", "NONE", "")]
    public void The_uses_of_a_group_are_named(string family, string code, string uses) => Assert.StartsWith(uses, GroupUses.Of(Nursery, family, code).InWords, StringComparison.Ordinal);

    [Fact]
    public void A_tax_code_says_what_is_wrong_with_it_field_by_field()
    {
        TaxComponent component = new() { Rates = [new TaxRate(Book.Day, 20)] };
        string Fault(TaxCode code) => Assert.Single(TaxCodeCheck.Faults(code)).Message;

        Assert.Empty(TaxCodeCheck.Faults(new TaxCode { Code = "S20", Components = [component] }));
        Assert.Contains("no component", Fault(new TaxCode { Code = "S20", Components = [] }), StringComparison.Ordinal);
        Assert.Contains("no category XX", Fault(new TaxCode { Code = "S20", Category = "XX", Components = [component] }), StringComparison.Ordinal);
        Assert.Contains("due to BOARD and has no code", Fault(new TaxCode { Code = "S20", Components = [component with { Authority = "BOARD" }] }), StringComparison.Ordinal);
        Assert.Contains("no taxes before it", Fault(new TaxCode { Code = "S20", Components = [component with { Base = TaxBase.NetAndPrevious }] }), StringComparison.Ordinal);
        Assert.Contains("goes from 0 to 100", Fault(new TaxCode { Code = "S20", Components = [component with { RecoverablePercent = 101 }] }), StringComparison.Ordinal);
        Assert.Contains("Two rates begin", Fault(new TaxCode { Code = "S20", Components = [component with { Rates = [new(Book.Day, 1), new(Book.Day, 2)] }] }), StringComparison.Ordinal);
        Assert.Contains("each needs one", Fault(new TaxCode { Code = "S20", Components = [component with { Code = "A" }, component] }), StringComparison.Ordinal);
    }
}
