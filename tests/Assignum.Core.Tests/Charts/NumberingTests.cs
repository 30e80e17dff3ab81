using Assignum.Core.Charts;
using CsCheck;

namespace Assignum.Core.Tests.Charts;

public class NumberingTests
{
    static readonly NumberingPlan FourDigits = new() { Pattern = "####", Classes = [new("income", "4000", "4999"), new("expense", "6000", "6999")], Headings = [new("62", "6200", "6299")] };

    static ChartBook Chart(NumberingPlan plan, params string[] numbers) =>
        new(Book.Nursery with
        {
            Rules = [], Accounts =
            [
                Book.Account("6", "Expenses", AccountClass.Expense) with { Kind = AccountKind.Heading }, Book.Account("62", "Selling", AccountClass.Expense) with { Kind = AccountKind.Heading, Parent = "6" },
                .. numbers.Select(n => Book.Account(n, "Account " + n, AccountClass.Expense) with { Parent = "62" }),
            ],
        }, plan, new Dictionary<string, KeptNumber> { ["6219"] = new("6210", "6219 was once the number of 6210 Market stands, and is not given again.") }, new Dictionary<string, AccountDescription>());

    static NumberAnswer Answer(string number, params string[] chart) => Chart(FourDigits, chart).Numbers.Answer(number, null, AccountClass.Expense, AccountKind.Posting, "62", chart.FirstOrDefault());

    [Fact]
    public void A_taken_number_names_who_has_it() => Assert.Equal((NumberFate.Taken, "6210 is taken by Account 6210."), Answer("6210", "6210") is var a ? (a.Fate, a.Sentence) : default);

    [Fact]
    public void The_former_number_of_a_renumbered_account_is_not_given_again() => Assert.Equal(NumberFate.Taken, Answer("6219", "6210").Fate);

    [Fact]
    public void An_account_may_have_its_own_former_number_back() =>
        Assert.Equal(NumberFate.Free, Chart(FourDigits, "6210").Numbers.Answer("6219", "6210", AccountClass.Expense, AccountKind.Posting, "62", null).Fate);

    [Theory]
    [InlineData("6211", NumberFate.Free)]
    [InlineData("6311", NumberFate.Outside)]
    [InlineData("4311", NumberFate.Outside)]
    [InlineData("62110", NumberFate.Outside)]
    [InlineData("62A1", NumberFate.Outside)]
    [InlineData("", NumberFate.Empty)]
    public void Shape_range_of_the_class_and_range_of_the_heading_bind(string number, NumberFate fate) => Assert.Equal(fate, Answer(number, "6210", "6220").Fate);

    [Fact]
    public void Free_numbers_begin_half_way_to_the_next_one_then_after_the_last_then_close_by() => Assert.Equal(["6215", "6240", "6211", "6212"], Answer("", "6210", "6220", "6230").Free);

    [Fact]
    public void An_account_keeps_its_own_number() =>
        Assert.Equal(NumberFate.Free, Chart(FourDigits, "6210").Numbers.Answer("6210", "6210", AccountClass.Expense, AccountKind.Posting, "62", null).Fate);

    [Fact]
    public void A_number_outside_the_range_of_a_new_class_is_refused_as_on_adding()
    {
        var chart = Chart(FourDigits, "6210");
        var account = chart.Book.Accounts.Single(a => a.Number == "6210");

        Assert.Empty(AccountCheck.Faults(chart, account, "6210", Book.Day));
        Assert.Equal("number", Assert.Single(AccountCheck.Faults(chart, account with { Class = AccountClass.Income, Parent = null }, "6210", Book.Day)).Field);
    }

    [Fact]
    public void Headings_are_free_of_the_plan() => Assert.Null(FourDigits.Fault("6", AccountClass.Expense, AccountKind.Heading, []));

    [Theory]
    [InlineData("##.##", "62.10", true)]
    [InlineData("##.##", "6210", false)]
    [InlineData("G-###", "g-100", true)]
    [InlineData("G-###", "H-100", false)]
    [InlineData("", "anything", true)]
    public void A_shape_has_digits_and_separators(string pattern, string number, bool fits) => Assert.Equal(fits, new NumberingPlan { Pattern = pattern }.HasShape(number));

    [Fact]
    public void Every_number_offered_is_free_and_fits_whatever_the_chart()
    {
        Gen.Int[6200, 6260].Array[0, 40].Sample(values =>
        {
            string[] numbers = [.. values.Distinct().Select(v => v.ToString(System.Globalization.CultureInfo.InvariantCulture))];
            var chart = Chart(FourDigits, numbers);
            foreach (var free in chart.Numbers.FreeBeside(numbers.FirstOrDefault(), AccountClass.Expense, AccountKind.Posting, "62"))
                Assert.Equal(NumberFate.Free, chart.Numbers.Answer(free, null, AccountClass.Expense, AccountKind.Posting, "62", null).Fate);
        });
    }

    [Fact]
    public void The_ruler_shows_the_stretch_around_a_number()
    {
        var ruler = Chart(FourDigits, "6210", "6220", "6230").Numbers.RulerAround("6215", "6210")!;

        Assert.Equal((6200, 6250, 1), (ruler.From, ruler.To, ruler.Unit));
        Assert.Equal(["6210", "6220", "6230"], ruler.Used.Select(u => u.Number));
        Assert.Equal("6215", ruler.Proposed?.Number);
    }

    [Fact]
    public void A_plan_says_by_field_what_is_wrong_with_it()
    {
        var plan = new NumberingPlan { Pattern = "####", Classes = [new("income", "4000", "4999"), new("expense", "4500", "69"), new("asset", "2000", "1000")], Headings = [new("77", "6200", "6299")] };

        Assert.Equal(["class:expense", "class:asset", "heading:77", "class:expense"], plan.Faults(Chart(NumberingPlan.None).Tree).Select(f => f.Field));
    }

    [Fact]
    public void Shorter_numbers_get_zeros_at_the_end_and_longer_ones_lose_them()
    {
        var chart = Chart(NumberingPlan.None, "6210", "62200000");

        Assert.Equal(["6210 → 621000", "62200000 → 622000"], Renumbering.Propose(chart.Tree, new NumberingPlan { Pattern = "######" }, chart.Kept).Select(p => $"{p.Account.Number} → {p.To}"));
    }

    [Fact]
    public void New_numbers_fit_the_plan_and_are_never_given_twice_nor_taken_from_another()
    {
        Gen.Int[1, 99_999].Array[1, 60].Sample(values =>
        {
            string[] numbers = [.. values.Distinct().Select(v => v.ToString(System.Globalization.CultureInfo.InvariantCulture)).Where(n => n is not ("6" or "62"))];
            var chart = Chart(NumberingPlan.None, numbers);
            var proposal = Renumbering.Propose(chart.Tree, FourDigits, chart.Kept);
            var given = proposal.Where(p => p.To is not null).Select(p => p.To!).ToList();

            Assert.Equal(given.Count, given.Distinct().Count());
            Assert.All(given, n => Assert.True(!numbers.Contains(n) && n != "6219" && FourDigits.Fault(n, AccountClass.Expense, AccountKind.Posting, ["62", "6"]) is null));
        });
    }

    [Fact]
    public void A_plan_without_room_says_for_which_account()
    {
        var chart = Chart(NumberingPlan.None, "1", "2", "3");

        Assert.Null(Renumbering.Propose(chart.Tree, new NumberingPlan { Headings = [new("62", "8", "9")] }, chart.Kept)[^1].To);
    }
}
