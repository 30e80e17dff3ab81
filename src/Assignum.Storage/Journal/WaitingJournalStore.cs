using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>A journal by hand that waits for a second person.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Event">The event, JSON.</param>
/// <param name="Amount">Its sum, company currency.</param>
/// <param name="User">Id of who typed it.</param>
/// <param name="By">Who typed it.</param>
/// <param name="At">When, universal time.</param>
/// <param name="Word">Why it was sent back; empty while it waits.</param>
public sealed record WaitingJournal(int Id, string Event, decimal Amount, int User, string By, DateTime At, string Word);

/// <summary>Journals by hand above the amount that the company sets: who typed one does not post it.</summary>
public sealed class WaitingJournalStore(NpgsqlDataSource source)
{
    const string Columns = "w.id, w.event::text, w.amount, w.user_id, u.shown_as, w.at, w.word";

    /// <summary>The amount above which a second person posts, company currency; null: nobody need.</summary>
    public async Task<decimal?> Above(int company, CancellationToken stop) =>
        await source.Command("select second_person_above from company where id = $1", company)
            .FirstOrDefault(row => row.IsDBNull(0) ? (decimal?)null : Core.Money.Plain(row.GetDecimal(0)), stop);

    /// <summary>Those that wait, the oldest first.</summary>
    public Task<List<WaitingJournal>> Waiting(int company, CancellationToken stop) => source.Command($"""
        select {Columns} from waiting_journal w join app_user u on u.id = w.user_id where w.company_id = $1 and w.answered_at is null order by w.id
        """, company).List(Read, stop);

    /// <summary>Those of a person that were sent back in the last month, the latest first.</summary>
    public Task<List<WaitingJournal>> SentBack(int company, int user, CancellationToken stop) => source.Command($"""
        select {Columns} from waiting_journal w join app_user u on u.id = w.answered_by
        where w.company_id = $1 and w.user_id = $2 and not w.posted and w.answered_at > now() - interval '1 month' order by w.id desc
        """, company, user).List(Read, stop);

    /// <summary>How many wait.</summary>
    public Task<long> Count(int company, CancellationToken stop) =>
        source.Command("select count(*) from waiting_journal where company_id = $1 and answered_at is null", company).Value<long>(stop);

    /// <summary>One of them, whether it still waits or was sent back; null where there is none of that id.</summary>
    public Task<WaitingJournal?> Find(int company, int id, CancellationToken stop) => source.Command($"""
        select {Columns} from waiting_journal w join app_user u on u.id = w.user_id where w.company_id = $1 and w.id = $2 and w.posted is distinct from true
        """, company, id).FirstOrDefault(Read, stop);

    /// <summary>Who typed an event that a second person posted; null where nobody else was needed.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="id">Id of the event.</param>
    /// <param name="stop">Cancels.</param>
    public Task<string?> TypedBy(int company, string id, CancellationToken stop) => source.Command("""
        select u.shown_as from waiting_journal w join app_user u on u.id = w.user_id where w.company_id = $1 and w.event_source_id = $2 and w.posted
        order by w.id desc limit 1
        """, company, id).FirstOrDefault(row => (string?)row.GetString(0), stop);

    /// <summary>Hands a journal to a second person. Handed over twice, it waits once.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who typed it.</param>
    /// <param name="id">Id of the event.</param>
    /// <param name="json">The event.</param>
    /// <param name="amount">Its sum, company currency.</param>
    /// <param name="stop">Cancels.</param>
    public Task HandOver(int company, int user, string id, string json, decimal amount, CancellationToken stop) => source.Command("""
        insert into waiting_journal (company_id, event, event_source_id, amount, user_id) values ($1, $2::jsonb, $3, $4, $5)
        on conflict (company_id, event_source_id) where answered_at is null do nothing
        """, company, json, id, amount, user).Run(stop);

    /// <summary>Answers one that waits, as somebody else than who typed it.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who answers.</param>
    /// <param name="id">Its id.</param>
    /// <param name="posted">It is posted; else it goes back.</param>
    /// <param name="word">Why it goes back.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Why not: it is one's own, or it waits no longer.</returns>
    public async Task<Refusal?> Answer(int company, int user, int id, bool posted, string word, CancellationToken stop) =>
        await source.Command("""
            update waiting_journal set answered_by = $3, answered_at = now(), posted = $4, word = $5
            where company_id = $1 and id = $2 and answered_at is null and (user_id <> $3 or not $4)
            """, company, id, user, posted, word).Run(stop) == 1 ? null
            : new Refusal("id", "It waits no longer, or you typed it yourself. Look at the list again; somebody else posts what you typed.");

    static WaitingJournal Read(NpgsqlDataReader row) => new(row.GetInt32(0), row.GetString(1), Core.Money.Plain(row.GetDecimal(2)), row.GetInt32(3),
        row.GetString(4), row.GetDateTime(5), row.GetString(6));
}
