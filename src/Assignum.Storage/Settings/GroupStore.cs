using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>What shall change about a member in the draft; null leaves it as it is.</summary>
/// <param name="Code">Code of the member; of a task with its project: "P-1/10".</param>
public sealed record MemberChange(string Code)
{
    /// <summary>Posting group.</summary>
    public string? Group { get; init; }
    /// <summary>Tax group of its own; empty: none, so that its posting group's holds.</summary>
    public string? TaxGroup { get; init; }
    /// <summary>Role of a party, as the formats spell it.</summary>
    public string? Role { get; init; }
    /// <summary>Kind of an item, as the formats spell it.</summary>
    public string? ItemKind { get; init; }
    /// <summary>Place that decides a party's tax; empty: none.</summary>
    public string? TaxArea { get; init; }
    /// <summary>Company of the group that a party is; empty: none.</summary>
    public string? Partner { get; init; }
    /// <summary>Method of a project, as the formats spell it.</summary>
    public string? Method { get; init; }
    /// <summary>How a fixed asset is depreciated, as a whole.</summary>
    public AssetSpread? Spread { get; init; }
}

/// <summary>How a fixed asset is depreciated.</summary>
/// <param name="Method">Its method; null: it is not.</param>
/// <param name="LifeMonths">Months of its life, above 0, or null.</param>
/// <param name="Percent">Per cent a year, above 0 and below 100, or null.</param>
/// <param name="Residual">What is left at the end, company currency, 0 or more.</param>
public sealed record AssetSpread(AssetMethod? Method, int? LifeMonths, decimal? Percent, decimal Residual)
{
    /// <summary>Why it can't be meant; null: it can.</summary>
    internal Refusal? Fault
    {
        get
        {
            var asset = new Asset { Code = "", Method = Method, LifeMonths = LifeMonths, Percent = Percent, Residual = Residual };
            if (asset.WhyMalformed is { } malformed)
                return new Refusal("spread", char.ToUpperInvariant(malformed[0]) + malformed[1..]);
            return asset.Lacks is { } lack ? new Refusal("spread", $"By this method it needs {lack}. Give it, or leave the method empty.") : null;
        }
    }
}

/// <summary>A member that is added.</summary>
/// <param name="Code">Its code.</param>
/// <param name="Name">Its name.</param>
/// <param name="What">Kind of an item, role of a party, method of a project or an asset; null: none.</param>
/// <param name="Group">Posting group, or null.</param>
/// <param name="TaxGroup">Tax group of its own, or null.</param>
public sealed record NewMember(string Code, string Name, string? What, string? Group, string? TaxGroup)
{
    /// <summary>Cost of one unit of an item, company currency; null: unknown.</summary>
    public decimal? Cost { get; init; }
    /// <summary>Project of a task.</summary>
    public string? Owner { get; init; }
    /// <summary>How a fixed asset is depreciated.</summary>
    public AssetSpread? Spread { get; init; }
    /// <summary>Company of the group that a party is, or null.</summary>
    public string? Partner { get; init; }

    internal MemberSetting Setting(string kind, int id, Labels labels)
    {
        var plain = new MemberSetting(id, TaxGroup: labels.IdOf(Labels.Family(GroupStore.TaxFamily(kind)), TaxGroup));
        return kind switch
        {
            "party" => plain with { Role = What, Partner = labels.IdOf("partner", Partner) },
            "item" => plain with { ItemKind = What },
            "project" => plain with { Method = What },
            "asset" when Spread is { } spread => plain.With(spread),
            _ => plain,
        };
    }
}

/// <summary>Changes of posting groups, tax groups and their members.</summary>
public sealed class GroupStore(Draft draft, NpgsqlDataSource source)
{
    const int LongestCode = 20, LongestName = 100, MostLogged = 50;
    const decimal LargestCost = 10_000_000_000_000m;

    /// <summary>Adds a group to the draft.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who adds it.</param>
    /// <param name="family">"party", "item", "party-tax" …</param>
    /// <param name="group">The group.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="copyOf">Code of a group whose rules it begins with, or null.</param>
    public Task<Refusal?> AddGroup(int company, int user, string family, Group group, CancellationToken stop, string? copyOf = null) =>
        draft.Change(company, user, async change =>
        {
            if (LabelFault(group.Code, group.Name) is { } fault)
                return fault;
            var stored = await change.Book();
            if (UnknownTaxGroup(stored.Labels, family, group.TaxGroup) is { } unknown)
                return unknown;
            if (await TakenBy(change, family, group.Code, null) is { } former)
                return former;
            var ended = await change.Command("select id from grouping where company_id = $1 and family = $2 and code_fold = $3", change.Company, family,
                Fold.Of(group.Code)).FirstOrDefault(row => (int?)row.GetInt32(0), change.Stop);
            var id = ended ?? await InsertGroup(change, family, group);
            await SetGroup(change, stored.Labels, family, id, group);
            if (copyOf is not null && stored.Book.GroupsOf(family).FirstOrDefault(g => Fold.Same(g.Code, copyOf)) is not { })
                return new Refusal("copyOf", $"There is no {GroupFamilies.Title(family).ToLowerInvariant()} {copyOf}. Choose one that exists, or start " +
                    "without rules.");
            var copied = copyOf is null ? 0 : await CopyRules(change, await change.Book(), family, copyOf, group.Code.Trim());
            await change.Log("group", id, $"{GroupFamilies.Title(family)} {group.Code} {group.Name} " +
                $"added{(copyOf is null ? "" : $" with {copied} rules, as {copyOf} has them")}.", null, group);
            return null;
        }, stop);

    // Every rule that asks for the one asks for the other too, with the same account, dates and other facts.
    static async Task<int> CopyRules(DraftChange change, StoredRulebook now, string family, string from, string to)
    {
        var (fact, names) = (GroupFamilies.FactOf(family), new RuleNames(now.Book));
        bool Asks(IReadOnlyList<FactValue> when) => when.Any(w => w.Fact == fact && Fold.Same(w.Code, from));
        List<Rule> rules = [.. now.Book.Rules.Where(r => Asks(r.When)).Select(r =>
            r with { Id = names.Next(), When = [.. r.When.Select(w => w.Fact == fact && Fold.Same(w.Code, from) ? w with { Code = to } : w)] })];
        await RuleRows.Copy(change, now.Labels, rules);
        var taxRules = family.EndsWith("-tax", StringComparison.Ordinal) ? now.Book.TaxRules.Where(r => Asks(r.When())).ToList() : [];
        foreach (var rule in taxRules)
            await TaxStore.Insert(change, now.Labels, family == "party-tax" ? rule with { PartyTaxGroup = to } : rule with { ItemTaxGroup = to });
        return rules.Count + taxRules.Count;
    }

    /// <summary>Gives a group a new name at once, and another tax group in the draft.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who changes it.</param>
    /// <param name="family">Its family.</param>
    /// <param name="code">Its code.</param>
    /// <param name="name">Its name.</param>
    /// <param name="taxGroup">Tax group of its members, or null.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="seen">What the user saw of it; null where nobody looked.</param>
    public Task<Refusal?> ChangeGroup(int company, int user, string family, string code, string name, string? taxGroup, CancellationToken stop,
        string? seen = null) =>
        draft.Change(company, user, async change =>
        {
            if (LabelFault(code, name) is { } fault)
                return fault;
            var stored = await change.Book();
            if (stored.Labels.IdOf(Labels.Family(family), code) is not { } id)
                return new Refusal("code", $"There is no {GroupFamilies.Title(family).ToLowerInvariant()} {code} in the draft. Choose one that exists.");
            if (Stale(AsSeen.Group(stored.Book, family, code), seen, code) is { } stale)
                return stale;
            if (UnknownTaxGroup(stored.Labels, family, taxGroup) is { } unknown)
                return unknown;
            var was = stored.Book.GroupsOf(family).First(g => Fold.Same(g.Code, code));
            if (was.Name != name.Trim())
            {
                await change.Command("update grouping set name = $3, find_fold = $4 where company_id = $1 and id = $2", change.Company, id, name.Trim(),
                    Fold.Of($"{was.Code} {name}")).Run(change.Stop);
                change.HoldsAtOnce = true;
            }
            if (!Fold.Same(was.TaxGroup, taxGroup) && was.TaxGroup != taxGroup)
                await SetGroup(change, stored.Labels, family, id, was with { TaxGroup = taxGroup });
            await change.Log("group", id, $"{GroupFamilies.Title(family)} {was.Code} changed.", was, new Group(was.Code, name, taxGroup));
            return null;
        }, stop);

    /// <summary>The group that new members of a family begin in; null: none.</summary>
    public Task<string?> DefaultGroup(int company, string family, CancellationToken stop) => source.Command(DefaultSql, company, family)
        .FirstOrDefault(row => row.TextOrNull(0), stop);

    const string DefaultSql = "select code from grouping where company_id = $1 and family = $2 and is_default";

    /// <summary>Says which group new members of a family begin in, from now on; null: none.</summary>
    public Task<Refusal?> SetDefaultGroup(int company, int user, string family, string? code, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var id = (await change.Book()).Labels.IdOf(Labels.Family(family), code);
            if (code is not null && id is null)
                return new Refusal("code", $"There is no {GroupFamilies.Title(family).ToLowerInvariant()} {code}. Choose one that exists.");
            await change.Command("update grouping set is_default = false where company_id = $1 and family = $2 and is_default", change.Company, family)
                .Run(change.Stop);
            await change.Command("update grouping set is_default = true where company_id = $1 and id = $2", change.Company, id).Run(change.Stop);
            change.OnlyDescribes = true;
            await change.Log("group", id ?? 0, code is null ? $"New {family}s begin without a group." : $"New {family}s begin in group {code}.", null, null);
            return null;
        }, stop);

    /// <summary>Moves members to another group: in the draft, but at once for a member that never had one.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who moves them.</param>
    /// <param name="kind">"party", "item", "project" or "task".</param>
    /// <param name="codes">Codes of the members.</param>
    /// <param name="group">Code of the group they go to.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="seen">State of the settings in which the members were seen; null where nobody looked.</param>
    public Task<Refusal?> Move(int company, int user, string kind, IReadOnlyList<string> codes, string group, CancellationToken stop,
        SettingsState? seen = null) =>
        Reset(company, user, kind, [.. codes.Select(code => new MemberChange(code) { Group = group })], stop, seen);

    /// <summary>Gives members other settings in the draft; a first group holds at once.</summary>
    public Task<Refusal?> Reset(int company, int user, string kind, IReadOnlyList<MemberChange> changes, CancellationToken stop, SettingsState? seen = null) =>
        draft.Change(company, user, async change =>
        {
            if (changes.Count == 0)
                return new Refusal("members", "No member is chosen. Tick those to move.");
            var stored = await change.Book();
            if (seen is { } looked && (looked.InDraft, looked.AtOnce) != (stored.State.InDraft, stored.State.AtOnce))
                return new Refusal("members", "The settings have changed since you looked at this list, so nothing was moved. Look at the members again, " +
                    "then move them.");
            return await Reset(change, stored, kind, changes);
        }, stop);

    internal static async Task<Refusal?> Reset(DraftChange change, StoredRulebook stored, string kind, IReadOnlyList<MemberChange> changes)
    {
        var labels = stored.Labels;
        if (FaultOf(labels, kind, changes) is { } fault)
            return fault;
        var family = kind == "task" ? "project" : kind;
        var settings = (await MemberRows.Read(change, [.. changes.Select(c => labels.IdOf(kind, c.Code)!.Value)])).ToDictionary(s => s.Id);
        var (first, again, sentences) = (new List<(int, int)>(), new List<MemberSetting>(), new List<string>());
        var inForce = await change.InForce();
        foreach (var wanted in changes)
        {
            var was = settings[labels.IdOf(kind, wanted.Code)!.Value];
            var group = wanted.Group is null ? was.Group : labels.IdOf(Labels.Family(family), wanted.Group);
            var now = was with
            {
                Group = was.Group is null && HoldsAtOnce(inForce, family, wanted.Group) ? null : group, TaxGroup = wanted.TaxGroup is null ? was.TaxGroup
                    : labels.IdOf(Labels.Family(TaxFamily(family)), wanted.TaxGroup.Length == 0 ? null : wanted.TaxGroup),
                Role = wanted.Role ?? was.Role, ItemKind = wanted.ItemKind ?? was.ItemKind,
                TaxArea = wanted.TaxArea is { } area ? TextOrNone(area) : was.TaxArea,
                Partner = wanted.Partner is { } partner ? labels.IdOf("partner", TextOrNone(partner)) : was.Partner,
                Method = wanted.Method is { } method ? TextOrNone(method) : was.Method,
            };
            if (wanted.Spread is { } spread)
                now = now.With(spread);
            if (was.Group is null && group is { } one && now.Group is null)
            {
                first.Add((was.Id, one));
                sentences.Add($"{Title(kind)} {wanted.Code} put into its first group, {wanted.Group}.");
            }
            if (now == was)
                continue;
            again.Add(now);
            var moved = now.Group == was.Group ? "changed" : Moved(labels.CodeOrNull(Labels.Family(family), was.Group), wanted.Group);
            var more = now.Group != was.Group && now with { Group = was.Group } != was ? ", and changed" : "";
            sentences.Add($"{Title(kind)} {wanted.Code} {moved}{more}.");
        }
        await MemberRows.FirstGroups(change, first);
        await MemberRows.Reset(change, again);
        if (sentences.Count > MostLogged)
            await change.Log("member", 0, $"{sentences.Count} {kind}s changed, first: {sentences[0]}", null, sentences.Take(2000));
        else
            foreach (var sentence in sentences)
                await change.Log("member", 0, sentence, null, null);
        return null;
    }

    // A group that only the draft has can't hold at once: the first group waits with it.
    static bool HoldsAtOnce(StoredRulebook inForce, string family, string? group) =>
        group is null || inForce.Book.GroupsOf(family).Any(g => Fold.Same(g.Code, group));

    internal static Refusal? Stale(AsSeen now, string? seen, string code) =>
        seen is not null && now.ChangedSince(seen) is { } changed
            ? new Refusal("", $"Somebody else has changed {code} since you opened it: {changed}. Open it again, then make your change.") : null;

    static Refusal? FaultOf(Labels labels, string kind, IReadOnlyList<MemberChange> changes)
    {
        var family = kind == "task" ? "project" : kind;
        foreach (var wanted in changes)
        {
            if (labels.IdOf(kind, wanted.Code) is null)
                return new Refusal("members", $"There is no {kind} {wanted.Code}. Nothing was changed; choose again.");
            if (wanted.Group is not null && labels.IdOf(Labels.Family(family), wanted.Group) is null)
                return new Refusal("group", $"There is no {family} group {wanted.Group} in the draft. Choose one that exists.");
            if (wanted.TaxGroup is { Length: > 0 } && UnknownTaxGroup(labels, family, wanted.TaxGroup) is { } unknown)
                return unknown;
            if (UnknownPartner(labels, wanted.Partner) is { } stranger)
                return stranger;
            if (wanted.Method is { Length: > 0 } method && !Words<ProjectMethod>.TryParse(method, out _))
                return new Refusal("method", $"There is no method {method}. Choose one of {string.Join(", ", Words<ProjectMethod>.All)}.");
            if (wanted.Spread?.Fault is { } malformed)
                return malformed;
        }
        return null;
    }

    /// <summary>Adds an item; it is there at once.</summary>
    public Task<Refusal?> AddItem(int company, int user, Item item, CancellationToken stop) =>
        Add(company, user, "item", new NewMember(item.Code, item.Name, item.Kind.Word(), item.Group, item.TaxGroup) { Cost = item.Cost }, stop);

    /// <summary>Adds a customer or supplier; it is there at once.</summary>
    public Task<Refusal?> AddParty(int company, int user, Party party, CancellationToken stop) =>
        Add(company, user, "party", new NewMember(party.Code, party.Name, party.Role.Word(), party.Group, party.TaxGroup) { Partner = party.Partner }, stop);

    /// <summary>Adds a member of a kind; it is there at once.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who adds it.</param>
    /// <param name="kind">"party", "item", "location", "project", "task", "asset" or "partner".</param>
    /// <param name="member">The member.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> Add(int company, int user, string kind, NewMember member, CancellationToken stop) =>
        CostFault(member.Cost) is { } fault ? Task.FromResult<Refusal?>(fault)
            : draft.Change(company, user, change => AddMembers(change, kind, [member]), stop);

    /// <summary>Gives a member another name, and an item another cost; both hold at once. Other settings go into the draft.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who changes it.</param>
    /// <param name="kind">"party" or "item".</param>
    /// <param name="code">Code of the member.</param>
    /// <param name="name">Its new name.</param>
    /// <param name="unitCost">Cost of one unit of an item, company currency; null: unknown.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="settings">What shall change in the draft, or null.</param>
    /// <param name="seen">What the user saw of it; null where nobody looked.</param>
    public Task<Refusal?> ChangeMember(int company, int user, string kind, string code, string name, decimal? unitCost, CancellationToken stop,
        MemberChange? settings = null, string? seen = null) =>
        draft.Change(company, user, async change =>
        {
            if ((LabelFault(code, name) ?? CostFault(unitCost)) is { } fault)
                return fault;
            var stored = await change.Book();
            if (stored.Labels.IdOf(kind, code) is not { } id)
                return new Refusal("code", $"There is no {kind} {code}. It may have been renamed; look for it again.");
            if (Stale(AsSeen.Member(stored.Book, kind, code), seen, code) is { } stale)
                return stale;
            if (settings is not null && await Reset(change, stored, kind, [settings]) is { } refused)
                return refused;
            var was = await change.Command("select name, unit_cost from member where company_id = $1 and id = $2", change.Company, id).FirstOrDefault(row =>
                (Name: row.GetString(0), Cost: row.DecimalOrNull(1)), change.Stop);
            if (was.Name == name.Trim() && was.Cost == unitCost)
                return null;
            await change.Command("update member set name = $3, find_fold = $4, unit_cost = $5 where company_id = $1 and id = $2", change.Company, id,
                name.Trim(), Fold.Of($"{code} {name}"), unitCost).Run(change.Stop);
            change.HoldsAtOnce = true;
            await change.Log("member", id,
                $"{Title(kind)} {code} is named {name.Trim()}{(unitCost is { } cost ? FormattableString.Invariant($" and costs {cost}") : "")}.", null,
                new { code, name, unitCost });
            return null;
        }, stop);

    static Refusal? CostFault(decimal? cost) =>
        cost is { } known && (known < 0 || known >= LargestCost || !Money.HasAtMost(known, 6))
            ? new Refusal("cost", $"Cost {known} must be 0 or more, below {LargestCost:N0}, with at most 6 decimals.") : null;

    /// <summary>Adds members of a kind; they are there at once, with their first group.</summary>
    /// <param name="change">The change of the draft they belong to.</param>
    /// <param name="kind">"item", "party", "project", "task", "location", "asset" or "partner".</param>
    /// <param name="members">The members.</param>
    internal static async Task<Refusal?> AddMembers(DraftChange change, string kind, IReadOnlyList<NewMember> members)
    {
        var stored = await change.Book();
        var (labels, family) = (stored.Labels, kind == "task" ? "project" : kind);
        if (kind == "project" && await change.Command(DefaultSql, change.Company, family).FirstOrDefault(row => row.TextOrNull(0), change.Stop) is { } first)
            members = [.. members.Select(m => m.Group is null ? m with { Group = first } : m)];
        if (members.Select(m => FaultOf(labels, kind, family, m)).FirstOrDefault(f => f is not null) is { } fault)
            return fault;
        var ids = await MemberRows.Insert(change, labels, kind, [.. members.Select(m => (m.Code, m.Name, m.Owner, m.Cost))]);
        // New members hold in the edition in force, so that what they do today lands today.
        await MemberRows.Copy(change, ids.Zip(members, (id, member) => member.Setting(kind, id, labels)), stored.State.Edition);
        var inForce = await change.InForce();
        var grouped = ids.Zip(members).Where(m => m.Second.Group is not null).Select(m =>
            (Id: m.First, Group: labels.IdOf(Labels.Family(family), m.Second.Group)!.Value, AtOnce: HoldsAtOnce(inForce, family, m.Second.Group))).ToList();
        await MemberRows.FirstGroups(change, [.. grouped.Where(g => g.AtOnce).Select(g => (g.Id, g.Group))]);
        var later = grouped.Where(g => !g.AtOnce).ToDictionary(g => g.Id, g => g.Group);
        if (later.Count > 0)
            await MemberRows.Reset(change, [.. (await MemberRows.Read(change, [.. later.Keys])).Select(m => m with { Group = later[m.Id] })]);
        change.HoldsAtOnce = true;
        if (members.Count > MostLogged)
            await change.Log("member", 0, $"{members.Count} {kind}s added, first: {members[0].Code} {members[0].Name}.", null, members.Take(2000));
        else
            foreach (var (id, member) in ids.Zip(members))
                await change.Log("member", id, $"{Title(kind)} {member.Code} {member.Name} added.", null,
                    new { code = member.Code, name = member.Name, group = member.Group, taxGroup = member.TaxGroup });
        return null;
    }

    static string? TextOrNone(string typed) => typed.Length == 0 ? null : typed;

    static Refusal? FaultOf(Labels labels, string kind, string family, NewMember member)
    {
        if (LabelFault(member.Code, member.Name) is { } fault)
            return fault;
        if (member.Owner is not null && labels.IdOf("project", member.Owner) is null)
            return new Refusal("project", $"There is no project {member.Owner}. Choose one that exists.");
        if (labels.IdOf(kind, member.Owner is null ? member.Code : member.Owner + "/" + member.Code) is not null)
            return new Refusal("code", $"{Title(kind)} {member.Code} is there already. Choose another code.");
        if (member.Group is not null && labels.IdOf(Labels.Family(family), member.Group) is null)
            return new Refusal("group", $"There is no {family} group {member.Group}. Choose one that exists.");
        return member.Spread?.Fault ?? UnknownPartner(labels, member.Partner) ?? UnknownTaxGroup(labels, kind, member.TaxGroup);
    }

    static Refusal? UnknownPartner(Labels labels, string? partner) => string.IsNullOrEmpty(partner) || labels.IdOf("partner", partner) is not null ? null
        : new Refusal("partner", $"There is no company {partner} of the group. Add it to the list, or leave it empty.");

    /// <summary>The family of tax groups that a family's members and groups have: fixed assets are taxed as items.</summary>
    internal static string TaxFamily(string family) => family == "asset" ? "item-tax" : family + "-tax";

    internal static async Task<int> InsertGroup(DraftChange change, string family, Group group) =>
        await change.Command("insert into grouping (company_id, family, code, code_fold, name, find_fold) values ($1, $2, $3, $4, $5, $6) returning id",
            change.Company, family, group.Code.Trim(), Fold.Of(group.Code), group.Name.Trim(), Fold.Of($"{group.Code} {group.Name}")).Value<int>(change.Stop);

    internal static Task SetGroup(DraftChange change, Labels labels, string family, int id, Group group) =>
        SettingTables.Groups.Reset(change, labels, [(id, labels.IdOf(Labels.Family(TaxFamily(family)), group.TaxGroup))]);

    internal static Refusal? LabelFault(string code, string name)
    {
        if (string.IsNullOrWhiteSpace(code))
            return new Refusal("code", "The code is empty. Give it one, such as SEEDS.");
        if (code.Trim().Length > LongestCode)
            return new Refusal("code", $"The code has {code.Trim().Length} characters. Shorten it to {LongestCode}.");
        if (string.IsNullOrWhiteSpace(name))
            return new Refusal("name", "The name is empty. Write the name people read.");
        if (name.Trim().Length > LongestName)
            return new Refusal("name", $"The name has {name.Trim().Length} characters. Shorten it to {LongestName}.");
        return null;
    }

    static Refusal? UnknownTaxGroup(Labels labels, string family, string? taxGroup) =>
        taxGroup is null || labels.IdOf(Labels.Family(TaxFamily(family)), taxGroup) is not null ? null
        : new Refusal("taxGroup", $"There is no {family} tax group {taxGroup}. Choose one that exists.");

    /// <summary>Why a code can't be given to a group: another has it, or once had it.</summary>
    internal static async Task<Refusal?> TakenBy(DraftChange change, string family, string code, int? self)
    {
        var taken = await change.Command("""
            select g.id, g.code, g.name, false from grouping g
            join grouping_setting s on s.company_id = g.company_id and s.grouping_id = g.id and s.editions @> $4
            where g.company_id = $1 and g.family = $2 and g.code_fold = $3
            union all
            select g.id, g.code, g.name, true from grouping_alias a join grouping g on g.company_id = a.company_id and g.id = a.grouping_id
                where a.company_id = $1 and a.family = $2 and a.code_fold = $3
            """, change.Company, family, Fold.Of(code), change.Edition).List(row =>
                (Id: row.GetInt32(0), Code: row.GetString(1), Name: row.GetString(2), Former: row.GetBoolean(3)), change.Stop);
        return taken.Where(t => t.Id != self).Select(t =>
            new Refusal("code", t.Former ? $"{code} was once the code of {t.Code} {t.Name}, and is kept for it. Choose another code."
            : $"Group {code} is there already, as {t.Name}. Choose another code.")).FirstOrDefault();
    }

    static string Title(string kind) => char.ToUpperInvariant(kind[0]) + kind[1..];

    static string Moved(string? from, string? to) => from is null ? $"put into {to}" : $"moved from {from} to {to}";
}
