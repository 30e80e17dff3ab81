using Assignum.Core.Assets;
using Assignum.Core.Groups;
using CsCheck;

namespace Assignum.Core.Tests.Assets;

/// <summary>What a fixed asset is depreciated by; the worked tables of docs/posting.md are held against the code in the tests of the formats.</summary>
public class DepreciationTests
{
    static readonly Asset Van = new() { Code = "VAN-1", Name = "Delivery van", Method = AssetMethod.StraightLine, LifeMonths = 60, Residual = 4000 };
    static readonly DateOnly Bought = new(2026, 4, 11);

    static DateOnly YearOf(DateOnly day) => new(day.Year, 1, 1);

    static Depreciation Of(Asset asset, DateOnly to, params AssetMove[] moves) => Depreciation.Of(asset, moves, to, YearOf, 2);

    static AssetMove Cost(DateOnly day, decimal amount) => new(day, amount, 0, false);

    [Fact]
    public void Months_in_one_run_come_to_what_they_come_to_one_by_one()
    {
        var together = Of(Van, new(2026, 12, 31), Cost(Bought, 25_000));

        Assert.Equal((Bought, 233.33m + (8 * 350)), (together.From, together.Amount));
    }

    [Fact]
    public void Days_that_are_depreciated_are_not_depreciated_again() =>
        Assert.Equal((new DateOnly(2026, 5, 1), 350m), Of(Van, new(2026, 5, 31), Cost(Bought, 25_000), new(new(2026, 4, 30), 0, 233.33m, true)) is var d ? (d.From!.Value, d.Amount) : default);

    [Fact]
    public void An_asset_that_is_gone_is_depreciated_up_to_the_day_before() =>
        Assert.Equal(Money.Round(350m * 15 / 31, 2), Of(Van, new(2026, 5, 31), Cost(Bought, 25_000), new(new(2026, 4, 30), 0, 233.33m, true), new(new(2026, 5, 16), -25_000, -233.33m, false)).Amount);

    [Fact]
    public void What_its_method_lacks_is_said_by_name() => Assert.Contains("lacks a life in months", Of(Van with { LifeMonths = null }, new(2026, 5, 31), Cost(Bought, 1)).WhyNot, StringComparison.Ordinal);

    [Fact]
    public void Without_a_method_it_is_not_depreciated() => Assert.Equal(0, Of(Van with { Method = null }, new(2030, 5, 31), Cost(Bought, 1)).Amount);

    sealed record Life(Asset Asset, AssetMove[] Moves);

    static readonly Gen<Life> Lives = Gen.Select(Gen.Bool, Gen.Int[1, 40], Gen.Int[1, 9900], Gen.Int[0, 50_000], Gen.Int[1, 900_000], Gen.Select(Gen.Int[0, 500], Gen.Int[1, 90_000]).Array[0, 3])
        .Select(l => new Life(
            new Asset { Code = "A", Method = l.Item1 ? AssetMethod.StraightLine : AssetMethod.DecliningBalance, LifeMonths = l.Item2, Percent = l.Item3 / 100m, Residual = l.Item4 / 100m },
            [Cost(Bought, l.Item5 / 100m), .. l.Item6.OrderBy(m => m.Item1).Select(m => Cost(Bought.AddDays(m.Item1), m.Item2 / 100m))]));

    // Run month by month, with what was posted before among the moves, as the books have it.
    [Fact]
    public void Over_its_life_an_asset_is_depreciated_by_its_cost_less_what_is_left() => Lives.Sample(life =>
    {
        var moves = life.Moves.ToList();
        var until = new DateOnly(2036, 12, 31);
        for (var end = new DateOnly(2026, 4, 30); end <= until; end = end.AddDays(1).AddMonths(1).AddDays(-1))
            if (Of(life.Asset, end, [.. moves.OrderBy(m => m.Date)]) is { Amount: not 0 } run)
                moves.Add(new(end, 0, run.Amount, true));

        var cost = life.Moves.Sum(m => m.Cost);
        Assert.Equal(Math.Max(0, cost - life.Asset.Residual), moves.Sum(m => m.Accumulated));
    }, iter: 80);

    // Slowly, day by day: each day takes its part of the month, of the cost it finds in the morning.
    [Fact]
    public void A_month_is_the_sum_of_its_days() => Lives.Sample(life =>
    {
        if (life.Asset.Method != AssetMethod.StraightLine)
            return;
        var accumulated = 0m;
        var last = new DateOnly(2027, 9, 30);
        for (var month = new DateOnly(2026, 4, 1); month <= last; month = month.AddMonths(1))
        {
            var days = DateTime.DaysInMonth(month.Year, month.Month);
            var byRate = new Dictionary<decimal, int>();
            for (var day = month; day < month.AddMonths(1); day = day.AddDays(1))
                if (day >= Bought)
                {
                    var cost = life.Moves.Where(m => m.Date <= day).Sum(m => m.Cost);
                    byRate[cost] = byRate.GetValueOrDefault(cost) + 1;
                }
            var taken = 0m;
            foreach (var (cost, count) in byRate.OrderBy(r => r.Key))
                taken += Math.Max(0, Math.Min((cost - life.Asset.Residual) / life.Asset.LifeMonths!.Value * count / days, cost - accumulated - taken - life.Asset.Residual));
            accumulated += Math.Round(taken, 2, MidpointRounding.AwayFromZero);
        }
        Assert.Equal(accumulated, Of(life.Asset, last, life.Moves).Amount);
    }, iter: 500);
}
