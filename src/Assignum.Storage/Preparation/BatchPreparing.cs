using System.Security.Cryptography;
using System.Text;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Storage.Preparation;

/// <summary>Prepares and lands a batch one event after the other: what an event moves stands there for the next.</summary>
sealed class BatchPreparing
{
    readonly LandingBook book;
    readonly EventText text;
    readonly Books standing;
    readonly EarlierMoves earlier;

    BatchPreparing(LandingBook book, EventText text, Books standing, EarlierMoves earlier) =>
        (this.book, this.text, this.standing, this.earlier) = (book, text, standing, earlier);

    int MinorUnits => book.Compiled!.CompanyMinorUnits;

    /// <summary>Reads what a batch asks of the books, and what earlier revisions of its events moved.</summary>
    internal static async Task<BatchPreparing> Begin(NpgsqlConnection connection, int company, LandingBook book, Books asked, PostableEvent[] batch,
        EventText text, CancellationToken stop)
    {
        var earlier = await EarlierMoves.Read(connection, company, book.Stored.Labels, asked, batch, stop);
        earlier.Ask(asked);
        return new(book, text, await BooksReading.Read(connection, company, book.Stored.Labels, asked, text, stop), earlier);
    }

    /// <summary>Prepares and lands events, in their order.</summary>
    internal LandedEvent[] Prepare(Admission admission) => Array.ConvertAll(admission.Events, e => Prepare(e, admission));

    // What its earlier revision moved is given back before; where nothing comes of the new one, the earlier one stays.
    LandedEvent Prepare(PostableEvent posted, Admission admission)
    {
        var counts = admission.Lands(posted);
        standing.Stock.Watch();
        if (counts)
            earlier.Move(standing, posted, -1);
        standing.Stock.BeginAgain();
        var (landed, prepared) = Landed(posted);
        if (counts && admission.Later(posted, landed.Outcome) is { } later)
            (landed, prepared) = Landed(posted = later);
        if (counts && !posted.Happened.Withdrawn && landed.Outcome is Landed && admission.Objections(posted, landed.Outcome) is { Count: > 0 } objections)
            landed = landed with { Outcome = Held(landed.Outcome, objections) };
        if (counts && (posted.Happened.Withdrawn || landed.Outcome is Landed))
        {
            var receipts = standing.Apply(prepared.Happened, landed.Landed, MinorUnits);
            return landed with { Receipts = receipts, CostChange = CostChange(landed) };
        }
        if (counts)
            earlier.Move(standing, posted, 1);
        return landed;
    }

    (LandedEvent Landed, PreparedEvent Prepared) Landed(PostableEvent posted)
    {
        var prepared = Preparing.Prepare(book.Compiled!, posted.Happened, standing);
        var kept = prepared.Filled.Count == 0 ? posted : posted with { Happened = prepared.Happened, Prepared = text.Write(prepared.Happened) };
        return (new LandedEvent(kept, Held(Landing.Land(book.Compiled!, prepared.Happened), prepared.Objections)), prepared);
    }

    // What nobody sent is kept as what was sent with it.
    LandedEvent? CostChange(LandedEvent of)
    {
        if (standing.CostChangeAfter(of.Happened, MinorUnits) is not { } change)
            return null;
        var outcome = Landing.Land(book.Compiled!, change);
        standing.Apply(change, outcome as Landed, MinorUnits);
        var written = text.Write(change);
        return new(new PostableEvent(change, of.Event.Source, written, written, SHA256.HashData(Encoding.UTF8.GetBytes(written))), outcome);
    }

    static Outcome Held(Outcome outcome, IReadOnlyList<HeldReason> objections) =>
        objections.Count == 0 ? outcome : new Held([.. outcome is Held held ? held.Reasons : [], .. objections]);
}
