using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Taxes;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>The rows behind chosen changes of a draft.</summary>
sealed class SettingRows
{
    // Every table of settings, with the column that names the thing a row is about.
    internal static readonly IReadOnlyList<(string Table, string Subject)> Tables =
    [
        ("company_option", "company_id"), ("account_setting", "account_id"), ("grouping_setting", "grouping_id"), ("tax_code_setting", "tax_code_id"),
        ("member_setting", "member_id"), ("tax_rule", "id"), ("ladder", "purpose"), ("rule", "name"),
    ];

    static readonly Dictionary<string, (string Table, string List)> ByPlace = new(StringComparer.Ordinal)
    {
        ["accounts"] = ("account_setting", Labels.Accounts), ["taxCodes"] = ("tax_code_setting", Labels.TaxCodes),
        ["parties"] = ("member_setting", "party"), ["items"] = ("member_setting", "item"), ["projects"] = ("member_setting", "project"),
        ["partyGroups"] = ("grouping_setting", Labels.Family("party")), ["itemGroups"] = ("grouping_setting", Labels.Family("item")), ["projectGroups"] = ("grouping_setting", Labels.Family("project")),
        ["assetGroups"] = ("grouping_setting", Labels.Family("asset")), ["partyTaxGroups"] = ("grouping_setting", Labels.Family("party-tax")), ["itemTaxGroups"] = ("grouping_setting", Labels.Family("item-tax")),
    };

    readonly NpgsqlConnection connection;
    readonly int company, draft;
    readonly Dictionary<string, List<(string Place, object Subject)>> byTable = Tables.ToDictionary(t => t.Table, _ => new List<(string, object)>());

    SettingRows(NpgsqlConnection connection, int company, int draft) => (this.connection, this.company, this.draft) = (connection, company, draft);

    /// <summary>Finds the rows of changes by their places.</summary>
    internal static async Task<SettingRows> Of(NpgsqlConnection connection, int company, StoredRulebook released, StoredRulebook draft, IEnumerable<string> places, CancellationToken stop)
    {
        var rows = new SettingRows(connection, company, draft.Edition);
        var taxRules = new HashSet<string>(StringComparer.Ordinal);
        foreach (var place in places)
        {
            var slash = place.IndexOf('/', StringComparison.Ordinal);
            var (kind, key) = (place[..slash], place[(slash + 1)..]);
            if (kind == "rules")
                rows.byTable["rule"].Add((place, key));
            else if (kind == "ladders")
                rows.byTable["ladder"].Add((place, key));
            else if (kind == "company")
                rows.byTable["company_option"].Add((place, company));
            else if (kind == "taxRules")
                taxRules.Add(place);
            else if (ByPlace.TryGetValue(kind, out var at) && (draft.Labels.IdOf(at.List, key) ?? released.Labels.IdOf(at.List, key)) is { } id)
                rows.byTable[at.Table].Add((place, id));
        }
        if (taxRules.Count > 0)
            await rows.TakeTaxRules(taxRules, draft.Labels, stop);
        await rows.TakeTasks(stop);
        return rows;
    }

    async Task TakeTaxRules(HashSet<string> places, Labels labels, CancellationToken stop)
    {
        var changed = await connection.Command("select id, tax_area, party_tax_group_id, item_tax_group_id, lower(validity) from tax_rule where company_id = $1 and (introduced_in = $2 or retired_in = $2)", company, draft)
            .List(row => (Id: row.GetInt64(0), Place: RulebookDifference.WhereOf(new TaxRule
            {
                TaxArea = row.TextOrNull(1), PartyTaxGroup = CodeOf("party-tax", row.IntOrNull(2)), ItemTaxGroup = CodeOf("item-tax", row.IntOrNull(3)), TaxCode = "", From = row.DateOrNull(4),
            })), stop);
        byTable["tax_rule"].AddRange(changed.Where(c => places.Contains(c.Place)).Select(c => (c.Place, (object)c.Id)));

        string? CodeOf(string family, int? id) => id is { } known ? labels.CodeOf(Labels.Family(family), known) : null;
    }

    // A project changes with its tasks.
    async Task TakeTasks(CancellationToken stop)
    {
        var projects = byTable["member_setting"].Where(m => m.Place.StartsWith("projects/", StringComparison.Ordinal)).ToDictionary(m => (int)m.Subject, m => m.Place);
        if (projects.Count > 0)
            byTable["member_setting"].AddRange(await connection.Command("select id, owner_id from member where company_id = $1 and owner_id = any($2)", company, projects.Keys.ToArray())
                .List(row => (projects[row.GetInt32(1)], (object)row.GetInt32(0)), stop));
    }

    /// <summary>Who made or last altered each change.</summary>
    internal async Task<IReadOnlyDictionary<string, ChangeAuthor>> Authors(CancellationToken stop)
    {
        var authors = new Dictionary<string, ChangeAuthor>(StringComparer.Ordinal);
        foreach (var (table, subject) in Tables.Where(t => byTable[t.Table].Count > 0))
        {
            var places = byTable[table].ToLookup(r => r.Subject.ToString()!, r => r.Place);
            await foreach (var (of, author) in connection.Command($"""
                select t.{subject}::text, c.made, c.by, u.shown_as, c.at
                from {table} t
                cross join lateral (values (t.introduced_in, t.made_by, t.introduced_by, t.introduced_at), (t.retired_in, t.retired_by, t.retired_by, t.retired_at)) as c (edition, made, by, at)
                left join app_user u on u.id = c.by
                where t.company_id = $1 and (t.introduced_in = $2 or t.retired_in = $2) and c.edition = $2 and t.{subject} = any($3)
                order by c.at
                """, company, draft, SubjectsOf(table)).Stream(row => (row.GetString(0), new ChangeAuthor(row.IntOrNull(1), row.IntOrNull(2), row.TextOrNull(3), row.IsDBNull(4) ? null : row.GetDateTime(4))), stop))
                foreach (var place in places[of])
                    authors[place] = author;
        }
        return authors;
    }

    /// <summary>Moves every other change of the draft on to the next one.</summary>
    internal async Task LeaveTheRest(int edition, CancellationToken stop)
    {
        foreach (var (table, subject) in Tables)
        {
            await connection.Command($"update {table} set introduced_in = $2 + 1 where company_id = $1 and introduced_in = $2 and not {subject} = any($3)", company, edition, SubjectsOf(table)).Run(stop);
            await connection.Command($"update {table} set retired_in = $2 + 1 where company_id = $1 and retired_in = $2 and not {subject} = any($3)", company, edition, SubjectsOf(table)).Run(stop);
        }
    }

    /// <summary>Takes the changes back: what they brought goes, what they ended lives on.</summary>
    internal async Task Undo(CancellationToken stop)
    {
        foreach (var (table, subject) in Tables.Where(t => byTable[t.Table].Count > 0))
        {
            await connection.Command($"delete from {table} where company_id = $1 and introduced_in = $2 and {subject} = any($3)", company, draft, SubjectsOf(table)).Run(stop);
            await connection.Command($"update {table} set retired_in = null where company_id = $1 and retired_in = $2 and {subject} = any($3)", company, draft, SubjectsOf(table)).Run(stop);
        }
    }

    /// <summary>What never was in any edition leaves its number or code free again.</summary>
    internal async Task ForgetLabels(DraftChange change)
    {
        var stop = change.Stop;
        if (SubjectsOf("account_setting") is int[] { Length: > 0 } accounts)
            foreach (var account in await connection.Command("select id from account a where company_id = $1 and id = any($2) and not exists (select 1 from account_setting s where s.company_id = a.company_id and s.account_id = a.id)", company, accounts).List(row => row.GetInt32(0), stop))
                await Charts.AccountRemoval.Remove(change, account);
        if (SubjectsOf("grouping_setting") is int[] { Length: > 0 } groups)
            await connection.Command("delete from grouping g where company_id = $1 and id = any($2) and not exists (select 1 from grouping_setting s where s.company_id = g.company_id and s.grouping_id = g.id)", company, groups).Run(stop);
        if (SubjectsOf("tax_code_setting") is int[] { Length: > 0 } codes)
            await connection.Command("delete from tax_code t where company_id = $1 and id = any($2) and not exists (select 1 from tax_code_setting s where s.company_id = t.company_id and s.tax_code_id = t.id)", company, codes).Run(stop);
    }

    Array SubjectsOf(string table)
    {
        var subjects = byTable[table].Select(r => r.Subject);
        return table switch
        {
            "rule" or "ladder" => subjects.Cast<string>().ToArray(),
            "tax_rule" => subjects.Cast<long>().ToArray(),
            _ => subjects.Cast<int>().ToArray(),
        };
    }
}
