using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>Tax of a code's component in a month.</summary>
/// <param name="Member">"CODE" or "CODE/COMPONENT".</param>
/// <param name="Side">"output", "input", or "reverse" for tax the company owes on what it buys.</param>
/// <param name="Month">First day of the month of posting.</param>
/// <param name="Base">Base, company currency, debit positive.</param>
/// <param name="Amount">Tax, company currency, debit positive.</param>
/// <param name="Entries">How many tax entries.</param>
public sealed record TaxSum(string Member, string Side, DateOnly Month, decimal Base, decimal Amount, long Entries);

/// <summary>A tax account's movement in a span.</summary>
/// <param name="Account">Number of the account.</param>
/// <param name="Name">Its name.</param>
/// <param name="Movement">All its lines, company currency, debit positive.</param>
/// <param name="ByTax">Those of output tax and input tax among them.</param>
public sealed record TaxAccountSum(string Account, string Name, decimal Movement, decimal ByTax);

/// <summary>What was bought with a tax code on an account for capital purchases.</summary>
/// <param name="Code">The tax code.</param>
/// <param name="Account">Number of the account.</param>
/// <param name="Name">Its name.</param>
/// <param name="Base">Without tax, company currency, debit positive.</param>
/// <param name="Lines">How many journal lines.</param>
public sealed record CapitalSum(string Code, string Account, string Name, decimal Base, long Lines);

/// <summary>A tax entry with its document.</summary>
public sealed record TaxEntry(DateOnly Date, DateOnly TaxDate, long EventId, int LineNo, long? EntryId, string Type, string Document, string? PartyCode,
    string? PartyName, string Member, string Side, decimal Base, decimal Amount);

/// <summary>Which tax entries are asked for; what is null does not matter.</summary>
/// <param name="From">First posting date.</param>
/// <param name="To">Last posting date.</param>
/// <param name="Member">"CODE" or "CODE/COMPONENT".</param>
/// <param name="Side">"output", "input" or "reverse".</param>
public sealed record TaxEntryFilter(DateOnly From, DateOnly To, string? Member = null, string? Side = null);

/// <summary>Where a page of tax entries goes on.</summary>
public readonly record struct TaxEntryPlace(DateOnly Date, long EventId, int LineNo);

/// <summary>Reads tax entries, and holds them against the tax accounts.</summary>
public sealed class TaxEntryStore(NpgsqlDataSource source)
{
    const string Member = "t.code || case when s.component = '' then '' else '/' || s.component end";
    const string From = """
        from tax_movement s
        join tax_code t on t.company_id = s.company_id and t.id = s.tax_code_id
        """;
    const string InSpan = "where s.company_id = $1 and s.date between $2 and $3";

    /// <summary>Sums by component, side and month.</summary>
    public Task<List<TaxSum>> Sums(int company, DateOnly from, DateOnly to, CancellationToken stop) =>
        source.Command($"""
            select {Member}, s.side, date_trunc('month', s.date)::date, sum(s.base), sum(s.amount), count(*)
            {From} {InSpan} group by 1, 2, 3 order by 1, 2, 3
            """, company, from, to).List(r =>
                new TaxSum(r.GetString(0), r.GetString(1), r.GetFieldValue<DateOnly>(2), r.GetDecimal(3), r.GetDecimal(4), r.GetInt64(5)), stop);

    /// <summary>Movements of accounts, of which those by tax purposes.</summary>
    public Task<List<TaxAccountSum>> Accounts(int company, int[] accounts, DateOnly from, DateOnly to, CancellationToken stop) =>
        source.Command("""
            select a.number, a.name, sum(l.amount), coalesce(sum(l.amount) filter (where l.purpose in ('output-tax', 'input-tax')), 0)
            from line l join account a on a.company_id = l.company_id and a.id = l.account_id
            where l.company_id = $1 and l.date between $2 and $3 and (l.account_id = any($4) or l.purpose in ('output-tax', 'input-tax'))
            group by 1, 2 order by 1
            """, company, from, to, accounts).List(r => new TaxAccountSum(r.GetString(0), r.GetString(1), r.GetDecimal(2), r.GetDecimal(3)), stop);

    /// <summary>What was bought with tax on accounts for capital purchases, by tax code and account.</summary>
    public Task<List<CapitalSum>> Capital(int company, int[] accounts, DateOnly from, DateOnly to, CancellationToken stop) =>
        source.Command("""
            select l.tax_code, a.number, a.name, sum(l.amount), count(*)
            from line l join account a on a.company_id = l.company_id and a.id = l.account_id
            where l.company_id = $1 and l.date between $2 and $3 and l.account_id = any($4) and l.tax_code is not null group by 1, 2, 3 order by 1, 2
            """, company, from, to, accounts).List(r => new CapitalSum(r.GetString(0), r.GetString(1), r.GetString(2), r.GetDecimal(3), r.GetInt64(4)), stop);

    /// <summary>A page of tax entries, newest first.</summary>
    public Task<List<TaxEntry>> Page(int company, TaxEntryFilter filter, TaxEntryPlace? after, int most, CancellationToken stop) =>
        source.Command($"""
            select s.date, e.tax_date, s.event_id, s.line_no, s.entry_id, e.type, coalesce(e.number, e.source_id), p.code, p.name, {Member}, s.side, s.base,
                s.amount
            {From}
            join event e on e.company_id = s.company_id and e.id = s.event_id
            left join member p on p.company_id = e.company_id and p.id = e.party_id
            {InSpan} and ($4::text is null or {Member} = $4) and ($5::text is null or s.side = $5)
              and ($6::date is null or (s.date, s.event_id, s.line_no) < ($6, $7, $8))
            order by s.date desc, s.event_id desc, s.line_no desc limit {most}
            """, company, filter.From, filter.To, filter.Member, filter.Side, after?.Date, after?.EventId ?? 0L, after?.LineNo ?? 0)
            .List(r => new TaxEntry(r.GetFieldValue<DateOnly>(0), r.GetFieldValue<DateOnly>(1), r.GetInt64(2), r.GetInt32(3), r.LongOrNull(4), r.GetString(5),
                r.GetString(6), r.TextOrNull(7), r.TextOrNull(8), r.GetString(9), r.GetString(10), r.GetDecimal(11), r.GetDecimal(12)), stop);
}
