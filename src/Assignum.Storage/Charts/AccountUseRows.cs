using Assignum.Core.Charts;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Charts;

/// <summary>Moves what uses an account to another, in the draft: rows of the draft in place, released ones by ending them and beginning the same with the
/// other account.</summary>
static class AccountUseRows
{
    /// <summary>Moves its rules; returns how many.</summary>
    internal static async Task<int> MoveRules(DraftChange change, Labels labels, Account from, Account to)
    {
        var (source, target) = (labels.Account(from.Number)!.Value, labels.Account(to.Number)!.Value);
        var inPlace = await change.Command("update rule set account_id = $3 where company_id = $1 and account_id = $2 and introduced_in = $4 and retired_in " +
            "is null", change.Company, source, target, change.Edition).Run(change.Stop);
        var ended = await change.Command("update rule set retired_in = $3 where company_id = $1 and account_id = $2 and retired_in is null returning id",
            change.Company, source, change.Edition).List(row => row.GetInt64(0), change.Stop);
        var others = string.Join(", ", SettingTables.Rules.Columns.Where(c => c != "account_id"));
        await change.Command($"""
            insert into rule (company_id, {others}, account_id, introduced_in)
            select company_id, {others}, $3, $4 from rule where company_id = $1 and id = any($2) order by id
            """, change.Company, ended.ToArray(), target, change.Edition).Run(change.Stop);
        return inPlace + ended.Count;
    }

    /// <summary>Lets the parties that may choose it as control account choose the other; returns how many.</summary>
    internal static async Task<int> MoveAlternates(DraftChange change, Labels labels, Account from, Account to)
    {
        var (source, target) = (labels.Account(from.Number)!.Value, labels.Account(to.Number)!.Value);
        var inPlace = await change.Command("""
            update member_setting set control_alternates = case when $3 = any(control_alternates) then array_remove(control_alternates, $2)
                else array_replace(control_alternates, $2, $3) end
            where company_id = $1 and $2 = any(control_alternates) and introduced_in = $4 and retired_in is null
            """, change.Company, source, target, change.Edition).Run(change.Stop);
        var ended = await change.Command("update member_setting set retired_in = $3 where company_id = $1 and $2 = any(control_alternates) and retired_in is " +
            "null returning id", change.Company, source, change.Edition).List(row => row.GetInt64(0), change.Stop);
        var others = string.Join(", ", SettingTables.Members.Columns.Where(c => c != "control_alternates"));
        await change.Command($"""
            insert into member_setting (company_id, member_id, {others}, control_alternates, introduced_in)
            select company_id, member_id, {others},
                   case when $4 = any(control_alternates) then array_remove(control_alternates, $3) else array_replace(control_alternates, $3, $4) end, $5
            from member_setting where company_id = $1 and id = any($2)
            """, change.Company, ended.ToArray(), source, target, change.Edition).Run(change.Stop);
        return inPlace + ended.Count;
    }
}
