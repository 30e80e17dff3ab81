using System.Globalization;
using Assignum.Core.Charts;
using Assignum.Storage.Journal;
using Assignum.Web.Showing;

namespace Assignum.Web.Tests;

/// <summary>The landing map as a drawing: all money is in it, once in every column.</summary>
public sealed class LandingMapTests
{
    static readonly Dictionary<string, Account> Chart = new()
    {
        ["4010"] = new Account { Number = "4010", Name = "Sales of seeds", Class = AccountClass.Income },
        ["1100"] = new Account { Number = "1100", Name = "Trade receivables", Class = AccountClass.Asset },
        ["1999"] = new Account { Number = "1999", Name = "Suspense", Class = AccountClass.Asset, Suspense = true },
    };

    static LandingMap Map(IReadOnlyList<Flow> flows, params HeldFlow[] held) => new(flows, held, Chart, 2, query => "journal?" + query);

    static readonly Flow[] March =
    [
        new("WEB-SHOP", "revenue", "4010", "Sales of seeds", 600m, 12), new("WEB-SHOP", "receivable", "1100", "Trade receivables", 720m, 12),
        new("TILL", "revenue", "4010", "Sales of seeds", 200m, 5), new("TILL", "revenue", "1999", "Suspense", 40m, 1),
        new("OWN", null, "1100", "Trade receivables", 20m, 2),
    ];

    [Fact]
    public void Every_column_holds_all_the_money_that_landed_and_that_waits()
    {
        var map = Map(March, new HeldFlow("TILL", "output-tax", 2, 50m));

        foreach (var column in new[] { map.Sources, map.Purposes, map.Accounts })
            Assert.Equal(1630m, column.Sum(b => b.Amount));
        Assert.Equal(["Web shop", "Till", "Typed here"], map.Sources.Select(s => s.Label));
        Assert.Equal(["receivable", "revenue", "output tax", "by hand"], map.Purposes.Select(p => p.Label));
    }

    [Fact]
    public void A_bar_and_the_ribbons_that_reach_it_are_as_high_as_the_money()
    {
        var map = Map(March);
        var money = map.Sources.ToDictionary(b => b.Label, b => b.Height / (double)b.Amount);

        Assert.All(money.Values, scale => Assert.Equal(money["Web shop"], scale, 6));
        var ribbon = Assert.Single(map.Ribbons, r => r.Says.StartsWith("Web shop, revenue", StringComparison.Ordinal));
        Assert.Equal("Web shop, revenue: 600.00 in 12 lines", ribbon.Says);
        Assert.Equal(600 * money["Web shop"], HeightOf(ribbon), 1);
    }

    [Fact]
    public void Bars_of_a_column_never_lie_over_each_other()
    {
        var map = Map([.. Enumerable.Range(0, 30).Select(i => new Flow("S" + i, "revenue", "4010", "Sales of seeds", i == 0 ? 100_000m : 0.01m, 1))]);

        Assert.All(map.Sources.Zip(map.Sources.Skip(1)), pair => Assert.True(pair.First.Top + pair.First.Height <= pair.Second.Top));
        Assert.True(map.Height >= map.Sources[^1].Top + map.Sources[^1].Height);
    }

    [Fact]
    public void Suspense_and_what_is_held_wait_and_the_rest_does_not()
    {
        var map = Map(March, new HeldFlow("TILL", "output-tax", 2, 50m));

        Assert.Equal(["1999 Suspense", "held, 2 events"], map.Accounts.Where(a => a.Waits).Select(a => a.Label).Order(StringComparer.Ordinal));
        Assert.Contains(map.Ribbons, r => r.Waits && r.Says == "output tax, held, 2 events: 50.00 in 2 events");
        Assert.Null(map.Accounts.Single(a => a.Key == "held").Address);
    }

    [Fact]
    public void Of_many_accounts_the_large_ones_stand_alone_suspense_always_and_the_others_together_by_class()
    {
        var many = Enumerable.Range(0, 60).Select(i => new Flow("OWN", "revenue", $"X{i}", "Sales", 1000m + i, 1)).ToList();
        many.Add(new Flow("OWN", "revenue", "4010", "Sales of seeds", 3m, 1));
        many.Add(new Flow("OWN", "revenue", "1999", "Suspense", 1m, 1));
        var map = Map(many);

        Assert.Contains(map.Accounts, a => a.Label == "1999 Suspense");
        Assert.DoesNotContain(map.Accounts, a => a.Label.StartsWith("4010", StringComparison.Ordinal));
        Assert.Contains(map.Accounts, a => a.Label == "others, income" && a.Amount == 3m);
        Assert.Equal(many.Sum(f => f.Amount), map.Accounts.Sum(a => a.Amount));
    }

    // "M… V<lower edge at the right>C…": the ribbon's height is what its right side goes down by.
    static double HeightOf(MapRibbon ribbon)
    {
        var (upper, lower) = (ribbon.Path.Split('C')[1].Split('V')[0].Split(' ')[^1], ribbon.Path.Split('V')[1].Split('C')[0]);
        return double.Parse(lower, CultureInfo.InvariantCulture) - double.Parse(upper, CultureInfo.InvariantCulture);
    }
}
