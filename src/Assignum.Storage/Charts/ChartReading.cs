using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Charts;

/// <summary>Reads what is said of a chart beside its settings: numbering plan, numbers that are not given again, descriptions.</summary>
static class ChartReading
{
    internal static async Task<ChartBook> Read(NpgsqlConnection connection, int company, StoredRulebook stored, CancellationToken stop) =>
        new(stored.Book, await Plan(connection, company, stop), await Kept(connection, company, stored.Edition, stop),
            await Descriptions(connection, company, stop));

    static async Task<NumberingPlan> Plan(NpgsqlConnection connection, int company, CancellationToken stop)
    {
        if (await connection.Command("select pattern from numbering_plan where company_id = $1", company).FirstOrDefault(row => row.GetString(0),
            stop) is not { } pattern)
            return NumberingPlan.None;
        var ranges = await connection.Command("""
            select r.class, a.number, r.first_number, r.last_number
            from numbering_range r left join account a on a.company_id = r.company_id and a.id = r.account_id
            where r.company_id = $1 order by r.first_number
            """, company).List(row => (Class: row.TextOrNull(0),
                Range: new NumberRange(row.TextOrNull(0) ?? row.GetString(1), row.GetString(2), row.GetString(3))), stop);
        return new NumberingPlan { Pattern = pattern, Classes = [.. ranges.Where(r => r.Class is not null).Select(r => r.Range)],
            Headings = [.. ranges.Where(r => r.Class is null).Select(r => r.Range)] };
    }

    // A number may belong to an account that the draft no longer shows, or may have been that of a renumbered one.
    static async Task<Dictionary<string, KeptNumber>> Kept(NpgsqlConnection connection, int company, int edition, CancellationToken stop)
    {
        var kept = await connection.Command("""
            select a.number_fold, a.number, a.name, null::text from account a
            where a.company_id = $1 and not exists (select 1 from account_setting s where s.company_id = $1 and s.account_id = a.id and s.editions @> $2)
            union all
            select l.number_fold, a.number, a.name, l.number_fold from account_alias l join account a on a.company_id = l.company_id and a.id = l.account_id
            where l.company_id = $1 and l.number_fold <> a.number_fold
            """, company, edition).List(row => (Fold: row.GetString(0), Number: row.GetString(1), Name: row.GetString(2), Earlier: row.TextOrNull(3)), stop);
        var sentences = new Dictionary<string, KeptNumber>();
        foreach (var (fold, number, name, earlier) in kept)
            sentences[fold] = new(number, earlier is null ? $"{number} belongs to {name}, which earlier editions have."
                : $"{earlier} was once the number of {number} {name}, and is not given again.");
        return sentences;
    }

    static async Task<Dictionary<string, AccountDescription>> Descriptions(NpgsqlConnection connection, int company, CancellationToken stop)
    {
        var codes = (await connection.Command("select account_id, report, code from account_reporting where company_id = $1 order by account_id, report_fold",
            company)
            .List(row => (Account: row.GetInt32(0), Code: new ReportCode(row.GetString(1), row.GetString(2))), stop)).ToLookup(c => c.Account, c => c.Code);
        var described = await connection.Command("""
            select a.number_fold, a.id, d.short_name, d.text, d.side, d.activity, g.number
            from account_description d
            join account a on a.company_id = d.company_id and a.id = d.account_id
            left join account g on g.company_id = d.group_company_id and g.id = d.group_account_id
            where d.company_id = $1
            """, company).List(row => (Fold: row.GetString(0), Description: new AccountDescription
        {
            ShortName = row.TextOrNull(2), Text = row.TextOrNull(3), Side = row.TextOrNull(4) is { } side && Words<UsualSide>.TryParse(side, out var known)
                ? known : null,
            Activity = row.TextOrNull(5), GroupAccount = row.TextOrNull(6), Reporting = [.. codes[row.GetInt32(1)]],
        }), stop);
        return described.ToDictionary(d => d.Fold, d => d.Description);
    }
}
