using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Reports;

/// <summary>What stands on an account and what moved on it within days, company currency.</summary>
/// <param name="Opening">What stood before the first day, debit positive.</param>
/// <param name="Debit">Debits of the days.</param>
/// <param name="Credit">Credits of the days.</param>
public readonly record struct AccountSums(decimal Opening, decimal Debit, decimal Credit)
{
    /// <summary>What moved, debit positive.</summary>
    public decimal Moved => Debit - Credit;
    /// <summary>What stands at the end of the last day, debit positive.</summary>
    public decimal Closing => Opening + Moved;
}

/// <summary>Which lines a report counts.</summary>
/// <param name="From">First day.</param>
/// <param name="To">Last day.</param>
/// <param name="Dimension">Name of a dimension; null: whatever they carry.</param>
/// <param name="Value">The value of it.</param>
/// <param name="WithoutYearEnd">Entries by which a year ended within the days are left out.</param>
public sealed record ReportSpan(DateOnly From, DateOnly To, string? Dimension = null, string? Value = null, bool WithoutYearEnd = false);

/// <summary>A line of an account's statement.</summary>
/// <param name="Date">Posting date.</param>
/// <param name="Entry">Its entry.</param>
/// <param name="Number">Number of that.</param>
/// <param name="LineNo">Its number there.</param>
/// <param name="Type">Type of the event.</param>
/// <param name="Document">What the document shows, else its id.</param>
/// <param name="Party">Code of the party, or null.</param>
/// <param name="Text">Its text.</param>
/// <param name="Purpose">Name of its purpose, or null.</param>
/// <param name="Currency">Currency in which it arose.</param>
/// <param name="DocumentAmount">Its amount there, debit positive.</param>
/// <param name="Amount">Company currency, debit positive.</param>
/// <param name="Stands">What stands after it.</param>
public sealed record StatementLine(DateOnly Date, long Entry, long Number, int LineNo, string Type, string Document, string? Party, string Text,
    string? Purpose,
    string Currency, decimal DocumentAmount, decimal Amount, decimal Stands);

/// <summary>Sums and lines for reports, by any day and dimension, from the lines themselves.</summary>
public sealed class ReportStore(NpgsqlDataSource source)
{
    // $2 first day, $3 last day, $4 and $5 a dimension and its value, $6 entries left out.
    const string Counted = """
        l.company_id = $1 and l.date <= $3 and ($4::text is null or l.dimension_set_id in (select dimension_set_id from dimension_of_set
            where company_id = $1 and upper(dimension) = upper($4) and upper(value) = upper($5))) and (cardinality($6::bigint[]) = 0 or l.entry_id <> all($6))
        """;

    /// <summary>Sums by account, by id; accounts without a line are left out.</summary>
    public async Task<IReadOnlyDictionary<int, AccountSums>> Sums(int company, ReportSpan span, CancellationToken stop) =>
        (await source.Command($"""
            select l.account_id, coalesce(sum(l.amount) filter (where l.date < $2), 0), coalesce(sum(greatest(l.amount, 0)) filter (where l.date >= $2), 0),
                coalesce(sum(greatest(-l.amount, 0)) filter (where l.date >= $2), 0)
            from line l where {Counted} group by 1
            """, company, span.From, span.To, span.Dimension, span.Value, await LeftOut(company, span, stop)).List(row =>
                (row.GetInt32(0), new AccountSums(Money.Plain(row.GetDecimal(1)), Money.Plain(row.GetDecimal(2)), Money.Plain(row.GetDecimal(3)))),
                    stop)).ToDictionary();

    /// <summary>Lines of an account in their order, with what stands after each.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="account">Id of the account.</param>
    /// <param name="span">The days.</param>
    /// <param name="skip">Lines that come before.</param>
    /// <param name="most">Most lines.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<List<StatementLine>> Lines(int company, int account, ReportSpan span, int skip, int most, CancellationToken stop) =>
        await source.Command($"""
            select s.date, s.entry_id, n.number, s.line_no, e.type, coalesce(e.number, e.source_id), m.code, coalesce(s.text, n.text, ''), s.purpose,
                s.currency, s.document_amount, s.amount, s.stands
            from (select l.*, sum(l.amount) over (order by l.date, l.entry_id, l.line_no) as stands from line l where l.account_id = $7 and {Counted}) s
            join entry n on n.company_id = $1 and n.id = s.entry_id join event e on e.company_id = $1 and e.id = n.event_id
            left join member m on m.company_id = $1 and m.id = s.party_id
            where s.date >= $2 order by s.date, s.entry_id, s.line_no offset $8 limit $9
            """, company, span.From, span.To, span.Dimension, span.Value, await LeftOut(company, span, stop), account, skip, most).List(row =>
                new StatementLine(row.GetFieldValue<DateOnly>(0), row.GetInt64(1), row.GetInt64(2), row.GetInt32(3), row.GetString(4), row.GetString(5),
                    row.TextOrNull(6),
                    row.GetString(7), row.TextOrNull(8), row.GetString(9), Money.Plain(row.GetDecimal(10)), Money.Plain(row.GetDecimal(11)),
                    Money.Plain(row.GetDecimal(12))), stop);

    async Task<long[]> LeftOut(int company, ReportSpan span, CancellationToken stop) => !span.WithoutYearEnd ? []
        : [.. await source.Command("""
            select n.id from event e join entry n on n.company_id = e.company_id and n.event_id = e.id
            where e.company_id = $1 and e.type = 'year-end' and n.date between $2 and $3
            """, company, span.From, span.To).List(row => row.GetInt64(0), stop)];

    /// <summary>Names of dimensions and their values that lines carry.</summary>
    public Task<List<(string Dimension, string Value)>> Dimensions(int company, CancellationToken stop) =>
        source.Command("select distinct dimension, value from dimension_of_set where company_id = $1 order by 1, 2 limit 500", company).List(row =>
            (row.GetString(0), row.GetString(1)), stop);

    /// <summary>Events of a document, by what it shows or its id: whole, or any part of it; the latest first.</summary>
    public Task<List<(long Event, string Type, string Document, DateOnly Date, string Outcome, long? Entry)>> Documents(int company, string sought, int most,
        CancellationToken stop) => source.Command("""
        select e.id, e.type, coalesce(e.number, e.source_id), e.date, e.outcome, n.id
        from event e left join entry n on n.company_id = e.company_id and n.event_id = e.id and n.reverses is null
        where e.company_id = $1 and (upper(e.source_id) = upper($2) or upper(e.number) = upper($2) or e.source_id ilike '%' || $3 || '%'
            or e.number ilike '%' || $3 || '%')
        order by (upper(e.source_id) = upper($2) or upper(coalesce(e.number, '')) = upper($2)) desc, e.id desc limit $4
        """, company, sought, sought.Replace(@"\", @"\\", StringComparison.Ordinal).Replace("%", @"\%", StringComparison.Ordinal).Replace("_", @"\_",
            StringComparison.Ordinal), most).List(row => (row.GetInt64(0), row.GetString(1), row.GetString(2), row.GetFieldValue<DateOnly>(3), row.GetString(4),
            row.LongOrNull(5)), stop);
}
