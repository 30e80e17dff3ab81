using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Charts;

/// <summary>An account to be added: what can change a landing, and what describes it.</summary>
public sealed record NewAccount(Account Account, AccountDescription Description);

/// <summary>Changes of single accounts: labels and descriptions hold at once, settings in the draft.</summary>
public sealed class AccountStore(Draft draft, TimeProvider clock)
{
    const int LongestNote = 2000;

    DateOnly Today => DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);

    /// <summary>Adds accounts to the draft, all or none.</summary>
    public Task<Refusal?> Add(int company, int user, IReadOnlyList<NewAccount> accounts, CancellationToken stop) =>
        draft.Change(company, user, change => Add(change, accounts), stop);

    /// <summary>Adds accounts within a change of the draft, all or none.</summary>
    internal async Task<Refusal?> Add(DraftChange change, IReadOnlyList<NewAccount> accounts)
    {
        var stored = await change.Book();
        var chart = await ChartReading.Read(change.Connection, change.Company, stored, change.Stop);
        for (var i = 0; i < accounts.Count; i++)
        {
            if (FirstFault(chart, accounts[i].Account, accounts[i].Description, was: null) is { } fault)
                return accounts.Count == 1 ? fault : fault with { Message = $"{accounts[i].Account.Number} {accounts[i].Account.Name}: {fault.Message}" };
            if (accounts.Take(i).Any(a => Fold.Same(a.Account.Number, accounts[i].Account.Number)))
                return new Refusal("number", $"Number {accounts[i].Account.Number} would be given twice. Give one of them another number.");
        }
        var ids = await AccountRows.Insert(change, stored.Labels, [.. accounts.Select(a => a.Account)]);
        await AccountRows.Describe(change,
            [.. ids.Zip(accounts, (id, a) => (id, a.Description)).Where(d => !d.Description.SaysTheSame(AccountDescription.None))]);
        foreach (var (id, added) in ids.Zip(accounts))
            await change.Log("account", id, $"Account {added.Account.Number} {added.Account.Name} added.", null, added);
        return null;
    }

    /// <summary>Gives an account a new shape.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who changes it.</param>
    /// <param name="id">Id of the account.</param>
    /// <param name="seen">Last change of the account that the user saw.</param>
    /// <param name="account">The account as it shall be.</param>
    /// <param name="description">What shall be said of it.</param>
    /// <param name="replacement">Number of the account that answers in its place where it becomes inactive, or null.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Change(int company, int user, int id, long seen, Account account, AccountDescription description, string? replacement,
        CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (stored.AccountOf(id) is not { } was)
                return new Refusal("", "The account is no longer in the draft. Go back to the chart and look for it there.");
            if (await Stale(change, id, seen, was, "make your change") is { } stale)
                return stale;
            if (replacement is not null && await ReplaceIn(change, stored, was, replacement) is { } refused)
                return refused;
            if (replacement is not null)
                stored = await change.Book();
            var chart = await ChartReading.Read(change.Connection, company, stored, stop);
            if (FirstFault(chart, account, description, was.Number) is { } fault)
                return fault;
            var changes = AccountDifference.Between(was, chart.DescriptionOf(was.Number), account, description);
            if (changes.Count == 0)
                return null;
            await Write(change, stored.Labels, id, was, account, chart.DescriptionOf(was.Number), description);
            await change.Log("account", id, $"Account {account.Number} {account.Name} changed: {AccountDifference.InWords(changes)}.",
                new NewAccount(was, chart.DescriptionOf(was.Number)), new NewAccount(account, description));
            return null;
        }, stop);

    /// <summary>Takes an account out of the chart. One that anything uses, or ever used, stays.</summary>
    public Task<Refusal?> Delete(int company, int user, int id, long seen, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (stored.AccountOf(id) is not { } account)
                return new Refusal("", "The account is no longer in the draft, so there is nothing to delete.");
            if (await Stale(change, id, seen, account, "delete it") is { } stale)
                return stale;
            var chart = await ChartReading.Read(change.Connection, company, stored, stop);
            if (await UseInWords(change, chart, account, id) is { } used)
                return new Refusal("", $"{account.Number} {account.Name} can't be deleted: {used}");
            await AccountRemoval.Remove(change, id);
            await change.Log("account", id, $"Account {account.Number} {account.Name} deleted.",
                new NewAccount(account, chart.DescriptionOf(account.Number)), null);
            return null;
        }, stop);

    /// <summary>Writes a note on an account, at once.</summary>
    public Task<Refusal?> AddNote(int company, int user, int id, string? text, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            if (string.IsNullOrWhiteSpace(text))
                return new Refusal("note", "The note is empty. Write what the next one should know.");
            if (text.Trim().Length > LongestNote)
                return new Refusal("note", $"The note has {text.Trim().Length:N0} characters. Shorten it to {LongestNote:N0}.");
            await change.Command("insert into account_note (company_id, account_id, user_id, text) values ($1, $2, $3, $4)", company, id, user,
                text.Trim()).Run(stop);
            change.OnlyDescribes = true;
            return null;
        }, stop);

    Refusal? FirstFault(ChartBook chart, Account account, AccountDescription description, string? was) =>
        AccountCheck.Faults(chart, account, was, Today).Concat(AccountCheck.Faults(description)).FirstOrDefault() is { } fault
            ? new Refusal(fault.Field, fault.Message) : null;

    static async Task Write(DraftChange change, Labels labels, int id, Account was, Account now, AccountDescription wasDescribed, AccountDescription described)
    {
        var sameLabels = was.Number == now.Number && was.Name == now.Name && labels.Account(was.Parent) == labels.Account(now.Parent);
        var sameSetting = was.SameSetting(now);
        if (!sameLabels)
            await AccountRows.Relabel(change, labels, [(id, was, now)]);
        if (!sameSetting)
            await SettingTables.Accounts.Reset(change, labels, [(id, now)]);
        if (!wasDescribed.SaysTheSame(described))
            await AccountRows.Describe(change, [(id, described)]);
        change.OnlyDescribes = sameLabels && sameSetting;
    }

    static async Task<Refusal?> ReplaceIn(DraftChange change, StoredRulebook stored, Account was, string replacement)
    {
        if (stored.Book.Accounts.FirstOrDefault(a => Fold.Same(a.Number, replacement)) is not { Kind: AccountKind.Posting, Active: true } other
            || Fold.Same(other.Number, was.Number))
            return new Refusal("replacement", $"{replacement} can't answer in its place. Choose another posting account that is active.");
        var moved = await AccountUseRows.MoveRules(change, stored.Labels, was, other);
        await AccountUseRows.MoveAlternates(change, stored.Labels, was, other);
        await change.Log("account", stored.Labels.Account(was.Number)!.Value,
            $"{moved} rules of {was.Number} {was.Name} now answer with {other.Number} {other.Name}.", null, null);
        return null;
    }

    static async Task<Refusal?> Stale(DraftChange change, int id, long seen, Account account, string then)
    {
        var last = await change.Command("select id, sentence from change_log where company_id = $1 and subject = 'account' and subject_id = $2 order by id " +
            "desc limit 1", change.Company, (long)id)
            .FirstOrDefault(row => (Id: row.GetInt64(0), Sentence: row.GetString(1)), change.Stop);
        return last.Id == seen ? null : new Refusal("seen",
            $"Somebody else has changed {account.Number} {account.Name} since you opened it: {last.Sentence} Look at it again, then {then}.");
    }

    static async Task<string?> UseInWords(DraftChange change, ChartBook chart, Account account, int id)
    {
        var uses = chart.Uses.Of(account.Number);
        if (uses.Count > 0)
            return $"{uses.Count switch { 1 => "it is used by", _ => $"it has {uses.Count} uses," }} " +
                $"{string.Join("; ", uses.Take(3).Select(u => u.What))}{(uses.Count > 3 ? " …" : "")}. Merge it into another account, which takes its uses " +
                    "along.";
        if (chart.Tree.Nodes[chart.Tree.PlaceOf(account.Number)].Children is > 0 and var below)
            return $"{below} {(below == 1 ? "account stands" : "accounts stand")} below it. Move or delete {(below == 1 ? "it" : "them")} first.";
        if (await change.Command("select exists (select 1 from line where company_id = $1 and account_id = $2)", change.Company, id).Value<bool>(change.Stop))
            return "amounts have been posted to it. Make it inactive, or merge it into another account.";
        if (await change.Command("select count(*)::integer from account_description where group_company_id = $1 and group_account_id = $2", change.Company,
            id).Value<int>(change.Stop) is > 0 and var matched)
            return $"{matched} {(matched == 1 ? "account of another company belongs" : "accounts of other companies belong")} to it. Give " +
                $"{(matched == 1 ? "it" : "them")} another group account first.";
        return null;
    }
}
