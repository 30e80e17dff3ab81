using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Settings;
using Npgsql;

namespace Assignum.Storage.Journal;

/// <summary>Reads facts of what has landed by the codes that groups have today: a line keeps the code it landed with.</summary>
public sealed class FormerCodes(NpgsqlDataSource source)
{
    /// <summary>The facts with today's codes of groups.</summary>
    public async Task<IReadOnlyList<FactValue>> Now(int company, IReadOnlyList<FactValue> facts, CancellationToken stop)
    {
        var groups = facts.Where(f => Labels.ListOf(f.Fact)?.StartsWith("group:", StringComparison.Ordinal) == true).ToList();
        if (groups.Count == 0)
            return facts;
        var today = (await source.Command("""
            select a.family, a.code_fold, g.code from grouping_alias a join grouping g on g.company_id = a.company_id and g.id = a.grouping_id
            where a.company_id = $1 and (a.family, a.code_fold) in (select * from unnest($2::text[], $3::text[]))
            """, company, groups.Select(f => Labels.ListOf(f.Fact)!["group:".Length..]).ToArray(), groups.Select(f => Fold.Of(f.Code)).ToArray())
            .List(r => (Family: r.GetString(0), Fold: r.GetString(1), Code: r.GetString(2)), stop)).ToDictionary(r => (Labels.Family(r.Family), r.Fold), r =>
                r.Code);
        return today.Count == 0 ? facts
            : [.. facts.Select(f => Labels.ListOf(f.Fact) is { } list && today.TryGetValue((list, Fold.Of(f.Code)), out var code)
            ? f with { Code = code } : f)];
    }
}
