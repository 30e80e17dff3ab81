namespace Assignum.Core.Timing;

/// <summary>What the documents of one sale landed in one month: the invoice, its shipments, what came back.</summary>
/// <param name="Sale">The sale: id of the event that the others refer to.</param>
/// <param name="Month">First day of the month.</param>
/// <param name="Revenue">Revenue less discounts and returns, company currency.</param>
/// <param name="Cost">Cost of sales, company currency.</param>
/// <param name="Goods">The part of the revenue that is of goods kept in stock.</param>
public readonly record struct SaleInMonth(long Sale, DateOnly Month, decimal Revenue, decimal Cost, decimal Goods);

/// <summary>A month as it was booked, and as it would be with each cost in the month of its revenue.</summary>
/// <param name="Month">First day of the month.</param>
/// <param name="Revenue">Revenue booked.</param>
/// <param name="Cost">Cost of sales booked.</param>
/// <param name="CostElsewhere">Cost of this month's revenue that is booked in other months.</param>
/// <param name="RevenueElsewhere">Cost booked here whose revenue is booked in other months.</param>
/// <param name="NotShipped">Revenue of goods that have left in no month yet.</param>
public sealed record TimedMonth(DateOnly Month, decimal Revenue, decimal Cost, decimal CostElsewhere, decimal RevenueElsewhere, decimal NotShipped)
{
    /// <summary>Revenue less cost, as booked.</summary>
    public decimal MarginBooked => Revenue - Cost;
    /// <summary>Revenue less the cost that belongs to it.</summary>
    public decimal MarginMatched => MarginBooked - CostElsewhere + RevenueElsewhere;
}

/// <summary>A cost that is booked in another month than its revenue.</summary>
/// <param name="Sale">The sale.</param>
/// <param name="RevenueIn">First day of the month of its revenue.</param>
/// <param name="CostIn">First day of the month of the cost.</param>
/// <param name="Cost">The cost, company currency.</param>
public readonly record struct Apart(long Sale, DateOnly RevenueIn, DateOnly CostIn, decimal Cost);

/// <summary>Revenue and cost that fall into different months. The cost of a sale belongs to the first month in which it has revenue; a sale without
/// revenue keeps its cost where it is.</summary>
public sealed class Timing
{
    readonly Dictionary<long, DateOnly> revenueIn = [];
    readonly List<SaleInMonth> all;

    /// <param name="sales">What landed, by sale and month; each pair once.</param>
    public Timing(IEnumerable<SaleInMonth> sales)
    {
        all = [.. sales];
        foreach (var sale in all.Where(s => s.Revenue != 0))
            if (!revenueIn.TryGetValue(sale.Sale, out var known) || sale.Month < known)
                revenueIn[sale.Sale] = sale.Month;
        Apart = [.. all.Where(s => s.Cost != 0 && revenueIn.TryGetValue(s.Sale, out var month) && month != s.Month)
            .Select(s => new Apart(s.Sale, revenueIn[s.Sale], s.Month, s.Cost))];
        var shipped = all.Where(s => s.Cost != 0).Select(s => s.Sale).ToHashSet();
        NotShipped = [.. all.Where(s => s.Goods != 0 && !shipped.Contains(s.Sale))];
    }

    /// <summary>Costs in other months than their revenue.</summary>
    public IReadOnlyList<Apart> Apart { get; }

    /// <summary>Sales of goods without any cost yet.</summary>
    public IReadOnlyList<SaleInMonth> NotShipped { get; }

    /// <summary>The months that have anything, oldest first.</summary>
    public IReadOnlyList<TimedMonth> Months()
    {
        var elsewhere = Apart.ToLookup(a => a.RevenueIn);
        var here = Apart.ToLookup(a => a.CostIn);
        var waiting = NotShipped.ToLookup(s => s.Month);
        return [.. all.GroupBy(s => s.Month).OrderBy(m => m.Key).Select(m => new TimedMonth(m.Key, m.Sum(s => s.Revenue), m.Sum(s => s.Cost),
            elsewhere[m.Key].Sum(a => a.Cost), here[m.Key].Sum(a => a.Cost), waiting[m.Key].Sum(s => s.Goods)))];
    }
}
