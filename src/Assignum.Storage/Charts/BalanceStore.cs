using System.Collections.Concurrent;
using Assignum.Core.Posting;
using Npgsql;

namespace Assignum.Storage.Charts;

/// <summary>A period as it is chosen from.</summary>
public sealed record PeriodRow(int Id, DateOnly Starts, DateOnly Ends, bool Adjustment, DateOnly YearStarts, bool Closed = false);

/// <summary>Sums of an account over a span of periods, company currency.</summary>
/// <param name="Balance">Debits less credits up to the end of the span.</param>
/// <param name="Movement">Debits less credits within the span.</param>
public readonly record struct SpanSum(decimal Balance, decimal Movement);

/// <summary>A ledger line, for the panel of an account.</summary>
public sealed record LastLine(long Entry, long EntryNumber, int LineNo, DateOnly Date, string? Purpose, string? Text, decimal Amount);

/// <summary>Balances by account, always from the balances by period and never from lines.</summary>
public sealed class BalanceStore(NpgsqlDataSource source)
{
    const int MostSpans = 8;
    readonly ConcurrentDictionary<(int Company, int From, int To), (long LastEntry, IReadOnlyDictionary<int, SpanSum> Sums)> spans = [];

    /// <summary>All periods, in their order; the adjustment period of a year after its last.</summary>
    public Task<List<PeriodRow>> Periods(int company, CancellationToken stop) =>
        source.Command("""
            select p.id, p.starts, p.ends, p.adjustment, y.starts, p.closed from period p join fiscal_year y on y.company_id = p.company_id
                and y.id = p.fiscal_year_id
            where p.company_id = $1 order by y.starts, p.number
            """, company).List(row => new PeriodRow(row.GetInt32(0), row.GetFieldValue<DateOnly>(1), row.GetFieldValue<DateOnly>(2), row.GetBoolean(3),
                row.GetFieldValue<DateOnly>(4), row.GetBoolean(5)), stop);

    /// <summary>What moved on each account in a fiscal year, by dimensions, company currency, debit positive; what comes to nothing is left out.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="starts">First day of the year.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Id of the account, its dimensions, and the amount.</returns>
    public async Task<IReadOnlyList<(int Account, Dimensions Dimensions, decimal Amount)>> OfYear(int company, DateOnly starts, CancellationToken stop)
    {
        var sets = (await source.Command("select dimension_set_id, dimension, value from dimension_of_set where company_id = $1", company)
            .List(row => (Set: row.GetInt32(0), Part: KeyValuePair.Create(row.GetString(1), row.GetString(2))), stop)).ToLookup(d => d.Set, d => d.Part);
        return await source.Command("""
            select b.account_id, b.dimension_set_id, sum(b.debit - b.credit) from balance b
            join period p on p.company_id = b.company_id and p.id = b.period_id join fiscal_year y on y.company_id = p.company_id and y.id = p.fiscal_year_id
            where b.company_id = $1 and y.starts = $2 group by 1, 2 having sum(b.debit - b.credit) <> 0 order by 1, 2
            """, company, starts).List(row => (row.GetInt32(0), new Dimensions(sets[row.GetInt32(1)]), Core.Money.Plain(row.GetDecimal(2))), stop);
    }

    /// <summary>The last period that anything was posted in; null when nothing was.</summary>
    public Task<int?> LastPosted(int company, CancellationToken stop) =>
        source.Command("select period_id from entry where company_id = $1 order by date desc, id desc limit 1", company).FirstOrDefault(row =>
            (int?)row.GetInt32(0), stop);

    /// <summary>Sums by account over a span; kept in memory until something more is posted.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="periods">All periods, in their order.</param>
    /// <param name="from">First period of the span.</param>
    /// <param name="to">Last period of the span.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyDictionary<int,
        SpanSum>> Over(int company, IReadOnlyList<PeriodRow> periods, PeriodRow from, PeriodRow to, CancellationToken stop)
    {
        var lastEntry = await source.Command("select last_entry from posting_row where company_id = $1", company).Value<long>(stop);
        if (spans.TryGetValue((company, from.Id, to.Id), out var known) && known.LastEntry == lastEntry)
            return known.Sums;
        var upTo = periods.TakeWhile(p => p.Id != to.Id).Append(to).Select(p => p.Id).ToArray();
        var within = periods.SkipWhile(p => p.Id != from.Id).TakeWhile(p => p.Id != to.Id).Append(to).Select(p => p.Id).ToArray();
        var rows = await source.Command("""
            select account_id, sum(debit - credit), coalesce(sum(debit - credit) filter (where period_id = any($3)), 0)
            from balance where company_id = $1 and period_id = any($2) group by account_id
            """, company, upTo, within).List(row => (Account: row.GetInt32(0), Sum: new SpanSum(row.GetDecimal(1), row.GetDecimal(2))), stop);
        var sums = rows.ToDictionary(r => r.Account, r => r.Sum);
        if (spans.Count >= MostSpans)
            spans.Clear();
        spans[(company, from.Id, to.Id)] = (lastEntry, sums);
        return sums;
    }

    /// <summary>Movements of some accounts by period.</summary>
    public async Task<ILookup<int, (int Period, decimal Movement)>> ByPeriod(int company, int[] accounts, int[] periods, CancellationToken stop) =>
        (await source.Command("""
            select account_id, period_id, sum(debit - credit) from balance
            where company_id = $1 and account_id = any($2) and period_id = any($3) group by account_id, period_id
            """, company, accounts, periods).List(row => (Account: row.GetInt32(0), Sum: (row.GetInt32(1), row.GetDecimal(2))), stop)).ToLookup(r => r.Account,
                r => r.Sum);

    /// <summary>The last lines posted to an account, newest first.</summary>
    public Task<List<LastLine>> LastLines(int company, int account, int most, CancellationToken stop) =>
        source.Command("""
            select l.entry_id, n.number, l.line_no, l.date, l.purpose, l.text, l.amount from line l join entry n on n.company_id = l.company_id
                and n.id = l.entry_id
            where l.company_id = $1 and l.account_id = $2 order by l.date desc, l.entry_id desc, l.line_no desc limit $3
            """, company, account, most).List(row =>
                new LastLine(row.GetInt64(0), row.GetInt64(1), row.GetInt32(2), row.GetFieldValue<DateOnly>(3), row.TextOrNull(4), row.TextOrNull(5),
                row.GetDecimal(6)), stop);
}
