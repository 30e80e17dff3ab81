using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Tests.Posting;

/// <summary>What is open in other currencies at the rates of a day.</summary>
public class RevaluationTests
{
    static Outcome Land(params RevaluedLine[] lines) => Landing.Land(EveryEvent.Compiled, new Revaluation { Id = "R", Date = Book.Day, Lines = lines });

    [Fact]
    public void Each_difference_stands_on_its_account_and_against_it_a_gain_or_a_loss_that_is_not_realised()
    {
        var landed = (Landed)Land(new RevaluedLine("2010", -12.5m) { Party = "S-10", Currency = "USD" }, new RevaluedLine("1000", 40) { MoneyAccount = "MAIN", Currency = "USD" });
        Assert.Equal([("2010", -12.5m, null), ("", 12.5m, Purpose.UnrealisedLoss), ("1000", 40, null), ("", -40, Purpose.UnrealisedGain)],
            landed.Rows.Select(r => (r.Purpose is null ? r.Account.Number : "", r.Amount, r.Purpose)));
        Assert.All(landed.Rows, r => Assert.Equal(r.Purpose is null ? AnsweredBy.Standing : AnsweredBy.Ladder, r.By));
    }

    [Fact]
    public void It_moves_what_it_names_with_nothing_in_the_currency_of_the_document()
    {
        var landed = (Landed)Land(new RevaluedLine("2010", -12.5m) { Party = "S-10", Currency = "usd" }, new RevaluedLine("1310", 3));
        Assert.Equal([(Subledger.Payables, "S-10", new Moved(-12.5m, "USD", 0))], landed.Subledger.Select(m => (m.Subledger, m.Member, m.Value)));
    }

    [Theory]
    [InlineData("2010", "S-10", "MAIN", "USD", "lines[0]")]
    [InlineData("2010", "S-10", null, "DOLLARS", "lines[0].currency")]
    [InlineData("2010", "NOBODY", null, "USD", "lines[0].party")]
    [InlineData("NONE", null, null, "USD", "lines[0].account")]
    public void A_line_that_does_not_fit_is_refused_by_its_place(string account, string? party, string? money, string currency, string field)
    {
        var held = Assert.IsType<Held>(Land(new RevaluedLine(account, 1) { Party = party, MoneyAccount = money, Currency = currency }));
        Assert.Equal(field, Assert.Single(held.Reasons).Field);
    }
}
