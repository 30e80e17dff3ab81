using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Settings;

/// <summary>Groups get another code, go, or become one with another.</summary>
public sealed class GroupShapes(Draft draft)
{
    /// <summary>Gives a group another code, at once; everything that names it goes along, and its former code is never given away.</summary>
    public Task<Refusal?> Rename(int company, int user, string family, string code, string newCode, CancellationToken stop, string? seen = null) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (Find(stored, family, code) is not { } group)
                return Gone(family, code);
            if (GroupStore.Stale(AsSeen.Group(stored.Book, family, code), seen, code) is { } stale)
                return stale;
            if (GroupStore.LabelFault(newCode, group.Name) is { } fault)
                return fault;
            if (await GroupStore.TakenBy(change, family, newCode, stored.Labels.IdOf(Labels.Family(family), code)) is { } taken)
                return taken;
            var id = stored.Labels.IdOf(Labels.Family(family), code)!.Value;
            if (!Fold.Same(code, newCode))
                await change.Command("insert into grouping_alias (company_id, family, code_fold, grouping_id) values ($1, $2, $3, $4) on conflict do nothing",
                    company, family, Fold.Of(code), id).Run(stop);
            await change.Command("delete from grouping_alias where company_id = $1 and family = $2 and code_fold = $3", company, family,
                Fold.Of(newCode)).Run(stop);
            await change.Command("update grouping set code = $3, code_fold = $4, find_fold = $5 where company_id = $1 and id = $2", company, id, newCode.Trim(),
                Fold.Of(newCode), Fold.Of($"{newCode} {group.Name}")).Run(stop);
            change.HoldsAtOnce = true;
            await change.Log("group", id, $"{GroupFamilies.Title(family)} {group.Code} is now {newCode.Trim()}.", group.Code, newCode.Trim());
            return null;
        }, stop);

    /// <summary>Takes a group out of the draft. One that anything uses stays, and the refusal says by what it is used.</summary>
    public Task<Refusal?> Delete(int company, int user, string family, string code, CancellationToken stop, string? seen = null) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (Find(stored, family, code) is not { } group)
                return Gone(family, code);
            if (GroupStore.Stale(AsSeen.Group(stored.Book, family, code), seen, code) is { } stale)
                return stale;
            if (GroupUses.Of(stored.Book, family, code) is { Any: true } uses)
                return new Refusal("", $"{GroupFamilies.Title(family)} {group.Code} is in use: {uses.InWords}. Move or end " +
                    $"{(uses.Members.Count > 0 ? "them" : "what names it")} first, or merge it into another group.");
            await Remove(change, stored.Labels.IdOf(Labels.Family(family), code)!.Value);
            await change.Log("group", stored.Labels.IdOf(Labels.Family(family), code)!.Value,
                $"{GroupFamilies.Title(family)} {group.Code} {group.Name} deleted.", group, null);
            return null;
        }, stop);

    /// <summary>Makes two groups one in the draft: members, rules and tax rules of the first go over to the second.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who merges.</param>
    /// <param name="family">Their family.</param>
    /// <param name="from">Code of the group that goes.</param>
    /// <param name="to">Code of the group that stays.</param>
    /// <param name="keepRules">Rules that the second has no counterpart of go over to it; without, they end.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="seen">What the user saw of the first; null where nobody looked.</param>
    public Task<Refusal?> Merge(int company, int user, string family, string from, string to, bool keepRules, CancellationToken stop, string? seen = null) =>
        draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (Find(stored, family, from) is not { } source)
                return Gone(family, from);
            if (Find(stored, family, to) is not { } target)
                return Gone(family, to);
            if (GroupStore.Stale(AsSeen.Group(stored.Book, family, from), seen, from) is { } stale)
                return stale;
            if (Fold.Same(from, to))
                return new Refusal("to", $"{from} can't be merged into itself. Choose another group.");
            var uses = GroupUses.Of(stored.Book, family, from);
            await MoveMembers(change, stored, family, target, uses);
            await MoveRules(change, stored, family, source, target, uses, keepRules);
            await MoveTaxRules(change, stored, family, source, target, keepRules);
            await MoveTaxGroups(change, stored, family, target, uses);
            await Remove(change, stored.Labels.IdOf(Labels.Family(family), from)!.Value);
            if (RulebookChecks.Errors((await change.Book()).Book) is [var error, ..])
                return new Refusal("", $"{source.Code} can't be merged into {target.Code}: {error.Message}");
            await change.Log("group", stored.Labels.IdOf(Labels.Family(family), to)!.Value,
                $"{GroupFamilies.Title(family)} {source.Code} merged into {target.Code}: {uses.InWords}.", source, target);
            return null;
        }, stop);

    static async Task MoveMembers(DraftChange change, StoredRulebook stored, string family, Group target, GroupUses uses)
    {
        var isTax = family.EndsWith("-tax", StringComparison.Ordinal);
        var kind = isTax ? family[..^4] : family;
        foreach (var members in uses.Members.GroupBy(m => kind == "project" && m.Contains('/', StringComparison.Ordinal) ? "task" : kind))
            await GroupStore.Reset(change, stored, members.Key,
                [.. members.Select(m => isTax ? new MemberChange(m) { TaxGroup = target.Code } : new MemberChange(m) { Group = target.Code })]);
    }

    static async Task MoveRules(DraftChange change, StoredRulebook stored, string family, Group source, Group target, GroupUses uses, bool keepRules)
    {
        var fact = GroupFamilies.FactOf(family);
        var known = stored.Book.Rules.Select(r => r.Key).ToHashSet(StringComparer.Ordinal);
        var moved = uses.Rules.Select(r =>
            r with { When = [.. r.When.Select(w => w.Fact == fact && Fold.Same(w.Code, source.Code) ? w with { Code = target.Code } : w)] }).ToList();
        await RuleRows.Replace(change, stored.Labels, [.. uses.Rules.Select(r => stored.Labels.RuleRow(r.Id)!.Value)], keepRules
            ? [.. moved.Where(r => !known.Contains(r.Key))] : []);
    }

    static async Task MoveTaxRules(DraftChange change, StoredRulebook stored, string family, Group source, Group target, bool keepRules)
    {
        if (!family.EndsWith("-tax", StringComparison.Ordinal))
            return;
        var fact = GroupFamilies.FactOf(family);
        var known = stored.Book.TaxRules.Select(r => RuleKey.TextOf("tax", r.When())).ToHashSet(StringComparer.Ordinal);
        foreach (var rule in stored.Book.TaxRules.Where(r => r.When().Any(w => w.Fact == fact && Fold.Same(w.Code, source.Code))))
        {
            await TaxStore.Retire(change, stored.Labels, rule);
            var moved = family == "party-tax" ? rule with { PartyTaxGroup = target.Code } : rule with { ItemTaxGroup = target.Code };
            if (keepRules && !known.Contains(RuleKey.TextOf("tax", moved.When())))
                await TaxStore.Insert(change, stored.Labels, moved);
        }
    }

    static async Task MoveTaxGroups(DraftChange change, StoredRulebook stored, string family, Group target, GroupUses uses)
    {
        var taxGroup = stored.Labels.IdOf(Labels.Family(family), target.Code);
        await SettingTables.Groups.Reset(change, stored.Labels,
            [.. uses.Groups.Select(group => (stored.Labels.IdOf(Labels.Family(family[..^4]), group)!.Value, taxGroup))]);
        var accounts = uses.Accounts.Select(n => stored.Book.Accounts.First(a => a.Number == n)).Select(a =>
            (stored.Labels.Account(a.Number)!.Value, a with { ItemTaxGroup = target.Code })).ToList();
        await SettingTables.Accounts.Reset(change, stored.Labels, accounts);
    }

    // A group that only the draft ever had goes whole; one of a released edition ends with the draft.
    static async Task Remove(DraftChange change, int id)
    {
        await change.EndRows("grouping_setting", "grouping_id", [id]);
        await change.Command("""
            delete from grouping g where company_id = $1 and id = $2
                and not exists (select 1 from grouping_setting s where s.company_id = g.company_id and s.grouping_id = g.id)
                and not exists (select 1 from first_group f where f.company_id = g.company_id and f.group_id = g.id)
                and not exists (select 1 from grouping_alias a where a.company_id = g.company_id and a.grouping_id = g.id)
                and not exists (select 1 from member_setting m where m.company_id = g.company_id and g.id in (m.group_id, m.tax_group_id))
            """, change.Company, id).Run(change.Stop);
    }

    static Group? Find(StoredRulebook stored, string family, string code) => stored.Book.GroupsOf(family).FirstOrDefault(g => Fold.Same(g.Code, code));

    static Refusal Gone(string family, string code) =>
        new("", $"There is no {GroupFamilies.Title(family).ToLowerInvariant()} {code} in the draft any more. Choose one that exists.");
}
