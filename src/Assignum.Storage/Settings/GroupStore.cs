using Assignum.Core;
using Assignum.Core.Groups;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>Changes of posting groups, tax groups and their members.</summary>
public sealed class GroupStore(Draft draft)
{
    const int LongestCode = 20, LongestName = 100;

    /// <summary>Adds a group to the draft.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who adds it.</param>
    /// <param name="family">"party", "item", "party-tax" …</param>
    /// <param name="group">The group.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> AddGroup(int company, int user, string family, Group group, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            if (LabelFault(group.Code, group.Name) is { } fault)
                return fault;
            var stored = await change.Book();
            if (UnknownTaxGroup(stored.Labels, family, group.TaxGroup) is { } unknown)
                return unknown;
            var taken = await change.Command("select id, name, exists (select 1 from grouping_setting s where s.company_id = g.company_id and s.grouping_id = g.id and s.editions @> $4) from grouping g where company_id = $1 and family = $2 and code_fold = $3",
                change.Company, family, Fold.Of(group.Code), change.Edition).FirstOrDefault(row => (Id: (int?)row.GetInt32(0), Name: row.GetString(1), Live: row.GetBoolean(2)), change.Stop);
            if (taken.Live)
                return new Refusal("code", $"Group {group.Code} is there already, as {taken.Name}. Choose another code.");
            var id = taken.Id ?? await InsertGroup(change, family, group);
            await SetGroup(change, stored.Labels, family, id, group);
            await change.Log("group", id, $"{Title(family)} {group.Code} {group.Name} added.", null, group);
            return null;
        }, stop);

    /// <summary>Gives a group a new name at once, and another tax group in the draft.</summary>
    public Task<Refusal?> ChangeGroup(int company, int user, string family, string code, string name, string? taxGroup, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            if (LabelFault(code, name) is { } fault)
                return fault;
            var stored = await change.Book();
            if (stored.Labels.IdOf(Labels.Family(family), code) is not { } id)
                return new Refusal("code", $"There is no {Title(family).ToLowerInvariant()} {code} in the draft. Choose one that exists.");
            if (UnknownTaxGroup(stored.Labels, family, taxGroup) is { } unknown)
                return unknown;
            var was = GroupsOf(stored, family).First(g => Fold.Same(g.Code, code));
            if (was.Name != name.Trim())
            {
                await change.Command("update grouping set name = $3, find_fold = $4 where company_id = $1 and id = $2", change.Company, id, name.Trim(), Fold.Of($"{was.Code} {name}")).Run(change.Stop);
                change.HoldsAtOnce = true;
            }
            if (!Fold.Same(was.TaxGroup, taxGroup) && was.TaxGroup != taxGroup)
                await SetGroup(change, stored.Labels, family, id, was with { TaxGroup = taxGroup });
            await change.Log("group", id, $"{Title(family)} {was.Code} changed.", was, new Group(was.Code, name, taxGroup));
            return null;
        }, stop);

    /// <summary>Moves members to another group: in the draft, but at once for a member that never had one.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who moves them.</param>
    /// <param name="kind">"party" or "item".</param>
    /// <param name="codes">Codes of the members.</param>
    /// <param name="group">Code of the group they go to.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Move(int company, int user, string kind, IReadOnlyList<string> codes, string group, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            if (codes.Count == 0)
                return new Refusal("members", "No member is chosen. Tick those that shall move.");
            var stored = await change.Book();
            if (stored.Labels.IdOf(Labels.Family(kind), group) is not { } groupId)
                return new Refusal("group", $"There is no {kind} group {group} in the draft. Choose one that exists.");
            foreach (var code in codes)
            {
                if (stored.Labels.IdOf(kind, code) is not { } member)
                    return new Refusal("members", $"There is no {kind} {code}. Nothing was moved; choose again.");
                var was = kind == "party" ? stored.Book.Parties.First(p => Fold.Same(p.Code, code)).Group : stored.Book.Items.First(i => Fold.Same(i.Code, code)).Group;
                if (Fold.Same(was, group))
                    continue;
                if (was is null)
                    await FirstGroup(change, member, groupId);
                else
                    await MoveInDraft(change, member, groupId);
                await change.Log("member", member, was is null ? $"{Title(kind)} {code} put into its first group, {group}." : $"{Title(kind)} {code} moved from {was} to {group}.", was, group);
            }
            return null;
        }, stop);

    /// <summary>Adds a customer or supplier; it is there at once.</summary>
    public Task<Refusal?> AddParty(int company, int user, Party party, CancellationToken stop) =>
        AddMember(company, user, "party", party.Code, party.Name, party.Group, party.TaxGroup, unitCost: null, ("role", party.Role.Word()), stop);

    /// <summary>Adds an item; it is there at once.</summary>
    public Task<Refusal?> AddItem(int company, int user, Item item, CancellationToken stop) =>
        CostFault(item.Cost) is { } fault ? Task.FromResult<Refusal?>(fault)
            : AddMember(company, user, "item", item.Code, item.Name, item.Group, item.TaxGroup, item.Cost, ("item_kind", item.Kind.Word()), stop);

    /// <summary>Gives a member another name, and an item another cost; both hold at once.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who changes it.</param>
    /// <param name="kind">"party" or "item".</param>
    /// <param name="code">Code of the member.</param>
    /// <param name="name">Its new name.</param>
    /// <param name="unitCost">Cost of one unit of an item, company currency; null: unknown.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> ChangeMember(int company, int user, string kind, string code, string name, decimal? unitCost, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            if ((LabelFault(code, name) ?? CostFault(unitCost)) is { } fault)
                return fault;
            if ((await change.Book()).Labels.IdOf(kind, code) is not { } id)
                return new Refusal("code", $"There is no {kind} {code}. It may have been renamed; look for it anew.");
            await change.Command("update member set name = $3, find_fold = $4, unit_cost = $5 where company_id = $1 and id = $2", change.Company, id, name.Trim(), Fold.Of($"{code} {name}"), unitCost).Run(change.Stop);
            change.HoldsAtOnce = true;
            await change.Log("member", id, $"{Title(kind)} {code} is named {name.Trim()}{(unitCost is { } cost ? FormattableString.Invariant($" and costs {cost}") : "")}.", null, new { code, name, unitCost });
            return null;
        }, stop);

    static Refusal? CostFault(decimal? cost) =>
        cost is { } known && (known < 0 || !Money.HasAtMost(known, 6)) ? new Refusal("cost", $"Cost {known} must be 0 or more, with at most 6 decimals.") : null;

    Task<Refusal?> AddMember(int company, int user, string kind, string code, string name, string? group, string? taxGroup, decimal? unitCost, (string Column, string Value) own, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            if (LabelFault(code, name) is { } fault)
                return fault;
            var stored = await change.Book();
            if (stored.Labels.IdOf(kind, code) is not null)
                return new Refusal("code", $"{Title(kind)} {code} is there already. Choose another code.");
            var groupId = stored.Labels.IdOf(Labels.Family(kind), group);
            if (group is not null && groupId is null)
                return new Refusal("group", $"There is no {kind} group {group}. Choose one that exists.");
            if (UnknownTaxGroup(stored.Labels, kind, taxGroup) is { } unknown)
                return unknown;
            var id = await change.Command("insert into member (company_id, kind, code, code_fold, name, find_fold, unit_cost) values ($1, $2, $3, $4, $5, $6, $7) returning id",
                change.Company, kind, code.Trim(), Fold.Of(code), name.Trim(), Fold.Of($"{code} {name}"), unitCost).Value<int>(change.Stop);
            // New members hold in the edition in force, so that what they do today lands today.
            await change.Command($"insert into member_setting (company_id, member_id, tax_group_id, {own.Column}, introduced_in) values ($1, $2, $3, $4, $5)",
                change.Company, id, stored.Labels.IdOf(Labels.Family(kind + "-tax"), taxGroup), own.Value, stored.State.Edition).Run(change.Stop);
            if (groupId is { } first)
                await FirstGroup(change, id, first);
            change.HoldsAtOnce = true;
            await change.Log("member", id, $"{Title(kind)} {code} {name} added.", null, new { code, name, group, taxGroup });
            return null;
        }, stop);

    static async Task FirstGroup(DraftChange change, int member, int group)
    {
        change.HoldsAtOnce = true;
        await change.Command("insert into first_group (company_id, member_id, group_id, user_id) values ($1, $2, $3, $4)", change.Company, member, group, change.User).Run(change.Stop);
    }

    static async Task MoveInDraft(DraftChange change, int member, int group)
    {
        var kept = await change.Command("select tax_group_id, role, item_kind, tax_area, method, control_alternates from member_setting where company_id = $1 and member_id = $2 and editions @> $3", change.Company, member, change.Edition)
            .FirstOrDefault(row => new object?[] { row.IntOrNull(0), row.TextOrNull(1), row.TextOrNull(2), row.TextOrNull(3), row.TextOrNull(4), row.GetFieldValue<int[]>(5) }, change.Stop);
        await change.Set("member_setting", "member_id", member, ("group_id", group), ("tax_group_id", kept![0]), ("role", kept[1]), ("item_kind", kept[2]), ("tax_area", kept[3]), ("method", kept[4]), ("control_alternates", kept[5]));
    }

    static async Task<int> InsertGroup(DraftChange change, string family, Group group) =>
        await change.Command("insert into grouping (company_id, family, code, code_fold, name, find_fold) values ($1, $2, $3, $4, $5, $6) returning id",
            change.Company, family, group.Code.Trim(), Fold.Of(group.Code), group.Name.Trim(), Fold.Of($"{group.Code} {group.Name}")).Value<int>(change.Stop);

    static Task SetGroup(DraftChange change, Labels labels, string family, int id, Group group) =>
        change.Set("grouping_setting", "grouping_id", id, ("tax_group_id", labels.IdOf(Labels.Family(family + "-tax"), group.TaxGroup)));

    static Refusal? LabelFault(string code, string name) =>
        string.IsNullOrWhiteSpace(code) ? new Refusal("code", "The code is empty. Give it one, such as SEEDS.")
        : code.Trim().Length > LongestCode ? new Refusal("code", $"The code has {code.Trim().Length} characters. Shorten it to {LongestCode}.")
        : string.IsNullOrWhiteSpace(name) ? new Refusal("name", "The name is empty. Write what people shall read.")
        : name.Trim().Length > LongestName ? new Refusal("name", $"The name has {name.Trim().Length} characters. Shorten it to {LongestName}.")
        : null;

    static Refusal? UnknownTaxGroup(Labels labels, string family, string? taxGroup) =>
        taxGroup is null || labels.IdOf(Labels.Family(family + "-tax"), taxGroup) is not null ? null
        : new Refusal("taxGroup", $"There is no {family} tax group {taxGroup}. Choose one that exists.");

    static IReadOnlyList<Group> GroupsOf(StoredRulebook stored, string family) => family switch
    {
        "party" => stored.Book.PartyGroups,
        "item" => stored.Book.ItemGroups,
        "project" => stored.Book.ProjectGroups,
        "asset" => stored.Book.AssetGroups,
        "party-tax" => stored.Book.PartyTaxGroups,
        _ => stored.Book.ItemTaxGroups,
    };

    static string Title(string family) => family switch
    {
        "party" => "Party", "item" => "Item", "party-tax" => "Party tax group", "item-tax" => "Item tax group", _ => char.ToUpperInvariant(family[0]) + family[1..],
    };
}
