using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Storage.Posting;

namespace Assignum.Web.Pages.TryOut;

/// <summary>What a try-out came to.</summary>
public sealed record TryOutResult
{
    /// <summary>The page, for addresses.</summary>
    public required IndexModel Page { get; init; }
    /// <summary>The event as typed.</summary>
    public required BusinessEvent Happened { get; init; }
    /// <summary>The event with what is filled in from the books; null while it can't land.</summary>
    public PreparedEvent? Prepared { get; init; }
    /// <summary>What can't be read, by field.</summary>
    public required IReadOnlyDictionary<string, string> Faults { get; init; }
    /// <summary>Places of the event's lines among those typed.</summary>
    public required IReadOnlyList<int> Places { get; init; }
    /// <summary>Place among the event's lines of one typed; -1: it has none.</summary>
    public int PlaceOf(int line) => (Places as List<int>)?.BinarySearch(line) is >= 0 and var found ? found : -1;
    /// <summary>The rulebook it was landed with.</summary>
    public required LandingBook Book { get; init; }
    /// <summary>Why it is held, in order; empty when it lands.</summary>
    public IReadOnlyList<HeldReason> Reasons { get; init; } = [];
    /// <summary>Those of them that the books have, whatever the rulebook says: a closed period, a dimension value that the company does not have.</summary>
    public IReadOnlyList<HeldReason> Objections { get; init; } = [];
    /// <summary>Rows and totals as far as they could be found; null when there are none.</summary>
    public Landed? Sofar { get; init; }
    /// <summary>Whether draft and edition in force give the same entry.</summary>
    public bool SameInForce { get; init; }
    /// <summary>What the edition in force makes of it, and posting writes; null: it would hold it.</summary>
    public Landed? InForce { get; init; }
    /// <summary>Whether the edition in force lands it, so that it can be posted.</summary>
    public bool LandsInForce => InForce is not null;
    /// <summary>Another entry than the one tried is what posting writes.</summary>
    public bool PostsAnother => InForce is not null && !SameInForce;

    /// <summary>Why it can't be posted yet; null: it can.</summary>
    public string? WhyNot(int edition)
    {
        if (Faults.Count > 0)
            return $"Not yet: {Showing.Show.Count(Faults.Count, "field")} to complete.";
        if (Objections is [{ Cause: HeldCause.ClosedPeriod }, ..])
            return "Not on this date.";
        if (Objections.Count > 0)
            return "Not yet: see below.";
        if (Sofar is null)
            return $"{Page.Form.Kind.WhatAsked} Type it first.";
        if (!LandsInForce)
            return Reasons.Count > 0 ? $"It would be held: {Showing.Show.Count(Reasons.Count, "reason")} below."
                : $"Edition {edition} would hold it. Release the draft first.";
        return null;
    }

    /// <summary>Whether it lands as tried.</summary>
    public bool Lands => Faults.Count == 0 && Reasons.Count == 0 && Sofar is not null;

    /// <summary>Whether two outcomes write the same rows.</summary>
    internal static bool Same(Outcome a, Outcome b) => (a, b) switch
    {
        (Landed x, Landed y) => x.Rows.Count == y.Rows.Count
            && x.Rows.Zip(y.Rows).All(p => p.First.Account.Number == p.Second.Account.Number && p.First.Amount == p.Second.Amount
            && p.First.Purpose == p.Second.Purpose),
        (Held, Held) => true,
        _ => false,
    };
}
