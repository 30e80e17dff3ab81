using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Charts;
using Assignum.Storage.Settings;
using Assignum.Web.Pages.Chart;

namespace Assignum.Web.Tests;

/// <summary>Which accounts the chart shows and with which totals, held against adding up account by account.</summary>
public sealed class ChartViewTests
{
    // A heading with a heading below it, and an account beside them.
    static readonly Account[] Accounts =
    [
        Of("1", "Assets", AccountClass.Asset, null, AccountKind.Heading), Of("10", "Money", AccountClass.Asset, "1", AccountKind.Heading),
        Of("1000", "Main bank", AccountClass.Asset, "10"), Of("1010", "Savings bank", AccountClass.Asset, "10"),
        Of("1100", "Trade receivables", AccountClass.Asset, "1") with { Control = Control.Receivables },
        Of("4", "Income", AccountClass.Income, null, AccountKind.Heading), Of("4010", "Sales of seeds", AccountClass.Income, "4"),
    ];

    static Account Of(string number, string name, AccountClass of, string? parent, AccountKind kind = AccountKind.Posting) =>
        new() { Number = number, Name = name, Class = of, Parent = parent, Kind = kind };

    // The bank is overdrawn: a wrong-side balance.
    static readonly Dictionary<string, decimal> Balances = new() { ["1000"] = -120m, ["1010"] = 500m, ["1100"] = 75.5m, ["4010"] = -455.5m };

    static ChartView View(ChartQuery query)
    {
        var book = new Rulebook { Company = new Company("QN", "Quillmoss", "EUR", new CompanyOptions()), Accounts = Accounts };
        var labels = new Labels();
        foreach (var (account, i) in Accounts.Select((a, i) => (a, i)))
            labels.Add(Labels.Accounts, i + 1, account.Number);
        var chart = new ChartBook(book);
        var sums = Balances.ToDictionary(b => Array.FindIndex(Accounts, a => a.Number == b.Key) + 1, b => new SpanSum(b.Value, b.Value / 5));
        return new ChartView(chart, ChartLook.Of(chart, labels), sums, new Dictionary<int, int>(), query);
    }

    static IEnumerable<string> Numbers(IEnumerable<ChartLine> lines) => lines.Select(l => l.Node.Account.Number);

    static decimal AddedUp(string number) =>
        Balances.GetValueOrDefault(number) + Accounts.Where(a => a.Parent == number).Sum(a => AddedUp(a.Number));

    [Fact]
    public void A_heading_comes_to_all_that_stands_below_it()
    {
        foreach (var line in View(new()).Everything())
        {
            Assert.Equal(AddedUp(line.Node.Account.Number), line.Balance);
            Assert.Equal(AddedUp(line.Node.Account.Number) / 5, line.Movement);
        }
    }

    [Fact]
    public void What_fits_stands_below_the_headings_it_belongs_to_and_nothing_else_is_shown()
    {
        var lines = View(new() { Filter = "savings" }).Page(null, 100).Lines;

        Assert.Equal(["1", "10", "1010"], Numbers(lines));
        Assert.Equal([true, true, false], lines.Select(l => l.Context));
        Assert.Equal(455.5m, lines[0].Balance);
    }

    [Fact]
    public void A_closed_heading_hides_what_is_below_it_and_pages_put_together_are_the_whole()
    {
        Assert.Equal(["1", "4"], Numbers(View(new() { All = "closed" }).Page(null, 100).Lines));
        Assert.Equal(["1", "10", "1100", "4", "4010"], Numbers(View(new() { Turned = "10" }).Page(null, 100).Lines));

        var view = View(new());
        var (paged, after, more) = (new List<string>(), (string?)null, 1);
        while (more > 0)
        {
            (var lines, more) = view.Page(after, 2);
            paged.AddRange(Numbers(lines));
            after = paged[^1];
        }
        Assert.Equal(Accounts.Select(a => a.Number), paged);
    }

    [Fact]
    public void Views_show_controls_accounts_on_the_wrong_side_and_accounts_without_a_rule()
    {
        Assert.Equal(["1", "1100"], Numbers(View(new() { View = "control" }).Page(null, 100).Lines));
        Assert.Equal(["1", "10", "1000"], Numbers(View(new() { View = "wrong" }).Page(null, 100).Lines));
        Assert.Equal(1, View(new()).WrongSides);
        Assert.Equal(4, View(new() { View = "unruled" }).Page(null, 100).Lines.Count(l => !l.Context));
    }

    [Fact]
    public void Sorted_posting_accounts_stand_alone_in_the_order_asked_for()
    {
        Assert.Equal(["4010", "1000", "1100", "1010"], Numbers(View(new() { Sort = "balance" }).Page(null, 100).Lines));
        Assert.Equal(["1010", "1100", "1000", "4010"], Numbers(View(new() { Sort = "-balance" }).Page(null, 100).Lines));
        Assert.All(View(new() { Sort = "name" }).Page(null, 100).Lines, l => Assert.Equal(0, l.Node.Depth));
    }
}
