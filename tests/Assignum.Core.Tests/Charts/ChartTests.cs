using Assignum.Core.Charts;

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
        var nodes = ChartTree.Lay(chart, a => a.Number switch { "4010" => -30, "4020" => -12, "1000" => 42, _ => 0 });

        Assert.Equal(["1000 0 42", "4 0 -42", "4010 1 -30", "4020 1 -12"], nodes.Select(n => $"{n.Account.Number} {n.Depth} {n.Total}"));
    }

    [Fact]
    public void An_account_whose_parent_is_missing_stands_at_the_top() =>
        Assert.Equal(0, ChartTree.Lay([Book.Account("1", "A", AccountClass.Asset) with { Parent = "9" }], _ => 0)[0].Depth);

    [Fact]
    public void Cycles_are_found_and_what_only_leads_into_one_is_not_on_it() =>
        Assert.Equal(["A", "B", "C"], ChartCheck.OnCycles(new Dictionary<string, string> { ["A"] = "B", ["B"] = "C", ["C"] = "A", ["D"] = "A", ["E"] = "F" }));
}

public class AccountCheckTests
{
    static string[] Faults(Account account, string? was = null) => [.. AccountCheck.Faults(Book.Nursery, account, was).Select(f => f.Field)];

    [Fact]
    public void A_sound_account_has_no_fault() => Assert.Empty(Faults(Book.Account("4040", "Tools", AccountClass.Income)));

    [Fact]
    public void A_taken_number_names_who_has_it_and_the_free_ones_beside_it()
    {
        var fault = Assert.Single(AccountCheck.Faults(Book.Nursery, Book.Account(" 4010 ", "Tools", AccountClass.Income), null));

        Assert.Equal("number", fault.Field);
        Assert.Contains("Sales of seeds", fault.Message, StringComparison.Ordinal);
        Assert.Contains("4011", Assert.Single(AccountCheck.Faults(Book.Nursery, Book.Account("4010", "Tools", AccountClass.Income), null)).Message, StringComparison.Ordinal);
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

        Assert.Equal("parent", Assert.Single(AccountCheck.Faults(book, book.Accounts.Single(a => a.Number == "6") with { Parent = "6" }, "6")).Field);
        Assert.Equal("parent", Assert.Single(AccountCheck.Faults(book, book.Accounts.Single(a => a.Number == "6") with { Parent = "61" }, "6")).Field);
    }

    [Fact]
    public void An_account_that_rules_answer_with_stays_a_posting_account() =>
        Assert.Contains("rule", Assert.Single(AccountCheck.Faults(Book.Nursery, Book.Account("4010", "Seeds", AccountClass.Income) with { Kind = AccountKind.Heading }, "4010")).Message, StringComparison.Ordinal);
}

public class ChartImportTests
{
    static PlannedRow[] Plan(params string[] rows) => [.. ChartImport.Plan([.. rows.Select((row, i) => Row(i + 2, row.Split('|')))], [.. Book.Nursery.Accounts]).Rows];

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
        var plan = ChartImport.Plan(rows, []);

        Assert.Equal(ChartImport.DeepestLevel + 1, plan.Count(ChartRowFate.New));
    }
}
