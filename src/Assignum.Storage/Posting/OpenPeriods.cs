using Assignum.Core;
using Assignum.Core.Posting;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>A period that takes postings.</summary>
/// <param name="Id">Its id.</param>
/// <param name="FiscalYear">Id of its fiscal year.</param>
/// <param name="Starts">Its first day; of an adjustment period, that of the year.</param>
/// <param name="Ends">Its last day.</param>
/// <param name="IsAdjustment">It takes adjustments only.</param>
/// <param name="ClosedFor">The subledgers that are closed for it already.</param>
sealed record Period(int Id, int FiscalYear, DateOnly Starts, DateOnly Ends, bool IsAdjustment, IReadOnlySet<Subledger> ClosedFor);

/// <summary>The periods of a company that take postings, and what becomes of an event whose own is closed, as the company has chosen.</summary>
sealed class OpenPeriods
{
    readonly List<Period> open;
    readonly bool moves;
    readonly DateOnly? firstDay, lastDay;

    OpenPeriods(List<Period> open, bool moves, DateOnly? firstDay, DateOnly? lastDay) =>
        (this.open, this.moves, this.firstDay, this.lastDay) = (open, moves, firstDay, lastDay);

    internal static async Task<OpenPeriods> Read(NpgsqlConnection connection, int company, DateOnly from, CancellationToken stop)
    {
        var open = await connection.Command("""
            select p.id, p.fiscal_year_id, case when p.adjustment then y.starts else p.starts end, p.ends, p.adjustment,
                coalesce((select array_agg(c.subledger) from period_closed_for c where c.company_id = p.company_id and c.period_id = p.id), '{}')
            from period p join fiscal_year y on y.company_id = p.company_id and y.id = p.fiscal_year_id
            where p.company_id = $1 and not p.closed and p.ends >= $2 order by p.starts, p.number
            """, company, from).List(row => new Period(row.GetInt32(0), row.GetInt32(1), row.GetFieldValue<DateOnly>(2), row.GetFieldValue<DateOnly>(3),
                row.GetBoolean(4), row.GetFieldValue<string[]>(5).Select(Words<Subledger>.Parse).ToHashSet()), stop);
        return (await connection.Command("""
            select c.late_events = 'move', min(y.starts), max(y.ends) from company c left join fiscal_year y on y.company_id = c.id
            where c.id = $1 group by c.id
            """, company).FirstOrDefault(row => new OpenPeriods(open, row.GetBoolean(0), row.DateOrNull(1), row.DateOrNull(2)), stop))!;
    }

    /// <summary>The open period an event is posted in: that of its day, or the first open adjustment period of its fiscal year.</summary>
    internal Period? Of(BusinessEvent happened) =>
        open.Find(p => p.IsAdjustment == happened.Adjustment && p.Starts <= happened.Date && happened.Date <= p.Ends);

    /// <summary>Why no period takes an event.</summary>
    internal HeldReason WhyNot(BusinessEvent happened)
    {
        var day = Written.DayNow(happened.Date);
        if (happened.Date > lastDay)
            return new(HeldCause.ClosedPeriod, $"{day} lies after the last fiscal year. Open the next year, or correct the date.");
        return new(HeldCause.ClosedPeriod, happened.Adjustment ? $"The adjustment periods of the year of {day} are closed. Open one again, or correct the date."
            : $"The period of {day} is closed, or in no fiscal year. Open it again, or correct the date.");
    }

    /// <summary>Why an event can't move some subledgers in its period; null where it can.</summary>
    internal HeldReason? WhyNot(BusinessEvent happened, IReadOnlySet<Subledger> moved) =>
        Of(happened) is { } period && moved.Where(period.ClosedFor.Contains).Order().ToList() is { Count: > 0 } closed
            ? new(HeldCause.ClosedPeriod, $"{Words<Subledger>.Of(closed[0])[..1].ToUpperInvariant()}{Words<Subledger>.Of(closed[0])[1..]} " +
                $"{(closed[0] is Subledger.Receivables or Subledger.Payables or Subledger.Projects or Subledger.Assets ? "are" : "is")} closed for the " +
                    $"period of {Written.DayNow(happened.Date)}. Open the subledger again, or correct the date.") : null;

    /// <summary>The first day at or after its own on which an event may move some subledgers, where the company moves what comes too late; null: it stays.
    /// An adjustment stays in its year, and a day before the first year is a wrong date.</summary>
    internal DateOnly? Later(BusinessEvent happened, IReadOnlySet<Subledger> moved)
    {
        if (!moves || happened.Adjustment || !(firstDay <= happened.Date) || (Of(happened) is { } own && !own.ClosedFor.Overlaps(moved)))
            return null;
        return open.Find(p => !p.IsAdjustment && p.Starts > happened.Date && !p.ClosedFor.Overlaps(moved))?.Starts;
    }
}
