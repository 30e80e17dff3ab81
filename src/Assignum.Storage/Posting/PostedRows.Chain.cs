using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Storage.Proving;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <content>The digest of each posted event, chained to the one before it in its fiscal year.</content>
sealed partial class PostedRows
{
    async Task WriteDigests(NpgsqlConnection connection, List<PlacedMovement> placed, CancellationToken stop)
    {
        var posted = events.Where(e => e.Period is not null).ToList();
        if (posted.Count == 0)
            return;
        var heads = (await connection.Command("""
            select y.id, coalesce(last.place, 0), coalesce(last.digest, ''::bytea)
            from unnest($2::integer[]) y(id) left join lateral (
                select place, digest from posted_digest d where d.company_id = $1 and d.fiscal_year_id = y.id order by place desc limit 1) last on true
            """, company, posted.Select(e => e.Period!.FiscalYear).Distinct().ToArray())
            .List(row => (Year: row.GetInt32(0), Head: (Place: row.GetInt64(1), Digest: row.GetFieldValue<byte[]>(2))), stop))
            .ToDictionary(h => h.Year, h => h.Head);
        var entriesOf = entryNumbers.ToLookup(n => n.Key.Event, ReferenceEqualityComparer.Instance);
        var movementsOf = placed.ToLookup(m => m.EventId);
        await using var copy = await connection.BeginBinaryImportAsync("copy posted_digest (company_id, fiscal_year_id, place, event_id, digest) from stdin " +
            "binary", stop);
        foreach (var pending in posted)
        {
            var year = pending.Period!.FiscalYear;
            var eventId = numbers[pending.Landed].EventId;
            var digest = FormOf(pending, eventId, entriesOf[pending], movementsOf[eventId]).Chained(heads[year].Digest);
            heads[year] = (heads[year].Place + 1, digest);
            copy.StartRow();
            copy.Write(company);
            copy.Write(year);
            copy.Write(heads[year].Place);
            copy.Write(eventId);
            copy.Write(digest);
        }
        await copy.CompleteAsync(stop);
    }

    CanonicalText FormOf(PendingEvent pending, long eventId, IEnumerable<KeyValuePair<PendingEntry, (long EntryId, long Number)>> written,
        IEnumerable<PlacedMovement> moved)
    {
        var (form, happened) = (new CanonicalText(), pending.Landed.Happened);
        form.Row("event", eventId, happened.Revision, pending.Posting, happened.Withdrawn, happened.TypeName, happened.Date,
            Convert.ToHexStringLower(pending.Landed.Event.Digest));
        var ordered = written.OrderBy(e => e.Value.EntryId).ToList();
        foreach (var (entry, (id, number)) in ordered)
            form.Row("entry", id, entry.Period.FiscalYear, number, happened.Date, entry.Period.Id, entry.Reversal?.Entry);
        foreach (var (entry, (id, _)) in ordered)
            for (var i = 0; i < entry.Lines.Count; i++)
            {
                var line = entry.Lines[i];
                form.Row("line", id, i + 1, happened.Date, line.Account, CanonicalText.Amount(line.Amount), line.Currency,
                    CanonicalText.Amount(line.DocumentAmount), line.Rule, line.Party, line.Item, line.Location, DimensionSetOf(entry, i));
            }
        foreach (var one in moved.OrderBy(m => m.Place))
            form.Row(one.Movement.Kind, [one.Place, happened.Date, EntryOf(one.Entry), one.Entry.Reversal?.Event, .. one.Movement.Ids(eventId),
                CanonicalText.Amount(one.Movement.Value.Amount), one.Movement.Value.Currency, CanonicalText.Amount(one.Movement.Value.DocumentAmount)]);
        return form;
    }

    long? EntryOf(PendingEntry entry) => entryNumbers.TryGetValue(entry, out var taken) ? taken.EntryId : null;
}
