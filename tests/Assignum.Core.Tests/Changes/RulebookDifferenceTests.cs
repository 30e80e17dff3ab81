using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Tests.Changes;

public class RulebookDifferenceTests
{
    [Fact]
    public void A_rulebook_does_not_differ_from_itself() => Assert.Empty(RulebookDifference.Between(Book.Nursery, Book.Nursery with { Rules = [.. Book.Nursery.Rules.Select(r => r with { })] }));

    [Fact]
    public void Added_changed_and_ended_rules_are_sentences()
    {
        var seeds = Book.Nursery.Rules.Single(r => r.InWords == "SEEDS");
        var pots = Book.Nursery.Rules.Single(r => r.InWords == "POTS");
        var after = Book.Nursery with { Rules = [.. Book.Nursery.Rules.Where(r => r != pots && r != seeds), seeds with { Account = "4030" }, Book.Rule("revenue", "4000", (Fact.PartyGroup, "EXPORT")) with { Id = "new" }] };

        Assert.Equal(
        [
            $"Rule for revenue, SEEDS → 4030 Sales of pots: account from 4010 Sales of seeds to 4030 Sales of pots.",
                "Rule for revenue, EXPORT → 4000 Sales is new.",
            $"Rule for revenue, POTS → 4030 Sales of pots ends.",
        ], RulebookDifference.Between(Book.Nursery, after).Select(c => c.Sentence));
    }

    [Fact]
    public void Names_are_no_settings() =>
        Assert.Empty(RulebookDifference.Between(Book.Nursery, Book.Nursery.WithAccount(Book.Nursery.Accounts.Single(a => a.Number == "4010") with { Name = "Seeds" }) with { ItemGroups = [.. Book.Nursery.ItemGroups.Select(g => g with { Name = "x" })] }));

    [Fact]
    public void Everything_that_can_change_a_landing_shows()
    {
        var after = Book.Nursery with
        {
            Items = [.. Book.Nursery.Items.Select(i => i.Code == "SEED-01" ? i with { Group = "POTS" } : i)], Parties = [.. Book.Nursery.Parties.Select(p => p.Code == "C-10" ? p with { TaxGroup = "ABROAD" } : p)],
            TaxCodes = [Book.Tax("S20", 21), .. Book.Nursery.TaxCodes.Skip(1)], TaxRules = [.. Book.Nursery.TaxRules.Skip(1)],
            Accounts = [.. Book.Nursery.Accounts.Select(a => a.Number == "4010" ? a with { Manual = ManualPolicy.Warn } : a)], ItemGroups = [.. Book.Nursery.ItemGroups.Select(g => g.Code == "POTS" ? g with { TaxGroup = "REDUCED" } : g)],
        };
        after = after.WithLadder("gift-card", Rung.Default).WithOptions(new CompanyOptions { TaxTolerance = 1 });

        Assert.Equal(["Options", "Account", "Item group", "Party", "Item", "Tax code", "Tax rule", "Ladder of gift card"],
            RulebookDifference.Between(Book.Nursery, after).Select(c => c.Subject));
    }
}
