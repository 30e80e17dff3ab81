using Assignum.Core.Findings;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Tests.Rulebooks;

/// <summary>A rulebook compiled over one it differs from in few rules answers as one compiled anew, and has the same errors.</summary>
public class NearRulebookTests
{
    static readonly string[] Items = [.. Enumerable.Range(0, 12).Select(i => "I" + i)], Connections = ["shop", "till", "web"];

    [Theory]
    [InlineData(1), InlineData(2), InlineData(3), InlineData(4), InlineData(5), InlineData(6)]
    public void It_answers_every_question_as_one_that_is_compiled_anew(int seed)
    {
        var chance = new Random(seed);
        var book = Sample(chance);
        var known = new CompiledRulebook(book);
        for (var step = 0; step < 25; step++)
        {
            book = book with { Rules = Changed(book, chance) };
            var near = CompiledRulebook.Near(book, known);
            var anew = new CompiledRulebook(book);
            for (var i = 0; i < 60; i++)
            {
                var (facts, purpose, date) = (AnyFacts(chance), AnyPurpose(chance), new DateOnly(2026, 1 + chance.Next(12), 10));
                var (a, b) = (near.Resolve(purpose, near.FactsOf(facts), date), anew.Resolve(purpose, anew.FactsOf(facts), date));
                Assert.Equal(b.Found, a.Found);
                if (!b.Found)
                    continue;
                Assert.Same(anew.RuleOf(b), near.RuleOf(a));
                Assert.Equal(anew.RungOf(b), near.RungOf(a));
                Assert.Equal(anew.AccountOf(b).Number, near.AccountOf(a).Number);
            }
            if (chance.Next(3) > 0)
                known = near;
        }
    }

    [Theory]
    [InlineData(11), InlineData(12), InlineData(13)]
    public void It_has_the_errors_that_looking_at_all_of_it_finds(int seed)
    {
        var chance = new Random(seed);
        var sound = Sample(chance);
        Assert.Empty(RulebookChecks.Errors(sound));
        for (var step = 0; step < 60; step++)
        {
            var changed = sound with { Rules = [.. Changed(sound, chance), .. Faulty(sound, chance)] };
            Assert.Equal(Said(RulebookChecks.Errors(changed)), Said(RulebookChecks.ErrorsNear(changed, sound)));
        }

        static IEnumerable<string> Said(IEnumerable<Finding> findings) => findings.Select(f => f.Check + " " + f.Where).Order(StringComparer.Ordinal);
    }

    [Fact]
    public void Where_more_than_rules_differs_it_is_compiled_anew()
    {
        var book = Sample(new Random(1));
        var known = new CompiledRulebook(book);
        var renumbered = book with { Items = [.. book.Items.Reverse()], ItemGroups = [.. book.ItemGroups.Reverse()] };
        var near = CompiledRulebook.Near(renumbered, known);
        FactValue[] facts = [new(Fact.Item, "I3"), new(Fact.ItemGroup, "G0")];
        Assert.Equal(new CompiledRulebook(renumbered).Resolve(Purpose.Revenue, near.FactsOf(facts), new(2026, 3, 1)).Found, near.Resolve(Purpose.Revenue, near.FactsOf(facts), new(2026, 3, 1)).Found);
        Assert.Equal("I0", near.Items.All[^1].Code);
    }

    static Rulebook Sample(Random chance)
    {
        var book = Book.Nursery with
        {
            Items = [.. Items.Select((code, i) => new Core.Groups.Item { Code = code, Group = "G" + i % 3, Kind = Core.Groups.ItemKind.Stock })],
            ItemGroups = [.. Enumerable.Range(0, 3).Select(i => new Core.Groups.Group("G" + i, ""))],
        };
        return book with { Rules = [.. Book.Nursery.Rules.Where(r => r.Purpose != Purpose.Revenue && r.Purpose != Purpose.ChargeIncome), .. Changed(book with { Rules = [] }, chance, 40)] };
    }

    // Some go, some change, some come; of those with one key only one stays.
    static List<Rule> Changed(Rulebook book, Random chance, int come = 3)
    {
        var rules = book.Rules.Where(_ => chance.Next(20) > 0).Select(r => chance.Next(20) == 0 ? r with { Account = AnyAccount(chance) } : r).ToList();
        for (var i = 0; i < come; i++)
            rules.Add(new Rule { Id = "n" + chance.Next(1_000_000_000), Purpose = AnyPurpose(chance), When = AnyWhen(chance), Account = AnyAccount(chance) });
        return [.. rules.GroupBy(r => r.Key).Select(g => g.First())];
    }

    static IEnumerable<Rule> Faulty(Rulebook book, Random chance) => chance.Next(5) switch
    {
        0 => [new Rule { Id = "f1", Purpose = Purpose.Revenue, When = [new(Fact.ItemGroup, "NOBODY")], Account = "4000" }],
        1 => [new Rule { Id = "f2", Purpose = Purpose.Revenue, Account = "9876" }],
        2 => [new Rule { Id = "f3", Purpose = Purpose.Rounding, When = [new(Fact.Item, "I1")], Account = "4000" }],
        3 => [book.Rules[chance.Next(book.Rules.Count)] with { Id = "f4" }],
        _ => [],
    };

    static Purpose AnyPurpose(Random chance) => chance.Next(3) switch { 0 => Purpose.Revenue, 1 => Purpose.SalesDiscount, _ => Purpose.ChargeIncome };

    static string AnyAccount(Random chance) => chance.Next(2) == 0 ? "4000" : "4010";

    static FactValue[] AnyWhen(Random chance) => chance.Next(4) switch
    {
        0 => [new(Fact.Item, Items[chance.Next(Items.Length)])],
        1 => [new(Fact.ItemGroup, "G" + chance.Next(3))],
        2 => [new(Fact.Connection, Connections[chance.Next(Connections.Length)])],
        _ => [],
    };

    static List<FactValue> AnyFacts(Random chance)
    {
        var item = chance.Next(Items.Length);
        List<FactValue> facts = [new(Fact.Item, Items[item]), new(Fact.ItemGroup, "G" + item % 3)];
        if (chance.Next(2) == 0)
            facts.Add(new(Fact.Connection, Connections[chance.Next(Connections.Length)]));
        return facts;
    }
}
