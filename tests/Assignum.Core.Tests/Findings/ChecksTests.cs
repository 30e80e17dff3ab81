using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Tests.Findings;

public class ChecksTests
{
    static readonly Rulebook Sound = Book.Nursery.WithAccount(Book.Account("1210", "Input tax", AccountClass.Asset) with { Control = Control.Tax }).With(Book.Rule("input-tax", "1210"));

    static readonly DateOnly Today = new(2026, 6, 1);

    static readonly Dictionary<string, Func<Rulebook, Rulebook>> Broken = new()
    {
        ["unknown-account"] = b => b.With(Book.Rule("revenue", "9999", (Fact.Item, "X"))),
        ["rule-account-not-postable"] = b => b.With(Book.Rule("revenue", "6", (Fact.Item, "X"))),
        ["rule-off-ladder"] = b => b.With(Book.Rule("revenue", "4000", (Fact.Method, "card"))),
        ["rule-overlap"] = b => b.With(Book.Rule("revenue", "4030", (Fact.ItemGroup, " seeds")) with { From = new(2026, 1, 1) }),
        ["rule-dates"] = b => b.With(Book.Rule("revenue", "4000", (Fact.Item, "X")) with { From = new(2026, 2, 1), To = new(2026, 1, 1) }),
        ["duplicate-number"] = b => b with { Accounts = [.. b.Accounts, Book.Account("4010 ", "Again", AccountClass.Income)] },
        ["duplicate-code"] = b => b with { Items = [.. b.Items, new Item { Code = "seed-01", Kind = ItemKind.Stock }] },
        ["chart-cycle"] = b => b.WithAccount(Book.Account("6", "Expenses", AccountClass.Expense) with { Kind = AccountKind.Heading, Parent = "6" }),
        ["unknown-parent"] = b => b.WithAccount(Book.Account("4040", "Tools", AccountClass.Income) with { Parent = "44" }),
        ["unknown-group"] = b => b with { Items = [.. b.Items, new Item { Code = "X", Kind = ItemKind.Stock, Group = "NIX" }] },
        ["unknown-tax-code"] = b => b with { TaxRules = [.. b.TaxRules, new TaxRule { TaxCode = "NIX" }] },
        ["bad-rung"] = b => b.WithLadder("gift-card", Rung.Default, Rung.Default),
        ["rule-account-inactive"] = b => b.WithAccount(Book.Account("4010", "Seeds", AccountClass.Income) with { ValidTo = new(2026, 12, 31) }),
        ["class-mismatch"] = b => b.With(Book.Rule("revenue", "5000", (Fact.Item, "POT-12"))),
        ["control-missing"] = b => b.With(Book.Rule("receivable", "4000", (Fact.Party, "C-70"))),
        ["control-foreign"] = b => b.With(Book.Rule("receivable", "1000", (Fact.Party, "C-70"))),
        ["kind-mismatch"] = b => b.With(Book.Rule("inventory", "5000", (Fact.ItemGroup, "SEEDS"))),
        ["uncovered"] = b => (b with { Rules = [.. b.Rules.Where(r => !(r.Purpose == Purpose.Revenue && r.When.Count == 0))] }) with { Items = [.. b.Items, new Item { Code = "X", Kind = ItemKind.Service, Group = "DELIVERY" }] },
        ["default-only"] = b => b with { Items = [.. b.Items, new Item { Code = "X", Kind = ItemKind.Service, Group = "DELIVERY" }] },
        ["suspense-only"] = b => (b with { Items = [.. b.Items, new Item { Code = "X", Kind = ItemKind.Service, Group = "DELIVERY" }] }).WithAccount(Book.Account("4000", "Sales", AccountClass.Income) with { Suspense = true }),
        ["rule-redundant"] = b => b.With(Book.Rule("revenue", "4010", (Fact.Item, "SEED-01"))),
        ["family-mismatch"] = b => b.With(Book.Rule("inventory", "1300", (Fact.ItemGroup, "DELIVERY"))),
        ["tax-hole"] = b => b with { PartyTaxGroups = [.. b.PartyTaxGroups, new Group("NEW", "")] },
        ["tax-rate-missing"] = b => b with { TaxCodes = [.. b.TaxCodes.Select(t =>
            t with { Components = [.. t.Components.Select(c => c with { Rates = [.. c.Rates.Select(r => r with { From = new(2026, 6, 2) })] })] })] },
        ["tax-code-without-account"] = b => b.Without("input-tax"),
        ["tax-direction"] = b => (b with { TaxCodes = [.. b.TaxCodes, Book.Tax("P", 20) with { Direction = TaxDirection.Purchases }] }).WithAccount(Book.Account("4040", "Tools", AccountClass.Income) with { TaxCode = "P" }),
        ["account-tax-contradiction"] = b => (b with { TaxRules = [.. b.TaxRules, new TaxRule { ItemTaxGroup = "REDUCED", TaxCode = "R8" }] }).WithAccount(Book.Account("4040", "Tools", AccountClass.Income) with { ItemTaxGroup = "REDUCED", TaxCode = "S20" }),
        ["option-account-missing"] = b => b.WithOptions(new CompanyOptions { SeparateDiscounts = true }),
        ["option-account-unused"] = b => b.With(Book.Rule("sales-discount", "4310")),
        ["near-duplicate-account"] = b => b.WithAccount(Book.Account("4011", "sales of  SEEDS", AccountClass.Income)),
        ["member-without-group"] = b => b with { Items = [.. b.Items, new Item { Code = "X", Kind = ItemKind.Stock }] },
        ["group-empty"] = b => b with { ItemGroups = [.. b.ItemGroups, new Group("NEW", "")] },
    };

    public static TheoryData<string> Checks => [.. Broken.Keys];

    [Theory]
    [MemberData(nameof(Checks))]
    public void Each_check_sees_its_defect_and_not_the_sound_rulebook(string check)
    {
        var before = RulebookChecks.Check(Sound, Today).Where(f => f.Check == check).Select(f => f.Where).ToHashSet();
        var seen = RulebookChecks.Check(Broken[check](Sound), Today).FirstOrDefault(f => f.Check == check && !before.Contains(f.Where));

        Assert.NotNull(seen);
        Assert.EndsWith(".", seen.Message, StringComparison.Ordinal);
        Assert.NotEmpty(seen.Where);
    }

    [Theory]
    [InlineData("4030", Fact.Item, "SEED-01")]
    [InlineData("4000", Fact.PartyGroup, "TRADE")]
    public void A_rule_that_lands_elsewhere_than_the_rung_below_is_not_redundant(string account, Fact fact, string code)
    {
        // Where a rung between asks for a fact that the rule does not have, nobody can say, and nothing is said.
        var book = Sound.With(Book.Rule("revenue", account, (fact, code)), Book.Rule("revenue", "4310", (Fact.Connection, "web-shop")));

        Assert.DoesNotContain(RulebookChecks.Check(book, Today), f => f.Check == "rule-redundant");
    }

    // Keys are for files; people read names.
    [Theory]
    [MemberData(nameof(Checks))]
    public void A_finding_is_written_with_the_names_people_see(string check)
    {
        var book = Broken[check](Sound);
        foreach (var finding in RulebookChecks.Check(book, Today).Where(f => f.Check == check))
        {
            Assert.DoesNotContain(book.Rules, r =>
                System.Text.RegularExpressions.Regex.IsMatch(finding.Message, $@"\b{System.Text.RegularExpressions.Regex.Escape(r.Id)}\b"));
            Assert.DoesNotContain(Purpose.All.Where(p => p.Name.Contains('-', StringComparison.Ordinal)), p =>
                finding.Message.Contains(p.Name, StringComparison.Ordinal));
            Assert.DoesNotMatch("[a-z][A-Z]|\\w/\\d", finding.Message);
        }
    }

    [Fact]
    public void A_purpose_that_members_can_reach_is_uncovered_also_where_no_rule_has_been_made_yet()
    {
        var none = Sound with { Rules = [] };
        var uncovered = RulebookChecks.Check(none, Today).Where(f => f.Check == "uncovered").ToList();

        Assert.Contains(uncovered, f => f.Where == "purposes/revenue" && f.Message.StartsWith("Revenue has no rule yet, and ", StringComparison.Ordinal));
        Assert.All(uncovered.GroupBy(f => f.Where), purpose => Assert.Single(purpose));
        Assert.DoesNotContain(RulebookChecks.Check(none with { Items = [], Parties = [], Projects = [], AssetGroups = [] }, Today), f =>
            f.Check == "uncovered");
    }

    [Theory]
    [InlineData("Running  cost", "Running costs", true)]
    [InlineData("Cost of sales, seeds", "Cost of sales: SEEDS", true)]
    [InlineData("Glass", "Glas", false)]
    public void Names_that_differ_in_spaces_signs_or_a_plural_are_nearly_the_same(string one, string other, bool alike) =>
        Assert.Equal(alike, RulebookChecks.Check(Sound.WithAccount(Book.Account("6991", one, AccountClass.Expense)).WithAccount(Book.Account("6992", other,
            AccountClass.Expense)), Today).Any(f => f.Check == "near-duplicate-account"));

    [Fact]
    public void A_heading_is_mended_by_an_account_below_it()
    {
        var book = Broken["rule-account-not-postable"](Sound.WithAccount(Book.Account("6001", "Rent", AccountClass.Expense) with { Parent = "6" }));

        Assert.EndsWith("Choose a posting account below it: 6001.",
            RulebookChecks.Check(book, Today).Single(f => f.Check == "rule-account-not-postable").Message, StringComparison.Ordinal);
    }

    [Fact]
    public void A_rulebook_with_an_error_says_only_its_errors() =>
        Assert.All(RulebookChecks.Check(Broken["unknown-account"](Sound with { ItemGroups = [.. Sound.ItemGroups, new Group("NEW", "")] }), Today), f =>
            Assert.Equal(Severity.Error, f.Severity));

    [Fact]
    public void A_rule_that_is_typed_is_held_against_the_rulebook_without_the_one_it_replaces()
    {
        var seeds = Sound.Rules.Single(r => r.InWords == "SEEDS");

        Assert.Empty(RulebookChecks.ErrorsOf(Sound, seeds with { Account = "4030" }, replaced: seeds.Id));
        Assert.Equal("rule-overlap", Assert.Single(RulebookChecks.ErrorsOf(Sound, seeds with { Id = "new" })).Check);
    }
}
