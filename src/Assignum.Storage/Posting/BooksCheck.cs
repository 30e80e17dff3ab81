using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>A period that takes postings.</summary>
sealed record Period(int Id, int FiscalYear, DateOnly Starts, DateOnly Ends, bool IsAdjustment = false);

/// <summary>What the books, and not the rulebook, have against events: a date in no open period, a dimension value that the company's list lacks.</summary>
sealed class BooksCheck
{
    readonly List<Period> periods;
    readonly DimensionLists dimensions;
    readonly Dictionary<BusinessEvent, IReadOnlyList<HeldReason>> ofTransfers;
    readonly CompiledRulebook? book;

    BooksCheck(List<Period> periods, DimensionLists dimensions, Dictionary<BusinessEvent, IReadOnlyList<HeldReason>> ofTransfers, CompiledRulebook? book) =>
        (this.periods, this.dimensions, this.ofTransfers, this.book) = (periods, dimensions, ofTransfers, book);

    /// <summary>Reads what a batch of events is checked against.</summary>
    internal static async Task<BooksCheck> Read(NpgsqlConnection connection, int company, LandingBook book, IReadOnlyList<BusinessEvent> events,
        CancellationToken stop) =>
        new(await connection.Command("""
                select p.id, p.fiscal_year_id, case when p.adjustment then y.starts else p.starts end, p.ends, p.adjustment
                from period p join fiscal_year y on y.company_id = p.company_id and y.id = p.fiscal_year_id
                where p.company_id = $1 and not p.closed and (p.adjustment and $4 or not p.adjustment) and y.starts <= $3 and p.ends >= $2 order by p.starts
                """, company, events.Min(e => e.Date), events.Max(e => e.Date), events.Any(e => e.Adjustment))
                .List(row => new Period(row.GetInt32(0), row.GetInt32(1), row.GetFieldValue<DateOnly>(2), row.GetFieldValue<DateOnly>(3), row.GetBoolean(4)),
                    stop),
            events.Any(e => e.AllDimensions().Any()) ? await DimensionLists.Read(connection, company, stop) : DimensionLists.None,
            await OfTransfers(connection, company, book.Stored, events, stop), book.Compiled);

    static async Task<Dictionary<BusinessEvent, IReadOnlyList<HeldReason>>> OfTransfers(NpgsqlConnection connection, int company, StoredRulebook stored,
        IReadOnlyList<BusinessEvent> events, CancellationToken stop)
    {
        var found = new Dictionary<BusinessEvent, IReadOnlyList<HeldReason>>(ReferenceEqualityComparer.Instance);
        foreach (var transfer in events.OfType<StandingTransfer>())
            found[transfer] = await StandingStore.Objections(connection, company, stored.Labels, stored.Book.Company.Currency, transfer, stop);
        return found;
    }

    /// <summary>The open period an event is posted in: that of its day, or the adjustment period of its fiscal year.</summary>
    internal Period? PeriodOf(BusinessEvent happened) =>
        periods.Find(p => p.IsAdjustment == happened.Adjustment && p.Starts <= happened.Date && happened.Date <= p.Ends);

    /// <summary>The books have nothing against it.</summary>
    internal bool Takes(BusinessEvent happened) => happened.Withdrawn ? PeriodOf(happened) is not null : !Of(happened).Any();

    /// <summary>Everything the books have against an event.</summary>
    internal IEnumerable<HeldReason> Of(BusinessEvent happened)
    {
        if (PeriodOf(happened) is null)
            yield return new HeldReason(HeldCause.ClosedPeriod,
                $"{happened.Date:yyyy-MM-dd} lies in no period that is open for posting. Open the period or the fiscal year, or correct the date.");
        foreach (var reason in OfJournal(happened).Concat(dimensions.Of(happened)).Concat(ofTransfers.GetValueOrDefault(happened, [])))
            yield return reason;
    }

    // Where the policy lets a journal through onto the account of a party's subledger, it says whose amount it is.
    IEnumerable<HeldReason> OfJournal(BusinessEvent happened)
    {
        if (happened is not ManualJournal journal || book is null)
            yield break;
        for (var i = 0; i < journal.Lines.Count; i++)
            if (journal.Lines[i] is { Account: { } number, Party: null } && book.Accounts.TryFind(number, out var account)
                && account.Control is (Control.Receivables or Control.Payables) and var control)
                yield return HeldReason.Invalid($"lines[{i}].party", $"Line {i + 1}: {account.Number} {account.Name} is a control account of " +
                    $"{control.InWords()}. Name the party it is about, or give the line by party and leave the account out.");
    }
}
