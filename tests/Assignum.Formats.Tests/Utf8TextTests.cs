using System.Globalization;
using System.Text;
using CsCheck;

namespace Assignum.Formats.Tests;

public class Utf8TextTests
{
    static readonly Gen<decimal> AnyAmount =
        from units in Gen.Long
        from scale in Gen.Int[0, 6]
        from shift in Gen.Int[0, 40]
        select new decimal(units >> shift) / (decimal)Math.Pow(10, scale);

    [Fact]
    public void Amounts_are_written_with_exactly_their_decimals() => Gen.Select(AnyAmount, Gen.OneOf(0, 2, 3, 4)).Sample((any, decimals) =>
    {
        var amount = Math.Round(any, decimals, MidpointRounding.AwayFromZero);
        Assert.Equal(amount.ToString("F" + decimals, CultureInfo.InvariantCulture), Encoding.UTF8.GetString(new Utf8Text().Add(amount, decimals).Written.Span));
    }, iter: 5000);

    [Theory]
    [InlineData("0", 2, "0.00")]
    [InlineData("-0.05", 2, "-0.05")]
    [InlineData("79228162514264337593543950335", 0, "79228162514264337593543950335")]
    [InlineData("-922337203685477580.70", 2, "-922337203685477580.70")]
    [InlineData("1.5000", 4, "1.5000")]
    public void The_edges_are_written_right(string amount, int decimals, string written) =>
        Assert.Equal(written, Encoding.UTF8.GetString(new Utf8Text().Add(decimal.Parse(amount, CultureInfo.InvariantCulture), decimals).Written.Span));
}
