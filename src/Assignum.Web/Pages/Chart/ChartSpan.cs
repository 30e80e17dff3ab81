using System.Globalization;
using Assignum.Storage.Charts;

namespace Assignum.Web.Pages.Chart;

/// <summary>The span of periods that is looked at.</summary>
/// <param name="Periods">All periods, in their order.</param>
/// <param name="From">First of the span.</param>
/// <param name="To">Last of the span.</param>
public sealed record ChartSpan(IReadOnlyList<PeriodRow> Periods, PeriodRow From, PeriodRow To)
{
    const int Months = 12;

    /// <summary>The span a query asks for; the fiscal year of the last posting up to that posting where it asks for none, and before any posting up to today.
    /// Null without any period.</summary>
    public static ChartSpan? Of(IReadOnlyList<PeriodRow> periods, int? from, int? to, int? lastPosted, DateOnly today)
    {
        if (periods.Count == 0)
            return null;
        var last = periods.FirstOrDefault(p => p.Id == to) ?? periods.FirstOrDefault(p => p.Id == lastPosted)
            ?? periods.FirstOrDefault(p => p.Starts <= today && today <= p.Ends) ?? periods[0];
        var first = periods.FirstOrDefault(p => p.Id == from) ?? periods.First(p => p.YearStarts == last.YearStarts);
        return Index(periods, first) > Index(periods, last) ? new(periods, last, first) : new(periods, first, last);
    }

    static int Index(IReadOnlyList<PeriodRow> periods, PeriodRow period) => periods.TakeWhile(p => p.Id != period.Id).Count();

    /// <summary>The twelve months up to the end of the span; adjustments count with the month they follow.</summary>
    public IReadOnlyList<PeriodRow> TrendPeriods
    {
        get
        {
            var upTo = Periods.Take(Index(Periods, To) + 1).ToList();
            var months = upTo.Where(p => !p.Adjustment).TakeLast(Months).ToList();
            return months.Count == 0 ? [] : [.. upTo.Where(p => p.Starts >= months[0].Starts)];
        }
    }

    /// <summary>"March 2026", "2026, adjustments".</summary>
    public static string Name(PeriodRow period) =>
        period.Adjustment ? $"{period.Ends.Year}, adjustments" : period.Starts.ToString("MMMM yyyy", CultureInfo.InvariantCulture);
}

/// <summary>Twelve months of an account, drawn small: month-end balances of accounts of the balance sheet, movements of the others.</summary>
/// <param name="Values">One a month.</param>
/// <param name="IsBalance">Whether they are balances.</param>
public sealed record Trend(IReadOnlyList<decimal> Values, bool IsBalance)
{
    const decimal Width = 64, Height = 16;

    /// <summary>Points of the line in a drawing of 64 by 16.</summary>
    public string Points => string.Join(' ',
        Values.Select((v, i) => FormattableString.Invariant($"{i * Width / Math.Max(1, Values.Count - 1):0.#},{Y(v):0.#}")));

    /// <summary>Where zero lies.</summary>
    public string Zero => Y(0).ToString("0.#", CultureInfo.InvariantCulture);

    decimal Y(decimal value)
    {
        var (low, high) = (Math.Min(0, Values.Min()), Math.Max(0, Values.Max()));
        return high == low ? Height - 2 : 1 + ((high - value) / (high - low) * (Height - 2));
    }

    /// <summary>Of an account, from its movements by month and its balance at the end.</summary>
    public static Trend? Of(Core.Charts.AccountClass accountClass, IReadOnlyList<PeriodRow> periods, IEnumerable<(int Period, decimal Movement)> movements,
        decimal end)
    {
        var byPeriod = movements.ToDictionary(m => m.Period, m => m.Movement);
        var months = new List<decimal>();
        foreach (var period in periods)
        {
            var movement = byPeriod.GetValueOrDefault(period.Id);
            if (period.Adjustment && months.Count > 0)
                months[^1] += movement;
            else
                months.Add(movement);
        }
        if (months.Count < 2 || (months.TrueForAll(m => m == 0) && end == 0))
            return null;
        if (accountClass is not (Core.Charts.AccountClass.Asset or Core.Charts.AccountClass.Liability or Core.Charts.AccountClass.Equity))
            return new(months, false);
        var balance = end - months.Sum();
        return new([.. months.Select(m => balance += m)], true);
    }
}
