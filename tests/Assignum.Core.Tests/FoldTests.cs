namespace Assignum.Core.Tests;

public class FoldTests
{
    [Theory]
    [InlineData(" seed-01 ", "SEED-01")]
    [InlineData("big\t  bag", "BIG BAG")]
    [InlineData("Ge\u0301rard", "GÉRARD")]
    [InlineData("   ", "")]
    public void Codes_are_trimmed_collapsed_composed_and_put_in_upper_case(string written, string fold) => Assert.Equal(fold, Fold.Of(written));

    [Fact]
    public void Folding_twice_changes_nothing() => CsCheck.Check.Sample(CsCheck.Gen.String, text => Assert.Equal(Fold.Of(text), Fold.Of(Fold.Of(text))));

    [Fact]
    public void Currencies_have_their_minor_units_and_the_unknown_is_none()
    {
        Assert.Equal((2, 0, 3), (Money.MinorUnits("EUR"), Money.MinorUnits("JPY"), Money.MinorUnits("KWD")));
        Assert.False(Money.TryMinorUnits("XXX", out _));
    }
}
