using System.Globalization;
using Assignum.Core.Groups;

namespace Assignum.Core.Assets;

/// <summary>What moved a fixed asset, company currency.</summary>
/// <param name="Date">Posting date.</param>
/// <param name="Cost">Change of its cost, signed.</param>
/// <param name="Accumulated">Change of its accumulated depreciation; positive: more has accumulated.</param>
/// <param name="IsDepreciation">It was depreciated by it: its days up to then are done.</param>
public sealed record AssetMove(DateOnly Date, decimal Cost, decimal Accumulated, bool IsDepreciation);

/// <summary>What a fixed asset is to be depreciated by.</summary>
/// <param name="Asset">The asset.</param>
/// <param name="Cost">Its cost at the day, company currency.</param>
/// <param name="Accumulated">What has accumulated before.</param>
/// <param name="From">The first day that is depreciated now; null: none is.</param>
/// <param name="To">The last one.</param>
/// <param name="Amount">What it is depreciated by.</param>
public sealed record Depreciation(Asset Asset, decimal Cost, decimal Accumulated, DateOnly? From, DateOnly To, decimal Amount)
{
    /// <summary>Why nothing can be worked out; null: it can.</summary>
    public string? WhyNot { get; private init; }
    /// <summary>What it is worth in the books before.</summary>
    public decimal BookValue => Cost - Accumulated;

    /// <summary>
    /// Works out the depreciation of an asset up to a day, month by month, a part of a month by its days: by straight line cost less residual value over
    /// its life in months; by declining balance a twelfth of the yearly percentage of what it was worth when the fiscal year began (with what has come
    /// since), and, where it has a life, the rest in the month in which that ends. Each month is rounded, and the book value never falls below the residual
    /// value. An asset is depreciated from the day it came.
    /// </summary>
    /// <param name="asset">The asset.</param>
    /// <param name="moves">All that has moved it, in the order of their dates; later ones are left out.</param>
    /// <param name="to">The last day.</param>
    /// <param name="yearOf">The first day of the fiscal year of a day.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    public static Depreciation Of(Asset asset, IReadOnlyList<AssetMove> moves, DateOnly to, Func<DateOnly, DateOnly> yearOf, int minorUnits)
    {
        var known = moves.Where(m => m.Date <= to).ToList();
        var plain = new Depreciation(asset, known.Sum(m => m.Cost), known.Sum(m => m.Accumulated), null, to, 0);
        if (asset.Method is null || known.Count == 0)
            return plain;
        if (asset.Lacks is { } lack)
            return plain with { WhyNot = $"{asset.Code} {asset.Name} lacks {lack}, so that its depreciation can't be worked out. Give it under Groups, " +
                $"Assets." };
        var first = known.Where(m => m.IsDepreciation).Select(m => m.Date.AddDays(1)).DefaultIfEmpty(known[0].Date).Max();
        if (first > to)
            return plain;
        var course = new Course(asset, known, yearOf, minorUnits);
        return plain with { From = first, Amount = course.Run(first, to) };
    }

    /// <summary>The days that are depreciated, one month after the other.</summary>
    sealed class Course(Asset asset, List<AssetMove> moves, Func<DateOnly, DateOnly> yearOf, int minorUnits)
    {
        readonly DateOnly came = moves[0].Date;
        decimal done;
        // By fiscal year, what this run has depreciated.
        readonly Dictionary<DateOnly, decimal> ofYear = [];

        internal decimal Run(DateOnly first, DateOnly to)
        {
            for (var month = new DateOnly(first.Year, first.Month, 1); month <= to; month = month.AddMonths(1))
            {
                var (from, last) = (month < first ? first : month, month.AddMonths(1).AddDays(-1));
                var amount = Money.Round(OfMonth(from, last < to ? last : to), minorUnits);
                done += amount;
                ofYear[yearOf(from)] = ofYear.GetValueOrDefault(yearOf(from)) + amount;
            }
            return done;
        }

        // Where its cost changes within the month, the days before and after are taken apart.
        decimal OfMonth(DateOnly from, DateOnly last)
        {
            var days = CultureInfo.InvariantCulture.Calendar.GetDaysInMonth(from.Year, from.Month);
            var sum = 0m;
            foreach (var span in DaySpan.Parted(from, last, moves.Where(m => !m.IsDepreciation).Select(m => m.Date)))
            {
                var (cost, worth) = On(span.First);
                sum += Math.Clamp(Monthly(span.First, cost, worth) * (span.Days / (decimal)days), 0, Math.Max(0, worth - sum - asset.Residual));
            }
            return EndsBy(last) ? Math.Max(0, On(last).Worth - asset.Residual) : sum;
        }

        decimal Monthly(DateOnly day, decimal cost, decimal worth)
        {
            if (asset.Method == AssetMethod.StraightLine)
                return (cost - asset.Residual) / asset.LifeMonths!.Value;
            var year = yearOf(day);
            var before = moves.Where(m => m.IsDepreciation && m.Date >= year).Sum(m => m.Accumulated) + ofYear.GetValueOrDefault(year);
            return (worth + before) * asset.Percent!.Value / 1200;
        }

        // What it cost, and what it is worth, on a day: after what moved it then, and after what this run has done.
        (decimal Cost, decimal Worth) On(DateOnly day)
        {
            var cost = moves.Where(m => m.Date <= day).Sum(m => m.Cost);
            var accumulated = moves.Where(m => m.Date <= day || m.IsDepreciation).Sum(m => m.Accumulated);
            return (cost, cost - accumulated - done);
        }

        bool EndsBy(DateOnly last) => asset is { Method: AssetMethod.DecliningBalance, LifeMonths: { } life } && last >= came.AddMonths(life).AddDays(-1);
    }
}
