using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Taxes;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>The rows behind chosen changes of a draft.</summary>
sealed class SettingRows
{
    /// <summary>A row's thing: the place of its change, what its rows are found by, and what its hands are noted under.</summary>
    sealed record Row(string Place, object Subject, string Hand);

    readonly NpgsqlConnection connection;
    readonly int company, draft;
    readonly Dictionary<SettingTable, List<Row>> byTable = SettingTables.All.ToDictionary(t => t, _ => new List<Row>());

    SettingRows(NpgsqlConnection connection, int company, int draft) => (this.connection, this.company, this.draft) = (connection, company, draft);

    /// <summary>Finds the rows of changes by their places.</summary>
    internal static async Task<SettingRows> Of(NpgsqlConnection connection, int company, StoredRulebook released, StoredRulebook draft,
        IEnumerable<string> places, CancellationToken stop)
    {
        var rows = new SettingRows(connection, company, draft.Edition);
        var taxRules = new HashSet<string>(StringComparer.Ordinal);
        foreach (var place in places)
        {
            var slash = place.IndexOf('/', StringComparison.Ordinal);
            var (kind, key) = (place[..slash], place[(slash + 1)..]);
            if (kind == SettingKinds.Rules.Place)
                rows.Add(SettingTables.Rules, place, key);
            else if (kind == SettingKinds.Matches.Place)
                rows.Add(SettingTables.Matches, place, key);
            else if (kind == "ladders")
                rows.Add(SettingTables.Ladders, place, key);
            else if (kind == SettingKinds.Options.Place)
                rows.Add(SettingTables.Options, place, company);
            else if (kind == SettingKinds.TaxRules.Place)
                taxRules.Add(place);
            else if (SettingTables.ByPlace.TryGetValue(kind, out var at) && (draft.Labels.IdOf(at.List, key) ?? released.Labels.IdOf(at.List, key)) is { } id)
                rows.Add(at.Table, place, id);
        }
        if (taxRules.Count > 0)
            await rows.TakeTaxRules(taxRules, draft.Labels, stop);
        await rows.TakeTasks(stop);
        return rows;
    }

    void Add(SettingTable table, string place, object subject) => byTable[table].Add(new(place, subject, subject.ToString()!));

    async Task TakeTaxRules(HashSet<string> places, Labels labels, CancellationToken stop)
    {
        var changed = await connection.Command("select id, tax_area, party_tax_group_id, item_tax_group_id, lower(validity), rule_key from tax_rule where " +
            "company_id = $1 and (introduced_in = $2 or retired_in = $2)", company, draft)
            .List(row => (Id: row.GetInt64(0), Key: row.GetGuid(5).ToString(), Place: RulebookDifference.WhereOf(new TaxRule
            {
                TaxArea = row.TextOrNull(1), PartyTaxGroup = CodeOf("party-tax", row.IntOrNull(2)), ItemTaxGroup = CodeOf("item-tax", row.IntOrNull(3)),
                    TaxCode = "", From = row.DateOrNull(4),
            })), stop);
        byTable[SettingTables.TaxRules].AddRange(changed.Where(c => places.Contains(c.Place)).Select(c => new Row(c.Place, c.Id, c.Key)));

        string? CodeOf(string family, int? id) => id is { } known ? labels.CodeOf(Labels.Family(family), known) : null;
    }

    // A project changes with its tasks.
    async Task TakeTasks(CancellationToken stop)
    {
        var members = byTable[SettingTables.Members];
        var projects = members.Where(m => m.Place.StartsWith(SettingKinds.Projects.Place + "/", StringComparison.Ordinal)).ToDictionary(m => (int)m.Subject,
            m => m.Place);
        if (projects.Count > 0)
            foreach (var (owner, task) in await connection.Command("select owner_id, id from member where company_id = $1 and owner_id = any($2)", company,
                projects.Keys.ToArray()).List(row => (row.GetInt32(0), row.GetInt32(1)), stop))
                Add(SettingTables.Members, projects[owner], task);
    }

    /// <summary>Who made and who last altered each change, and every hand it was in, by place.</summary>
    internal async Task<IReadOnlyDictionary<string, ChangeAuthor>> Authors(CancellationToken stop)
    {
        var authors = new Dictionary<string, ChangeAuthor>(StringComparer.Ordinal);
        foreach (var (table, rows) in byTable.Where(t => t.Value.Count > 0))
        {
            var places = rows.ToLookup(r => r.Subject.ToString()!, r => r.Place);
            await foreach (var (of, author) in connection.Command($"""
                select t.{table.Subject}::text, c.made, c.by, u.shown_as, c.at
                from {table.Name} t
                cross join lateral (values (t.introduced_in, t.made_by, t.introduced_by, t.introduced_at), (t.retired_in, t.retired_by, t.retired_by,
                    t.retired_at)) as c (edition, made, by, at)
                left join app_user u on u.id = c.by
                where t.company_id = $1 and (t.introduced_in = $2 or t.retired_in = $2) and c.edition = $2 and t.{table.Subject} = any($3)
                order by c.at
                """, company, draft, SubjectsOf(table)).Stream(row =>
                    (row.GetString(0), ChangeAuthor.Of(row.IntOrNull(1), row.IntOrNull(2), row.TextOrNull(3), row.IsDBNull(4) ? null
                    : row.GetDateTime(4))), stop))
                foreach (var place in places[of])
                    authors[place] = authors.TryGetValue(place, out var before) ? author.After(before) : author;
            await AddHands(authors, table, rows, stop);
        }
        return authors;
    }

    // Hands of rows that were altered or taken out since.
    async Task AddHands(Dictionary<string, ChangeAuthor> authors, SettingTable table, List<Row> rows, CancellationToken stop)
    {
        var places = rows.ToLookup(r => r.Hand, r => r.Place);
        await foreach (var (hand, user) in connection.Command("select subject, user_id from setting_hand where company_id = $1 and edition = $2 and setting " +
            "= $3 and subject = any($4)", company, draft, table.Name, HandsOf(table))
            .Stream(row => (row.GetString(0), row.GetInt32(1)), stop))
            foreach (var place in places[hand])
                authors[place] = (authors.GetValueOrDefault(place) ?? ChangeAuthor.Nobody).With(user);
    }

    /// <summary>Moves every other change of the draft on to the next one.</summary>
    internal async Task LeaveTheRest(int edition, CancellationToken stop)
    {
        foreach (var table in SettingTables.All)
        {
            await connection.Command($"update {table.Name} set introduced_in = $2 + 1 where company_id = $1 and introduced_in = $2 and not {table.Subject} = " +
                "any($3)", company, edition, SubjectsOf(table)).Run(stop);
            await connection.Command($"update {table.Name} set retired_in = $2 + 1 where company_id = $1 and retired_in = $2 and not {table.Subject} = any($3)",
                company, edition, SubjectsOf(table)).Run(stop);
            await connection.Command("update setting_hand set edition = $2 + 1 where company_id = $1 and edition = $2 and setting = $3 and not subject = " +
                "any($4)", company, edition, table.Name, HandsOf(table)).Run(stop);
        }
    }

    /// <summary>Takes the changes back: what they brought goes, what they ended lives on, and nobody has them in hand any more.</summary>
    internal async Task Undo(CancellationToken stop)
    {
        foreach (var table in SettingTables.All.Where(t => byTable[t].Count > 0))
        {
            await connection.Command($"delete from {table.Name} where company_id = $1 and introduced_in = $2 and {table.Subject} = any($3)", company, draft,
                SubjectsOf(table)).Run(stop);
            await connection.Command($"update {table.Name} set retired_in = null where company_id = $1 and retired_in = $2 and {table.Subject} = any($3)",
                company, draft, SubjectsOf(table)).Run(stop);
            await connection.Command("delete from setting_hand where company_id = $1 and edition = $2 and setting = $3 and subject = any($4)", company, draft,
                table.Name, HandsOf(table)).Run(stop);
        }
    }

    /// <summary>What never was in any edition leaves its number or code free again.</summary>
    internal async Task ForgetLabels(DraftChange change)
    {
        var stop = change.Stop;
        if (SubjectsOf(SettingTables.Accounts) is int[] { Length: > 0 } accounts)
            foreach (var account in await connection.Command("select id from account a where company_id = $1 and id = any($2) and not exists (select 1 from " +
                "account_setting s where s.company_id = a.company_id and s.account_id = a.id)", company, accounts).List(row => row.GetInt32(0), stop))
                await Charts.AccountRemoval.Remove(change, account);
        if (SubjectsOf(SettingTables.Groups) is int[] { Length: > 0 } groups)
            await ForgetGroups(change, groups);
        if (SubjectsOf(SettingTables.TaxCodes) is int[] { Length: > 0 } codes)
            await connection.Command("delete from tax_code t where company_id = $1 and id = any($2) and not exists (select 1 from tax_code_setting s where " +
                "s.company_id = t.company_id and s.tax_code_id = t.id)", company, codes).Run(stop);
    }

    // Members whose first group it was have none again.
    async Task ForgetGroups(DraftChange change, int[] groups)
    {
        var gone = await connection.Command("select id from grouping g where company_id = $1 and id = any($2) and not exists (select 1 from grouping_setting " +
            "s where s.company_id = g.company_id and s.grouping_id = g.id)", company, groups).List(row => row.GetInt32(0), change.Stop);
        if (gone.Count == 0)
            return;
        if (await connection.Command("delete from first_group where company_id = $1 and group_id = any($2)", company, gone.ToArray()).Run(change.Stop) > 0)
            change.HoldsAtOnce = true;
        await connection.Command("delete from grouping_alias where company_id = $1 and grouping_id = any($2)", company, gone.ToArray()).Run(change.Stop);
        await connection.Command("delete from grouping where company_id = $1 and id = any($2)", company, gone.ToArray()).Run(change.Stop);
    }

    string[] HandsOf(SettingTable table) => [.. byTable[table].Select(r => r.Hand)];

    Array SubjectsOf(SettingTable table)
    {
        var subjects = byTable[table].Select(r => r.Subject);
        if (table == SettingTables.TaxRules)
            return subjects.Cast<long>().ToArray();
        if (table == SettingTables.Rules || table == SettingTables.Ladders || table == SettingTables.Matches)
            return subjects.Cast<string>().ToArray();
        return subjects.Cast<int>().ToArray();
    }
}
