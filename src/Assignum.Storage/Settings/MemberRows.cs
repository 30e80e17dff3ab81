using Assignum.Core;
using Assignum.Core.Groups;

namespace Assignum.Storage.Settings;

/// <summary>What can change a landing about a member, by ids.</summary>
sealed record MemberSetting(int Id, int? Group = null, int? TaxGroup = null)
{
    internal string? Role { get; init; }
    internal string? ItemKind { get; init; }
    internal string? TaxArea { get; init; }
    internal int? Partner { get; init; }
    internal int[] Alternates { get; init; } = [];
    internal string? Method { get; init; }
    internal int? LifeMonths { get; init; }
    internal decimal? Percent { get; init; }
    internal decimal Residual { get; init; }

    /// <summary>Of a party.</summary>
    internal static MemberSetting Of(Party party, Labels labels) => new(0, GroupId(labels, "party", party.Group), GroupId(labels, "party-tax", party.TaxGroup))
    {
        Role = party.Role.Word(), TaxArea = party.TaxArea, Partner = labels.IdOf("partner", party.Partner),
        Alternates = [.. party.ControlAlternates.Select(number => labels.Account(number)!.Value)],
    };

    /// <summary>Of an item.</summary>
    internal static MemberSetting Of(Item item, Labels labels) =>
        new(0, GroupId(labels, "item", item.Group), GroupId(labels, "item-tax", item.TaxGroup)) { ItemKind = item.Kind.Word() };

    /// <summary>Of a project.</summary>
    internal static MemberSetting Of(Project project, Labels labels) =>
        new(0, GroupId(labels, "project", project.Group)) { Method = project.Method is { } method ? Words<ProjectMethod>.Of(method) : null };

    /// <summary>Of a task.</summary>
    internal static MemberSetting Of(ProjectTask task, Labels labels) => new(0, GroupId(labels, "project", task.Group));

    /// <summary>Of a fixed asset.</summary>
    internal static MemberSetting Of(Asset asset, Labels labels) => new(0, GroupId(labels, "asset", asset.Group), GroupId(labels, "item-tax", asset.TaxGroup))
    {
        Method = asset.Method is { } method ? Words<AssetMethod>.Of(method) : null, LifeMonths = asset.LifeMonths, Percent = asset.Percent,
        Residual = asset.Residual,
    };

    /// <summary>The same, depreciated in another way.</summary>
    internal MemberSetting With(AssetSpread spread) => this with
    {
        Method = spread.Method is { } method ? Words<AssetMethod>.Of(method) : null, LifeMonths = spread.LifeMonths, Percent = spread.Percent,
        Residual = spread.Residual,
    };

    static int? GroupId(Labels labels, string family, string? code) => labels.IdOf(Labels.Family(family), code);
}

/// <summary>Reads and writes settings of members, many at once.</summary>
static class MemberRows
{
    /// <summary>The settings the draft has.</summary>
    internal static Task<List<MemberSetting>> Read(DraftChange change, int[] ids) =>
        change.Command("""
            select s.member_id, coalesce(s.group_id, f.group_id), s.tax_group_id, s.role, s.item_kind, s.tax_area, s.method, s.control_alternates,
                s.partner_id, s.life_months, s.percent, s.residual
            from member_setting s
            left join first_group f on f.company_id = s.company_id and f.member_id = s.member_id
            where s.company_id = $1 and s.member_id = any($2) and s.editions @> $3
            """, change.Company, ids, change.Edition)
            .List(row => new MemberSetting(row.GetInt32(0), row.IntOrNull(1), row.IntOrNull(2))
            {
                Role = row.TextOrNull(3), ItemKind = row.TextOrNull(4), TaxArea = row.TextOrNull(5), Method = row.TextOrNull(6),
                Alternates = row.GetFieldValue<int[]>(7), Partner = row.IntOrNull(8), LifeMonths = row.IntOrNull(9), Percent = row.DecimalOrNull(10),
                Residual = row.GetDecimal(11),
            }, change.Stop);

    /// <summary>Gives members new settings in the draft.</summary>
    internal static Task Reset(DraftChange change, IReadOnlyList<MemberSetting> members) =>
        SettingTables.Members.Reset(change, NoLabels, [.. members.Select(m => (m.Id, m))]);

    /// <summary>Writes settings from an edition on.</summary>
    internal static Task Copy(DraftChange change, IEnumerable<MemberSetting> members, int edition) =>
        SettingTables.Members.Copy(change, NoLabels, members.Select(m => (m.Id, m)), edition);

    // A member's setting names everything by id already.
    static readonly Labels NoLabels = new();

    /// <summary>Puts members that never had a group into their first one, at once.</summary>
    internal static async Task FirstGroups(DraftChange change, IReadOnlyList<(int Member, int Group)> first)
    {
        if (first.Count == 0)
            return;
        change.HoldsAtOnce = true;
        await change.Command("insert into first_group (company_id, member_id, group_id, user_id) select $1, *, $4 from unnest($2::integer[], $3::integer[])",
            change.Company, first.Select(f => f.Member).ToArray(), first.Select(f => f.Group).ToArray(), change.User).Run(change.Stop);
    }

    /// <summary>Adds members by their labels.</summary>
    internal static async Task<IReadOnlyList<int>> Insert(DraftChange change, Labels labels, string kind,
        IReadOnlyList<(string Code, string Name, string? Owner, decimal? UnitCost)> members)
    {
        var ids = await change.Command("select nextval(pg_get_serial_sequence('member', 'id'))::integer from generate_series(1, $1)", members.Count).List(r =>
            r.GetInt32(0), change.Stop);
        await using var copy = await change.Connection.BeginBinaryImportAsync("copy member (company_id, id, kind, owner_id, code, code_fold, name, " +
            "find_fold, unit_cost) from stdin binary", change.Stop);
        for (var i = 0; i < members.Count; i++)
        {
            var (code, name, owner, cost) = members[i];
            await copy.StartRowAsync(change.Stop);
            copy.Write(change.Company);
            copy.Write(ids[i]);
            copy.Write(kind);
            copy.WriteOrNull(labels.IdOf("project", owner));
            copy.Write(code.Trim());
            copy.Write(Fold.Of(code));
            copy.Write(name.Trim());
            copy.Write(Fold.Of($"{code} {name}"));
            copy.WriteOrNull(cost);
            labels.Add(kind, ids[i], owner is null ? code.Trim() : owner + "/" + code.Trim());
        }
        await copy.CompleteAsync(change.Stop);
        return ids;
    }
}
