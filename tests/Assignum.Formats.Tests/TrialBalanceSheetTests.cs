using Assignum.Core.Rulebooks;
using Assignum.Formats.Openings;
using Assignum.Formats.Rulebooks;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Tests;

/// <summary>A trial balance of other books, as people have it: with headings or without, debit and credit or one balance.</summary>
public sealed class TrialBalanceSheetTests
{
    static readonly CompiledRulebook Book = new(RulebookReader.Read(File.ReadAllBytes("files/rulebook.json")).Book!);

    static (IReadOnlyList<OldBalance> Balances, IReadOnlyList<RefusedBalance> Refused) Read(string text) =>
        TrialBalanceSheet.Read(SheetFile.Read(System.Text.Encoding.UTF8.GetBytes(text), default).Sheets[0], Book);

    static IEnumerable<(string, decimal)> Found(string text) => Read(text).Balances.Select(b => (b.Account.Number, b.Amount));

    [Theory]
    [InlineData("account\tname\tdebit\tcredit\n1000\tMain bank\t1,200.50\t\n1100\tTrade\t\t20\n")]
    [InlineData("1000\tMain bank\t1200.50\t\n1100\tTrade\t\t20\n")]
    [InlineData("number\tbalance\n1000\t1200.50\n1100\t-20\n")]
    [InlineData("1000\t1200.50\n1100\t-20\n")]
    [InlineData("1000\tMain bank\t1200.50\n1100\tTrade\t-20\n")]
    [InlineData("account\tcredit\tdebit\n1000\t\t1200.50\n1100\t20\t\nTotal\t20\t1200.50\n")]
    public void It_is_read_in_every_shape_people_have_it_in(string text) => Assert.Equal([("1000", 1200.5m), ("1100", -20m)], Found(text));

    [Fact]
    public void An_account_on_several_rows_is_their_sum() => Assert.Equal([("1000", 7m)], Found("account\tbalance\n1000\t10\n1000\t-3\n"));

    [Theory]
    [InlineData("9999\t5\n", "There is no account 9999")]
    [InlineData("1000\tMain bank\n", "What stands on 1000 Main bank is missing")]
    [InlineData("1000\t1.005\n", "more than 2 decimals")]
    public void A_row_that_can_t_be_taken_says_why(string row, string why)
    {
        var (_, refused) = Read("account\tbalance\n" + row);
        Assert.Contains(why, Assert.Single(refused).Why, StringComparison.Ordinal);
        Assert.Equal(2, refused[0].Line);
    }
}
