using Assignum.Storage.Settings;

namespace Assignum.Storage.Charts;

/// <summary>Takes accounts out: one that only the draft ever had goes whole, one of a released edition ends with the draft.</summary>
static class AccountRemoval
{
    internal static async Task Remove(DraftChange change, int id)
    {
        var everReleased = await change.Command("select exists (select 1 from account_setting where company_id = $1 and account_id = $2 and introduced_in < " +
            "$3)", change.Company, id, change.Edition).Value<bool>(change.Stop);
        await change.Command("delete from account_setting where company_id = $1 and account_id = $2 and introduced_in = $3", change.Company, id,
            change.Edition).Run(change.Stop);
        await change.Command("update account_setting set retired_in = $3 where company_id = $1 and account_id = $2 and retired_in is null", change.Company, id,
            change.Edition).Run(change.Stop);
        await change.Command("delete from numbering_range where company_id = $1 and account_id = $2", change.Company, id).Run(change.Stop);
        if (everReleased || await IsNamed(change, id))
            return;
        await change.Command("delete from account_note where company_id = $1 and account_id = $2", change.Company, id).Run(change.Stop);
        await change.Command("delete from account_reporting where company_id = $1 and account_id = $2", change.Company, id).Run(change.Stop);
        await change.Command("delete from account_description where company_id = $1 and account_id = $2", change.Company, id).Run(change.Stop);
        await change.Command("delete from account where company_id = $1 and id = $2", change.Company, id).Run(change.Stop);
        change.HoldsAtOnce = true;
    }

    static Task<bool> IsNamed(DraftChange change, int id) =>
        change.Command("""
            select exists (select 1 from account_alias where company_id = $1 and account_id = $2)
                or exists (select 1 from rule where company_id = $1 and account_id = $2)
                or exists (select 1 from account where company_id = $1 and (parent_id = $2 or merged_into = $2))
            """, change.Company, id).Value<bool>(change.Stop);
}
