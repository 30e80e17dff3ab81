using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Finding;

/// <summary>Something found by a part of its number, code or name.</summary>
/// <param name="Kind">"account", "party", "item", "location", "project", "task", or "group:item" and the like.</param>
/// <param name="Id">Its id.</param>
/// <param name="Code">Its number or code.</param>
/// <param name="Name">Its name.</param>
public sealed record Found(string Kind, int Id, string Code, string Name);

/// <summary>The find box: any part of number or name, in any case, by a trigram index.</summary>
public sealed class FindStore(NpgsqlDataSource source)
{
    const int MostOfAKind = 5;

    /// <summary>Finds accounts, also by a former number, members and groups; an exact code first, then a few of each kind.</summary>
    public Task<List<Found>> Find(int company, string text, int most, CancellationToken stop)
    {
        var fold = Fold.Of(text);
        return source.Command("""
            select kind, id, code, name from (
                select *, row_number() over (partition by kind order by (fold = $4) desc, starts_with(fold, $4) desc, fold) as place from (
                    (select 'account' as kind, id, number as code, name, number_fold as fold, 0 as rank from account where company_id = $1 and find_fold like $2 limit 200)
                    union all
                    (select 'account', a.id, a.number, a.name, l.number_fold, 0 from account_alias l join account a on a.company_id = l.company_id and a.id = l.account_id
                     where l.company_id = $1 and l.number_fold = $4 and l.number_fold <> a.number_fold)
                    union all
                    (select kind, id, code, name, code_fold, 1 from member where company_id = $1 and find_fold like $2 and kind <> 'task' limit 200)
                    union all
                    (select 'group:' || family, id, code, name, code_fold, 2 from grouping where company_id = $1 and find_fold like $2 limit 200)) any_kind) found
            where place <= $5
            order by (fold = $4) desc, rank, starts_with(fold, $4) desc, fold limit $3
            """, company, "%" + Escaped(fold) + "%", most, fold, MostOfAKind).List(row => new Found(row.GetString(0), row.GetInt32(1), row.GetString(2), row.GetString(3)), stop);
    }

    static string Escaped(string text) =>
        text.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_", StringComparison.Ordinal);
}
