using CsCheck;

namespace Assignum.Core.Tests;

public class SoughtTests
{
    sealed record Thing(string Code, string Name);

    static readonly Thing[] Seeds =
        [new("SEED-01", "Tomato, 10 g"), new("SEED-04", "Meadow mix, 50 g"), new("SEED-05", "Meadow mix, 500 g"), new("POT-12", "Clay pot 12 cm"),
            new("4010", "Sales of seeds"), new("40", "Income")];

    static string? One(string typed) => Pick.One(typed, Seeds, t => t.Code, t => t.Name, "item").Thing?.Code;

    [Theory]
    [InlineData("meadow mix 50", "SEED-04")]
    [InlineData("50 mix Meadow", "SEED-04")]
    [InlineData("mix, 500", "SEED-05")]
    [InlineData("seed04", "SEED-04")]
    [InlineData("seed 04", "SEED-04")]
    [InlineData("pot", "POT-12")]
    [InlineData("seeds sales", "4010")]
    [InlineData("40", "40")]
    [InlineData("SEED-04 · Meadow mix, 50 g", "SEED-04")]
    public void Words_in_any_order_find_by_any_part_of_code_and_name(string typed, string code) => Assert.Equal(code, One(typed));

    [Fact]
    public void What_fits_several_names_them_best_first()
    {
        var picked = Pick.One("mix", Seeds, t => t.Code, t => t.Name, "item");

        Assert.Null(picked.Thing);
        Assert.StartsWith("“mix” fits several: SEED-04 Meadow mix, 50 g, SEED-05", picked.Fault, StringComparison.Ordinal);
    }

    [Fact]
    public void The_code_itself_comes_first_then_the_name_then_whole_words_then_parts()
    {
        Thing[] things = [new("9", "Rent, shopping"), new("8", "Office and shop"), new("7", "Shop"), new("SHOP", "Garden")];

        Assert.Equal(["SHOP", "7", "8", "9"], new Sought("shop").BestFirst(things, t => t.Code, t => t.Name).Select(t => t.Code));
    }

    [Theory]
    [InlineData("mix 60")]
    [InlineData("--")]
    public void A_word_that_is_nowhere_fits_nothing(string typed) => Assert.Null(One(typed));

    // The quick way of leaving most things out says what looking word by word says.
    [Fact]
    public void What_is_found_is_what_has_every_word_somewhere() =>
        Gen.Select(Gen.String[Gen.Char["abAB -,é1"], 0, 8], Gen.String[Gen.Char["abAB -,é1"], 0, 12],
            Gen.String[Gen.Char["abAB -,é1"], 0, 5]).Sample((code, name, typed) =>
        {
            string[] Words(string text) =>
                new string([.. text.ToUpperInvariant().Select(c => char.IsLetterOrDigit(c) ? c : ' ')]).Split(' ', StringSplitOptions.RemoveEmptyEntries);
            var texts = Words(code).Concat(Words(name)).Append(string.Concat(Words(code))).ToList();
            var words = Words(typed);
            var expected = Fold.Of(typed).Length == 0 || Fold.Of(code) == Fold.Of(typed)
                || (words.Length > 0 && words.All(w => texts.Any(t => t.Contains(w, StringComparison.Ordinal))));
            Assert.Equal(expected, new Sought(typed).FitOf(code, name) != Sought.Fit.Not);
        });
}
