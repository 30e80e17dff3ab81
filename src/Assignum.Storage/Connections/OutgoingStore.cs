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

/// <summary>Entries on their way to a ledger elsewhere: each goes out once, in numbered batches that are acknowledged once.</summary>
public sealed class OutgoingStore(NpgsqlDataSource source)
{
    /// <summary>Most entries in a batch.</summary>
    public const int Most = 5_000;

    /// <summary>The batches of a connection, the latest first.</summary>
    public Task<List<BatchRow>> All(int company, int connection, CancellationToken stop) =>
        source.Command("select number, form, entries, first_entry, last_entry, debit, made_at, state, outside_number, reasons::text, settled_at from " +
            "outgoing_batch where company_id = $1 and connection_id = $2 order by number desc", company, connection).List(Read, stop);

    /// <summary>One batch; null: there is none.</summary>
    public Task<BatchRow?> Find(int company, int connection, int number, CancellationToken stop) =>
        source.Command("select number, form, entries, first_entry, last_entry, debit, made_at, state, outside_number, reasons::text, settled_at from " +
            "outgoing_batch where company_id = $1 and connection_id = $2 and number = $3", company, connection, number).FirstOrDefault(Read, stop);

    static BatchRow Read(NpgsqlDataReader row) => new(row.GetInt32(0), Words<BatchForm>.Parse(row.GetString(1)), row.GetInt32(2), row.GetInt64(3),
        row.GetInt64(4), Money.Plain(row.GetDecimal(5)), row.GetDateTime(6), Words<BatchState>.Parse(row.GetString(7)), row.TextOrNull(8), row.TextOrNull(9),
        row.IsDBNull(10) ? null : row.GetDateTime(10));

    /// <summary>How many entries are in no batch of a connection yet.</summary>
    public Task<long> Left(int company, int connection, CancellationToken stop) =>
        source.Command("select count(*) from entry where company_id = $1 and id > (select coalesce(max(last_entry), 0) from outgoing_batch where " +
            "company_id = " +
            "$1 and connection_id = $2)", company, connection).Value<long>(stop);

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
                    (select coalesce(sum(l.amount), 0) from next x join line l on l.company_id = $1 and l.date = x.date and l.entry_id = x.id and l.amount > 0), $4
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
                "company_id = $1 " +
                "and connection_id = $2 and number = $3", company, connection.Id, number, outside.Trim()).Run(stop);
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
                "$2 and " +
                "number = $3", company, connection.Id, number, new Jsonb(reasons)).Run(stop);
            return null;
        }, stop);

    static Task<BatchRow?> Of(NpgsqlConnection open, int company, ConnectionRow connection, int number, CancellationToken stop) =>
        open.Command("select number, form, entries, first_entry, last_entry, debit, made_at, state, outside_number, reasons::text, settled_at from " +
            "outgoing_batch where company_id = $1 and connection_id = $2 and number = $3 for update", company, connection.Id, number).FirstOrDefault(Read,
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
