using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Charts;

/// <summary>Writes accounts: labels into their own table, settings into rows by edition. Many at once go by COPY.</summary>
static class AccountRows
{
    /// <summary>Adds accounts, parents before what stands under them.</summary>
    /// <returns>Their ids, in the order given.</returns>
    internal static async Task<IReadOnlyList<int>> Insert(DraftChange change, Labels labels, IReadOnlyList<Account> accounts)
    {
        if (accounts.Count == 0)
            return [];
        var ids = await change.Command("select nextval(pg_get_serial_sequence('account', 'id'))::integer from generate_series(1, $1)", accounts.Count).List(r =>
            r.GetInt32(0), change.Stop);
        for (var i = 0; i < accounts.Count; i++)
            labels.Add(Labels.Accounts, ids[i], accounts[i].Number.Trim());
        await using (var copy = await change.Connection.BeginBinaryImportAsync("copy account (company_id, id, number, number_fold, name, find_fold, " +
            "parent_id) from stdin binary", change.Stop))
        {
            for (var i = 0; i < accounts.Count; i++)
            {
                var account = accounts[i];
                await copy.StartRowAsync(change.Stop);
                copy.Write(change.Company);
                copy.Write(ids[i]);
                copy.Write(account.Number.Trim());
                copy.Write(Fold.Of(account.Number));
                copy.Write(account.Name.Trim());
                copy.Write(FindFold(account));
                copy.WriteOrNull(labels.Account(account.Parent));
            }
            await copy.CompleteAsync(change.Stop);
        }
        await SettingTables.Accounts.Copy(change, labels, ids.Zip(accounts), change.Edition);
        return ids;
    }

    /// <summary>Gives accounts new labels, at once.</summary>
    internal static async Task Relabel(DraftChange change, Labels labels, IReadOnlyList<(int Id, Account Was, Account Now)> accounts)
    {
        if (accounts.Count == 0)
            return;
        var renumbered = accounts.Where(a => !Fold.Same(a.Was.Number, a.Now.Number)).ToList();
        if (renumbered.Count > 0)
            await change.Command("insert into account_alias (company_id, number_fold, account_id) select $1, * from unnest($2::text[], $3::integer[]) on " +
                "conflict (company_id, number_fold) do nothing",
                change.Company, renumbered.Select(a => Fold.Of(a.Was.Number)).ToArray(), renumbered.Select(a => a.Id).ToArray()).Run(change.Stop);
        foreach (var (id, _, now) in accounts)
            labels.Add(Labels.Accounts, id, now.Number.Trim());
        await change.Command("""
            update account a set number = n.number, number_fold = n.number_fold, name = n.name, find_fold = n.find_fold, parent_id = n.parent_id
            from unnest($2::integer[], $3::text[], $4::text[], $5::text[], $6::text[], $7::integer[]) as n (id, number, number_fold, name, find_fold, parent_id)
            where a.company_id = $1 and a.id = n.id
            """, change.Company, accounts.Select(a => a.Id).ToArray(), accounts.Select(a => a.Now.Number.Trim()).ToArray(),
                accounts.Select(a => Fold.Of(a.Now.Number)).ToArray(), accounts.Select(a => a.Now.Name.Trim()).ToArray(),
            accounts.Select(a => FindFold(a.Now)).ToArray(), accounts.Select(a => labels.Account(a.Now.Parent)).ToArray()).Run(change.Stop);
        change.HoldsAtOnce = true;
    }

    /// <summary>Writes descriptions; each replaces what was said of the account before.</summary>
    internal static async Task Describe(DraftChange change, IReadOnlyList<(int Id, AccountDescription Description)> accounts)
    {
        if (accounts.Count == 0)
            return;
        await change.Command("""
            insert into account_description (company_id, account_id, short_name, text, side, activity, group_company_id, group_account_id)
            select $1, d.id, d.short_name, d.text, d.side, d.activity, a.company_id, a.id
            from unnest($2::integer[], $3::text[], $4::text[], $5::text[], $6::text[], $7::text[]) as d (id, short_name, text, side, activity, group_fold)
            left join account a on a.company_id = (select group_id from company where id = $1) and a.number_fold = d.group_fold
            on conflict (company_id, account_id) do update set short_name = excluded.short_name, text = excluded.text, side = excluded.side,
                activity = excluded.activity,
                group_company_id = excluded.group_company_id, group_account_id = excluded.group_account_id
            """, change.Company, accounts.Select(a => a.Id).ToArray(), accounts.Select(a => a.Description.ShortName).ToArray(),
                accounts.Select(a => a.Description.Text).ToArray(), accounts.Select(a => a.Description.Side?.Word()).ToArray(),
            accounts.Select(a => a.Description.Activity).ToArray(),
                accounts.Select(a => a.Description.GroupAccount is { } group ? Fold.Of(group) : null).ToArray()).Run(change.Stop);
        await change.Command("delete from account_reporting where company_id = $1 and account_id = any($2)", change.Company,
            accounts.Select(a => a.Id).ToArray()).Run(change.Stop);
        var codes = accounts.SelectMany(a => a.Description.Reporting.Select(r => (a.Id, r.Report, r.Code))).ToList();
        if (codes.Count > 0)
            await change.Command("insert into account_reporting (company_id, account_id, report, report_fold, code) select $1, * from unnest($2::integer[], " +
                "$3::text[], $4::text[], $5::text[])",
                change.Company, codes.Select(c => c.Id).ToArray(), codes.Select(c => c.Report.Trim()).ToArray(), codes.Select(c => Fold.Of(c.Report)).ToArray(),
                    codes.Select(c => c.Code.Trim()).ToArray()).Run(change.Stop);
        change.Describes = true;
    }

    static string FindFold(Account account) => Fold.Of($"{account.Number} {account.Name}");
}
