using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Settings;

public sealed partial class GroupStore
{
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
}
