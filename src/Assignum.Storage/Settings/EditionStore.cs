using Assignum.Core.Changes;
using Assignum.Core.Findings;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>An edition as it is listed.</summary>
/// <param name="Number">Its number.</param>
/// <param name="ReleasedAt">When it was released; null for the draft.</param>
/// <param name="ReleasedBy">Who released it.</param>
/// <param name="Note">What the releaser wrote.</param>
public sealed record EditionRow(int Number, DateTime? ReleasedAt, string? ReleasedBy, string Note);

/// <summary>A line of the change log.</summary>
public sealed record LoggedChange(long Id, DateTime At, string? By, int? Edition, string Subject, long? SubjectId, string Sentence);

/// <summary>Editions: their list, their changes, and the release of a draft.</summary>
public sealed class EditionStore(NpgsqlDataSource source)
{
    /// <summary>All editions, newest first.</summary>
    public Task<List<EditionRow>> All(int company, CancellationToken stop) =>
        source.Command("""
            select e.number, e.released_at, u.shown_as, e.note
            from edition e left join app_user u on u.id = e.released_by
            where e.company_id = $1 order by e.number desc
            """, company).List(row => new EditionRow(row.GetInt32(0), row.IsDBNull(1) ? null : row.GetDateTime(1), row.TextOrNull(2), row.GetString(3)), stop);

    /// <summary>Who changed what while an edition was the draft, newest first.</summary>
    public Task<List<LoggedChange>> Changes(int company, int edition, int most, CancellationToken stop) =>
        source.Command("""
            select c.id, c.at, u.shown_as, c.edition, c.subject, c.subject_id, c.sentence
            from change_log c left join app_user u on u.id = c.user_id
            where c.company_id = $1 and c.edition = $2 order by c.id desc limit $3
            """, company, edition, most).List(Read, stop);

    /// <summary>History of one thing, newest first.</summary>
    public Task<List<LoggedChange>> History(int company, string subject, long id, CancellationToken stop) =>
        source.Command("""
            select c.id, c.at, u.shown_as, c.edition, c.subject, c.subject_id, c.sentence
            from change_log c left join app_user u on u.id = c.user_id
            where c.company_id = $1 and c.subject = $2 and c.subject_id = $3 order by c.id desc limit 20
            """, company, subject, id).List(Read, stop);

    /// <summary>Releases the draft as it was seen: one flip of the edition in force.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who releases.</param>
    /// <param name="seen">The state whose differences the releaser saw; when the draft has changed since, it is refused.</param>
    /// <param name="note">What the releaser writes beside it.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<Refusal?> Release(int company, int? user, SettingsState seen, string note, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await connection.Command("select 1 from draft_row where company_id = $1 for update", company).Run(stop);
        await connection.Command("select 1 from posting_row where company_id = $1 for update", company).Run(stop);
        var state = await RulebookStore.StateOf(connection, company, stop);
        if (state.Draft != seen.Draft || state.InDraft != seen.InDraft)
            return new Refusal("", $"Draft {seen.Draft} has changed since you looked at it. Look at its changes once more, then release it.");

        var draft = await RulebookStore.Load(connection, company, state.Draft, stop);
        var released = await RulebookStore.Load(connection, company, state.Edition, stop);
        if (RulebookChecks.Errors(draft.Book) is [var error, ..])
            return new Refusal("", $"Draft {state.Draft} can't be released: {error.Message}");
        if (RulebookDifference.Between(released.Book, draft.Book).Count == 0)
            return new Refusal("", $"Draft {state.Draft} has no changes, so there is nothing to release.");

        await connection.Command("update edition set released_at = now(), released_by = $3, note = $4 where company_id = $1 and number = $2", company, state.Draft, user, note.Trim()).Run(stop);
        await connection.Command("insert into edition (company_id, number) values ($1, $2)", company, state.Draft + 1).Run(stop);
        await connection.Command("update posting_row set edition = $2 where company_id = $1", company, state.Draft).Run(stop);
        await connection.Command("update draft_row set edition = $2, stamp = stamp + 1 where company_id = $1", company, state.Draft + 1).Run(stop);
        await connection.Command("insert into change_log (company_id, user_id, edition, subject, subject_id, sentence) values ($1, $2, $3, 'edition', $3, $4)",
            company, user, state.Draft, $"Edition {state.Draft} released.").Run(stop);
        await transaction.CommitAsync(stop);
        return null;
    }

    static LoggedChange Read(NpgsqlDataReader row) =>
        new(row.GetInt64(0), row.GetDateTime(1), row.TextOrNull(2), row.IntOrNull(3), row.GetString(4), row.LongOrNull(5), row.GetString(6));
}
