using System.Security.Cryptography;
using System.Text;
using Assignum.Core;
using Assignum.Core.Matching;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>Matches of connections as rows of settings: our side by id, so that a renamed code stays matched.</summary>
static class MatchRows
{
    /// <summary>Matches of an edition, in the order of their keys.</summary>
    internal static Task<List<Match>> Read(NpgsqlConnection connection, int company, int edition, CancellationToken stop) =>
        connection.Command("""
            select m.connection, m.list, m.theirs, coalesce(i.code, g.code, t.code)
            from match_setting m
            left join member i on i.company_id = m.company_id and i.id = m.item_id
            left join grouping g on g.company_id = m.company_id and g.id = m.group_id
            left join tax_code t on t.company_id = m.company_id and t.id = m.tax_code_id
            where m.company_id = $1 and m.editions @> $2 order by m.key
            """, company, edition).List(row => new Match
        {
            Connection = row.GetString(0), List = Words<SettingList>.Parse(row.GetString(1)), Theirs = row.GetString(2), Ours = row.GetString(3),
        }, stop);

    /// <summary>Makes the draft's matches those that are wanted; what is the same stays.</summary>
    internal static async Task Put(DraftChange change, Labels labels, IReadOnlyList<Match> before, IReadOnlyList<Match> after)
    {
        var known = before.ToDictionary(m => m.Key, m => Fold.Of(m.Ours));
        var wanted = after.Select(m => m.Key).ToHashSet(StringComparer.Ordinal);
        await End(change, [.. known.Keys.Where(key => !wanted.Contains(key))]);
        await Set(change, labels, [.. after.Where(m => known.GetValueOrDefault(m.Key) != Fold.Of(m.Ours))]);
    }

    /// <summary>Sets matches in the draft, each in the place of one there may be.</summary>
    internal static async Task Set(DraftChange change, Labels labels, IReadOnlyList<Match> matches)
    {
        if (matches.Count == 0)
            return;
        await End(change, [.. matches.Select(m => m.Key)]);
        int?[] Ids(SettingList list, string of) => [.. matches.Select(m => m.List == list ? labels.IdOf(of, m.Ours) : null)];
        await change.Command("""
            insert into match_setting (company_id, key, connection, list, theirs, item_id, group_id, tax_code_id, match_key, introduced_in)
            select $1, k, c, l, t, i, g, x, m, $10
            from unnest($2::text[], $3::text[], $4::text[], $5::text[], $6::integer[], $7::integer[], $8::integer[], $9::uuid[]) as n (k, c, l, t, i, g, x, m)
            """, change.Company, matches.Select(m => m.Key).ToArray(), matches.Select(m => m.Connection).ToArray(),
            matches.Select(m => Words<SettingList>.Of(m.List)).ToArray(), matches.Select(m => m.Theirs).ToArray(), Ids(SettingList.Items, "item"),
            Ids(SettingList.Categories, Labels.Family("item")), Ids(SettingList.TaxCodes, Labels.TaxCodes),
            matches.Select(m => KeyOf(change.Company, m)).ToArray(), change.Edition).Run(change.Stop);
    }

    /// <summary>Ends matches in the draft.</summary>
    internal static async Task End(DraftChange change, string[] keys)
    {
        if (keys.Length == 0)
            return;
        await change.Command("delete from match_setting where company_id = $1 and key = any($2) and introduced_in = $3", change.Company, keys,
            change.Edition).Run(change.Stop);
        await change.Command("update match_setting set retired_in = $3 where company_id = $1 and key = any($2) and retired_in is null", change.Company, keys,
            change.Edition).Run(change.Stop);
    }

    static Guid KeyOf(int company, Match match) =>
        new(SHA256.HashData(Encoding.UTF8.GetBytes(FormattableString.Invariant($"{company}\u001fmatch\u001f{match.Key}"))).AsSpan(0, 16), bigEndian: true);
}
