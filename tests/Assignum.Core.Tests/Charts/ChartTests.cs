using Assignum.Core.Charts;
using CsCheck;

namespace Assignum.Core.Tests.Charts;

public class ChartTreeTests
{
    [Fact]
    public void Parents_come_before_their_children_and_total_what_is_below()
    {
        var chart = new[]
        {
            Book.Account("4020", "Saplings", AccountClass.Income) with { Parent = "4" }, Book.Account("4", "Income", AccountClass.Income) with { Kind = AccountKind.Heading },
            Book.Account("4010", "Seeds", AccountClass.Income) with { Parent = "4" }, Book.Account("1000", "Bank", AccountClass.Asset),
        };
        var tree = ChartTree.Of(chart);
        var totals = tree.Totals([.. tree.Nodes.Select(n => n.Account.Number switch { "4010" => -30m, "4020" => -12, "1000" => 42, _ => 0 })]);

        Assert.Equal(["1000 0 42", "4 0 -42", "4010 1 -30", "4020 1 -12"], tree.Nodes.Zip(totals, (n, total) => $"{n.Account.Number} {n.Depth} {total}"));
    }

    [Fact]
    public void An_account_whose_parent_is_missing_stands_at_the_top() =>
        Assert.Equal(0, ChartTree.Of([Book.Account("1", "A", AccountClass.Asset) with { Parent = "9" }]).Nodes[0].Depth);

    [Fact]
    public void A_subtotal_with_nothing_below_it_sums_the_siblings_before_it_and_adds_nothing_above()
    {
        Account Line(string number, AccountKind kind = AccountKind.Posting) => Book.Account(number, number, AccountClass.Expense) with { Parent = number == "6" ? null : "6", Kind = kind };
        var tree = ChartTree.Of([Line("6", AccountKind.Heading), Line("61"), Line("62"), Line("63", AccountKind.Subtotal), Line("64"), Line("65", AccountKind.Subtotal)]);
        var totals = tree.Totals([0, 10, 20, 0, 5, 0]);

        Assert.Equal([35m, 10, 20, 30, 5, 5], totals);
    }

    [Fact]
    public void A_tower_of_accounts_is_laid_out_without_climbing_it() =>
        Assert.Equal(19_999, ChartTree.Of([.. Enumerable.Range(0, 20_000).Select(i => Book.Account($"T{i}", "T", AccountClass.Asset) with { Parent = i == 0 ? null : $"T{i - 1}" })]).Nodes[^1].Depth);

    [Fact]
    public void Every_total_is_the_sum_of_the_posting_accounts_below_whatever_the_tree()
    {
        Gen.Select(Gen.Int[-1, 11].Array[12], Gen.Int[-99, 99].Array[12]).Sample((parents, amounts) =>
        {
            // Each account stands under an earlier one, or at the top.
            var accounts = parents.Select((p, i) => Book.Account($"A{i:00}", "A", AccountClass.Asset) with { Parent = p >= 0 && p < i ? $"A{p:00}" : null }).ToList();
            var tree = ChartTree.Of(accounts);
            var totals = tree.Totals([.. tree.Nodes.Select(n => (decimal)amounts[accounts.IndexOf(n.Account)])]);

            for (var i = 0; i < 12; i++)
            {
                bool Below(int j) => j == i || (accounts[j].Parent is { } up && Below(accounts.FindIndex(a => a.Number == up)));
                Assert.Equal(Enumerable.Range(0, 12).Where(Below).Sum(j => amounts[j]), totals[tree.PlaceOf($"A{i:00}")]);
            }
        });
    }

    [Fact]
    public void Cycles_are_found_and_what_only_leads_into_one_is_not_on_it() =>
        Assert.Equal(["A", "B", "C"], ChartCheck.OnCycles(new Dictionary<string, string> { ["A"] = "B", ["B"] = "C", ["C"] = "A", ["D"] = "A", ["E"] = "F" }));
}

public class AccountCheckTests
{
    static readonly DateOnly Today = new(2026, 6, 1);

    static string[] Faults(Account account, string? was = null) => [.. AccountCheck.Faults(new ChartBook(Book.Nursery), account, was, Today).Select(f => f.Field)];

    [Fact]
    public void A_sound_account_has_no_fault() => Assert.Empty(Faults(Book.Account("4040", "Tools", AccountClass.Income)));

    [Fact]
    public void A_taken_number_names_who_has_it_and_the_free_ones_beside_it()
    {
        var fault = Assert.Single(AccountCheck.Faults(new ChartBook(Book.Nursery), Book.Account(" 4010 ", "Tools", AccountClass.Income), null, Today));

        Assert.Equal("number", fault.Field);
        Assert.Contains("Sales of seeds", fault.Message, StringComparison.Ordinal);
        Assert.Contains("4011", Assert.Single(AccountCheck.Faults(new ChartBook(Book.Nursery), Book.Account("4010", "Tools", AccountClass.Income), null, Today)).Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Its_own_number_is_not_taken() => Assert.Empty(Faults(Book.Account("4010", "Seeds and bulbs", AccountClass.Income), was: "4010"));

    [Fact]
    public void Each_fault_names_its_field() => Assert.Equal(["number", "name", "parent", "validTo", "taxCode", "itemTaxGroup"], Faults(Book.Account("", "", AccountClass.Income) with
    {
        Parent = "77", ValidFrom = new(2026, 2, 1), ValidTo = new(2026, 1, 1), TaxCode = "NIX", ItemTaxGroup = "NIX",
    }));

    [Fact]
    public void An_account_can_t_stand_under_itself_by_whatever_way()
    {
        var book = Book.Nursery.WithAccount(Book.Account("61", "Places", AccountClass.Expense) with { Parent = "6" });

        Assert.Equal("parent", Assert.Single(AccountCheck.Faults(new ChartBook(book), book.Accounts.Single(a => a.Number == "6") with { Parent = "6" }, "6", Today)).Field);
        Assert.Equal("parent", Assert.Single(AccountCheck.Faults(new ChartBook(book), book.Accounts.Single(a => a.Number == "6") with { Parent = "61" }, "6", Today)).Field);
    }

    [Fact]
    public void An_account_that_rules_answer_with_stays_a_posting_account() =>
        Assert.Contains("rule", Assert.Single(AccountCheck.Faults(new ChartBook(Book.Nursery), Book.Account("4010", "Seeds", AccountClass.Income) with { Kind = AccountKind.Heading }, "4010", Today)).Message, StringComparison.Ordinal);

    [Fact]
    public void An_account_that_rules_still_answer_with_can_t_be_made_inactive_and_the_rules_are_named()
    {
        var fault = Assert.Single(AccountCheck.Faults(new ChartBook(Book.Nursery), Book.Account("4010", "Seeds", AccountClass.Income) with { Active = false }, "4010", Today));

        Assert.Equal("active", fault.Field);
        Assert.Contains("for revenue, SEEDS", fault.Message, StringComparison.Ordinal);
    }

    [Fact]
    public void Rules_that_have_ended_bar_nothing()
    {
        var ended = Book.Nursery with { Rules = [.. Book.Nursery.Rules.Select(r => r.Account == "4010" ? r with { To = Today.AddDays(-1) } : r)] };

        Assert.Empty(AccountCheck.Faults(new ChartBook(ended), Book.Account("4010", "Seeds", AccountClass.Income) with { Active = false }, "4010", Today));
    }

    [Fact]
    public void Currencies_are_ISO_codes_and_a_barred_dimension_gets_no_value() => Assert.Equal(["currencies", "dimensions"], Faults(Book.Account("4040", "Tools", AccountClass.Income) with
    {
        Currencies = ["EUR", "NIX1"], Dimensions = new Dictionary<string, DimensionNeed> { ["CC"] = DimensionNeed.Barred }, DimensionDefaults = new Dictionary<string, string> { ["cc"] = "100" },
    }));

    [Fact]
    public void A_description_names_each_report_once() =>
        Assert.Equal("reporting", Assert.Single(AccountCheck.Faults(AccountDescription.None with { Reporting = [new("Annual", "1"), new("annual", "2")] })).Field);
}

public class ChartImportTests
{
    static PlannedRow[] Plan(params string[] rows) => [.. ChartImport.Plan([.. rows.Select((row, i) => Row(i + 2, row.Split('|')))], new ChartBook(Book.Nursery)).Rows];

    static ChartRow Row(int line, string[] fields) => new(line, fields[0], fields[1], fields[2], fields[3], fields[4]);

    [Fact]
    public void New_changed_and_unchanged_rows_are_told_apart()
    {
        var plan = Plan("4040|Tools|income||", "4010|Seeds and bulbs|income||", "4030|Sales of pots|income|posting|");

        Assert.Equal([ChartRowFate.New, ChartRowFate.Changed, ChartRowFate.Unchanged], plan.Select(r => r.Fate));
        Assert.Equal("name was Sales of seeds", plan[1].Why);
    }

    [Fact]
    public void What_a_file_does_not_say_of_an_account_stays()
    {
        var kept = Plan("1100|Receivables|asset||")[0].Account!;

        Assert.Equal((Control.Receivables, ManualPolicy.Block), (kept.Control, kept.Manual));
    }

    [Theory]
    [InlineData("|Tools|income||", "no number")]
    [InlineData("4040||income||", "no name")]
    [InlineData("4040|Tools|revenue||", "Class revenue")]
    [InlineData("4040|Tools|income|folder|", "Kind folder")]
    [InlineData("4040|Tools|income||9999", "neither in the file nor in the chart")]
    [InlineData("4040|Tools|||", "no class")]
    [InlineData("4040|Tools|income||4040", "under itself")]
    [InlineData("123456789012345678901|Tools|income||", "Shorten it to 20")]
    public void A_refused_row_says_why(string row, string why)
    {
        var refused = Plan(row)[0];

        Assert.Equal(ChartRowFate.Refused, refused.Fate);
        Assert.Contains(why, refused.Why, StringComparison.Ordinal);
    }

    [Fact]
    public void The_second_of_two_equal_numbers_is_refused_also_in_another_case()
    {
        var plan = Plan("a-1|First|income||", "A-1|Second|income||");

        Assert.Equal([ChartRowFate.New, ChartRowFate.Refused], plan.Select(r => r.Fate));
        Assert.Contains("line 2", plan[1].Why, StringComparison.Ordinal);
    }

    [Fact]
    public void Children_of_a_refused_row_are_refused_and_name_it()
    {
        var plan = Plan("90||income|heading|", "901|Child|||90");

        Assert.All(plan, r => Assert.Equal(ChartRowFate.Refused, r.Fate));
        Assert.Contains("line 2", plan[1].Why, StringComparison.Ordinal);
    }

    [Fact]
    public void A_parent_may_come_later_and_gives_its_class() => Assert.Equal(AccountClass.Expense, Plan("90|Fuel|||9", "9|Running|expense|heading|")[0].Account!.Class);

    [Fact]
    public void Cycles_over_several_rows_are_refused() => Assert.All(Plan("91|A|income||92", "92|B|income||93", "93|C|income||91"), r => Assert.Equal(ChartRowFate.Refused, r.Fate));

    [Fact]
    public void A_tower_of_parents_is_refused_and_not_climbed()
    {
        var rows = Enumerable.Range(0, 50_000).Select(i => Row(i + 2, [$"T{i}", "T", "income", "", i == 0 ? "" : $"T{i - 1}"])).Reverse().ToList();
        var plan = ChartImport.Plan(rows, new ChartBook(Book.Nursery with { Accounts = [], Rules = [] }));

        Assert.Equal(ChartImport.DeepestLevel + 1, plan.Count(ChartRowFate.New));
    }

    [Fact]
    public void File_and_chart_together_are_no_deeper_than_a_chart_may_be()
    {
        Account Level(string series, int level) =>
            Book.Account($"{series}{level}", "Level", AccountClass.Income) with { Kind = AccountKind.Heading, Parent = level == 0 ? null
            : $"{series}{level - 1}" };
        var chart = new ChartBook(Book.Nursery with { Accounts = [.. Enumerable.Range(0, 15).Select(i => Level("A", i)),
            .. Enumerable.Range(0, 10).Select(i => Level("B", i))], Rules = [] });

        // Ten levels more below the fifteenth, and a heading that takes its nine levels along.
        var plan = ChartImport.Plan([.. Enumerable.Range(0, 10).Select(i => Row(i + 2, [$"C{i}", "C", "income", "heading", i == 0 ? "A14" : $"C{i - 1}"])),
            Row(20, ["B0", "Level", "income", "heading", "A14"])], chart);

        Assert.Equal(ChartImport.DeepestLevel - 14, plan.Count(ChartRowFate.New));
        Assert.Equal(ChartRowFate.Refused, plan.Rows[^1].Fate);
        Assert.Contains(AccountCheck.Faults(chart, Level("B", 0) with { Parent = "A14" }, "B0", Book.Day), f => f.Field == "parent"
            && f.Message.Contains("one below it", StringComparison.Ordinal));
    }

    [Fact]
    public void The_cell_at_fault_is_named() => Assert.Equal(["", "class", "parent", "number"], Plan("4010 |x|income||", "4040|Tools|revenue||", "4041|Tools|income||9999", "4010|y|income||").Select(r => r.Field));

    [Fact]
    public void Without_a_column_for_the_parent_a_row_stands_under_the_longest_number_that_begins_its_own()
    {
        var plan = ChartImport.Plan([Row(2, ["9", "Later", "expense", "", ""]), Row(3, ["91", "Fuel", "", "", ""]), Row(4, ["9110", "Diesel", "", "", ""])], new ChartBook(Book.Nursery), Placing.ByNumber, kindsGiven: false);

        Assert.Equal(["9 heading under ", "91 heading under 9", "9110 posting under 91"], plan.Rows.Select(r => $"{r.Account!.Number} {r.Account.Kind.Word()} under {r.Account.Parent}"));
        Assert.All(plan.Rows, r => Assert.Equal(AccountClass.Expense, r.Account!.Class));
    }

    [Fact]
    public void The_zeros_at_the_end_of_a_heading_do_not_count_when_placing_by_number()
    {
        var plan = ChartImport.Plan([Row(2, ["9000", "Later", "expense", "heading", ""]), Row(3, ["9100", "Fuel", "", "heading", ""]), Row(4, ["9110", "Diesel", "", "posting", ""])], new ChartBook(Book.Nursery), Placing.ByNumber);

        Assert.Equal(["", "9000", "9100"], plan.Rows.Select(r => r.Account!.Parent ?? ""));
    }

    [Fact]
    public void A_new_number_must_fit_the_numbering_plan_and_one_the_chart_has_may_stay()
    {
        var chart = new ChartBook(Book.Nursery, new NumberingPlan { Pattern = "#####" }, new Dictionary<string, KeptNumber>(), new Dictionary<string, AccountDescription>());
        var plan = ChartImport.Plan([Row(2, ["4099", "Tools", "income", "", ""]), Row(3, ["4010", "Seeds", "income", "", ""])], chart);

        Assert.Equal([ChartRowFate.Refused, ChartRowFate.Changed], plan.Rows.Select(r => r.Fate));
        Assert.Equal("number", plan.Rows[0].Field);
    }

    [Fact]
    public void Short_names_and_descriptions_that_are_there_already_change_nothing()
    {
        var known = new ChartBook(Book.Nursery, NumberingPlan.None, new Dictionary<string, KeptNumber>(), new Dictionary<string, AccountDescription> { ["4010"] = new() { ShortName = "Seeds" } });
        var row = new ChartRow(2, "4010", "Sales of seeds", "", "", "") { ShortName = "Seeds" };

        Assert.Equal(ChartRowFate.Unchanged, ChartImport.Plan([row], known).Rows[0].Fate);
        Assert.Equal(ChartRowFate.Changed, ChartImport.Plan([row with { Description = "Sold to anybody." }], known).Rows[0].Fate);
    }
}
