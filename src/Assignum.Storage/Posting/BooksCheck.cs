using Assignum.Core.Posting;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>A period that takes postings.</summary>
sealed record Period(int Id, int FiscalYear, DateOnly Starts, DateOnly Ends);

/// <summary>What the books, and not the rulebook, have against events: a date in no open period, a dimension value that the company's list lacks.</summary>
sealed class BooksCheck
{
    readonly List<Period> periods;
    readonly DimensionLists dimensions;

    BooksCheck(List<Period> periods, DimensionLists dimensions) => (this.periods, this.dimensions) = (periods, dimensions);

    /// <summary>Reads what a batch of events is checked against.</summary>
    internal static async Task<BooksCheck> Read(NpgsqlConnection connection, int company, IReadOnlyList<BusinessEvent> events, CancellationToken stop) =>
        new(await connection.Command("""
                select id, fiscal_year_id, starts, ends from period
                where company_id = $1 and not adjustment and not closed and starts <= $3 and ends >= $2 order by starts
                """, company, events.Min(e => e.Date), events.Max(e => e.Date))
                .List(row => new Period(row.GetInt32(0), row.GetInt32(1), row.GetFieldValue<DateOnly>(2), row.GetFieldValue<DateOnly>(3)), stop),
            events.Any(e => e.AllDimensions().Any()) ? await DimensionLists.Read(connection, company, stop) : DimensionLists.None);

    internal Period? PeriodOf(DateOnly date) => periods.Find(p => p.Starts <= date && date <= p.Ends);

    /// <summary>Everything the books have against an event.</summary>
    internal IEnumerable<HeldReason> Of(BusinessEvent happened)
    {
        if (PeriodOf(happened.Date) is null)
            yield return new HeldReason(HeldCause.ClosedPeriod,
                $"{happened.Date:yyyy-MM-dd} lies in no period that is open for posting. Open the period or the fiscal year, or correct the date.");
        foreach (var reason in dimensions.Of(happened))
            yield return reason;
    }
}
