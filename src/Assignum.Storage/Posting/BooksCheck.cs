using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>What the books, and not the rulebook, have against events: a date in no open period, a dimension value that the company's list lacks.</summary>
sealed class BooksCheck
{
    readonly OpenPeriods periods;
    readonly DimensionLists dimensions;
    readonly Dictionary<string, IReadOnlyList<HeldReason>> ofTransfers;
    readonly CompiledRulebook? book;

    BooksCheck(OpenPeriods periods, DimensionLists dimensions, Dictionary<string, IReadOnlyList<HeldReason>> ofTransfers, CompiledRulebook? book) =>
        (this.periods, this.dimensions, this.ofTransfers, this.book) = (periods, dimensions, ofTransfers, book);

    /// <summary>Reads what a batch of events is checked against.</summary>
    internal static async Task<BooksCheck> Read(NpgsqlConnection connection, int company, LandingBook book, IReadOnlyList<BusinessEvent> events,
        CancellationToken stop) =>
        new(await OpenPeriods.Read(connection, company, events.Min(e => e.Date), stop),
            events.Any(e => e.AllDimensions().Any()) ? await DimensionLists.Read(connection, company, stop) : DimensionLists.None,
            await OfTransfers(connection, company, book.Stored, events, stop), book.Compiled);

    static async Task<Dictionary<string, IReadOnlyList<HeldReason>>> OfTransfers(NpgsqlConnection connection, int company, StoredRulebook stored,
        IReadOnlyList<BusinessEvent> events, CancellationToken stop)
    {
        var found = new Dictionary<string, IReadOnlyList<HeldReason>>(StringComparer.Ordinal);
        foreach (var transfer in events.OfType<StandingTransfer>())
            found[transfer.Id] = await StandingStore.Objections(connection, company, stored.Labels, stored.Book.Company.Currency, transfer, stop);
        return found;
    }

    /// <summary>The periods that take postings.</summary>
    internal OpenPeriods Periods => periods;

    /// <summary>The open period an event is posted in: that of its day, or the adjustment period of its fiscal year.</summary>
    internal Period? PeriodOf(BusinessEvent happened) => periods.Of(happened);

    /// <summary>The books have nothing against it.</summary>
    internal bool Takes(BusinessEvent happened) => happened.Withdrawn ? PeriodOf(happened) is not null : !Of(happened).Any();

    /// <summary>Everything the books have against an event.</summary>
    internal IEnumerable<HeldReason> Of(BusinessEvent happened)
    {
        if (PeriodOf(happened) is null)
            yield return periods.WhyNot(happened);
        foreach (var reason in OfJournal(happened).Concat(dimensions.Of(happened)).Concat(ofTransfers.GetValueOrDefault(happened.Id, [])))
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
