using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Storage.Settings;
using Assignum.Storage.Preparation;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>
/// Posts events in one order: everything computable is computed first, then one transaction under the company's posting lock checks edition,
/// period and identity, takes numbers, copies the rows and adds to the balances.
/// </summary>
/// <param name="source">The database.</param>
/// <param name="books">Rulebooks in memory.</param>
/// <param name="text">How events are kept.</param>
public sealed class PostingStore(NpgsqlDataSource source, RulebookCache books, EventText text)
{
    /// <summary>Most events in one transaction.</summary>
    public const int LargestBatch = 1000;
    const int TriesBeforeWaiting = 3;

    /// <summary>Posts events by the edition in force, in batches; a bad event leaves its batch and the rest goes on.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who posts; null for a connected system.</param>
    /// <param name="events">The events, in their order.</param>
    /// <param name="stop">Cancels between batches.</param>
    /// <returns>What became of each, in the same order.</returns>
    public async Task<IReadOnlyList<Posted>> Post(int company, int? user, IReadOnlyList<PostableEvent> events, CancellationToken stop)
    {
        // What is kept reads the same to everybody.
        System.Globalization.CultureInfo.CurrentCulture = Written.Plain;
        var posted = new List<Posted>(events.Count);
        foreach (var batch in Batches(events))
            posted.AddRange(await PostBatch(company, user, batch, stop));
        return posted;
    }

    /// <summary>Posts events that belong together, in one transaction: all of them land, or none does.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who posts.</param>
    /// <param name="events">The events, in their order.</param>
    /// <param name="stop">Cancels; nothing is posted.</param>
    /// <returns>What became of each; where one did not land, what would have become of each.</returns>
    public Task<IReadOnlyList<Posted>> PostTogether(int company, int? user, IReadOnlyList<PostableEvent> events, CancellationToken stop) =>
        PostTogether(company, user, events, (_, _) => Task.CompletedTask, stop);

    /// <summary>The same, with something that is kept beside them in the same transaction.</summary>
    internal async Task<IReadOnlyList<Posted>> PostTogether(int company, int? user, IReadOnlyList<PostableEvent> events,
        Func<NpgsqlConnection, IReadOnlyList<Posted>, Task> beside, CancellationToken stop)
    {
        System.Globalization.CultureInfo.CurrentCulture = Written.Plain;
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await Lock(connection, company, stop);
        var book = new LandingBook(await RulebookStore.LoadWhole(connection, company, null, stop));
        var posted = new List<Posted>();
        foreach (var batch in Batches(events))
            posted.AddRange(await new PostingTransaction(connection, company, user, book, text, stop).Post(batch, async admission =>
                (await BatchPreparing.Begin(connection, company, book, AskedBy(book, batch) ?? new Books(), batch, text, stop)).Prepare(admission)));
        if (!posted.TrueForAll(p => p.Fate == PostingFate.Landed))
            return posted;
        await beside(connection, posted);
        await transaction.CommitAsync(stop);
        return posted;
    }

    /// <summary>Posts an event within a change of the draft: both are done, or neither is.</summary>
    /// <param name="change">The change; it keeps the posting lock until it ends.</param>
    /// <param name="posted">The event. It lands by the edition in force, with the labels as the change leaves them.</param>
    internal static async Task<Posted> PostWithin(DraftChange change, PostableEvent posted)
    {
        await Lock(change.Connection, change.Company, change.Stop);
        var book = new LandingBook(await RulebookStore.LoadWhole(change.Connection, change.Company, null, change.Stop));
        var writing = new PostingTransaction(change.Connection, change.Company, change.User, book, null, change.Stop);
        return (await writing.Post([posted], admission => Task.FromResult(Admitted(book, [], admission))))[0];
    }

    /// <summary>What the books have against an event, whatever the rulebook says: a closed period, a dimension value that the company does not have.</summary>
    public async Task<IReadOnlyList<HeldReason>> Objections(int company, BusinessEvent happened, CancellationToken stop)
    {
        var book = await books.Released(company, stop);
        await using var connection = await source.OpenConnectionAsync(stop);
        return [.. (await BooksCheck.Read(connection, company, book, [happened], stop)).Of(happened)];
    }

    // One event comes once in a batch, so that a revision always finds the one before it in the books.
    static IEnumerable<PostableEvent[]> Batches(IReadOnlyList<PostableEvent> events)
    {
        var batch = new List<PostableEvent>();
        var ids = new HashSet<(string, string)>();
        foreach (var next in events)
        {
            var id = (Fold.Of(next.Source), next.Happened.Id);
            // What a transfer moves is what stands when it is posted, so that it is a batch of its own.
            if (batch.Count > 0 && (batch.Count == LargestBatch || ids.Contains(id) || IsTransfer(next) || IsTransfer(batch[^1])))
            {
                yield return [.. batch];
                batch.Clear();
                ids.Clear();
            }
            batch.Add(next);
            ids.Add(id);
        }
        if (batch.Count > 0)
            yield return [.. batch];
    }

    static bool IsTransfer(PostableEvent posted) => posted.Happened.TypeName == StandingTransfer.Name;

    async Task<IReadOnlyList<Posted>> PostBatch(int company, int? user, PostableEvent[] batch, CancellationToken stop)
    {
        try
        {
            return await PostWhole(company, user, batch, stop);
        }
        catch (PostgresException fault) when (fault.SqlState.StartsWith("22", StringComparison.Ordinal)
            || fault.SqlState.StartsWith("23", StringComparison.Ordinal) || fault.SqlState.StartsWith("54", StringComparison.Ordinal))
        {
            // A value the database does not take. Alone the bad one is found, and the others land.
            if (batch.Length == 1)
                return [Posted.Refuse($"Event {batch[0].Happened.Id} can't be kept: {fault.MessageText}. Correct the value at its source.")];
            var half = batch.Length / 2;
            return [.. await PostBatch(company, user, batch[..half], stop), .. await PostBatch(company, user, batch[half..], stop)];
        }
    }

    async Task<IReadOnlyList<Posted>> PostWhole(int company, int? user, PostableEvent[] batch, CancellationToken stop)
    {
        for (var attempt = 1; ; attempt++)
        {
            var book = await books.Released(company, stop);
            // What stands in the books changes until the lock is taken; what asks for nothing there lands before.
            var asked = AskedBy(book, batch);
            var landed = asked is null ? Land(book, batch) : [];
            await using var connection = await source.OpenConnectionAsync(stop);
            await using var transaction = await connection.BeginTransactionAsync(stop);
            var state = await LockedState(connection, company, stop);
            if (state.Edition != book.Stored.Edition || state.AtOnce != book.Stored.State.AtOnce)
            {
                if (attempt < TriesBeforeWaiting)
                    continue;
                // Under the lock nothing changes any more.
                book = new LandingBook(await RulebookStore.LoadWhole(connection, company, null, stop));
                asked = AskedBy(book, batch);
                landed = asked is null ? Land(book, batch) : [];
            }
            var writing = new PostingTransaction(connection, company, user, book, text, stop);
            var posted = await writing.Post(batch, async admission => asked is null ? Admitted(book, landed, admission)
                : (await BatchPreparing.Begin(connection, company, book, asked, batch, text, stop)).Prepare(admission));
            await transaction.CommitAsync(stop);
            return posted;
        }
    }

    /// <summary>An event as it would be posted now, with what is filled in from the books.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="book">The rulebook it lands by.</param>
    /// <param name="happened">The event.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<PreparedEvent> Prepare(int company, LandingBook book, BusinessEvent happened, CancellationToken stop)
    {
        if (BooksReading.AskedBy(book.Compiled!, [happened]) is not { } asked)
            return new(happened, []);
        await using var connection = await source.OpenConnectionAsync(stop);
        var standing = await BooksReading.Read(connection, company, book.Stored.Labels, asked, text, stop);
        return Preparing.Prepare(book.Compiled!, happened, standing).WithCostChange(book.Compiled!, standing);
    }

    /// <summary>What would become of events, posted now one after the other. Nothing is kept, and nobody who posts waits for it.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="events">The events, in their order.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="by">The rulebook they would land by; null: the one in force.</param>
    /// <returns>What would become of each, without ids.</returns>
    public async Task<IReadOnlyList<Posted>> Look(int company, IReadOnlyList<PostableEvent> events, CancellationToken stop, LandingBook? by = null)
    {
        if (events.Count == 0)
            return [];
        var book = by ?? await books.Released(company, stop);
        PostableEvent[] batch = [.. events];
        await using var connection = await source.OpenConnectionAsync(stop);
        var identities = await Identities.Read(connection, company, batch, stop);
        var check = await BooksCheck.Read(connection, company, book, [.. events.Select(e => e.Happened)], stop);
        var preparing = await BatchPreparing.Begin(connection, company, book, AskedBy(book, batch) ?? new Books(), batch, text, stop);
        var second = await SecondPerson.Read(connection, company, batch, stop);
        var reversals = await Reversal.Read(connection, company, [.. batch.SelectMany(identities.Standing)], stop);
        var admission = new Admission(batch, identities, second, check, reversals, text);
        return [.. preparing.Prepare(admission).Select(one => admission.Answer(one.Event) ?? Look(one, admission.Objections(one.Event, one.Outcome)))];
    }

    static Posted Look(LandedEvent one, IReadOnlyList<HeldReason> objections)
    {
        IReadOnlyList<HeldReason> reasons = [.. (one.Happened.Withdrawn || one.Outcome is not Held held ? [] : held.Reasons).Concat(objections).Distinct()];
        return new(reasons.Count > 0 ? PostingFate.Held : PostingFate.Landed, null, null, null, reasons, "");
    }

    // A revision gives back what the one before it moved: the books are asked for that too.
    static Books? AskedBy(LandingBook book, PostableEvent[] batch) => BooksReading.AskedBy(book.Compiled!, batch.Select(e => e.Happened))
        ?? (Array.Exists(batch, e => e.ComesAfterOthers) ? new Books() : null);

    static LandedEvent[] Land(LandingBook book, PostableEvent[] batch)
    {
        var compiled = book.Compiled ?? throw new InvalidOperationException("A released edition has no errors.");
        return Array.ConvertAll(batch, e => new LandedEvent(e, Landing.Land(compiled, e.Happened)));
    }

    // What has landed before is landed once more where it is posted on another day.
    static LandedEvent[] Admitted(LandingBook book, LandedEvent[] before, Admission admission) => [.. admission.Events.Select((posted, i) =>
    {
        var landed = i < before.Length && ReferenceEquals(before[i].Event, posted) ? before[i] : Land(book, [posted])[0];
        return admission.Answer(posted) is null && admission.Later(posted, landed.Outcome) is { } later ? Land(book, [later])[0] : landed;
    })];

    /// <summary>Takes a company's posting lock until the transaction ends.</summary>
    internal static Task Lock(NpgsqlConnection connection, int company, CancellationToken stop) => LockedState(connection, company, stop);

    static async Task<(int Edition, long AtOnce)> LockedState(NpgsqlConnection connection, int company, CancellationToken stop) =>
        await connection.Command("select edition, stamp from posting_row where company_id = $1 for update", company).FirstOrDefault(row =>
            (row.GetInt32(0), row.GetInt64(1)), stop);
}
