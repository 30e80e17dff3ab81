using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using CsCheck;

namespace Assignum.Core.Tests.Charts;

public class AccountUsesTests
{
    static readonly AccountUses Uses = new(Book.Nursery.With(Book.Rule("output-tax", "2200", (Fact.TaxCode, "R8"))));

    [Fact]
    public void A_rule_for_tax_with_a_tax_code_is_a_use_by_the_tax_code() =>
        Assert.Equal([(UseKind.Rule, "output tax, default"), (UseKind.TaxCode, "R8, output tax")], Uses.Of("2200").Select(u => (u.Kind, u.What)));

    [Fact]
    public void A_party_that_may_choose_it_is_a_use_as_control() =>
        Assert.Equal((UseKind.Control, "C-10 Larkfield Gardens", "C-10"), Assert.Single(Uses.Of("1120")) is var use ? (use.Kind, use.What, use.Code) : default);

    [Fact]
    public void An_account_nothing_names_has_no_use() => Assert.Equal((0, 0), (Uses.Count("6"), Uses.Of("6").Count));
}

public class NumberSeriesTests
{
    [Theory]
    [InlineData("6210", 6215, "6215")]
    [InlineData("62.10", 6299, "62.99")]
    [InlineData("G-009", 10, "G-010")]
    [InlineData("9", 10, null)]
    [InlineData("9", -1, null)]
    public void A_number_s_frame_takes_other_digits(string number, long value, string? other) => Assert.Equal(other, NumberSeries.Of(number)!.Value.At(value));

    [Theory]
    [InlineData("ABC")]
    [InlineData("1234567890123456789")]
    public void Without_digits_or_with_too_many_there_is_no_series(string number) => Assert.Null(NumberSeries.Of(number));

    [Fact]
    public void What_is_taken_apart_comes_together_again() => Gen.Select(Gen.Int[0, 999_999], Gen.Int[0, 2]).Sample((value, shape) =>
    {
        var number = string.Format(System.Globalization.CultureInfo.InvariantCulture, new[] { "{0:000000}", "{0:00-00-00}", "G-{0:000000}" }[shape], value);
        var series = NumberSeries.Of(number)!.Value;
        Assert.Equal(((long)value, number), (series.Value, series.At(series.Value)));
    });
}

public class ChartFieldImportTests
{
    static PlannedRow Plan(ChartRow row) => ChartImport.Plan([row], new ChartBook(Book.Nursery)).Rows[0];

    static readonly ChartRow Tools = new(2, "4040", "Tools", "income", "", "");

    [Fact]
    public void Control_policy_tax_and_activity_come_from_their_columns()
    {
        var account = Plan(Tools with { Control = "Receivables", Manual = "BLOCK", TaxCode = "s20", ItemTaxGroup = "standard", Active = "no" }).Account!;

        Assert.Equal((Control.Receivables, ManualPolicy.Block, "s20", "standard", false), (account.Control, account.Manual, account.TaxCode, account.ItemTaxGroup, account.Active));
    }

    public static TheoryData<string, ChartRow> Faulty => new()
    {
        { "taxCode", Tools with { TaxCode = "X9" } }, { "itemTaxGroup", Tools with { ItemTaxGroup = "X9" } }, { "control", Tools with { Control = "drawer" } }, { "manual", Tools with { Manual = "perhaps" } },
        { "active", Tools with { Active = "perhaps" } }, { "shortName", Tools with { ShortName = new string('x', 31) } }, { "description", Tools with { Description = new string('x', 2001) } },
        { "active", new ChartRow(2, "4010", "Sales of seeds", "", "", "") { Active = "no" } }, { "kind", new ChartRow(2, "4010", "Sales of seeds", "", "heading", "") },
    };

    [Theory]
    [MemberData(nameof(Faulty))]
    public void Each_fault_names_its_cell(string field, ChartRow row) => Assert.Equal((ChartRowFate.Refused, field), Plan(row) is var planned ? (planned.Fate, planned.Field) : default);

    [Theory]
    [InlineData("Cost of sales", "cost-of-sales")]
    [InlineData("OTHER_INCOME", "other-income")]
    [InlineData(" expense ", "expense")]
    public void Classes_are_read_as_people_write_them(string written, string read) => Assert.Equal(read, Plan(Tools with { Class = written }).Account!.Class.Word());

    [Fact]
    public void Whatever_the_rows_every_accepted_account_stands_under_one_that_is_there_and_on_no_cycle()
    {
        Gen.Select(Gen.Int[0, 9], Gen.Int[-1, 9]).Array[1, 25].Sample(pairs =>
        {
            var rows = pairs.Select((p, i) => new ChartRow(i + 2, $"X{p.Item1}", "Name", "income", "", p.Item2 < 0 ? "" : $"X{p.Item2}")).ToList();
            var plan = ChartImport.Plan(rows, new ChartBook(Book.Nursery with { Accounts = [], Rules = [] }));
            var accounts = plan.Rows.Where(r => r.Account is not null).Select(r => r.Account!).ToList();

            Assert.Empty(Core.Findings.RulebookChecks.Errors(Book.Nursery with { Accounts = accounts, Rules = [], Parties = [] }));
            Assert.Equal(accounts.Count, ChartTree.Of(accounts).Nodes.Count);
            Assert.All(plan.ParentsFirst().Select((r, i) => (r, i)), x => Assert.True(x.r.Account!.Parent is not { } up || plan.ParentsFirst().Take(x.i).Any(b => b.Account!.Number == up)));
        });
    }
}
