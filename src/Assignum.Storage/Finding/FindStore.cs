using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Finding;

/// <summary>Something found by a part of its number, code or name.</summary>
/// <param name="Kind">"account", "party", "item", "location", "project", "task", or "group:item" and the like, "document" or "entry".</param>
/// <param name="Id">Its id.</param>
/// <param name="Code">Its number or code.</param>
/// <param name="Name">Its name.</param>
public sealed record Found(string Kind, long Id, string Code, string Name);

/// <summary>The find box: words in any order, any part of number or name, by a trigram index.</summary>
public sealed class FindStore(NpgsqlDataSource source)
{
    const int MostOfAKind = 5, MostWords = 8;

    /// <summary>Finds accounts, also by a former number, members, groups, and documents by their numbers; an exact code first, then a few of each
    /// kind.</summary>
    public Task<List<Found>> Find(int company, string text, int most, CancellationToken stop)
    {
        var (fold, words) = (Fold.Of(text), new Sought(text).Words.Take(MostWords).ToArray());
        // Each word by the index; a text of signs only is looked for as it is.
        string[] parts = words.Length > 0 ? words : [fold];
        var fits = string.Join(" and ", parts.Select((_, i) => FormattableString.Invariant($"find_fold like ${i + 6}")));
        object?[] values = [company, most, fold, MostOfAKind, Escaped(fold) + "%", .. parts.Select(p => "%" + Escaped(p) + "%")];
        return source.Command($"""
            select kind, id, code, name from (
                select *, row_number() over (partition by kind order by (fold = $3) desc, starts_with(fold, $3) desc, fold) as place from (
                    (select 'account' as kind, id::bigint, number as code, name, number_fold as fold, 0 as rank from account where company_id = $1
                        and {fits} limit 200)
                    union all
                    (select 'account', a.id, a.number, a.name, l.number_fold, 0 from account_alias l join account a on a.company_id = l.company_id
                        and a.id = l.account_id
                     where l.company_id = $1 and l.number_fold = $3 and l.number_fold <> a.number_fold)
                    union all
                    (select kind, id, code, name, code_fold, 1 from member where company_id = $1 and {fits} and kind <> 'task' limit 200)
                    union all
                    (select 'group:' || family, id, code, name, code_fold, 2 from grouping where company_id = $1 and {fits} limit 200)
                    union all
                    (select 'document', n.id, coalesce(e.number, e.source_id), coalesce(p.name, e.type), upper(coalesce(e.number, e.source_id)), 3
                     from event e join entry n on n.company_id = e.company_id and n.event_id = e.id left join member p on p.company_id = e.company_id
                         and p.id = e.party_id
                     where e.company_id = $1 and length($3) > 1 and (upper(e.number) like $5 or upper(e.source_id) like $5) order by n.id desc limit 20)
                    union all
                    (select 'entry', n.id, n.number::text, coalesce(p.name, e.type), n.number::text, 3
                     from entry n join event e on e.company_id = n.company_id and e.id = n.event_id left join member p on p.company_id = n.company_id
                         and p.id = n.party_id
                     where n.company_id = $1 and $3 ~ '^[0-9]{"{1,18}"}$' and n.number = case when $3 ~ '^[0-9]{"{1,18}"}$' then $3::bigint end
                         order by n.id desc limit 5)) any_kind) found
            where place <= $4
            order by (fold = $3) desc, rank, starts_with(fold, $3) desc, fold limit $2
            """, values).List(row => new Found(row.GetString(0), row.GetInt64(1), row.GetString(2), row.GetString(3)), stop);
    }

    static string Escaped(string text) =>
        text.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("%", "\\%", StringComparison.Ordinal).Replace("_", "\\_", StringComparison.Ordinal);
}
