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
    public static Outcome Land(CompiledRulebook book, BusinessEvent happened) => Try(book, happened, out _);

    /// <summary>Lands an event that may still be in the making, and gives what can be computed of it even when it is held.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="happened">The event.</param>
    /// <param name="sofar">Totals and rows as far as they could be found; null when the event could not be opened at all.</param>
    public static Outcome Try(CompiledRulebook book, BusinessEvent happened, out Landed? sofar)
    {
        sofar = null;
        try
        {
            (var outcome, sofar) = EventTypes.Of(happened).Land(book, happened);
            return outcome;
        }
        catch (OverflowException)
        {
            return new Held([HeldReason.Invalid("lines",
                $"An amount comes to more than can be computed with. Amounts stay below {Money.Limit:N0}; correct quantities, prices or rate.")]);
        }
    }
}
