using System.Globalization;
using CsCheck;

namespace Assignum.Core.Tests;

public class WrittenTests
{
    static readonly Written Point = Written.Plain, Comma = Written.Of("comma", "dots"), Space = Written.Of("space", "words");

    [Fact]
    public void Numbers_and_days_are_written_as_chosen()
    {
        Assert.Equal(["1,234.50", "1.234,50", "1\u00A0234,50"], new[] { Point, Comma, Space }.Select(w => 1234.5m.ToString("N2", w)));
        Assert.Equal(["2026-11-27", "27.11.2026", "27 Nov 2026"], new[] { Point, Comma, Space }.Select(w => w.Day(new(2026, 11, 27))));
    }

    [Theory]
    [InlineData("1,234.50", "1234.50")]
    [InlineData("1234.5", "1234.5")]
    [InlineData("-0.5", "-0.5")]
    [InlineData("\u22125", "-5")]
    [InlineData(".5", "0.5")]
    [InlineData("1.234,50", null)]
    [InlineData("1,5", null)]
    [InlineData("12,34.5", null)]
    [InlineData("1 234", null)]
    [InlineData("1.2.3", null)]
    [InlineData("1.", null)]
    [InlineData("", null)]
    [InlineData("1e5", null)]
    public void A_number_that_could_be_meant_otherwise_is_not_read(string typed, string? number) => Reads(Point, typed, number);

    [Theory]
    [InlineData("1.234,50", "1234.50")]
    [InlineData("1.234", "1234")]
    [InlineData("0,5", "0.5")]
    [InlineData("1,234.50", null)]
    [InlineData("1.23", null)]
    public void With_commas_a_point_parts_thousands_only(string typed, string? number) => Reads(Comma, typed, number);

    [Theory]
    [InlineData("1 234,50", "1234.50")]
    [InlineData("1\u00A0234,50", "1234.50")]
    [InlineData("1.234", null)]
    public void With_spaces_neither_sign_is_guessed(string typed, string? number) => Reads(Space, typed, number);

    static void Reads(Written way, string typed, string? number) =>
        Assert.Equal(number, way.TryNumber(typed, out var read) ? read.ToString(CultureInfo.InvariantCulture) : null);

    [Theory]
    [InlineData("27.11.2026", false, true, false)]
    [InlineData("7.1.2026", false, true, false)]
    [InlineData("27 Nov 2026", false, false, true)]
    [InlineData("2026-11-27", true, true, true)]
    [InlineData("11/27/2026", false, false, false)]
    [InlineData("27.13.2026", false, false, false)]
    public void A_day_is_read_as_chosen_or_as_files_have_it(string typed, bool point, bool comma, bool space) =>
        Assert.Equal([point, comma, space], new[] { Point, Comma, Space }.Select(w => w.TryDay(typed, out _)));

    [Fact]
    public void What_is_written_is_read_back_as_the_same() =>
        Gen.Select(Gen.Decimal[-1_000_000_000m, 1_000_000_000m], Gen.Int[0, 2].Select(i => new[] { Point, Comma, Space }[i])).Sample((number, way) =>
        {
            var rounded = decimal.Round(number, 4);
            Assert.True(way.TryNumber(rounded.ToString("N4", way), out var read));
            Assert.Equal(rounded, read);
        });
}
