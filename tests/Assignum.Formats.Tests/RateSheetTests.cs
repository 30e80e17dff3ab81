using System.Text;
using Assignum.Core.Rates;
using Assignum.Formats.Rates;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Tests;

/// <summary>Exchange rates out of a sheet: every row is a rate, or is refused with its line.</summary>
public class RateSheetTests
{
    static (IReadOnlyList<DayRate> Rates, IReadOnlyList<RefusedRate> Refused) Read(string csv) =>
        RateSheet.Read(SheetFile.Read(Encoding.UTF8.GetBytes(csv)).Sheets[0], "EUR");

    [Fact]
    public void Columns_stand_in_any_order_and_headings_are_passed_over()
    {
        DayRate[] expected = [new("USD", new DateOnly(2026, 3, 2), 0.92m), new("GBP", new DateOnly(2026, 3, 3), 1.15m)];
        Assert.Equal(expected, Read("day,currency,rate\n2026-03-02,USD,0.92\n2026-03-03,gbp,1.15\n").Rates);
        Assert.Equal(expected, Read("USD;0.92;2026-03-02\nGBP;1.15;2026-03-03\n").Rates);
    }

    [Theory]
    [InlineData("2026-03-02,USD,none", "no rate")]
    [InlineData("yesterday,USD,0.92", "no day")]
    [InlineData("2026-03-02,,0.92", "no currency")]
    [InlineData("2026-03-02,EUR,1", "the company's own currency")]
    [InlineData("2026-03-02,XQZ,1", "no ISO 4217 code")]
    [InlineData("2026-03-02,USD,0", "above 0")]
    [InlineData("2026-03-02,USD,0.1234567890123", "at most 12 decimals")]
    public void What_gives_no_rate_is_refused_with_its_line_and_the_fix(string row, string why)
    {
        var (rates, refused) = Read($"2026-03-01,USD,0.9\n{row}\n");

        Assert.Single(rates);
        Assert.Equal(2, Assert.Single(refused).Line);
        Assert.Contains(why, refused[0].Why, StringComparison.Ordinal);
    }

    [Fact]
    public void The_same_day_twice_is_one_rate_and_two_rates_of_one_day_are_refused()
    {
        Assert.Empty(Read("2026-03-02,USD,0.92\n2026-03-02,USD,0.920\n").Refused);
        Assert.Contains("twice", Assert.Single(Read("2026-03-02,USD,0.92\n2026-03-02,USD,0.93\n").Refused).Why, StringComparison.Ordinal);
    }
}
