using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.HeldEvents;

/// <summary>How much money waits with an event that is held.</summary>
public static class WaitingAmount
{
    /// <summary>What an event would come to, company currency, never negative; null where nothing of it can be computed.</summary>
    /// <remarks>Of a priced document what it says it comes to, else its lines with the tax found so far; of another event the larger side of what could be
    /// computed of its entry, else the amount it names.</remarks>
    /// <param name="book">The rulebook that holds it.</param>
    /// <param name="happened">The event.</param>
    public static decimal? Of(CompiledRulebook book, BusinessEvent happened)
    {
        Landing.Try(book, happened, out var sofar);
        var inDocument = happened is Document document ? OfDocument(document, sofar) : Named(happened);
        var amount = happened is not Document && sofar is { Rows.Count: > 0 } ? Larger(sofar.Rows) : inDocument * (happened.Rate ?? 1);
        return amount is { } known && Math.Abs(known) < Money.Limit ? Money.Round(Math.Abs(known), book.CompanyMinorUnits) : null;
    }

    static decimal? OfDocument(Document document, Landed? sofar)
    {
        if (document.Total is { } total)
            return total;
        try
        {
            return document.Lines.Sum(line => line.Quantity * (line.Price ?? 0) * (1 - ((line.DiscountPercent ?? 0) / 100))
                - (line.DiscountAmount ?? 0)) + (document.PricesIncludeTax ? 0 : sofar?.Totals?.Tax ?? 0);
        }
        catch (OverflowException)
        {
            return null;
        }
    }

    static decimal Larger(IReadOnlyList<EntryRow> rows) =>
        Math.Max(rows.Sum(r => Math.Max(0, r.Amount)), rows.Sum(r => Math.Max(0, -r.Amount)));

    static decimal? Named(BusinessEvent happened) => happened switch
    {
        Payment payment => payment.Amount,
        ManualJournal journal => journal.Lines.Sum(l => l.Debit ?? 0),
        OpeningItem opening => opening.Amount,
        _ => null,
    };
}
