using Assignum.Core.Timing;
using CsCheck;

namespace Assignum.Core.Tests.Timing;

/// <summary>Cost put into the month of its revenue, against going through every pair of documents by hand.</summary>
public class TimingTests
{
    static readonly DateOnly First = new(2026, 1, 1);

    static readonly Gen<SaleInMonth[]> Sales = Gen.Select(Gen.Int[1, 5], Gen.Int[0, 4], Gen.Int[-2, 9], Gen.Int[-1, 6])
        .Select((sale, month, revenue, cost) => new SaleInMonth(sale, First.AddMonths(month), revenue, cost, revenue))
        .Array[0, 20].Select(all => all.DistinctBy(s => (s.Sale, s.Month)).ToArray());

    [Fact]
    public void Each_cost_counts_in_the_first_month_of_its_sales_revenue() => Sales.Sample(sales =>
    {
        var months = new Core.Timing.Timing(sales).Months();
        foreach (var month in sales.Select(s => s.Month).Distinct())
        {
            var matched = 0m;
            foreach (var cost in sales)
            {
                DateOnly? home = null;
                foreach (var other in sales)
                    if (other.Sale == cost.Sale && other.Revenue != 0 && (home is null || other.Month < home))
                        home = other.Month;
                if ((home ?? cost.Month) == month)
                    matched += cost.Cost;
            }
            var shown = months.Single(m => m.Month == month);
            Assert.Equal(sales.Where(s => s.Month == month).Sum(s => s.Revenue) - matched, shown.MarginMatched);
            Assert.Equal(sales.Where(s => s.Month == month).Sum(s => s.Revenue - s.Cost), shown.MarginBooked);
            Assert.Equal(sales.Where(s => s.Month == month && sales.All(o => o.Sale != s.Sale || o.Cost == 0)).Sum(s => s.Goods), shown.NotShipped);
        }
    }, iter: 2000);

    [Fact]
    public void What_is_moved_to_one_month_is_taken_from_another_where_both_are_there() => Sales.Sample(sales =>
    {
        var months = new Core.Timing.Timing(sales).Months();
        Assert.Equal(months.Sum(m => m.CostElsewhere), months.Sum(m => m.RevenueElsewhere));
    }, iter: 500);
}
