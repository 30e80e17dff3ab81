using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>
/// Landing as a pure function: one rulebook, one event, one outcome. The same code serves the application, the command line,
/// replay, proofs and the benchmark.
/// </summary>
public static class Landing
{
    /// <summary>Lands an event, whole, or holds it, whole.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="happened">The event, as prepared: nothing is looked up outside the rulebook.</param>
    public static Outcome Land(CompiledRulebook book, BusinessEvent happened)
    {
        try
        {
            return happened switch
            {
                Document document => LandDocument(book, document, out _),
                Reclassification moved => ReclassificationRecipe.Land(book, moved),
                _ => throw new ArgumentException($"No recipe for {happened.TypeName}.", nameof(happened)),
            };
        }
        catch (OverflowException)
        {
            return new Held([HeldReason.Invalid("lines", $"An amount comes to more than can be computed with. Amounts stay below {Money.Limit:N0}; correct quantities, prices or rate.")]);
        }
    }

    /// <summary>Lands a document that may still be in the making, and gives what can be computed of it even when it is held.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="document">The document.</param>
    /// <param name="sofar">Totals and rows as far as they could be found; null when the document could not be opened at all.</param>
    public static Outcome Try(CompiledRulebook book, Document document, out Landed? sofar)
    {
        sofar = null;
        try
        {
            return LandDocument(book, document, out sofar);
        }
        catch (OverflowException)
        {
            return Land(book, document);
        }
    }

    static Outcome LandDocument(CompiledRulebook book, Document document, out Landed? sofar)
    {
        sofar = null;
        if (DocumentShape.FirstFault(document, Fold.Of(book.Book.Company.Currency)) is { } fault)
            return new Held([fault]);
        var reasons = new List<HeldReason>();
        if (OpenDocument.Open(book, document, reasons, out var open) is { } unknown)
            return new Held([unknown]);

        var entry = new EntryDraft(book, open, reasons);
        var totals = new SalesRecipe(book, open, entry).Write(reasons);
        sofar = new Landed(entry.Rows, entry.Subledger) { Totals = totals, Warnings = entry.Warnings };
        return reasons.Count == 0 ? sofar : new Held([.. reasons.Distinct()]) { Warnings = entry.Warnings };
    }
}
