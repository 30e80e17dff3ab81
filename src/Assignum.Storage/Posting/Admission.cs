using Assignum.Core.Posting;

namespace Assignum.Storage.Posting;

/// <summary>How the events of a batch meet the books: which of them are new, on which days they are posted, and what stands against them.</summary>
sealed class Admission
{
    static readonly IReadOnlySet<Subledger> None = new HashSet<Subledger>();

    readonly Identities identities;
    readonly SecondPerson second;
    readonly BooksCheck check;
    // Null: nothing is moved to another day.
    readonly EventText? text;
    readonly IReadOnlyDictionary<long, Reversal> reversals;

    internal Admission(PostableEvent[] events, Identities identities, SecondPerson second, BooksCheck check, IReadOnlyDictionary<long, Reversal> reversals,
        EventText? text)
    {
        (this.identities, this.second, this.check, this.reversals, this.text) = (identities, second, check, reversals, text);
        Events = Array.ConvertAll(events, e => Answer(e) is null ? Moved(e, TakenBack(e)) ?? e : e);
    }

    /// <summary>The events, each on the day on which it is posted.</summary>
    internal PostableEvent[] Events { get; }

    /// <summary>The answer for an event that is known, or refused; null: it is new.</summary>
    internal Posted? Answer(PostableEvent posted) => identities.Judge(posted) ?? second.Judge(posted);

    /// <summary>It is new, and the books have nothing against it so far.</summary>
    internal bool Lands(PostableEvent posted) =>
        Answer(posted) is null && check.Takes(posted.Happened) && check.Periods.WhyNot(posted.Happened, TakenBack(posted)) is null;

    /// <summary>The event on a later day, where what it lands with may not move on its own and the company moves such events; null: it stays.</summary>
    internal PostableEvent? Later(PostableEvent posted, Outcome outcome) => Moved(posted, MovedBy(posted, outcome));

    /// <summary>Everything the books have against it, with what it lands with.</summary>
    internal IReadOnlyList<HeldReason> Objections(PostableEvent posted, Outcome outcome)
    {
        var happened = posted.Happened;
        // Nothing of it is in the books, so no day has to be open for taking it back.
        if (happened.Withdrawn && identities.Standing(posted).Length == 0)
            return [];
        var found = new List<HeldReason>();
        if (!happened.Withdrawn)
            found.AddRange(check.Of(happened));
        else if (check.PeriodOf(happened) is null)
            found.Add(check.Periods.WhyNot(happened));
        if (check.Periods.WhyNot(happened, MovedBy(posted, outcome)) is { } closed)
            found.Add(closed);
        return found;
    }

    PostableEvent? Moved(PostableEvent posted, IReadOnlySet<Subledger> moved) =>
        text is not null && check.Periods.Later(posted.Happened, moved) is { } day ? posted.MovedTo(day, text) : null;

    IReadOnlySet<Subledger> MovedBy(PostableEvent posted, Outcome outcome) =>
        posted.Happened.Withdrawn || outcome is not Landed landed ? TakenBack(posted)
        : landed.Subledger.Select(m => m.Subledger).Concat(landed.Rows.Where(r => r.Account.Control is not null && IsSubledger(r)).Select(r =>
            (Subledger)(int)r.Account.Control!.Value)).Concat(TakenBack(posted)).ToHashSet();

    // Controls are numbered as their subledgers; some have none yet.
    static bool IsSubledger(EntryRow row) => Enum.IsDefined((Subledger)(int)row.Account.Control!.Value);

    IReadOnlySet<Subledger> TakenBack(PostableEvent posted) => posted.ComesAfterOthers
        ? identities.Standing(posted).SelectMany(e => reversals.TryGetValue(e, out var back) ? back.Movements : []).Select(m => m.Of).ToHashSet() : None;
}
