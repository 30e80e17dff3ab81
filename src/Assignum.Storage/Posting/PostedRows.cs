using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>The rows of a batch: gathered, numbered, and copied into the books.</summary>
sealed partial class PostedRows(int company, int? user, LandingBook book)
{
    sealed record PendingEvent(LandedEvent Landed, PostingFate Fate, IReadOnlyList<HeldReason> Reasons, int Posting, Period? Period, long? Came);

    /// <summary>A movement with its place among those of its event.</summary>
    sealed record PlacedMovement(PendingEntry Entry, long EventId, int Place, KeptMovement Movement);

    sealed record PendingEntry(PendingEvent Event, Period Period, Reversal? Reversal, IReadOnlyList<KeptLine> Lines, IReadOnlyList<KeptMovement> Movements,
        IReadOnlyList<Dimensions> Dimensions);

    readonly List<PendingEvent> events = [];
    readonly List<PendingEntry> entries = [];
    readonly FactsText facts = new(book.Compiled!);
    readonly Dictionary<LandedEvent, (long EventId, long? EntryId, long? Number)> numbers = new(ReferenceEqualityComparer.Instance);
    readonly Dictionary<PendingEntry, (long EntryId, long Number)> entryNumbers = new(ReferenceEqualityComparer.Instance);
    DimensionSets dimensionSets = DimensionSets.None;
    ItemEvents items = ItemEvents.None;

    Labels Labels => book.Stored.Labels;
    int Edition => book.Stored.Edition;

    /// <param name="landed">The event.</param>
    /// <param name="fate">What becomes of it.</param>
    /// <param name="reasons">Why it is held.</param>
    /// <param name="posting">How often its revision has been posted, with this time.</param>
    /// <param name="period">The period it lands in; null: it is held.</param>
    /// <param name="came">The event that came first of those it takes the place of; null: it comes first itself.</param>
    internal void AddEvent(LandedEvent landed, PostingFate fate, IReadOnlyList<HeldReason> reasons, int posting, Period? period, long? came) =>
        events.Add(new PendingEvent(landed, fate, reasons, posting, period, came));

    /// <summary>The entry of the event added last.</summary>
    internal void AddEntry(LandedEvent landed, Period period)
    {
        var own = landed.Landed!;
        if (own.Rows.Count == 0 && own.Subledger.Count == 0)
            return;
        entries.Add(new PendingEntry(events[^1], period, null, [.. own.Rows.Select(LineOf)],
            [.. own.Subledger.SelectMany(m => Kept(m, landed))], [.. own.Rows.Select(r => r.Dimensions)]));
    }

    IEnumerable<KeptMovement> Kept(Movement movement, LandedEvent landed)
    {
        var kept = KeptMovement.From(movement, Labels);
        return movement is StockMovement moved && landed.Receipts?.GetValueOrDefault(moved) is { } parts ? ((KeptOfStock)kept).By(parts) : [kept];
    }

    /// <summary>The entry that takes back what an earlier revision wrote.</summary>
    internal void AddReversal(Reversal reversal, Period period) =>
        entries.Add(new PendingEntry(events[^1], period, reversal, reversal.Lines, reversal.Movements, []));

    /// <summary>Takes ids and entry numbers for the whole batch.</summary>
    internal async Task Number(NpgsqlConnection connection, CancellationToken stop)
    {
        if (events.Count == 0)
            return;
        var withLines = entries.Where(e => e.Lines.Count > 0).ToList();
        var (lastEvent, lastEntry) = await connection.Command("update posting_row set last_event = last_event + $2, last_entry = last_entry + $3 where " +
            "company_id = $1 returning last_event, last_entry", company, (long)events.Count, (long)withLines.Count)
            .FirstOrDefault(row => (row.GetInt64(0), row.GetInt64(1)), stop);
        var (nextEvent, nextEntry) = (lastEvent - events.Count + 1, lastEntry - withLines.Count + 1);
        foreach (var pending in events)
            numbers[pending.Landed] = (nextEvent++, null, null);
        var nextNumber = await TakeNumbers(connection, withLines, stop);
        foreach (var pending in withLines)
        {
            entryNumbers[pending] = (nextEntry++, nextNumber[pending.Period.FiscalYear]++);
            if (pending.Reversal is null)
                numbers[pending.Event.Landed] = numbers[pending.Event.Landed] with { EntryId = entryNumbers[pending].EntryId,
                    Number = entryNumbers[pending].Number };
        }
        dimensionSets = await DimensionSets.Take(connection, company, entries.SelectMany(e => e.Dimensions), stop);
        items = await ItemEvents.Find(connection, company, entries.SelectMany(e => e.Movements), numbers.Select(n => (n.Key.Source, n.Key.Happened.Id,
            n.Value.EventId, !n.Key.Event.ComesAfterOthers)), stop);
    }

    // The first number of each fiscal year that is this batch's to give.
    async Task<Dictionary<int, long>> TakeNumbers(NpgsqlConnection connection, List<PendingEntry> withLines, CancellationToken stop)
    {
        var years = withLines.CountBy(e => e.Period.FiscalYear).ToList();
        if (years.Count == 0)
            return [];
        return (await connection.Command("""
            update fiscal_year y set last_number = y.last_number + taken.count from unnest($2::integer[], $3::bigint[]) taken(year, count)
            where y.company_id = $1 and y.id = taken.year returning y.id, y.last_number - taken.count + 1
            """, company, years.Select(y => y.Key).ToArray(), years.Select(y => (long)y.Value).ToArray()).List(row => (row.GetInt32(0), row.GetInt64(1)),
                stop)).ToDictionary();
    }

    /// <summary>Copies everything and adds to the balances.</summary>
    internal async Task Write(NpgsqlConnection connection, CancellationToken stop)
    {
        if (events.Count == 0)
            return;
        await WriteEvents(connection, stop);
        await WriteReasons(connection, stop);
        await WriteEntries(connection, stop);
        await WriteLines(connection, stop);
        var placed = Placed();
        await WriteMovements(connection, placed, stop);
        await WriteDigests(connection, placed, stop);
        // A function that owns the balances adds what the lines say; the application itself can't.
        await connection.Command("select add_to_balances($1), add_to_standing($1)", company).Run(stop);
        await CarryShifts(connection, stop);
    }

    KeptMovement WithSet(KeptMovement movement) =>
        movement is KeptOfParty { Dimensions: { } own } ofParty ? ofParty with { DimensionSet = dimensionSets.IdOf(own) } : movement;

    internal Posted WithNumbers(Posted posted, LandedEvent landed) =>
        posted.Fate is PostingFate.Landed or PostingFate.Held && numbers.TryGetValue(landed, out var taken)
            ? posted with { EventId = taken.EventId, EntryId = taken.EntryId, EntryNumber = taken.Number } : posted;

    KeptLine LineOf(EntryRow row)
    {
        var context = row.Context;
        return new KeptLine(Labels.Account(row.Account.Number)!.Value, row.Amount, row.Currency, row.DocumentAmount, row.Purpose?.Name,
            Core.Words<AnsweredBy>.Of(row.By), row.RungName,
            Labels.RuleRow(row.Rule?.Id), Edition, facts.Of(context), Labels.IdOf("party", context.Party?.Code), Labels.IdOf("item", context.Item?.Code),
                Labels.IdOf("location", context.Location?.Code),
            context.Project, context.TaxLabel, null, context.Text);
    }

    int? DimensionSetOf(PendingEntry entry, int line) => entry.Reversal is null ? dimensionSets.IdOf(entry.Dimensions[line]) : entry.Lines[line].DimensionSet;

    async Task WriteEvents(NpgsqlConnection connection, CancellationToken stop)
    {
        await using var copy = await connection.BeginBinaryImportAsync("""
            copy event (company_id, id, source, connection, source_id, revision, withdrawn, type, date, document_date, tax_date, due_date, number, party_id,
                total, currency, digest, received, prepared, outcome, edition, user_id, posting, moved_from, came, waiting_amount) from stdin binary
            """, stop);
        foreach (var (landed, fate, _, posting, _, came) in events)
        {
            var happened = landed.Happened;
            copy.StartRow();
            copy.Write(company);
            copy.Write(numbers[landed].EventId);
            copy.Write(landed.Source);
            copy.Write(landed.Connection);
            copy.Write(happened.Id);
            copy.Write(happened.Revision);
            copy.Write(happened.Withdrawn);
            copy.Write(happened.TypeName);
            copy.Write(happened.Date);
            copy.Write(happened.DocumentDate ?? happened.Date);
            copy.Write(happened.EffectiveTaxDate);
            copy.Write(happened.DueDate ?? happened.Date);
            copy.WriteOrNull(happened.Number);
            copy.WriteOrNull(Labels.IdOf("party", happened.Party));
            copy.WriteOrNull(landed.Landed?.Totals?.Total);
            copy.WriteOrNull(happened.Currency is { } currency ? Core.Fold.Of(currency) : null);
            copy.Write(landed.Event.Digest);
            copy.Write(landed.Event.Received, NpgsqlTypes.NpgsqlDbType.Jsonb);
            copy.Write(landed.Event.Prepared, NpgsqlTypes.NpgsqlDbType.Jsonb);
            copy.Write(Core.Words<PostingFate>.Of(fate));
            copy.Write(Edition);
            copy.WriteOrNull(user);
            copy.Write(posting);
            copy.WriteOrNull(landed.Event.MovedFrom);
            copy.Write(came ?? numbers[landed].EventId);
            copy.WriteOrNull(fate == PostingFate.Held ? Core.HeldEvents.WaitingAmount.Of(book.Compiled!, happened) : null);
        }
        await copy.CompleteAsync(stop);
    }

    async Task WriteReasons(NpgsqlConnection connection, CancellationToken stop)
    {
        if (!events.Exists(e => e.Reasons.Count > 0))
            return;
        await using var copy = await connection.BeginBinaryImportAsync("copy held_reason (company_id, event_id, place, cause, purpose, facts, account, " +
            "message, code, what, rule, field) from stdin binary", stop);
        foreach (var held in events)
            for (var i = 0; i < held.Reasons.Count; i++)
            {
                var reason = held.Reasons[i];
                copy.StartRow();
                copy.Write(company);
                copy.Write(numbers[held.Landed].EventId);
                copy.Write(i);
                copy.Write(Core.Words<HeldCause>.Of(reason.Cause));
                copy.WriteOrNull(reason.Purpose?.Name);
                copy.Write(System.Text.Json.JsonSerializer.Serialize(reason.Facts.ToDictionary(f => f.Fact.Name(), f => f.Code)),
                    NpgsqlTypes.NpgsqlDbType.Jsonb);
                copy.WriteOrNull(reason.Account);
                copy.Write(reason.Message);
                copy.WriteOrNull(reason.Code ?? reason.Item ?? reason.TaxCode);
                copy.WriteOrNull(reason.What ?? (reason.Item is null ? null : "item"));
                copy.WriteOrNull(reason.Rule);
                copy.WriteOrNull(reason.Field);
            }
        await copy.CompleteAsync(stop);
    }

    async Task WriteEntries(NpgsqlConnection connection, CancellationToken stop)
    {
        await using var copy = await connection.BeginBinaryImportAsync("copy entry (company_id, id, fiscal_year_id, number, date, period_id, event_id, " +
            "reverses, edition, party_id, total, document_total, text, user_id) from stdin binary", stop);
        foreach (var (entry, (id, number)) in entryNumbers)
        {
            var happened = entry.Event.Landed.Happened;
            copy.StartRow();
            copy.Write(company);
            copy.Write(id);
            copy.Write(entry.Period.FiscalYear);
            copy.Write(number);
            copy.Write(happened.Date);
            copy.Write(entry.Period.Id);
            copy.Write(numbers[entry.Event.Landed].EventId);
            copy.WriteOrNull(entry.Reversal?.Entry);
            copy.Write(Edition);
            copy.WriteOrNull(Labels.IdOf("party", happened.Party));
            copy.Write(entry.Lines.Where(l => l.Amount > 0).Sum(l => l.Amount));
            copy.WriteOrNull(entry.Reversal is null ? TotalOf(entry.Event.Landed) : null);
            copy.Write(happened.Text ?? "");
            copy.WriteOrNull(user);
        }
        await copy.CompleteAsync(stop);
    }

    // As the party sees it, in company currency: what it owes by the document, or is owed.
    decimal? TotalOf(LandedEvent landed)
    {
        if (landed.Landed?.Totals is not { } totals)
            return null;
        var minorUnits = Core.Money.MinorUnits(book.Stored.Book.Company.Currency);
        return totals.Owes * (landed.Happened.Rate is { } rate ? Core.Money.Round(totals.Total * rate, minorUnits) : totals.Total);
    }

    async Task WriteLines(NpgsqlConnection connection, CancellationToken stop)
    {
        await using var copy = await connection.BeginBinaryImportAsync("""
            copy line (company_id, date, entry_id, line_no, account_id, amount, currency, document_amount, purpose, answered_by, rung, rule_id, edition, facts,
                party_id, item_id, location_id, project, tax_code, dimension_set_id, text) from stdin binary
            """, stop);
        foreach (var (entry, (id, _)) in entryNumbers)
            for (var i = 0; i < entry.Lines.Count; i++)
            {
                var line = entry.Lines[i];
                copy.StartRow();
                copy.Write(company);
                copy.Write(entry.Event.Landed.Happened.Date);
                copy.Write(id);
                copy.Write(i + 1);
                copy.Write(line.Account);
                copy.Write(line.Amount);
                copy.Write(line.Currency);
                copy.Write(line.DocumentAmount);
                copy.WriteOrNull(line.Purpose);
                copy.Write(line.AnsweredBy);
                copy.Write(line.Rung);
                copy.WriteOrNull(line.Rule);
                copy.Write(line.Edition);
                copy.Write(line.Facts);
                copy.WriteOrNull(line.Party);
                copy.WriteOrNull(line.Item);
                copy.WriteOrNull(line.Location);
                copy.WriteOrNull(line.Project);
                copy.WriteOrNull(line.TaxCode);
                copy.WriteOrNull(DimensionSetOf(entry, i));
                copy.WriteOrNull(line.Text);
            }
        await copy.CompleteAsync(stop);
    }

    List<PlacedMovement> Placed()
    {
        var next = new Dictionary<long, int>();
        var placed = new List<PlacedMovement>();
        foreach (var entry in entries)
        {
            var eventId = numbers[entry.Event.Landed].EventId;
            foreach (var movement in entry.Movements)
                placed.Add(new(entry, eventId, next[eventId] = next.GetValueOrDefault(eventId) + 1, items.Of(WithSet(movement), entry.Event.Landed.Source,
                    eventId)));
        }
        return placed;
    }

    async Task WriteMovements(NpgsqlConnection connection, List<PlacedMovement> placed, CancellationToken stop)
    {
        foreach (var ofTable in placed.GroupBy(m => m.Movement.Table))
        {
            await using var copy = await ofTable.Key.Copy(connection, stop);
            foreach (var (entry, eventId, place, movement) in ofTable)
            {
                copy.StartRow();
                copy.Write(company);
                copy.Write(entry.Event.Landed.Happened.Date);
                copy.Write(eventId);
                copy.Write(place);
                copy.WriteOrNull(EntryOf(entry));
                copy.WriteOrNull(entry.Reversal?.Event);
                movement.WriteOwn(copy, eventId);
                copy.Write(movement.Value.Amount);
                copy.Write(movement.Value.Currency);
                copy.Write(movement.Value.DocumentAmount);
            }
            await copy.CompleteAsync(stop);
        }
    }
}
