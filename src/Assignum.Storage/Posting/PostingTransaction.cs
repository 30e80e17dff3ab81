using Assignum.Core.Posting;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>The part of posting that runs under the company's posting lock. However many events a batch has, its statements are as many.</summary>
sealed class PostingTransaction(NpgsqlConnection connection, int company, int? user, LandingBook book, EventText? text, CancellationToken stop)
{
    /// <summary>What becomes of one event, before its rows are written.</summary>
    /// <param name="Posted">The answer; numbers come later, for the whole batch at once.</param>
    /// <param name="Period">The period it lands in; null for one that does not land.</param>
    /// <param name="TakenBack">Events whose entries and movements it reverses.</param>
    /// <param name="Superseded">Events that count no longer, with those it takes back.</param>
    sealed record Verdict(Posted Posted, Period? Period, long[] TakenBack, long[] Superseded)
    {
        internal static Verdict Only(Posted posted) => new(posted, null, [], []);
    }

    readonly PostedRows rows = new(company, user, book);

    /// <summary>Posts events.</summary>
    /// <param name="events">The events.</param>
    /// <param name="land">Lands them, each on the day on which it is posted.</param>
    internal async Task<IReadOnlyList<Posted>> Post(PostableEvent[] events, Func<Admission, Task<LandedEvent[]>> land)
    {
        var identities = await Identities.Read(connection, company, events, stop);
        var check = await BooksCheck.Read(connection, company, book, [.. events.Select(e => e.Happened)], stop);
        var second = await SecondPerson.Read(connection, company, events, stop);
        var reversals = await Reversal.Read(connection, company, [.. events.SelectMany(identities.Standing)], stop);
        var admission = new Admission(events, identities, second, check, reversals, text);
        var batch = await land(admission);
        var verdicts = Array.ConvertAll(batch, landed => admission.Answer(landed.Event) is { } answer ? Verdict.Only(answer)
            : Judge(landed, admission, check, identities));

        if (batch is [{ Happened: { TypeName: StandingTransfer.Name } back }] && verdicts[0].TakenBack is [var transfer, ..]
            && await StandingStore.SettledSince(connection, company, transfer, stop) is { } settled)
            verdicts[0] = Verdict.Only(Posted.Refuse($"What {back.Id} moved does not stand there whole any more: {settled}. Move the rest back by a " +
                "transfer of its own."));
        for (var i = 0; i < batch.Length; i++)
            Add(batch[i], verdicts[i], reversals, identities.PostingOf(batch[i].Event), identities.CameWith(batch[i].Event));
        await rows.Number(connection, stop);
        await Supersede([.. verdicts.SelectMany(v => v.Superseded)]);
        await rows.Write(connection, stop);
        return [.. verdicts.Select((v, i) => rows.WithNumbers(v.Posted, batch[i]))];
    }

    static Verdict Judge(LandedEvent landed, Admission admission, BooksCheck check, Identities identities)
    {
        var happened = landed.Happened;
        var waiting = identities.Waiting(landed.Event);
        var objections = admission.Objections(landed.Event, landed.Outcome);
        if (happened.Withdrawn && landed.Event.Again is not null && objections.Count > 0)
            return Verdict.Only(Posted.Refuse($"Event {happened.Id} can't be taken back on that day: {objections[0].Message}"));
        IReadOnlyList<HeldReason> reasons = [.. (happened.Withdrawn || landed.Outcome is not Held held ? [] : held.Reasons).Concat(objections).Distinct()];
        // What waits for the same as before goes on waiting as it is.
        if (reasons.Count > 0 && landed.Event is { HeldFor: { } before, Again: { } again } && before.SequenceEqual(reasons.Select(r => r.Message)))
            return Verdict.Only(new Posted(PostingFate.Held, again, null, null, reasons, ""));
        if (reasons.Count > 0)
            return new Verdict(new Posted(PostingFate.Held, null, null, null, reasons, ""), null, [], waiting);
        var standing = identities.Standing(landed.Event);
        return new Verdict(new Posted(PostingFate.Landed, null, null, null, [], ""), check.PeriodOf(happened), standing, [.. standing, .. waiting]);
    }

    void Add(LandedEvent landed, Verdict verdict, IReadOnlyDictionary<long, Reversal> reversals, int posting, long? came = null)
    {
        if (verdict.Posted is not { Fate: PostingFate.Landed or PostingFate.Held, EventId: null })
            return;
        rows.AddEvent(landed, verdict.Posted.Fate, verdict.Posted.Reasons, posting, verdict.Period, came);
        if (verdict.Period is not { } period)
            return;
        foreach (var earlier in verdict.TakenBack)
            if (reversals.TryGetValue(earlier, out var reversal))
                rows.AddReversal(reversal, period);
        if (!landed.Happened.Withdrawn)
            rows.AddEntry(landed, period);
        if (landed.CostChange is { } change)
            Add(change, new Verdict(change.Outcome is Held held ? new Posted(PostingFate.Held, null, null, null, held.Reasons, "")
                : new Posted(PostingFate.Landed, null, null, null, [], ""), change.Landed is null ? null : period, [], []), reversals, posting);
    }

    Task Supersede(long[] events) =>
        events.Length == 0 ? Task.CompletedTask
            : connection.Command("update event set outcome = 'superseded' where company_id = $1 and id = any($2)", company, events).Run(stop);
}
