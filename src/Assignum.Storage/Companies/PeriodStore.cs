using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Companies;

/// <summary>A period of a fiscal year, as it is managed.</summary>
/// <param name="Id">Its id.</param>
/// <param name="YearId">Id of its fiscal year.</param>
/// <param name="Year">Name of the year: "2026".</param>
/// <param name="YearStarts">First day of the year.</param>
/// <param name="Number">Its number in the year, from 1.</param>
/// <param name="Starts">First day.</param>
/// <param name="Ends">Last day.</param>
/// <param name="Adjustment">It takes adjustments only.</param>
/// <param name="Closed">It takes nothing.</param>
/// <param name="ClosedFor">Words of the subledgers that are closed for it.</param>
/// <param name="Entries">How many entries it has.</param>
public sealed record ManagedPeriod(int Id, int YearId, string Year, DateOnly YearStarts, int Number, DateOnly Starts, DateOnly Ends, bool Adjustment,
    bool Closed,
    IReadOnlyList<string> ClosedFor, long Entries)
{
    /// <summary>"March 2026", "adjustments 2026", or its days where it is no calendar month.</summary>
    public string Name => Adjustment ? $"Adjustments {Year}" : InWords;

    string InWords => Starts.Day == 1 && Ends == Starts.AddMonths(1).AddDays(-1) ? Starts.ToString("MMMM yyyy",
        System.Globalization.CultureInfo.InvariantCulture)
        : $"{Written.DayNow(Starts)} to {Written.DayNow(Ends)}";
}

/// <summary>A close or a reopening of a period.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Period">Id of the period.</param>
/// <param name="Closed">Closed, or opened again.</param>
/// <param name="Reason">Why it was opened again.</param>
/// <param name="Year">First day of the fiscal year.</param>
/// <param name="Place">Events in the year's chain at that moment.</param>
/// <param name="Digest">The head of the chain then, in hexadecimal; empty where nothing was posted.</param>
/// <param name="By">Who did it.</param>
/// <param name="At">When, universal time.</param>
public sealed record PeriodClose(long Id, int Period, bool Closed, string Reason, DateOnly Year, long Place, string Digest, string? By, DateTime At);

/// <summary>How the periods of a fiscal year are cut.</summary>
public enum PeriodCut { Months, Quarters, FourFourFive }

/// <summary>Fiscal years and periods: opened, closed for a subledger, closed, and opened again with a reason.</summary>
public sealed class PeriodStore(NpgsqlDataSource source)
{
    /// <summary>Subledgers that can be closed before the period is.</summary>
    public static IReadOnlyList<string> Subledgers { get; } =
        [.. Enum.GetValues<Subledger>().Select(Words<Subledger>.Of)];

    /// <summary>All periods, year by year.</summary>
    public Task<List<ManagedPeriod>> All(int company, CancellationToken stop) => source.Command("""
        select p.id, y.id, y.name, y.starts, p.number, p.starts, p.ends, p.adjustment, p.closed,
            coalesce((select array_agg(c.subledger order by c.subledger) from period_closed_for c where c.company_id = p.company_id and c.period_id = p.id),
                '{}'),
            coalesce(n.many, 0)
        from period p join fiscal_year y on y.company_id = p.company_id and y.id = p.fiscal_year_id
        left join (select period_id, count(*) as many from entry where company_id = $1 group by period_id) n on n.period_id = p.id
        where p.company_id = $1 order by y.starts, p.number
        """, company).List(row => new ManagedPeriod(row.GetInt32(0), row.GetInt32(1), row.GetString(2), row.GetFieldValue<DateOnly>(3), row.GetInt32(4),
            row.GetFieldValue<DateOnly>(5), row.GetFieldValue<DateOnly>(6), row.GetBoolean(7), row.GetBoolean(8), row.GetFieldValue<string[]>(9),
            row.GetInt64(10)), stop);

    /// <summary>How many months have ended with entries and are not closed.</summary>
    public Task<long> StillOpen(int company, DateOnly today, CancellationToken stop) => source.Command("""
        select count(*) from period p where p.company_id = $1 and not p.adjustment and not p.closed and p.ends < $2
            and exists (select from entry n where n.company_id = p.company_id and n.date between p.starts and p.ends)
        """, company, today).Value<long>(stop);

    /// <summary>Closes and reopenings, newest first.</summary>
    public Task<List<PeriodClose>> Closes(int company, int most, CancellationToken stop) => source.Command("""
        select c.id, c.period_id, c.closed, c.reason, y.starts, c.place, encode(c.digest, 'hex'), u.shown_as, c.at
        from period_close c join fiscal_year y on y.company_id = c.company_id and y.id = c.fiscal_year_id left join app_user u on u.id = c.user_id
        where c.company_id = $1 order by c.id desc limit $2
        """, company, most).List(row => new PeriodClose(row.GetInt64(0), row.GetInt32(1), row.GetBoolean(2), row.GetString(3), row.GetFieldValue<DateOnly>(4),
            row.GetInt64(5), row.GetString(6), row.TextOrNull(7), row.GetDateTime(8)), stop);

    /// <summary>What becomes of an event of a closed period: it is moved to the first open day, or held.</summary>
    public Task<bool> MovesLate(int company, CancellationToken stop) =>
        source.Command("select late_events = 'move' from company where id = $1", company).Value<bool>(stop);

    /// <summary>Says what becomes of events of closed periods.</summary>
    public async Task SetMovesLate(int company, int user, bool moves, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await PostingStore.Lock(connection, company, stop);
        if (await connection.Command("update company set late_events = $2 where id = $1 and late_events <> $2", company, moves ? "move" : "hold").Run(stop) > 0)
            await ChangeLog.Note(connection, company, user, "company", company, moves
                ? "Events of closed periods are moved to the first open day." : "Events of closed periods are held.", stop);
        await transaction.CommitAsync(stop);
    }

    /// <summary>Opens a fiscal year.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who opens it.</param>
    /// <param name="starts">First day; no other year may have it.</param>
    /// <param name="ends">Last day.</param>
    /// <param name="cut">How its periods are cut.</param>
    /// <param name="adjustments">Adjustment periods on its last day, 1 to 3.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<Refusal?> OpenYear(int company, int user, DateOnly starts, DateOnly ends, PeriodCut cut, int adjustments, CancellationToken stop)
    {
        if (ends <= starts || ends > starts.AddMonths(24))
            return new Refusal("ends", "A fiscal year ends after it begins, and within two years. Correct its last day.");
        if (adjustments is < 1 or > 3)
            return new Refusal("adjustments", "A year has 1 to 3 adjustment periods. Correct the number.");
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        try
        {
            var year = await connection.Command("select open_fiscal_year($1, $2, $3, $4, $5)", company, starts, ends, Cut(starts, ends, cut).ToArray(),
                adjustments).Value<int>(stop);
            await ChangeLog.Note(connection, company, user, "fiscal-year", year, $"Fiscal year {starts:yyyy-MM-dd} to {ends:yyyy-MM-dd} opened.", stop);
            await transaction.CommitAsync(stop);
            return null;
        }
        catch (PostgresException inTheWay) when (Constraints.InWords(inTheWay) is { } said)
        {
            return new Refusal("starts", said);
        }
    }

    /// <summary>First days of the periods of a year.</summary>
    public static IEnumerable<DateOnly> Cut(DateOnly starts, DateOnly ends, PeriodCut cut)
    {
        var next = starts;
        for (var i = 0; next <= ends; i++)
        {
            yield return next;
            next = cut switch
            {
                PeriodCut.Months => starts.AddMonths(i + 1),
                PeriodCut.Quarters => starts.AddMonths(3 * (i + 1)),
                _ => next.AddDays(7 * (i % 3 == 2 ? 5 : 4)),
            };
            // A week or two at the end belong to the last period, which so has the days that 52 weeks leave over.
            if (cut == PeriodCut.FourFourFive && ends.DayNumber - next.DayNumber < 14)
                yield break;
        }
    }

    /// <summary>Closes a period for posting, with the head of its year's chain. Whoever is posting ends first, so that nothing comes into it any
    /// more.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who closes it.</param>
    /// <param name="period">Id of the period.</param>
    /// <param name="seen">The last event that was posted when it was looked at; null: whatever has come since.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="statement">What was signed of its end, JSON; kept with the close.</param>
    public Task<Refusal?> Close(int company, int user, int period, long? seen, CancellationToken stop, string? statement = null) =>
        Turn(company, user, period, closed: true, "", seen, statement, stop);

    /// <summary>Opens a closed period again.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who opens it.</param>
    /// <param name="period">Id of the period.</param>
    /// <param name="reason">Why; it stays in the history.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Reopen(int company, int user, int period, string? reason, CancellationToken stop) => string.IsNullOrWhiteSpace(reason)
        ? Task.FromResult<Refusal?>(new("reason", "Say why the period is opened again: whoever audits it will ask. Write a few words."))
        : Turn(company, user, period, closed: false, reason.Trim(), null, null, stop);

    async Task<Refusal?> Turn(int company, int user, int period, bool closed, string reason, long? seen, string? statement, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await PostingStore.Lock(connection, company, stop);
        if (seen is { } last && await LastEvent(connection, company, stop) != last)
            return new Refusal("period", "Something was posted since you looked. Look at the figures once more, then close the period.");
        if (await connection.Command("update period set closed = $3 where company_id = $1 and id = $2 and closed <> $3 returning starts, ends, adjustment",
            company, period, closed).FirstOrDefault(row => ((DateOnly Starts, DateOnly Ends, bool Adjustment)?)(row.GetFieldValue<DateOnly>(0),
                row.GetFieldValue<DateOnly>(1), row.GetBoolean(2)), stop) is not { } turned)
            return new Refusal("period", $"Somebody else has {(closed ? "closed" : "opened")} it already. The list shows how it stands.");
        await connection.Command("""
            insert into period_close (company_id, period_id, closed, reason, fiscal_year_id, place, digest, user_id, statement)
            select $1, $2, $3, $4, p.fiscal_year_id, coalesce(d.place, 0), coalesce(d.digest, ''::bytea), $5, $6 from period p
            left join lateral (select place, digest from posted_digest d where d.company_id = p.company_id and d.fiscal_year_id = p.fiscal_year_id
                order by place desc limit 1) d on true where p.company_id = $1 and p.id = $2
            """, company, period, closed, reason, user, new Jsonb(statement)).Run(stop);
        await ChangeLog.Note(connection, company, user, "period", period,
            $"{(turned.Adjustment ? "Adjustment period of" : "Period")} {turned.Starts:yyyy-MM-dd} " +
            $"to {turned.Ends:yyyy-MM-dd} {(closed ? "closed." : $"opened again: {reason}")}", stop);
        await transaction.CommitAsync(stop);
        return null;
    }

    /// <summary>Id of the last event that came in.</summary>
    public async Task<long> LastEvent(int company, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await LastEvent(connection, company, stop);
    }

    static Task<long> LastEvent(NpgsqlConnection connection, int company, CancellationToken stop) =>
        connection.Command("select last_event from posting_row where company_id = $1", company).Value<long>(stop);

    /// <summary>Closes a subledger for a period that is still open, or opens it again.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who does it.</param>
    /// <param name="period">Id of the period.</param>
    /// <param name="subledger">Word of the subledger.</param>
    /// <param name="closed">Whether it is closed.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<Refusal?> CloseFor(int company, int user, int period, string subledger, bool closed, CancellationToken stop)
    {
        if (!Subledgers.Contains(subledger))
            return new Refusal("period", $"There is no subledger {subledger}. Choose one of {string.Join(", ", Subledgers)}.");
        await using var connection = await source.OpenConnectionAsync(stop);
        await using var transaction = await connection.BeginTransactionAsync(stop);
        await PostingStore.Lock(connection, company, stop);
        var changed = await connection.Command(closed
            ? "insert into period_closed_for (company_id, period_id, subledger, user_id) select $1, id, $3, $4 from period where company_id = $1 and id = $2 " +
                "and not adjustment and not closed on conflict do nothing"
            : "delete from period_closed_for where company_id = $1 and period_id = $2 and subledger = $3 and $4::integer is not null", company, period,
            subledger, user).Run(stop);
        if (changed == 0)
            return new Refusal("period", "Somebody else has done that already, or the period is closed. The list shows how it stands.");
        await ChangeLog.Note(connection, company, user, "period", period, $"{subledger} {(closed ? "closed" : "opened again")} for a period.", stop);
        await transaction.CommitAsync(stop);
        return null;
    }
}
