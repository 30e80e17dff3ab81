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

/// <summary>Who made or last altered a change of the draft, and when.</summary>
/// <param name="Made">Id of the user who made it; null for the system.</param>
/// <param name="Altered">Id of the user who altered it last.</param>
/// <param name="Name">Name of the one who altered it last, or null.</param>
/// <param name="At">When that was, universal time.</param>
/// <param name="Hands">Everybody who made, altered or ended anything of it in this draft.</param>
public sealed record ChangeAuthor(int? Made, int? Altered, string? Name, DateTime? At, IReadOnlySet<int> Hands)
{
    internal static readonly ChangeAuthor Nobody = Of(null, null, null, null);

    internal static ChangeAuthor Of(int? made, int? altered, string? name, DateTime? at) =>
        new(made, altered, name, at, new[] { made, altered }.OfType<int>().ToHashSet());

    /// <summary>Whether somebody had it in hand.</summary>
    public bool WasInHandOf(int user) => Hands.Contains(user);

    // A place has many rows: a project its tasks, a changed rule the one that ends and the one that comes.
    internal ChangeAuthor After(ChangeAuthor before) => this with { Hands = Hands.Union(before.Hands).ToHashSet() };

    internal ChangeAuthor With(int hand) => this with { Hands = Hands.Append(hand).ToHashSet() };
}

/// <summary>Editions: their list, their changes, and the release of a draft or of chosen changes of it.</summary>
public sealed class EditionStore(NpgsqlDataSource source, RulebookStore books)
{
    /// <summary>All editions, newest first.</summary>
    public Task<List<EditionRow>> All(int company, CancellationToken stop) =>
        source.Command("""
            select e.number, e.released_at, u.shown_as, e.note
            from edition e left join app_user u on u.id = e.released_by
            where e.company_id = $1 order by e.number desc
            """, company).List(row => new EditionRow(row.GetInt32(0), row.MomentOrNull(1), row.TextOrNull(2), row.GetString(3)), stop);

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

    /// <summary>Who made or last altered each change of the draft, by its place.</summary>
    public async Task<IReadOnlyDictionary<string,
        ChangeAuthor>> Authors(int company, StoredRulebook released, StoredRulebook draft, IReadOnlyList<SettingChange> changes, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        var rows = await SettingRows.Of(connection, company, released, draft, changes.Select(c => c.Where), stop);
        return await rows.Authors(stop);
    }

    /// <summary>Releases the draft as it was seen, whole or by chosen changes with what they need: the edition in force flips, and no row of what is released
    /// is touched.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who releases.</param>
    /// <param name="seen">The state whose differences the releaser saw; when the draft has changed since, it is refused.</param>
    /// <param name="note">What the releaser writes beside it.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="chosen">Places of the changes to release; null: all.</param>
    public async Task<Refusal?> Release(int company, int? user, SettingsState seen, string note, CancellationToken stop,
        IReadOnlyCollection<string>? chosen = null)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await connection.Command("select 1 from draft_row where company_id = $1 for update", company).Run(stop);
        var state = await RulebookStore.StateOf(connection, company, stop);
        if (state.Draft != seen.Draft || state.InDraft != seen.InDraft)
            return new Refusal("", $"Draft {seen.Draft} has changed since you looked at it. Look at its changes once more, then release it.");

        // Everything is looked at before posting has to wait.
        var released = await books.Load(connection, company, state.Edition, stop);
        var draft = await books.Load(connection, company, state.Draft, stop);
        var changes = RulebookDifference.Between(released.Book, draft.Book);
        if (changes.Count == 0)
            return new Refusal("", $"Draft {state.Draft} has no changes, so there is nothing to release.");
        if (chosen is { Count: 0 })
            return new Refusal("", "No change is chosen. Tick those to release, or release all.");
        if (chosen?.Where(c => !changes.Any(x => x.Where == c)).ToList() is { Count: > 0 } unknown)
            return new Refusal("", $"{GoneOf(unknown.Count, chosen.Count)} in the draft any more, first {unknown[0]}. Look at the draft again, then choose.");
        var places = Chosen(released.Book, draft.Book, changes, chosen);
        if (await FourEyesFault(connection, company, user, released, draft, changes, places, stop) is { } own)
            return own;
        if (places.Count < changes.Count)
        {
            var rows = await SettingRows.Of(connection, company, released, draft, places, stop);
            await rows.LeaveTheRest(state.Draft, stop);
            draft = await books.Load(connection, company, state.Draft, stop);
        }
        if (RulebookChecks.Errors(draft.Book) is [var error, ..])
            return new Refusal("", places.Count < changes.Count ? $"These changes can't be released alone: {error.Message}"
                : $"Draft {state.Draft} can't be released: {error.Message}");

        await connection.Command("select 1 from posting_row where company_id = $1 for update", company).Run(stop);
        await RetryHeld(connection, company, user, stop);
        await Flip(connection, company, user, state.Draft, note, places.Count < changes.Count
            ? $"Edition {state.Draft} released, with {places.Count} of {changes.Count} changes." : $"Edition {state.Draft} released.", stop);
        await transaction.CommitAsync(stop);
        return null;
    }

    static HashSet<string> Chosen(Core.Rulebooks.Rulebook released, Core.Rulebooks.Rulebook draft, IReadOnlyList<SettingChange> changes,
        IReadOnlyCollection<string>? chosen)
    {
        if (chosen is null)
            return [.. changes.Select(c => c.Where)];
        return [.. chosen, .. new ChangeNeeds(released, draft, changes).Of(chosen).Select(t => t.Change.Where)];
    }

    static async Task<Refusal?> FourEyesFault(NpgsqlConnection connection, int company, int? user, StoredRulebook released, StoredRulebook draft,
        IReadOnlyList<SettingChange> changes, IReadOnlyCollection<string> places, CancellationToken stop)
    {
        if (user is null || !await connection.Command("select four_eyes from company where id = $1", company).Value<bool>(stop))
            return null;
        var authors = await (await SettingRows.Of(connection, company, released, draft, places, stop)).Authors(stop);
        var own = places.Where(p => authors.GetValueOrDefault(p)?.WasInHandOf(user.Value) == true).ToList();
        return own.Count == 0 ? null
            : new Refusal("", $"You had a hand in {own.Count} of these changes, first: {changes.First(c => c.Where == own[0]).Sentence} With four eyes " +
                "another approver releases them; the others you can tick and release.");
    }

    // What waits for a setting posts by itself once that is released.
    static async Task RetryHeld(NpgsqlConnection connection, int company, int? user, CancellationToken stop)
    {
        if (user is { } releaser)
            await connection.Command("insert into job (company_id, kind, payload, user_id) select $1, $2, '{}', $3 where exists (select from event where " +
                "company_id = $1 and outcome = 'held')", company, HeldEvents.Retrying.Job, releaser).Run(stop);
    }

    static async Task Flip(NpgsqlConnection connection, int company, int? user, int edition, string note, string sentence, CancellationToken stop)
    {
        await connection.Command("select release_draft($1, $2::integer, $3)", company, user, note.Trim()).Run(stop);
        await connection.Command("insert into change_log (company_id, user_id, edition, subject, subject_id, sentence) values ($1, $2, $3, 'edition', $3, $4)",
            company, user, edition, sentence).Run(stop);
    }

    static LoggedChange Read(NpgsqlDataReader row) =>
        new(row.GetInt64(0), row.GetDateTime(1), row.TextOrNull(2), row.IntOrNull(3), row.GetString(4), row.LongOrNull(5), row.GetString(6));

    static string GoneOf(int gone, int chosen)
    {
        if (gone == chosen)
            return $"None of the {chosen} chosen changes is";
        return $"{gone} of the {chosen} chosen changes {(gone == 1 ? "is" : "are")} not";
    }
}
