using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>How often a kept journal comes back.</summary>
public enum Every { Month, Quarter, Year }

/// <summary>A journal kept by name, to be begun from or to come back.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Event">The event, JSON.</param>
/// <param name="Repeats">How often it comes back; null: it does not.</param>
/// <param name="Next">The day it is posted on next; null where it does not come back.</param>
/// <param name="Turned">It is turned round on the first day of the month after.</param>
/// <param name="By">Who keeps it.</param>
public sealed record KeptJournal(int Id, string Name, string Event, Every? Repeats, DateOnly? Next, bool Turned, string By)
{
    /// <summary>The day after <paramref name="day"/> it comes back on: the last of a month stays the last of a month.</summary>
    public static DateOnly After(DateOnly day, Every every)
    {
        var next = day.AddMonths(every switch { Every.Month => 1, Every.Quarter => 3, _ => 12 });
        return day.AddDays(1).Day == 1 ? new DateOnly(next.Year, next.Month, DateTime.DaysInMonth(next.Year, next.Month)) : next;
    }
}

/// <summary>Journals kept by name.</summary>
public sealed class KeptJournalStore(NpgsqlDataSource source)
{
    const string Columns = "k.id, k.name, k.event::text, k.every, k.next_day, k.turned, u.shown_as";

    /// <summary>All that are kept, those that are due first.</summary>
    public Task<List<KeptJournal>> All(int company, CancellationToken stop) => source.Command($"""
        select {Columns} from kept_journal k join app_user u on u.id = k.user_id where k.company_id = $1 and k.dropped_at is null
        order by k.next_day nulls last, lower(k.name)
        """, company).List(Read, stop);

    /// <summary>One of them; null where it is kept no longer.</summary>
    public Task<KeptJournal?> Find(int company, int id, CancellationToken stop) => source.Command($"""
        select {Columns} from kept_journal k join app_user u on u.id = k.user_id where k.company_id = $1 and k.id = $2 and k.dropped_at is null
        """, company, id).FirstOrDefault(Read, stop);

    /// <summary>How many are due.</summary>
    public Task<long> Due(int company, DateOnly today, CancellationToken stop) =>
        source.Command("select count(*) from kept_journal where company_id = $1 and dropped_at is null and next_day <= $2", company, today).Value<long>(stop);

    /// <summary>Keeps a journal.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who keeps it.</param>
    /// <param name="kept">The journal; its id is not read.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Why not: the name is taken.</returns>
    public async Task<Refusal?> Keep(int company, int user, KeptJournal kept, CancellationToken stop)
    {
        var id = await source.Command("""
            insert into kept_journal (company_id, name, event, every, next_day, turned, user_id) values ($1, $2, $3::jsonb, $4, $5, $6, $7)
            on conflict (company_id, lower(name)) where dropped_at is null do nothing returning id
            """, company, kept.Name, kept.Event, kept.Repeats is { } every ? Core.Words<Every>.Of(every) : null, kept.Next, kept.Turned, user)
            .FirstOrDefault(row => (int?)row.GetInt32(0), stop);
        return id is null ? new Refusal("name", $"A journal named {kept.Name} is kept already. Choose another name, or drop that one first.") : null;
    }

    /// <summary>Says that one was posted: it comes back on its next day.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="kept">The journal as it was seen.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>False where somebody has posted it since.</returns>
    public async Task<bool> Posted(int company, KeptJournal kept, CancellationToken stop) =>
        await source.Command("update kept_journal set next_day = $4 where company_id = $1 and id = $2 and next_day = $3 and dropped_at is null", company,
            kept.Id, kept.Next!.Value, KeptJournal.After(kept.Next.Value, kept.Repeats!.Value)).Run(stop) == 1;

    /// <summary>Keeps one no longer.</summary>
    public Task Drop(int company, int id, CancellationToken stop) =>
        source.Command("update kept_journal set dropped_at = now() where company_id = $1 and id = $2 and dropped_at is null", company, id).Run(stop);

    static KeptJournal Read(NpgsqlDataReader row) => new(row.GetInt32(0), row.GetString(1), row.GetString(2),
        row.TextOrNull(3) is { } every ? Core.Words<Every>.Parse(every) : null, row.IsDBNull(4) ? null : row.GetFieldValue<DateOnly>(4), row.GetBoolean(5),
        row.GetString(6));
}
