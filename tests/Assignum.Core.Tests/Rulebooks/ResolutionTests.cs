using Assignum.Core.Rulebooks;

namespace Assignum.Core.Tests.Rulebooks;

public class ResolutionTests
{
    static readonly Rulebook Empty = Book.Nursery with { Rules = [] };

    static (string? Account, string? Rung) Ask(Rulebook book, string purpose, DateOnly date, params (Fact, string)[] facts)
    {
        var compiled = new CompiledRulebook(book);
        var answer = compiled.Resolve(Purpose.Find(purpose)!, compiled.FactsOf(facts.Select(f => new FactValue(f.Item1, f.Item2))), date);
        return answer.Found ? (compiled.AccountOf(answer).Number, compiled.RungOf(answer).Name) : (null, null);
    }

    static (string? Account, string? Rung) Ask(Rulebook book, string purpose, params (Fact, string)[] facts) => Ask(book, purpose, Book.Day, facts);

    [Fact]
    public void The_first_rung_with_a_rule_answers()
    {
        var book = Empty.With(Book.Rule("revenue", "4000"), Book.Rule("revenue", "4010", (Fact.ItemGroup, "SEEDS")), Book.Rule("revenue", "4030", (Fact.Item, "SEED-01")));

        Assert.Equal(("4030", "item"), Ask(book, "revenue", (Fact.Item, "SEED-01"), (Fact.ItemGroup, "SEEDS")));
        Assert.Equal(("4010", "itemGroup"), Ask(book, "revenue", (Fact.Item, "SEED-02"), (Fact.ItemGroup, "SEEDS")));
        Assert.Equal(("4000", "default"), Ask(book, "revenue", (Fact.ItemGroup, "POTS")));
    }

    [Fact]
    public void A_rung_is_skipped_while_one_of_its_facts_is_absent()
    {
        var book = Empty.With(Book.Rule("revenue", "4010", (Fact.ItemGroup, "SEEDS"), (Fact.PartyGroup, "TRADE")), Book.Rule("revenue", "4000"));

        Assert.Equal(("4000", "default"), Ask(book, "revenue", (Fact.ItemGroup, "SEEDS")));
        Assert.Equal(("4010", "itemGroup+partyGroup"), Ask(book, "revenue", (Fact.PartyGroup, "TRADE"), (Fact.ItemGroup, "SEEDS")));
    }

    [Fact]
    public void Nothing_answers_where_no_rung_has_a_rule() => Assert.Equal((null, null), Ask(Empty, "revenue", (Fact.ItemGroup, "SEEDS")));

    [Fact]
    public void A_rule_answers_from_its_first_to_its_last_day()
    {
        var book = Empty.With(
            Book.Rule("revenue", "4010") with { From = new(2026, 1, 1), To = new(2026, 6, 30) },
            Book.Rule("revenue", "4030") with { From = new(2026, 7, 1) });

        Assert.Null(Ask(book, "revenue", new DateOnly(2025, 12, 31)).Account);
        Assert.Equal("4010", Ask(book, "revenue", new DateOnly(2026, 1, 1)).Account);
        Assert.Equal("4010", Ask(book, "revenue", new DateOnly(2026, 6, 30)).Account);
        Assert.Equal("4030", Ask(book, "revenue", new DateOnly(2026, 7, 1)).Account);
    }

    [Fact]
    public void A_rule_that_is_not_valid_leaves_the_answer_to_the_next_rung()
    {
        var book = Empty.With(Book.Rule("revenue", "4010", (Fact.ItemGroup, "SEEDS")) with { To = new(2026, 1, 31) }, Book.Rule("revenue", "4000"));

        Assert.Equal(("4000", "default"), Ask(book, "revenue", (Fact.ItemGroup, "SEEDS")));
    }

    [Theory]
    [InlineData("seeds")]
    [InlineData("  SEEDS ")]
    [InlineData("SeEdS")]
    public void Codes_compare_by_their_fold(string written) =>
        Assert.Equal("4010", Ask(Empty.With(Book.Rule("revenue", "4010", (Fact.ItemGroup, "SEEDS"))), "revenue", (Fact.ItemGroup, written)).Account);

    [Fact]
    public void A_stand_in_is_tried_only_when_the_own_ladder_does_not_answer()
    {
        var book = Empty.With(Book.Rule("revenue", "4010", (Fact.ItemGroup, "SEEDS")), Book.Rule("sales-return", "4320", (Fact.ItemGroup, "POTS")));

        Assert.Equal(("4010", "itemGroup"), Ask(book, "sales-return", (Fact.ItemGroup, "SEEDS")));
        Assert.Equal(("4320", "itemGroup"), Ask(book, "sales-return", (Fact.ItemGroup, "POTS")));
    }

    [Fact]
    public void A_company_s_own_ladder_decides_the_order()
    {
        var book = Empty.With(Book.Rule("revenue", "4010", (Fact.PartyGroup, "TRADE")), Book.Rule("revenue", "4030", (Fact.ItemGroup, "POTS")))
            .WithLadder("revenue", new Rung(Fact.PartyGroup), new Rung(Fact.ItemGroup));

        Assert.Equal(("4010", "partyGroup"), Ask(book, "revenue", (Fact.ItemGroup, "POTS"), (Fact.PartyGroup, "TRADE")));
    }

    [Fact]
    public void Replacing_the_ladder_of_a_purpose_leaves_those_that_copied_it_alone()
    {
        var book = Empty.WithLadder("revenue", Rung.Default);

        Assert.Equal(10, book.LadderOf(Purpose.SalesReturn).Length);
    }

    [Fact]
    public void The_trail_says_of_every_rung_what_happened_there()
    {
        var compiled = new CompiledRulebook(Empty.With(Book.Rule("receivable", "1120", (Fact.PartyGroup, "TRADE"))));
        var facts = compiled.FactsOf([new(Fact.Party, "C-10"), new(Fact.PartyGroup, "TRADE")]);

        Assert.Equal([RungState.Empty, RungState.Skipped, RungState.Answered, RungState.NotReached, RungState.NotReached], compiled.Explain(Purpose.Receivable, facts, Book.Day).Select(s => s.State));
    }

    [Fact]
    public void Resolving_allocates_nothing()
    {
        var compiled = new CompiledRulebook(Book.Nursery);
        var facts = compiled.FactsOf([new(Fact.Item, "SEED-01"), new(Fact.ItemGroup, "SEEDS"), new(Fact.Party, "C-10"), new(Fact.PartyGroup, "TRADE")]);
        for (var i = 0; i < 1000; i++)
            compiled.Resolve(Purpose.Revenue, facts, Book.Day);

        var before = GC.GetAllocatedBytesForCurrentThread();
        for (var i = 0; i < 1000; i++)
            compiled.Resolve(Purpose.Revenue, facts, Book.Day);

        Assert.Equal(0, GC.GetAllocatedBytesForCurrentThread() - before);
    }

    [Fact]
    public void There_are_fifty_one_purposes_and_each_has_the_default_on_its_last_rung()
    {
        Assert.Equal(51, Purpose.All.Count);
        Assert.All(Purpose.All, p => Assert.Equal(Rung.Default, p.DefaultLadder[^1]));
    }
}
