using Assignum.Core;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>Reads the journal.</summary>
public sealed class JournalStore(NpgsqlDataSource source)
{
    // The total of the document, in company currency: what the party owes or is owed by it. An entry that takes back another has that one's, the other way
    // round.
    const string Total = "coalesce(n.document_total, -(select coalesce(r.document_total, r.total) from entry r where r.company_id = n.company_id and r.id = " +
        "n.reverses), n.total)";
    const string Listed = $"""
        select n.id, n.number, n.date, e.type, e.source_id, e.number, e.connection, p.code, p.name, n.text, {Total}, n.reverses
        """;
    const string Beside = """
        join event e on e.company_id = n.company_id and e.id = n.event_id
        left join member p on p.company_id = n.company_id and p.id = n.party_id
        """;

    /// <summary>A page of entries, newest first.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="filter">Which.</param>
    /// <param name="after">Where the page before ended, or null for the first.</param>
    /// <param name="most">Most entries to return.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<EntryListed>> Page(int company, JournalFilter filter, JournalPlace? after, int most, CancellationToken stop) =>
        filter.Account is null && filter.Purpose is null && filter.Rule is null ? OfEntries(company, filter, after, most, stop)
            : OfLines(company, filter, after, most, stop);

    Task<List<EntryListed>> OfEntries(int company, JournalFilter filter, JournalPlace? after, int most, CancellationToken stop)
    {
        var where = EntriesThatFit(company, filter).After("(n.date, n.id)", after);
        return source.Command($"""
            {Listed}, null::numeric
            from entry n {Beside}
            where n.{where.Sql}
            order by n.date desc, n.id desc limit {most}
            """, where.Values).List(ReadListed, stop);
    }

    // From the lines' index, so that a seldom account does not read the whole journal.
    Task<List<EntryListed>> OfLines(int company, JournalFilter filter, JournalPlace? after, int most, CancellationToken stop)
    {
        var where = LinesThatFit(company, filter).After("(date, entry_id)", after);
        return source.Command($"""
            with hit as (
                select date, entry_id, sum(amount) as amount
                from line where {where.Sql}
                group by date, entry_id order by date desc, entry_id desc limit {most})
            {Listed}, hit.amount
            from hit join entry n on n.company_id = $1 and n.id = hit.entry_id {Beside}
            order by n.date desc, n.id desc
            """, where.Values).List(ReadListed, stop);
    }

    /// <summary>How many entries fit a filter, and what they come to.</summary>
    public async Task<JournalSum> Sum(int company, JournalFilter filter, CancellationToken stop)
    {
        if (filter.Account is null && filter.Purpose is null && filter.Rule is null)
        {
            var entries = EntriesThatFit(company, filter);
            return (await source.Command($"select count(*), coalesce(sum({Total}), 0) from entry n {Beside} where n.{entries.Sql}", entries.Values)
                .FirstOrDefault(row => new JournalSum(row.GetInt64(0), row.GetDecimal(1)), stop))!;
        }
        var lines = LinesThatFit(company, filter);
        return (await source.Command($"select count(distinct entry_id), coalesce(sum(amount), 0) from line where {lines.Sql}", lines.Values)
            .FirstOrDefault(row => new JournalSum(row.GetInt64(0), row.GetDecimal(1)), stop))!;
    }

    static Conditions EntriesThatFit(int company, JournalFilter filter) =>
        new Conditions(company).And("n.date >= ?", filter.From).And("n.date <= ?", filter.To).And("n.party_id = ?", filter.Party).And("e.connection = ?",
            filter.Connection)
            .And("e.type = ?", filter.Type).And("(upper(e.number) like ? or upper(e.source_id) like ?)", Beginning(filter.Document))
            .And($"({Total} = ? or {Total} = -? or exists (select from line l where l.company_id = n.company_id and l.date = n.date and l.entry_id = n.id " +
                "and l.amount in (?, -?)))", filter.Amount);

    static Conditions LinesThatFit(int company, JournalFilter filter) =>
        new Conditions(company).And("account_id = ?", filter.Account).And("purpose = ?", filter.Purpose).And("rule_id = ?", filter.Rule)
            .And("date >= ?", filter.From).And("date <= ?", filter.To).And("party_id = ?", filter.Party).And("amount in (?, -?)", filter.Amount)
            .And(OfEvent("e.connection = ?"), filter.Connection).And(OfEvent("e.type = ?"), filter.Type)
            .And(OfEvent("(upper(e.number) like ? or upper(e.source_id) like ?)"), Beginning(filter.Document));

    static string OfEvent(string condition) =>
        "exists (select from entry x join event e on e.company_id = x.company_id and e.id = x.event_id where x.company_id = line.company_id and x.id = " +
            $"line.entry_id and {condition})";

    static string? Beginning(string? document) => document is null ? null
        : Fold.Of(document).Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_",
            StringComparison.Ordinal) + "%";

    /// <summary>Only the conditions that are asked for, so that each question finds its index.</summary>
    sealed class Conditions(int company)
    {
        readonly List<object?> values = [company];

        internal string Sql { get; private set; } = "company_id = $1";
        internal object?[] Values => [.. values];

        internal Conditions And(string condition, object? value)
        {
            if (value is null)
                return this;
            values.Add(value);
            Sql += " and " + condition.Replace("?", FormattableString.Invariant($"${values.Count}"), StringComparison.Ordinal);
            return this;
        }

        internal Conditions After(string place, JournalPlace? after)
        {
            if (after is not { } last)
                return this;
            values.Add(last.Date);
            values.Add(last.Entry);
            Sql += FormattableString.Invariant($" and {place} < (${values.Count - 1}, ${values.Count})");
            return this;
        }
    }

    /// <summary>Events that landed last, as prepared, JSON.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="most">Most to return.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<string>> LastPrepared(int company, int most, CancellationToken stop) =>
        source.Command("select prepared::text from event where company_id = $1 and outcome = 'landed' and not withdrawn order by id desc limit $2", company,
            most)
            .List(row => row.GetString(0), stop);

    /// <summary>How many entries a company has.</summary>
    public Task<long> Count(int company, CancellationToken stop) =>
        source.Command("select last_entry from posting_row where company_id = $1", company).Value<long>(stop);

    /// <summary>An entry whole; null when there is none with that id.</summary>
    public async Task<EntryWhole?> Entry(int company, long id, CancellationToken stop)
    {
        var entry = await source.Command("""
            select n.id, n.number, n.date, y.starts, n.edition, n.at, u.shown_as, n.text, n.reverses,
                   (select r.id from entry r where r.company_id = n.company_id and r.reverses = n.id),
                   e.id, e.source_id, e.revision, e.connection, e.type, e.number, e.document_date, e.tax_date, e.due_date, p.code, p.name, e.received, e.source,
                   case when e.prepared::jsonb is distinct from e.received::jsonb then e.prepared::text end
            from entry n
            join fiscal_year y on y.company_id = n.company_id and y.id = n.fiscal_year_id
            join event e on e.company_id = n.company_id and e.id = n.event_id
            left join member p on p.company_id = n.company_id and p.id = n.party_id
            left join app_user u on u.id = n.user_id
            where n.company_id = $1 and n.id = $2
            """, company, id).FirstOrDefault(row =>
                new EntryWhole(row.GetInt64(0), row.GetInt64(1), row.GetFieldValue<DateOnly>(2), row.GetFieldValue<DateOnly>(3), row.GetInt32(4),
                row.GetDateTime(5), row.TextOrNull(6),
                row.GetString(7), row.LongOrNull(8), row.LongOrNull(9), row.GetInt64(10), row.GetString(11), row.GetInt32(12), row.GetString(13),
                    row.GetString(14), row.TextOrNull(15), row.GetFieldValue<DateOnly>(16),
                row.GetFieldValue<DateOnly>(17), row.GetFieldValue<DateOnly>(18), row.TextOrNull(19), row.TextOrNull(20), row.GetString(21), [], [])
                { Source = row.GetString(22), Prepared = row.TextOrNull(23) }, stop);
        return entry is null ? null : entry with { Lines = await WithStanding(company, entry.EventId, await Lines(company, entry.Date, id, stop), stop),
            Subledger = await Movements(company, entry.Date, entry.EventId, id, stop) };
    }

    Task<List<LedgerLine>> Lines(int company, DateOnly date, long entry, CancellationToken stop) =>
        source.Command("""
            select l.line_no, l.account_id, a.number, a.name, l.amount, l.currency, l.document_amount, l.purpose, l.answered_by, l.rung, l.rule_id, r.name,
                l.edition, l.facts,
                   i.code, o.code, l.project, l.tax_code, d.text, l.text
            from line l
            join account a on a.company_id = l.company_id and a.id = l.account_id
            left join rule r on r.company_id = l.company_id and r.id = l.rule_id
            left join member i on i.company_id = l.company_id and i.id = l.item_id
            left join member o on o.company_id = l.company_id and o.id = l.location_id
            left join dimension_set d on d.company_id = l.company_id and d.id = l.dimension_set_id
            where l.company_id = $1 and l.date = $2 and l.entry_id = $3
            order by l.line_no
            """, company, date, entry).List(row =>
                new LedgerLine(row.GetInt32(0), row.GetInt32(1), row.GetString(2), row.GetString(3), row.GetDecimal(4), row.GetString(5), row.GetDecimal(6),
                row.TextOrNull(7),
                row.GetString(8), row.GetString(9), row.LongOrNull(10), row.TextOrNull(11), row.GetInt32(12), FactsText.Read(row.GetString(13)),
                    row.TextOrNull(14), row.TextOrNull(15), row.TextOrNull(16),
                row.TextOrNull(17), row.TextOrNull(18), row.TextOrNull(19)), stop);

    // What a merge has moved since is told where it stands now.
    async Task<IReadOnlyList<LedgerLine>> WithStanding(int company, long eventId, List<LedgerLine> lines, CancellationToken stop)
    {
        var moves = await StandingMoves.Read(source, company, stop);
        var moved = lines.Select(l => moves.AccountOf(l.AccountId, eventId)).Zip(lines).Where(m => m.First != m.Second.AccountId).ToDictionary(m => m.Second.No,
            m => m.First);
        if (moved.Count == 0)
            return lines;
        var accounts = (await source.Command("select id, number, name from account where company_id = $1 and id = any($2)", company, moved.Values.ToArray())
            .List(row => (row.GetInt32(0), (row.GetString(1), row.GetString(2))), stop)).ToDictionary();
        return lines.ConvertAll(l => moved.TryGetValue(l.No, out var now) ? l with { Now = accounts[now] } : l);
    }

    Task<List<SubledgerLine>> Movements(int company, DateOnly date, long eventId, long entry, CancellationToken stop) =>
        source.Command("""
            select subledger, thing, place, quantity, base, amount
            from movement where company_id = $1 and date = $2 and event_id = $3 and entry_id = $4 order by line_no
            """, company, date, eventId, entry).List(row =>
                new SubledgerLine(row.GetString(0), row.GetString(1), row.TextOrNull(2), row.DecimalOrNull(3), row.DecimalOrNull(4), row.GetDecimal(5)), stop);

    /// <summary>Accounts whose kept balance is not the sum of their lines; none, unless something outside has touched the books.</summary>
    public Task<List<(int Account, decimal Balance, decimal Lines)>> BalancesOffTheirLines(int company, CancellationToken stop) =>
        source.Command("""
            select coalesce(b.account_id, l.account_id), coalesce(b.amount, 0), coalesce(l.amount, 0)
            from (select account_id, sum(debit - credit) as amount from balance where company_id = $1 group by account_id) b
            full join (select account_id, sum(amount) as amount from line where company_id = $1 group by account_id) l using (account_id)
            where coalesce(b.amount, 0) <> coalesce(l.amount, 0)
            """, company).List(row => (row.GetInt32(0), row.GetDecimal(1), row.GetDecimal(2)), stop);

    static EntryListed ReadListed(NpgsqlDataReader row) =>
        new(row.GetInt64(0), row.GetInt64(1), row.GetFieldValue<DateOnly>(2), row.GetString(3), row.GetString(4), row.TextOrNull(5), row.GetString(6),
            row.TextOrNull(7), row.TextOrNull(8), row.GetString(9),
            row.GetDecimal(10), row.LongOrNull(11), row.DecimalOrNull(12));
}
