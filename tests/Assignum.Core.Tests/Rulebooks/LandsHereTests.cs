using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using CsCheck;

namespace Assignum.Core.Tests.Rulebooks;

/// <summary>What lands on an account: each rule with the members it really answers for, against a slow reading of 03.</summary>
public class LandsHereTests
{
    static readonly Rung[] Ladder = [new([Fact.Item]), new([Fact.ItemGroup, Fact.PartyGroup]), new([Fact.ItemGroup]), new([])];
    static readonly string[] Items = ["A", "B", "C", "D"], ItemGroups = ["X", "Y"], PartyGroups = ["P", "Q"], Accounts = ["1", "2"];

    static readonly Gen<Rule> AnyRule =
        from rung in Gen.Int[0, 3]
        from code in Gen.Int[0, 3]
        from party in Gen.Int[0, 1]
        from account in Gen.Int[0, 1]
        select new Rule
        {
            Id = "", Purpose = Purpose.Revenue, Account = Accounts[account],
            When = [.. Ladder[rung].Facts.Select(f =>
                new FactValue(f, f == Fact.Item ? Items[code] : f == Fact.ItemGroup ? ItemGroups[code % 2] : PartyGroups[party]))],
        };

    static readonly Gen<Rulebook> AnyBook =
        from rules in AnyRule.Array[0, 10]
        from groups in Gen.Int[-1, 1].Array[4]
        select (Book.Nursery with
        {
            Accounts = [.. Accounts.Select(a => Book.Account(a, "Account " + a, Assignum.Core.Charts.AccountClass.Income))],
            Items = [.. Items.Select((code, i) =>
                new Item { Code = code, Name = "Item " + code, Kind = ItemKind.Stock, Group = groups[i] < 0 ? null : ItemGroups[groups[i]] })],
            ItemGroups = [.. ItemGroups.Select(g => new Group(g, ""))], PartyGroups = [.. PartyGroups.Select(g => new Group(g, ""))], Parties = [],
            Rules = [.. rules.DistinctBy(r => r.Key).Select((r, i) => r with { Id = "r" + i })],
        }).WithLadder("revenue", Ladder);

    [Fact]
    public void Each_rule_has_the_items_it_answers_for_and_those_a_closer_rule_takes_elsewhere() => AnyBook.Sample(book =>
    {
        var compiled = new CompiledRulebook(book);
        foreach (var account in book.Accounts)
            foreach (var here in LandsHere.Of(compiled, account, Book.Day))
            {
                var concerned = book.Items.Where(i =>
                    here.Rule.When.All(w => w.Fact switch { Fact.Item => w.Code == i.Code, Fact.ItemGroup => w.Code == i.Group, _ => true })).ToList();
                var answers = concerned.ToDictionary(i => i.Code, i => Slowly(book, i, here.Rule.When.FirstOrDefault(w => w.Fact == Fact.PartyGroup).Code));
                Assert.Equal(concerned.Where(i => answers[i.Code] == here.Rule).Select(i => i.Code), here.Members.Select(m => m.Code));
                Assert.Equal(concerned.Where(i => answers[i.Code] != here.Rule).Select(i => (i.Code, answers[i.Code]?.Account)),
                    here.Elsewhere.Select(e => (e.Code, e.Account)));
            }
        Assert.Equal(book.Rules.Count, book.Accounts.Sum(a => LandsHere.Of(compiled, a, Book.Day).Count));
    }, iter: 500);

    static Rule? Slowly(Rulebook book, Item item, string? partyGroup)
    {
        foreach (var rung in Ladder)
            foreach (var rule in book.Rules)
                if (rule.Rung.Equals(rung) && rule.When.All(w =>
                    w.Code == (w.Fact switch { Fact.Item => item.Code, Fact.ItemGroup => item.Group, _ => partyGroup })))
                    return rule;
        return null;
    }

    [Fact]
    public void A_rule_of_parties_has_the_parties_behind_it_and_a_suppliers_is_not_among_the_receivables()
    {
        var here = Assert.Single(LandsHere.Of(new CompiledRulebook(Book.Nursery), Book.Nursery.Accounts[0], Book.Day));

        Assert.True(here.OfParties);
        Assert.Equal(["C-10", "C-70"], here.Members.Select(m => m.Code));
    }
}
