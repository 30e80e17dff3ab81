using Assignum.Core;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Closing;

/// <summary>What somebody has signed of a month's end.</summary>
/// <param name="Line">Name of the line.</param>
/// <param name="Figure">The figure that was signed.</param>
/// <param name="WasLeft">It was left as it is, with a reason; else it was looked at and done.</param>
/// <param name="Reason">The reason, or a remark.</param>
/// <param name="By">Who signed.</param>
/// <param name="At">When, universal time.</param>
public sealed record SignedLine(string Line, string Figure, bool WasLeft, string Reason, string By, DateTime At);

/// <summary>A count and the money of it.</summary>
public readonly record struct CountAndAmount(long Count, decimal Amount);

/// <summary>The lines of a month's end: figures that come from the books, and what was signed.</summary>
public sealed class MonthEndStore(NpgsqlDataSource source)
{
    /// <summary>What was signed last of each line of a period.</summary>
    public Task<List<SignedLine>> Signed(int company, int period, CancellationToken stop) => source.Command("""
        select distinct on (c.line) c.line, c.figure, c.was_left, c.reason, u.shown_as, c.at from closing_line c join app_user u on u.id = c.user_id
        where c.company_id = $1 and c.period_id = $2 order by c.line, c.id desc
        """, company, period).List(row => new SignedLine(row.GetString(0), row.GetString(1), row.GetBoolean(2), row.GetString(3), row.GetString(4),
            row.GetDateTime(5)), stop);

    /// <summary>Signs a line with the figure that was seen.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who signs.</param>
    /// <param name="period">Id of the period.</param>
    /// <param name="line">Name of the line.</param>
    /// <param name="figure">The figure as it is; what was seen must be the same.</param>
    /// <param name="seen">The figure that was shown.</param>
    /// <param name="left">It is left as it is.</param>
    /// <param name="reason">Why; needed where it is left.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<Refusal?> Sign(int company, int user, int period, string line, string figure, string seen, bool left, string? reason,
        CancellationToken stop)
    {
        if (figure != seen)
            return new Refusal(line, "The figure has changed since you looked. Look at it once more, then sign.");
        if (left && string.IsNullOrWhiteSpace(reason))
            return new Refusal(line, "Say why it is left as it is: whoever audits the month will ask. Write a few words.");
        await source.Command("insert into closing_line (company_id, period_id, line, figure, was_left, reason, user_id) values ($1, $2, $3, $4, $5, $6, $7)",
            company, period, line, figure, left, reason?.Trim() ?? "", user).Run(stop);
        return null;
    }

    /// <summary>Keeps what was signed with the last close of a period.</summary>
    public Task<string?> Statement(int company, long close, CancellationToken stop) =>
        source.Command("select statement::text from period_close where company_id = $1 and id = $2", company, close).FirstOrDefault(row => row.TextOrNull(0),
            stop);

    /// <summary>Lines on some accounts within days, and what stands on them at the end.</summary>
    public async Task<(long Lines, decimal Balance)> OnAccounts(int company, int[] accounts, DateOnly from, DateOnly to, CancellationToken stop) =>
        await source.Command("select count(*) filter (where date >= $3), coalesce(sum(amount), 0) from line where company_id = $1 and account_id = " +
            "any($2) and date <= $4", company, accounts, from, to).FirstOrDefault(row => (row.GetInt64(0), Money.Plain(row.GetDecimal(1))), stop);

    /// <summary>What stands on accounts at the end of a day that is not nothing, by id.</summary>
    public async Task<IReadOnlyDictionary<int, decimal>> Balances(int company, DateOnly to, CancellationToken stop) =>
        (await source.Command("""
            select b.account_id, sum(b.debit - b.credit) from balance b join period p on p.company_id = b.company_id and p.id = b.period_id
            where b.company_id = $1 and p.ends <= $2 group by 1 having sum(b.debit - b.credit) <> 0
            """, company, to).List(row => (row.GetInt32(0), Money.Plain(row.GetDecimal(1))), stop)).ToDictionary();

    /// <summary>Events that are held with a day up to one.</summary>
    public async Task<CountAndAmount> Held(int company, DateOnly to, CancellationToken stop) =>
        await source.Command("select count(*), coalesce(sum(waiting_amount), 0) from event where company_id = $1 and outcome = 'held' and date <= $2",
            company, to)
            .FirstOrDefault(row => new CountAndAmount(row.GetInt64(0), Money.Plain(row.GetDecimal(1))), stop);

    /// <summary>Notes that somebody looks at the desk, and gives the moment of their last visit before this one; a visit lasts an hour.</summary>
    public async Task<DateTime?> Visit(int company, int user, CancellationToken stop) =>
        await source.Command("""
            insert into last_visit (company_id, user_id, at, before) values ($1, $2, now(), now())
            on conflict (company_id,
                user_id) do update set before = case when last_visit.at < now() - interval '1 hour' then last_visit.at else last_visit.before end,
                at = now()
            returning case when before = at then null else before end
            """, company, user).FirstOrDefault(row => row.MomentOrNull(0), stop);
}
