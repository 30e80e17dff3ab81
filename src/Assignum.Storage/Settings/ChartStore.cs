using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>Balance of an account.</summary>
/// <param name="Account">Id of the account.</param>
/// <param name="Debit">Sum of debits, company currency.</param>
/// <param name="Credit">Sum of credits.</param>
public readonly record struct AccountBalance(int Account, decimal Debit, decimal Credit);

/// <summary>Changes of the chart, and its balances.</summary>
public sealed class ChartStore(NpgsqlDataSource source, Draft draft)
{
    /// <summary>Balances by account, from the balances by period and never from lines.</summary>
    public Task<List<AccountBalance>> Balances(int company, CancellationToken stop) =>
        source.Command("select account_id, sum(debit), sum(credit) from balance where company_id = $1 group by account_id", company)
            .List(row => new AccountBalance(row.GetInt32(0), row.GetDecimal(1), row.GetDecimal(2)), stop);

    /// <summary>Adds an account to the draft.</summary>
    public Task<Refusal?> Add(int company, int user, Account account, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (AccountCheck.Faults(stored.Book, account, was: null) is [var fault, ..])
                return new Refusal(fault.Field, fault.Message);
            if (await TakenOutsideTheDraft(change, account.Number) is { } taken)
                return new Refusal("number", taken);
            var id = await Insert(change, stored.Labels, account);
            await change.Log("account", id, $"Account {account.Number} {account.Name} added.", null, account);
            return null;
        }, stop);

    /// <summary>Gives an account a new shape: labels, class and place at once, everything else in the draft.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who changes it.</param>
    /// <param name="id">Id of the account.</param>
    /// <param name="seen">Last change of the account that the user saw.</param>
    /// <param name="account">The account as it shall be.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Change(int company, int user, int id, long seen, Account account, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (stored.Book.Accounts.FirstOrDefault(a => stored.Labels.Account(a.Number) == id) is not { } was)
                return new Refusal("", "The account is no longer in the draft. Go back to the chart and look for it there.");
            if (await LastChange(change, id) is var last && last.Id != seen)
                return new Refusal("", $"Somebody else has changed {was.Number} {was.Name} since you opened it: {last.Sentence} Look at it anew, then make your change.");
            if (AccountCheck.Faults(stored.Book, account, was.Number) is [var fault, ..])
                return new Refusal(fault.Field, fault.Message);
            if (!Fold.Same(was.Number, account.Number) && await TakenOutsideTheDraft(change, account.Number) is { } taken)
                return new Refusal("number", taken);
            await Update(change, stored.Labels, id, was, account);
            await change.Log("account", id, $"Account {account.Number} {account.Name} changed.", was, account);
            return null;
        }, stop);

    /// <summary>Id of the newest change of an account, 0 when there is none.</summary>
    public async Task<long> LastChangeOf(int company, int id, CancellationToken stop) =>
        await source.Command("select coalesce(max(id), 0) from change_log where company_id = $1 and subject = 'account' and subject_id = $2", company, (long)id).Value<long>(stop);

    /// <summary>Carries out the import of a chart: all rows that are not refused, in one act.</summary>
    public Task<Refusal?> Import(int company, int user, IReadOnlyList<ChartRow> rows, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            var plan = ChartImport.Plan(rows, [.. stored.Book.Accounts]);
            var byNumber = stored.Book.Accounts.ToDictionary(a => Fold.Of(a.Number));
            foreach (var row in ParentsFirst(plan))
            {
                if (row.Fate == ChartRowFate.New)
                {
                    if (await TakenOutsideTheDraft(change, row.Account!.Number) is { } taken)
                        return new Refusal("file", $"Line {row.Row.Line}: {taken} Nothing was imported.");
                    await Insert(change, stored.Labels, row.Account);
                }
                else
                {
                    var was = byNumber[Fold.Of(row.Account!.Number)];
                    if (was.Kind == AccountKind.Posting && row.Account.Kind != AccountKind.Posting && AccountCheck.Faults(stored.Book, row.Account, was.Number).FirstOrDefault(f => f.Field == "kind") is { } fault)
                        return new Refusal("file", $"Line {row.Row.Line}: {fault.Message} Nothing was imported.");
                    await Update(change, stored.Labels, stored.Labels.Account(was.Number)!.Value, was, row.Account);
                }
            }
            await change.Log("chart", 0, $"Chart imported: {plan.Count(ChartRowFate.New)} accounts new, {plan.Count(ChartRowFate.Changed)} changed.", null, null);
            return null;
        }, stop);

    static List<PlannedRow> ParentsFirst(ChartPlan plan)
    {
        var waiting = plan.Rows.Where(r => r.Fate is ChartRowFate.New or ChartRowFate.Changed).ToDictionary(r => Fold.Of(r.Account!.Number));
        var ordered = new List<PlannedRow>(waiting.Count);
        var placed = new HashSet<string>();
        foreach (var number in waiting.Keys)
            Place(number);
        return ordered;

        void Place(string number)
        {
            if (!waiting.TryGetValue(number, out var row) || !placed.Add(number))
                return;
            if (row.Account!.Parent is { } parent)
                Place(Fold.Of(parent));
            ordered.Add(row);
        }
    }

    // A number may belong to an account that the draft no longer shows, or that was renumbered.
    static async Task<string?> TakenOutsideTheDraft(DraftChange change, string number) =>
        await change.Command("""
            select a.number, a.name, false from account a where a.company_id = $1 and a.number_fold = $2
            union all
            select a.number, a.name, true from account_alias l join account a on a.company_id = l.company_id and a.id = l.account_id where l.company_id = $1 and l.number_fold = $2
            """, change.Company, Fold.Of(number)).FirstOrDefault(row => row.GetBoolean(2)
                ? $"Number {number} was once that of {row.GetString(0)} {row.GetString(1)}, and is not given again. Choose another."
                : $"Number {number} belongs to {row.GetString(1)}, which earlier editions have. Choose another.", change.Stop);

    static async Task<(long Id, string Sentence)> LastChange(DraftChange change, int id) =>
        await change.Command("select id, sentence from change_log where company_id = $1 and subject = 'account' and subject_id = $2 order by id desc limit 1", change.Company, (long)id)
            .FirstOrDefault(row => (row.GetInt64(0), row.GetString(1)), change.Stop);

    internal static async Task<int> Insert(DraftChange change, Labels labels, Account account)
    {
        var id = await change.Command("insert into account (company_id, number, number_fold, name, find_fold, class, parent_id) values ($1, $2, $3, $4, $5, $6, $7) returning id",
            change.Company, account.Number.Trim(), Fold.Of(account.Number), account.Name.Trim(), Fold.Of($"{account.Number} {account.Name}"), account.Class.Word(), labels.Account(account.Parent)).Value<int>(change.Stop);
        labels.Add(Labels.Accounts, id, account.Number.Trim());
        await change.Set("account_setting", "account_id", id, Columns(labels, account));
        return id;
    }

    static async Task Update(DraftChange change, Labels labels, int id, Account was, Account account)
    {
        if (!Fold.Same(was.Number, account.Number))
            await change.Command("insert into account_alias (company_id, number_fold, account_id) values ($1, $2, $3) on conflict (company_id, number_fold) do nothing", change.Company, Fold.Of(was.Number), id).Run(change.Stop);
        var parent = labels.Account(account.Parent);
        if (was.Number != account.Number || was.Name != account.Name || was.Class != account.Class || labels.Account(was.Parent) != parent)
        {
            await change.Command("update account set number = $3, number_fold = $4, name = $5, find_fold = $6, class = $7, parent_id = $8 where company_id = $1 and id = $2",
                change.Company, id, account.Number.Trim(), Fold.Of(account.Number), account.Name.Trim(), Fold.Of($"{account.Number} {account.Name}"), account.Class.Word(), parent).Run(change.Stop);
            change.HoldsAtOnce = true;
        }
        if (!SameSetting(was, account))
            await change.Set("account_setting", "account_id", id, Columns(labels, account));
    }

    static bool SameSetting(Account a, Account b) =>
        (a with { Number = b.Number, Name = b.Name, Class = b.Class, Parent = b.Parent, Dimensions = b.Dimensions }) == b
        && a.Dimensions.Count == b.Dimensions.Count && a.Dimensions.All(d => b.Dimensions.TryGetValue(d.Key, out var need) && need == d.Value);

    static (string, object?)[] Columns(Labels labels, Account account) =>
    [
        ("kind", account.Kind.Word()), ("active", account.Active), ("valid_from", account.ValidFrom), ("valid_to", account.ValidTo),
        ("control", account.Control?.Word()), ("manual", account.Manual.Word()), ("item_tax_group_id", labels.IdOf(Labels.Family("item-tax"), account.ItemTaxGroup)),
        ("tax_code_id", labels.IdOf(Labels.TaxCodes, account.TaxCode)), ("suspense", account.Suspense),
        ("dimensions", new Jsonb(JsonSerializer.Serialize(account.Dimensions.ToDictionary(d => d.Key, d => Words<DimensionNeed>.Of(d.Value))))),
    ];
}
