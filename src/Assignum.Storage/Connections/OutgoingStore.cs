using Assignum.Core;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Connections;

/// <summary>How the entries of a batch are written.</summary>
public enum BatchForm
{
    /// <summary>Every line of every entry.</summary>
    Whole,
    /// <summary>Lines summed by day and account.</summary>
    Summed,
}

/// <summary>What the ledger outside has said of a batch.</summary>
public enum BatchState { Made, Acknowledged, Refused }

/// <summary>A batch of entries for a ledger elsewhere.</summary>
public sealed record BatchRow(int Number, BatchForm Form, int Entries, long FirstEntry, long LastEntry, decimal Debit, DateTime MadeAt, BatchState State,
    string? OutsideNumber, string? Reasons, DateTime? SettledAt);

/// <summary>A line of a batch.</summary>
/// <param name="Line">Number of the line in the batch, from 1.</param>
/// <param name="Entry">Number of its entry; null where lines are summed.</param>
/// <param name="EntryId">Id of its entry; null where lines are summed.</param>
/// <param name="Date">Its day.</param>
/// <param name="Account">Number of the account.</param>
/// <param name="Name">Its name.</param>
/// <param name="Amount">Company currency, debit positive.</param>
/// <param name="Text">Its text.</param>
public sealed record BatchLine(int Line, long? Entry, long? EntryId, DateOnly Date, string Account, string Name, decimal Amount, string? Text);

/// <summary>An entry as it is read from outside.</summary>
public sealed record OutEntry(long Id, long Number, string? FiscalYear, DateOnly Date, string Event, string Source, string Type, string? Document,
    long? Reverses, int Edition,
    string? Text, IReadOnlyList<OutLine> Lines);

/// <summary>A ledger line with its trail.</summary>
public sealed record OutLine(int Line, string Account, string Name, decimal Amount, string Currency, decimal DocumentAmount, string? Purpose, string Rung,
    string? Rule, int Edition,
    string Text);

/// <summary>A landed event with its lines.</summary>
public sealed record OutLanding(long EventId, string Event, int Revision, string Outcome, long? Entry, IReadOnlyList<OutLine> Lines);

/// <summary>Entries on their way to a ledger elsewhere: each goes out once, in numbered batches that are acknowledged once.</summary>
public sealed class OutgoingStore(NpgsqlDataSource source)
{
    /// <summary>Most entries in a batch.</summary>
    public const int Most = 5_000;

    const string Batches = "select number, form, entries, first_entry, last_entry, debit, made_at, state, outside_number, " +
        "reasons::text, settled_at from outgoing_batch";

    /// <summary>The batches of a connection, the latest first.</summary>
    public Task<List<BatchRow>> All(int company, int connection, CancellationToken stop) =>
        source.Command(Batches + " where company_id = $1 and connection_id = $2 order by number desc", company, connection).List(Read, stop);

    /// <summary>One batch; null: there is none.</summary>
    public Task<BatchRow?> Find(int company, int connection, int number, CancellationToken stop) =>
        source.Command(Batches + " where company_id = $1 and connection_id = $2 and number = $3", company, connection, number).FirstOrDefault(Read, stop);

    static BatchRow Read(NpgsqlDataReader row) => new(row.GetInt32(0), Words<BatchForm>.Parse(row.GetString(1)), row.GetInt32(2), row.GetInt64(3),
        row.GetInt64(4), Money.Plain(row.GetDecimal(5)), row.GetDateTime(6), Words<BatchState>.Parse(row.GetString(7)), row.TextOrNull(8), row.TextOrNull(9),
        row.MomentOrNull(10));

    /// <summary>How many entries are in no batch of a connection yet.</summary>
    public Task<long> Left(int company, int connection, CancellationToken stop) =>
        source.Command("select count(*) from entry where company_id = $1 and id > (select coalesce(max(last_entry), 0) from outgoing_batch where " +
            "company_id = $1 and connection_id = $2)", company, connection).Value<long>(stop);

    /// <summary>Makes the next batch of entries that are in none yet.</summary>
    /// <returns>Its number; null: no entry is left.</returns>
    public async Task<int?> Make(int company, int user, ConnectionRow connection, BatchForm form, CancellationToken stop)
    {
        await using var open = await source.OpenConnectionAsync(stop);
        await using var transaction = await open.BeginTransactionAsync(stop);
        // Two people make two batches one after the other.
        await open.Command("select 1 from connection where company_id = $1 and id = $2 for update", company, connection.Id).Run(stop);
        var made = await open.Command("""
            with last as (select coalesce(max(last_entry), 0) as entry, coalesce(max(number), 0) as number from outgoing_batch
                where company_id = $1 and connection_id = $2),
            next as (select n.id, n.date from entry n, last where n.company_id = $1 and n.id > last.entry order by n.id limit $5),
            batch as (
                insert into outgoing_batch (company_id, connection_id, number, form, first_entry, last_entry, entries, debit, made_by)
                select $1, $2, (select number + 1 from last), $3, min(id), max(id), count(*),
                    (select coalesce(sum(l.amount), 0) from next x
                        join line l on l.company_id = $1 and l.date = x.date and l.entry_id = x.id and l.amount > 0), $4
                from next having count(*) > 0 returning number),
            kept as (insert into outgoing_entry (company_id, connection_id, entry_id, number) select $1, $2, id, batch.number from next, batch)
            select number from batch
            """, company, connection.Id, Words<BatchForm>.Of(form), user, Most).FirstOrDefault(row => (int?)row.GetInt32(0), stop);
        if (made is null)
            return null;
        await ChangeLog.Note(open, company, user, "batch", made.Value, $"Batch {made} for {connection.Code} made.", stop);
        await transaction.CommitAsync(stop);
        return made;
    }

    /// <summary>The lines of a batch.</summary>
    public Task<List<BatchLine>> Lines(int company, int connection, BatchRow batch, CancellationToken stop) => batch.Form == BatchForm.Whole
        ? source.Command("""
            select row_number() over (order by n.id, l.line_no)::integer, n.number, n.id, l.date, a.number, a.name, l.amount, coalesce(l.text, n.text)
            from outgoing_entry o join entry n on n.company_id = o.company_id and n.id = o.entry_id
            join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id
            join account a on a.company_id = l.company_id and a.id = l.account_id
            where o.company_id = $1 and o.connection_id = $2 and o.number = $3 order by n.id, l.line_no
            """, company, connection, batch.Number).List(row => new BatchLine(row.GetInt32(0), row.GetInt64(1), row.GetInt64(2),
                row.GetFieldValue<DateOnly>(3), row.GetString(4), row.GetString(5), Money.Plain(row.GetDecimal(6)), row.TextOrNull(7)), stop)
        : source.Command("""
            select row_number() over (order by l.date, a.number_fold, sign(l.amount) desc)::integer, l.date, a.number, a.name, sum(l.amount)
            from outgoing_entry o join entry n on n.company_id = o.company_id and n.id = o.entry_id
            join line l on l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id
            join account a on a.company_id = l.company_id and a.id = l.account_id
            where o.company_id = $1 and o.connection_id = $2 and o.number = $3
            group by l.date, a.number, a.number_fold, a.name, sign(l.amount) order by l.date, a.number_fold, sign(l.amount) desc
            """, company, connection, batch.Number).List(row => new BatchLine(row.GetInt32(0), null, null, row.GetFieldValue<DateOnly>(1), row.GetString(2),
                row.GetString(3), Money.Plain(row.GetDecimal(4)), null), stop);

    /// <summary>Notes the number under which the ledger outside has a batch; it has one number, and a number is of one batch.</summary>
    /// <returns>Why it was not noted; null when it was, also where it was noted before.</returns>
    public async Task<string?> Acknowledge(int company, int? user, ConnectionRow connection, int number, string outside, CancellationToken stop)
    {
        if (outside.Trim().Length is 0 or > 100)
            return "The number outside has from 1 to 100 characters. Write it as the ledger outside shows it.";
        return await Settle(company, user, connection, number, $"is {outside.Trim()} outside", async open =>
        {
            if (await open.Command("select number from outgoing_batch where company_id = $1 and connection_id = $2 and outside_number = $3 and number <> $4",
                company, connection.Id, outside.Trim(), number).FirstOrDefault(row => (int?)row.GetInt32(0), stop) is { } other)
                return $"{outside.Trim()} is the number of batch {other}. Look it up in the ledger outside.";
            var was = await Of(open, company, connection, number, stop);
            if (was is null)
                return $"There is no batch {number}. Look at the list of batches.";
            if (was.State == BatchState.Acknowledged)
                return was.OutsideNumber == outside.Trim() ? "" : $"Batch {number} is {was.OutsideNumber} outside already; it can't be {outside.Trim()} too.";
            await open.Command("update outgoing_batch set state = 'acknowledged', outside_number = $4, reasons = null, settled_at = now() where " +
                "company_id = $1 and connection_id = $2 and number = $3", company, connection.Id, number, outside.Trim()).Run(stop);
            return null;
        }, stop);
    }

    /// <summary>Notes that the ledger outside did not take a batch, with its reasons at their lines, JSON.</summary>
    public Task<string?> Refuse(int company, int? user, ConnectionRow connection, int number, string reasons, CancellationToken stop) =>
        Settle(company, user, connection, number, "came back refused", async open =>
        {
            var was = await Of(open, company, connection, number, stop);
            if (was is null)
                return $"There is no batch {number}. Look at the list of batches.";
            if (was.State == BatchState.Acknowledged)
                return $"Batch {number} is {was.OutsideNumber} outside, and can't be refused any more. Reverse it there, and correct it here.";
            await open.Command("update outgoing_batch set state = 'refused', reasons = $4, settled_at = now() where company_id = $1 and connection_id = " +
                "$2 and number = $3", company, connection.Id, number, new Jsonb(reasons)).Run(stop);
            return null;
        }, stop);

    /// <summary>Entries after one, with their lines, in the order in which they were posted.</summary>
    public async Task<IReadOnlyList<OutEntry>> Entries(int company, long after, int most, CancellationToken stop)
    {
        var heads = await source.Command("""
            select n.id, n.number, y.name, n.date, e.source_id, e.source, e.type, e.number, n.reverses, n.edition, n.text
            from entry n join event e on e.company_id = n.company_id and e.id = n.event_id
            join fiscal_year y on y.company_id = n.company_id and y.id = n.fiscal_year_id
            where n.company_id = $1 and n.id > $2 order by n.id limit $3
            """, company, after, most).List(row => new OutEntry(row.GetInt64(0), row.GetInt64(1), row.TextOrNull(2), row.GetFieldValue<DateOnly>(3),
                row.GetString(4), row.GetString(5), row.GetString(6), row.TextOrNull(7), row.LongOrNull(8), row.GetInt32(9), row.TextOrNull(10), []), stop);
        var lines = await LinesOf(company, [.. heads.Select(h => (h.Id, h.Date))], stop);
        return [.. heads.Select(h => h with { Lines = [.. lines[h.Id]] })];
    }

    async Task<ILookup<long, OutLine>> LinesOf(int company, IReadOnlyList<(long Entry, DateOnly Date)> entries, CancellationToken stop)
    {
        if (entries.Count == 0)
            return Array.Empty<OutLine>().ToLookup(_ => 0L);
        var lines = await source.Command($"""
            select l.entry_id, {Line} where l.company_id = $1 and l.date between $2 and $3 and l.entry_id = any($4) order by l.entry_id, l.line_no
            """, company, entries.Min(e => e.Date), entries.Max(e => e.Date), entries.Select(e => e.Entry).ToArray())
            .List(row => (Entry: row.GetInt64(0), Line: ReadLine(row, 1)), stop);
        return lines.ToLookup(l => l.Entry, l => l.Line);
    }

    /// <summary>Landed events of a source after one, each with its lines and their trails.</summary>
    public async Task<IReadOnlyList<OutLanding>> Landings(int company, string of, long after, int most, CancellationToken stop)
    {
        var heads = await source.Command("""
            select e.id, e.source_id, e.revision, e.outcome, n.id, n.date, n.number from event e
            left join entry n on n.company_id = e.company_id and n.event_id = e.id and n.reverses is null
            where e.company_id = $1 and e.source = $2 and e.id > $3 order by e.id limit $4
            """, company, of, after, most).List(row => (Event: row.GetInt64(0), Id: row.GetString(1), Revision: row.GetInt32(2), Outcome: row.GetString(3),
                Entry: row.LongOrNull(4), Date: row.DateOrNull(5), Number: row.LongOrNull(6)), stop);
        var lines = await LinesOf(company, [.. heads.Where(h => h.Entry is not null).Select(h => (h.Entry!.Value, h.Date!.Value))], stop);
        return [.. heads.Select(h => new OutLanding(h.Event, h.Id, h.Revision, h.Outcome, h.Number, h.Entry is { } entry ? [.. lines[entry]] : []))];
    }

    const string Line = """
        l.line_no, a.number, a.name, l.amount, l.currency, l.document_amount, l.purpose, l.rung, r.name, l.edition, coalesce(l.text, '')
        from line l join account a on a.company_id = l.company_id and a.id = l.account_id
        left join rule r on r.company_id = l.company_id and r.id = l.rule_id
        """;

    static OutLine ReadLine(NpgsqlDataReader row, int at) => new(row.GetInt32(at), row.GetString(at + 1), row.GetString(at + 2),
        Money.Plain(row.GetDecimal(at + 3)), row.GetString(at + 4), Money.Plain(row.GetDecimal(at + 5)), row.TextOrNull(at + 6), row.GetString(at + 7),
        row.TextOrNull(at + 8), row.GetInt32(at + 9), row.GetString(at + 10));

    static Task<BatchRow?> Of(NpgsqlConnection open, int company, ConnectionRow connection, int number, CancellationToken stop) =>
        open.Command(Batches + " where company_id = $1 and connection_id = $2 and number = $3 for update", company, connection.Id, number).FirstOrDefault(Read,
                stop);

    // An act that says "" is done already.
    async Task<string?> Settle(int company, int? user, ConnectionRow connection, int number, string sentence, Func<NpgsqlConnection, Task<string?>> act,
        CancellationToken stop)
    {
        await using var open = await source.OpenConnectionAsync(stop);
        await using var transaction = await open.BeginTransactionAsync(stop);
        if (await act(open) is { } said)
            return said.Length == 0 ? null : said;
        await ChangeLog.Note(open, company, user, "batch", number, $"Batch {number} for {connection.Code} {sentence}.", stop);
        await transaction.CommitAsync(stop);
        return null;
    }
}
