using System.Text;
using Assignum.Core.Posting;
using Assignum.Formats.Connections;
using Assignum.Formats.Events;
using Assignum.Storage.Connections;
using Assignum.Storage.HeldEvents;
using Assignum.Storage.Posting;

namespace Assignum.Web.Connections;

/// <summary>
/// Takes what connections send and settles it: it is kept first, then read with the connection's matches, and posted, held, refused, put to review or left, as
/// the connection is set. However often this is cut off and begun again, an event is posted once.
/// </summary>
public sealed class Receiving(ConnectionStore connections, InboxStore inbox, MatchStore matches, ListStore lists, RulebookCache books, PostingStore posting)
{
    const int AtOnce = 500;

    sealed record Read(Came Came, SentEvent Sent, BusinessEvent? Happened, string? Fault);

    /// <summary>Keeps what came, once however often it comes.</summary>
    /// <returns>Ids in the inbox, in the same order.</returns>
    internal Task<long[]> Take(int company, ConnectionRow of, Via via, IReadOnlyList<string> raws, CancellationToken stop, string? cursor = null) =>
        inbox.Take(company, of.Id, via, [.. raws.Select(raw => (raw, SentEvent.DigestOf(raw)))], stop, cursor);

    /// <summary>Settles what waits.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="of">The connection.</param>
    /// <param name="user">Who has it settled; null: it settles by itself.</param>
    /// <param name="stop">Cancels between parts; what is settled stays.</param>
    /// <param name="only">Ids in the inbox; null: all that wait.</param>
    /// <param name="reviewed">Somebody has looked at them, so that they post.</param>
    /// <param name="parts">Most parts; the worker settles what is left.</param>
    /// <returns>What became of each.</returns>
    internal async Task<IReadOnlyList<Settled>> Settle(int company, ConnectionRow of, int? user, CancellationToken stop, long[]? only = null,
        bool reviewed = false, int parts = int.MaxValue)
    {
        var all = new List<Settled>();
        while (parts-- > 0 && await inbox.Waiting(company, of.Id, AtOnce, stop, only) is { Count: > 0 } waiting)
        {
            var readings = await Readings.Load(connections, matches, lists, books, company, stop);
            all.AddRange(await Settle(company, of, user, [.. waiting.Select(came => ReadOne(came, readings.Of(of.Id)))], reviewed, stop));
        }
        return all;
    }

    static Read ReadOne(Came came, SentReading reading)
    {
        var sent = SentEvent.Read(came.Raw, reading);
        if (sent.Translated is not { } translated)
            return new(came, sent, null, sent.Fault);
        var read = new EventReader().Read(Encoding.UTF8.GetBytes(translated), 1);
        return new(came, sent, read.Event, read.Fault?.Message);
    }

    async Task<IReadOnlyList<Settled>> Settle(int company, ConnectionRow of, int? user, IReadOnlyList<Read> read, bool reviewed, CancellationToken stop)
    {
        var settled = new List<Settled>();
        var toPost = new List<Read>();
        foreach (var one in read)
            if (one.Happened is null)
                settled.Add(About(one, InboxState.Unreadable, one.Fault));
            else if (!reviewed && WhyLeft(of.Switches, one) is { } left)
                settled.Add(About(one, InboxState.Left, left));
            else if (!reviewed && WhyReview(of.Switches, one) is { } why)
                settled.Add(About(one, InboxState.Review, why) with { Reviewed = (await Look(company, one.Happened, why, stop)).Json() });
            else
                toPost.Add(one);
        var posted = await posting.Post(company, user, [.. toPost.Select(one =>
            new PostableEvent(one.Happened!, of.Source, one.Sent.Translated!, EventWriter.Write(one.Happened!), one.Came.Digest) { SeenByTwo = true })], stop);
        settled.AddRange(toPost.Zip(posted, (one, p) => About(one, StateOf(p), p.WhyNot) with { Event = p.EventId, EntryNumber = p.EntryNumber }));
        await inbox.Settle(company, settled, stop);
        return settled;
    }

    static InboxState StateOf(Posted posted) => posted.Fate switch
    {
        PostingFate.Refused => InboxState.Refused,
        PostingFate.Held => InboxState.Held,
        PostingFate.Known when posted.StillHeld => InboxState.Held,
        _ => InboxState.Posted,
    };

    static Settled About(Read one, InboxState state, string? message) => new(one.Came.Id, state, message)
    {
        SourceId = one.Sent.Id, Revision = one.Sent.Revision, Date = one.Sent.Date, Type = one.Sent.Type, Translated = one.Sent.Translated,
        ByCategory = one.Sent.ByCategory,
    };

    static string? WhyLeft(Switches switches, Read one)
    {
        if (switches.From is { } from && one.Sent.Date < from)
            return $"It is of {one.Sent.Date:yyyy-MM-dd}, before the first day that is taken, {from:yyyy-MM-dd}.";
        return !switches.Refunds && one.Sent.Type == "refund" ? "Refunds are not taken from this connection." : null;
    }

    static string? WhyReview(Switches switches, Read one)
    {
        if (switches.Events == Taking.Review)
            return "Every event of this connection is looked at before it posts.";
        if (switches.Revisions == Taking.Review && (one.Sent.Withdrawn || one.Sent.Revision > 1))
            return one.Sent.Withdrawn ? "It takes back what is posted." : "It changes what is posted.";
        if (one.Happened is not Payout payout)
            return null;
        if (!switches.HeldFunds && payout.Lines.Any(l => l.Kind is PayoutKind.Held or PayoutKind.Freed))
            return "The provider holds or frees money in it.";
        return !switches.Disputes && payout.Lines.Any(l => l.Kind is PayoutKind.Dispute or PayoutKind.DisputeWon) ? "It has a dispute." : null;
    }

    /// <summary>What an event would yield now.</summary>
    internal async Task<Preview> Look(int company, BusinessEvent happened, string why, CancellationToken stop)
    {
        var book = await books.Released(company, stop);
        if (happened.Withdrawn)
            return new(book.Stored.Edition, [], [], why);
        return Preview.Of(book, (await posting.Prepare(company, book, happened, stop)).Happened, why);
    }

    /// <summary>Posts what somebody has looked at. What would land differently from what they saw is shown to them first.</summary>
    /// <returns>How many are posted, or settled otherwise, and how many differ.</returns>
    internal async Task<(int Settled, int Differ)> Approve(int company, int user, ConnectionRow of, long[] ids, CancellationToken stop)
    {
        var readings = await Readings.Load(connections, matches, lists, books, company, stop);
        var (same, differ) = (new List<long>(), new List<Settled>());
        foreach (var id in ids)
            if (await inbox.Find(company, id, stop) is { State: InboxState.Review } row && Preview.Read(row.Reviewed) is { } seen)
            {
                var one = ReadOne(new(row.Id, row.Raw, SentEvent.DigestOf(row.Raw)), readings.Of(of.Id));
                var now = one.Happened is null ? seen : await Look(company, one.Happened, seen.Why, stop);
                if (now.Says(seen))
                    same.Add(id);
                else
                    differ.Add(About(one, InboxState.Review, row.Message) with { Reviewed = (now with { Was = seen.Lines }).Json() });
            }
        await inbox.Settle(company, differ, stop);
        await inbox.Again(company, [.. same], InboxState.Review, stop);
        if (same.Count > 0)
            await Settle(company, of, user, stop, [.. same], reviewed: true);
        return (same.Count, differ.Count);
    }

    /// <summary>Reads what came once more, with the matches of now.</summary>
    internal async Task<IReadOnlyList<string?>> ReadAgain(int company, IReadOnlyList<(int Connection, string Raw)> came, CancellationToken stop)
    {
        var readings = await Readings.Load(connections, matches, lists, books, company, stop);
        return [.. came.Select(c => SentEvent.Read(c.Raw, readings.Of(c.Connection)).Translated)];
    }
}
