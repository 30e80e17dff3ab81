using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Tests.Rulebooks;

/// <summary>What pages and commands ask of a rulebook.</summary>
public class AnswerTests
{
    static CompiledRulebook Compiled(params Rule[] more) => new(Tests.Book.Nursery with { Rules = [.. Tests.Book.Nursery.Rules, .. more] });

    static string? Revenue(CompiledRulebook book, Asked asked) => Whereabouts.Of(book, Purpose.Revenue, Whereabouts.FactsOf(book, asked), Tests.Book.Day).Account?.Number;

    [Fact]
    public void A_member_brings_its_group_and_a_group_alone_answers_too()
    {
        var book = Compiled();
        Assert.Equal("4010", Revenue(book, new Asked { Item = "seed-01" }));
        Assert.Equal("4010", Revenue(book, new Asked { ItemGroup = "SEEDS" }));
        Assert.Equal("4000", Revenue(book, new Asked { Party = "C-10" }));
        Assert.Equal("has no rule", Whereabouts.Of(book, Purpose.Payable, Whereabouts.FactsOf(book, new Asked()), Tests.Book.Day).WhyNot);
    }

    [Theory]
    [InlineData("larkfield seeds", "partyGroup|", "party=C-10 itemGroup=SEEDS")]
    [InlineData("field poppy, north YARD", "", "item=SEED-01 location=NORTH")]
    [InlineData("C-10 pot", "pot", "party=C-10")]
    [InlineData("nonsense", "nonsense", "")]
    [InlineData("", "", "")]
    public void A_question_is_read_by_codes_names_and_parts_of_names(string text, string unclear, string understood)
    {
        var question = Question.Read(Tests.Book.Nursery, text);

        Assert.Equal(understood.Split(' ', StringSplitOptions.RemoveEmptyEntries).Order(), question.Understood.Select(u => u.Fact.Name() + "=" + u.Code).Order());
        Assert.Equal(unclear.Contains('|', StringComparison.Ordinal) ? [] : unclear.Split(' ', StringSplitOptions.RemoveEmptyEntries), question.Unclear.Select(u => u.Word));
    }

    [Fact]
    public void A_word_that_fits_several_names_them()
    {
        var fitting = Assert.Single(Question.Read(Tests.Book.Nursery, "POT").Unclear).Fitting;
        Assert.Equal(["POT-12", "POT-99", "POTS"], fitting.Select(f => f.Code));
    }

    [Fact]
    public void What_only_events_bring_shows_gaps_that_no_member_shows()
    {
        Seen Payout(string connection, string method, long times) => new([new(Fact.Connection, connection), new(Fact.Method, method), new(Fact.Currency, "EUR")], times);
        var book = Compiled(Tests.Book.Rule("payment-clearing", "1050", (Fact.Connection, "web-shop")));
        var gaps = Gaps.OfSeen(book, Purpose.PaymentClearing, [Payout("till", "card", 2), Payout("till", "card", 3), Payout("web-shop", "card", 9)], Tests.Book.Day);

        var gap = Assert.Single(gaps);
        Assert.Equal((GapKind.Default, "till × card", 5, "connection+method"), (gap.Kind, gap.InWords, gap.Combinations, gap.Mend.Name));
        Assert.Empty(Gaps.OfSeen(book, Purpose.Inventory, [Payout("till", "card", 2)], Tests.Book.Day));
    }

    [Fact]
    public void A_rule_is_redundant_only_when_what_stands_below_it_says_the_same_whatever_else_holds()
    {
        var rule = Tests.Book.Rule("inventory", "1300", (Fact.Item, "SEED-01"));
        Assert.Equal("1300", Assert.Single(Redundancy.Of(Compiled(rule))).Lower.Account);
        // With a rule for the item's group and a party group between them, it depends on the party.
        Assert.Empty(Redundancy.Of(Compiled(Tests.Book.Rule("revenue", "4010", (Fact.Item, "SEED-01")), Tests.Book.Rule("revenue", "4000", (Fact.ItemGroup, "SEEDS"), (Fact.PartyGroup, "TRADE")))));
        Assert.Empty(Redundancy.Of(Compiled(rule with { Account = "1310" })));
    }

    [Fact]
    public void The_tax_grid_says_where_a_code_comes_from_and_what_it_comes_to()
    {
        var grid = new TaxGrid(Compiled(), null, Tests.Book.Day);
        Assert.Equal((CellOrigin.Own, "R8", 8m), grid.At("HOME", "REDUCED") is var own ? (own.Origin, own.Code!.Code, own.Percent!.Value) : default);
        Assert.Equal((CellOrigin.Row, "Z0"), grid.At("ABROAD", "STANDARD") is var row ? (row.Origin, row.Code!.Code) : default);
        Assert.Equal(CellOrigin.Own, grid.At("ABROAD", null).Origin);
        Assert.Equal(CellOrigin.Nothing, grid.At(null, "STANDARD").Origin);
    }

    [Theory]
    [InlineData("1300", "1300")]
    [InlineData("old st", "1310")]
    [InlineData("Sales of seeds", "4010")]
    [InlineData("4010 · anything", "4010")]
    [InlineData("no such", null)]
    public void An_account_is_picked_by_number_name_or_a_part_that_only_one_has(string typed, string? number)
    {
        var picked = AccountPick.One(typed, Tests.Book.Nursery.Accounts, Purpose.Revenue);
        Assert.Equal(number, picked.Thing?.Number);
        Assert.Equal(number is null, picked.Fault is not null);
    }

    [Fact]
    public void Where_a_part_fits_several_those_that_suit_the_purpose_come_first()
    {
        Assert.Equal("1300", AccountPick.One("st", Tests.Book.Nursery.Accounts.Where(a => a.Number is "1300" or "5000").ToList(), Purpose.Inventory).Thing?.Number ?? "none");
        Assert.Contains("fits several", AccountPick.One("sales of", Tests.Book.Nursery.Accounts, Purpose.Revenue).Fault, StringComparison.Ordinal);
        Assert.Equal("5000", AccountPick.One("of sales", Tests.Book.Nursery.Accounts, Purpose.CostOfSales).Thing?.Number);
    }
}
