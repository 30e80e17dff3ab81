using Assignum.Core.Posting;

namespace Assignum.Storage.Posting;

/// <summary>How events are kept: as JSON.</summary>
/// <param name="Write">Writes one.</param>
/// <param name="Read">Reads one; null where it can't be read.</param>
public sealed record EventText(Func<BusinessEvent, string> Write, Func<string, BusinessEvent?> Read)
{
    /// <summary>What connections have sent, read once more with the matches of now: company, and texts as they came by connection. In the same order; null
    /// where one can't be read.</summary>
    public Func<int, IReadOnlyList<(int Connection, string Raw)>, CancellationToken, Task<IReadOnlyList<string?>>>? ReadSent { get; init; }
}

/// <summary>An event on its way into the books.</summary>
/// <param name="Happened">The event as received, or prepared already: what the books know is filled in when it is posted.</param>
/// <param name="Source">How it came: the connection that sent it, or <see cref="Own"/> for what was typed or uploaded by hand. The connection an event names
/// is only a fact.</param>
/// <param name="Received">As received, JSON.</param>
/// <param name="Prepared">As prepared, JSON.</param>
/// <param name="Digest">Digest of the canonical JSON of what was received.</param>
public sealed record PostableEvent(BusinessEvent Happened, string Source, string Received, string Prepared, byte[] Digest)
{
    /// <summary>Source of events that were typed in or uploaded by hand.</summary>
    public const string Own = "own";

    /// <summary>One that is made here.</summary>
    internal static PostableEvent OfOwn(BusinessEvent happened, EventText text)
    {
        var written = text.Write(happened);
        return new(happened, Own, written, written, System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(written)));
    }

    /// <summary>Somebody else than who posts it has typed it, or both have seen it before.</summary>
    public bool SeenByTwo { get; init; }

    /// <summary>Id of the event, of the same revision, that stands and is taken back or posted again by hand; null: it comes from its source.</summary>
    public long? Again { get; init; }

    /// <summary>Its own posting date, where that lay in a closed period and it was moved; null: it was not.</summary>
    internal DateOnly? MovedFrom { get; init; }

    /// <summary>The same on a later day; document and tax dates stay.</summary>
    internal PostableEvent MovedTo(DateOnly day, EventText text)
    {
        var moved = Happened with { Date = day, DocumentDate = Happened.DocumentDate ?? Happened.Date, TaxDate = Happened.EffectiveTaxDate };
        return this with { Happened = moved, Prepared = text.Write(moved), MovedFrom = MovedFrom ?? Happened.Date };
    }

    /// <summary>Why it was held when it was tried last; null: it is tried the first time.</summary>
    internal IReadOnlyList<string>? HeldFor { get; init; }

    /// <summary>It may find earlier ones of its own identity in the books.</summary>
    internal bool ComesAfterOthers => Happened.Revision > 1 || Again is not null;

    internal string FoldedSource => Core.Fold.Of(Source);
}

/// <summary>What became of an event that was to be posted.</summary>
public enum PostingFate
{
    /// <summary>It landed; without an entry where it yields no line.</summary>
    Landed,
    /// <summary>It waits.</summary>
    Held,
    /// <summary>The same event was posted before; this is its first outcome.</summary>
    Known,
    /// <summary>It contradicts what was posted before.</summary>
    Refused,
}

/// <summary>The outcome of one event.</summary>
/// <param name="Fate">What became of it.</param>
/// <param name="EventId">Id it is kept under; null when it was refused.</param>
/// <param name="EntryId">Id of its entry, or null.</param>
/// <param name="EntryNumber">Number of its entry in the fiscal year, or null.</param>
/// <param name="Reasons">Why it is held.</param>
/// <param name="Message">Why it was refused; empty otherwise.</param>
public sealed record Posted(PostingFate Fate, long? EventId, long? EntryId, long? EntryNumber, IReadOnlyList<HeldReason> Reasons, string Message)
{
    /// <summary>It is known, and waits.</summary>
    public bool StillHeld { get; init; }

    /// <summary>Why it is not in the books; null where it is.</summary>
    public string? WhyNot => Fate switch
    {
        PostingFate.Held => string.Join(" ", Reasons.Select(r => r.Message)),
        PostingFate.Refused => Message,
        _ => null,
    };

    internal static Posted Refuse(string message) => new(PostingFate.Refused, null, null, null, [], message);
}
