using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Consolidating;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Consolidating;

/// <summary>A company of a group.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="Currency">Its currency.</param>
public sealed record GroupMember(int Id, string Code, string Name, string Currency);

/// <summary>What is said of an account's place in the group's chart.</summary>
/// <param name="Account">Number of the company's account.</param>
/// <param name="Match">Where it goes; null: nowhere any more.</param>
/// <param name="Was">Where it went when it was looked at; null: nowhere.</param>
public sealed record GroupDecision(string Account, GroupMatch? Match, GroupMatch? Was = null);

/// <summary>The group's chart: which account of a company goes where, and the books of the group's companies. Matches hold at once and are logged.</summary>
public sealed class GroupChartStore(NpgsqlDataSource source, RulebookStore books, Draft draft)
{
    const int MostLogged = 20;

    /// <summary>The companies of a group, by code.</summary>
    public Task<List<GroupMember>> Members(int group, CancellationToken stop) =>
        source.Command("select id, code, name, currency from company where group_id = $1 and practice_of is null order by code_fold", group)
            .List(row => new GroupMember(row.GetInt32(0), row.GetString(1), row.GetString(2), row.GetString(3)), stop);

    /// <summary>Where the accounts of a company go, by the folds of their numbers.</summary>
    public async Task<IReadOnlyDictionary<string, GroupMatch>> Matches(int company, CancellationToken stop)
    {
        await using var connection = await source.OpenConnectionAsync(stop);
        return await Matches(connection, company, stop);
    }

    static async Task<Dictionary<string, GroupMatch>> Matches(NpgsqlConnection connection, int company, CancellationToken stop) => (await connection.Command("""
        select a.number_fold, d.number, c.number, s.translation
        from account_description s join account a on a.company_id = s.company_id and a.id = s.account_id
        join account d on d.company_id = s.group_company_id and d.id = s.group_account_id
        left join account c on c.company_id = s.group_company_id and c.id = s.group_credit_account_id
        where s.company_id = $1 and s.group_company_id = (select group_id from company where id = $1)
        """, company).List(row => (row.GetString(0), new GroupMatch(row.GetString(1), row.TextOrNull(2),
            row.TextOrNull(3) is { } rate ? Words<TranslationRate>.Parse(rate) : null)), stop)).ToDictionary();

    /// <summary>Says where accounts of a company go; all of it, or nothing.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who says it.</param>
    /// <param name="decisions">The accounts.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Decide(int company, int user, IReadOnlyList<GroupDecision> decisions, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var group = await change.Command("select group_id from company where id = $1", company).FirstOrDefault(row => row.IntOrNull(0), stop);
            if (group is not { } known)
                return new Refusal("", "The company belongs to no group. An administrator says to which, under Companies.");
            var labels = (await change.Book()).Labels;
            var chart = (await books.Load(known, null, stop)).Book.Accounts.ToDictionary(a => Fold.Of(a.Number));
            var matches = await Matches(change.Connection, company, stop);
            foreach (var (account, match, was) in decisions)
            {
                if (labels.Account(account) is null)
                    return new Refusal("account", $"There is no account {account}. Nothing was changed; look at the accounts again.");
                if (matches.GetValueOrDefault(Fold.Of(account)) is var now && now != was)
                    return new Refusal("account", $"Since you looked, somebody has changed where account {account} goes: {now?.InWords ?? "nowhere"} now, "
                        + $"{was?.InWords ?? "nowhere"} then. Nothing was changed; look at it again.");
                foreach (var number in new[] { match?.Debit, match?.Credit }.OfType<string>())
                    if (!chart.TryGetValue(Fold.Of(number), out var target) || target.Kind != AccountKind.Posting)
                        return new Refusal("group", $"The group's chart has no posting account {number}. Choose one it has.");
            }
            await Write(change, known, [.. decisions.Select(d => (labels.Account(d.Account)!.Value, d.Match))]);
            change.OnlyDescribes = true;
            foreach (var sentence in decisions.Take(MostLogged).Select(Sentence))
                await change.Log("account", 0, sentence, null, null);
            if (decisions.Count > MostLogged)
                await change.Log("account", 0, $"{decisions.Count} accounts matched to the group's chart in one act.", null, decisions);
            return null;
        }, stop);

    static string Sentence(GroupDecision decision) => decision.Match is not { } match ? $"Account {decision.Account} is matched to no account of the group."
        : $"Account {decision.Account} goes to the group's {match.InWords}.";

    static Task<int> Write(DraftChange change, int group, IReadOnlyList<(int Account, GroupMatch? Match)> rows) => change.Command("""
        insert into account_description (company_id, account_id, group_company_id, group_account_id, group_credit_account_id, translation)
        select $1, r.account, case when d.id is not null then $2 end, d.id, c.id, r.rate
        from unnest($3::integer[], $4::text[], $5::text[], $6::text[]) r(account, debit, credit, rate)
        left join account d on d.company_id = $2 and d.number_fold = r.debit
        left join account c on c.company_id = $2 and c.number_fold = r.credit
        on conflict (company_id, account_id) do update set group_company_id = excluded.group_company_id, group_account_id = excluded.group_account_id,
            group_credit_account_id = excluded.group_credit_account_id, translation = excluded.translation
        """, change.Company, group, rows.Select(r => r.Account).ToArray(), rows.Select(r => Folded(r.Match?.Debit)).ToArray(),
            rows.Select(r => Folded(r.Match?.Credit)).ToArray(),
            rows.Select(r => r.Match?.Rate is { } rate ? Words<TranslationRate>.Of(rate) : null).ToArray()).Run(change.Stop);

    static string? Folded(string? number) => number is null ? null : Fold.Of(number);

    /// <summary>The books of every company of a group at the end of a day.</summary>
    /// <param name="group">Id of the group's own company, whose rates translate.</param>
    /// <param name="currency">Its currency.</param>
    /// <param name="on">The day.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<MemberBooks>> Books(int group, string currency, DateOnly on, CancellationToken stop)
    {
        var found = new List<MemberBooks>();
        foreach (var member in await Members(group, stop))
        {
            var stored = await books.Load(member.Id, null, stop);
            var (matches, year) = (await Matches(member.Id, stop), await YearOf(member.Id, on, stop));
            var days = (await Days(member.Id, on, stop)).ToLookup(d => d.Account, d => (d.Day, d.Amount));
            var accounts = stored.Book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a =>
            {
                var moved = days[stored.Labels.Account(a.Number)!.Value].Where(d => !IsOfYear(a.Class) || d.Day >= year).ToList();
                return new MemberAccount(a.Number, a.Name, a.Class, moved.Sum(d => d.Amount), matches.GetValueOrDefault(Fold.Of(a.Number))) { Days = moved };
            }).ToList();
            // What earlier years brought and no year-end has carried forward yet is equity all the same.
            if (accounts.Sum(a => a.Balance) is var left && left != 0)
                accounts.Add(new("", "Result of earlier years, not carried forward", AccountClass.Equity, -left,
                    accounts.Find(a => a.Class == AccountClass.Equity && a.Match is not null)?.Match) { Days = [(year.AddDays(-1), -left)] });
            var rates = await Rates(group, member.Currency, on, stop);
            var own = member.Currency == currency;
            found.Add(new MemberBooks(member.Code, member.Currency, accounts, await Partners(member.Id, stored, on, stop))
            {
                RateOn = own ? _ => 1 : day => rates.LastOrDefault(r => r.Day <= day) is { Rate: > 0 } rate ? rate.Rate : null,
                Average = own ? 1 : Average(rates, year, on),
            });
        }
        return found;
    }

    static bool IsOfYear(AccountClass of) => of is not (AccountClass.Asset or AccountClass.Liability or AccountClass.Equity);

    Task<DateOnly> YearOf(int company, DateOnly on, CancellationToken stop) => source.Command("""
        select coalesce(max(starts), date_trunc('year', $2::date)::date) from fiscal_year where company_id = $1 and starts <= $2
        """, company, on).Value<DateOnly>(stop);

    Task<List<(int Account, DateOnly Day, decimal Amount)>> Days(int company, DateOnly on, CancellationToken stop) => source.Command("""
        select account_id, date, sum(amount) from line where company_id = $1 and date <= $2 group by account_id, date
        """, company, on).List(row => (row.GetInt32(0), row.GetFieldValue<DateOnly>(1), Money.Plain(row.GetDecimal(2))), stop);

    Task<List<(DateOnly Day, decimal Rate)>> Rates(int group, string currency, DateOnly on, CancellationToken stop) =>
        source.Command("select day, rate from exchange_rate where company_id = $1 and currency = $2 and day <= $3 order by day", group, currency, on)
            .List(row => (row.GetFieldValue<DateOnly>(0), Money.Plain(row.GetDecimal(1))), stop);

    // Each day of the year so far counts once, with the rate that held on it.
    static decimal? Average(List<(DateOnly Day, decimal Rate)> rates, DateOnly year, DateOnly on)
    {
        var (sum, days) = (0m, 0);
        for (var day = year; day <= on; day = day.AddDays(1))
            if (rates.FindLast(r => r.Day <= day) is { Rate: > 0 } rate)
                (sum, days) = (sum + rate.Rate, days + 1);
        return days == 0 ? null : sum / days;
    }

    async Task<IReadOnlyList<PartnerBalance>> Partners(int company, StoredRulebook stored, DateOnly on, CancellationToken stop)
    {
        var partners = stored.Book.Parties.Where(p => p.Partner is not null).ToDictionary(p => stored.Labels.IdOf("party", p.Code)!.Value, p => p.Partner!);
        return [.. (await source.Command("""
            select party_id, account_id, sum(amount) from party_movement
            where company_id = $1 and subledger = 'intercompany' and account_id is not null and date <= $2 group by party_id, account_id having sum(amount) <> 0
            """, company, on).List(row => (Party: row.GetInt32(0), Account: row.GetInt32(1), Amount: Money.Plain(row.GetDecimal(2))), stop))
            .Where(b => partners.ContainsKey(b.Party) && stored.NumberOf(b.Account) is not null)
            .Select(b => new PartnerBalance(partners[b.Party], stored.NumberOf(b.Account)!, b.Amount))];
    }

    /// <summary>What a company has with a partner, document by document, with those that came later.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="party">Id of the party that is the partner.</param>
    /// <param name="on">What is open at the end of this day.</param>
    /// <param name="stop">Cancels.</param>
    public Task<List<BetweenItem>> Between(int company, int party, DateOnly on, CancellationToken stop) => source.Command("""
        select coalesce(max(i.number), max(i.source_id)), min(m.date), m.currency,
            sum(m.document_amount) filter (where m.item_event_id = m.event_id or e.source = i.source and e.source_id = i.source_id),
            coalesce(sum(m.document_amount) filter (where m.date <= $3), 0), coalesce(sum(m.amount) filter (where m.date <= $3), 0)
        from party_movement m join event i on i.company_id = m.company_id and i.id = m.item_event_id
        join event e on e.company_id = m.company_id and e.id = m.event_id
        where m.company_id = $1 and m.subledger = 'intercompany' and m.party_id = $2
        group by i.source, i.source_id, m.currency having coalesce(sum(m.document_amount) filter (where m.item_event_id = m.event_id
            or e.source = i.source and e.source_id = i.source_id), 0) <> 0 or sum(m.document_amount) <> 0
        """, company, party, on).List(row => new BetweenItem(row.GetString(0), row.GetFieldValue<DateOnly>(1), row.GetString(2),
            Money.Plain(row.DecimalOrNull(3) ?? 0), Money.Plain(row.GetDecimal(4)), Money.Plain(row.GetDecimal(5))), stop);
}
