using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Changes;

/// <summary>A change that goes with chosen ones, because one of them needs it.</summary>
/// <param name="Change">The change.</param>
/// <param name="For">The change that needs it.</param>
public sealed record TakenAlong(SettingChange Change, SettingChange For);

/// <summary>Which changes of a draft can't be released without others.</summary>
public sealed class ChangeNeeds
{
    readonly Rulebook before, after;
    readonly Dictionary<string, SettingChange> byPlace = new(StringComparer.Ordinal);
    readonly Dictionary<string, Rule> rulesBefore, rulesAfter;
    readonly ILookup<string, Rule> beforeByKey;

    /// <param name="before">The edition in force.</param>
    /// <param name="after">The draft.</param>
    /// <param name="changes">Their difference, whole.</param>
    public ChangeNeeds(Rulebook before, Rulebook after, IReadOnlyList<SettingChange> changes)
    {
        (this.before, this.after) = (before, after);
        foreach (var change in changes)
            byPlace[Fold.Of(change.Where)] = change;
        var changed = changes.Where(c => c.Where.StartsWith("rules/", StringComparison.Ordinal)).Select(c =>
            c.Where["rules/".Length..]).ToHashSet(StringComparer.OrdinalIgnoreCase);
        rulesBefore = before.Rules.Where(r => changed.Contains(r.Id)).ToDictionary(r => Fold.Of(r.Id));
        rulesAfter = after.Rules.Where(r => changed.Contains(r.Id)).ToDictionary(r => Fold.Of(r.Id));
        beforeByKey = rulesBefore.Values.ToLookup(r => r.Key);
    }

    /// <summary>What chosen changes take along, each with the one that needs it.</summary>
    /// <param name="chosen">Places of the chosen changes.</param>
    public IReadOnlyList<TakenAlong> Of(IEnumerable<string> chosen)
    {
        var taken = new List<TakenAlong>();
        var open = new Queue<SettingChange>(chosen.Select(c => byPlace.GetValueOrDefault(Fold.Of(c))).OfType<SettingChange>());
        var known = open.Select(c => Fold.Of(c.Where)).ToHashSet(StringComparer.Ordinal);
        while (open.TryDequeue(out var change))
            foreach (var need in NeedsOf(change))
                if (byPlace.TryGetValue(Fold.Of(need), out var needed) && known.Add(Fold.Of(need)))
                {
                    taken.Add(new(needed, change));
                    open.Enqueue(needed);
                }
        return taken;
    }

    /// <summary>What would be left without what it needs, if changes were taken back: each need with the change that has it.</summary>
    /// <param name="gone">Places of the changes to be taken back.</param>
    public IEnumerable<TakenAlong> LeftBehindBy(IEnumerable<string> gone)
    {
        var places = gone.Select(Fold.Of).ToHashSet(StringComparer.Ordinal);
        return from change in byPlace
               where !places.Contains(change.Key)
               from need in NeedsOf(change.Value)
               where places.Contains(Fold.Of(need)) && byPlace.ContainsKey(Fold.Of(need))
               select new TakenAlong(byPlace[Fold.Of(need)], change.Value);
    }

    IEnumerable<string> NeedsOf(SettingChange change)
    {
        var slash = change.Where.IndexOf('/', StringComparison.Ordinal);
        var (kind, key) = (change.Where[..slash], change.Where[(slash + 1)..]);
        return kind switch
        {
            "rules" => OfRule(Fold.Of(key)),
            "ladders" => OfLadder(change.Purpose!),
            "parties" => after.Parties.FirstOrDefault(p => Fold.Same(p.Code, key)) is { } party
                ? New(("partyGroups", party.Group),
                ("partyTaxGroups", party.TaxGroup)).Concat(party.ControlAlternates.SelectMany(a => New(("accounts", a)))) : [],
            "items" => after.Items.FirstOrDefault(i => Fold.Same(i.Code, key)) is { } item
                ? New(("itemGroups", item.Group), ("itemTaxGroups", item.TaxGroup)) : [],
            "projects" => after.Projects.FirstOrDefault(p => Fold.Same(p.Code, key)) is { } project
                ? New([("projectGroups", project.Group), .. project.Tasks.Select(t => ("projectGroups", t.Group))]) : [],
            "partyGroups" => OfGroup(after.PartyGroups, key, "partyTaxGroups", change.Kind, "party"),
            "itemGroups" => OfGroup(after.ItemGroups, key, "itemTaxGroups", change.Kind, "item"),
            "accounts" => OfAccount(key, change.Kind),
            "taxRules" => after.TaxRules.Concat(before.TaxRules).Where(r =>
                Fold.Same(RulebookDifference.WhereOf(r), change.Where)).Take(1).SelectMany(OfTaxRule),
            "matches" => after.Matches.FirstOrDefault(m => Fold.Same(m.Key, key)) is { } match ? New((match.Place, match.Ours)) : [],
            "taxCodes" when change.Kind == ChangeKind.Ended =>
                before.TaxRules.Where(r => Fold.Same(r.TaxCode, key)).Select(RulebookDifference.WhereOf).Concat(RulesNaming(Fact.TaxCode, key)),
            _ => [],
        };
    }

    IEnumerable<string> OfRule(string id)
    {
        if (!rulesAfter.TryGetValue(id, out var rule))
            yield break;
        foreach (var need in New(("accounts", rule.Account)).Concat(OfFacts(rule.When)))
            yield return need;
        if (!before.LadderOf(rule.Purpose).Contains(rule.Rung))
            yield return "ladders/" + rule.Purpose.Name;
        // A rule can't come while the one in whose place it stands is still there.
        foreach (var old in beforeByKey[rule.Key].Where(o => !Fold.Same(o.Id, rule.Id)))
            yield return "rules/" + old.Id;
    }

    IEnumerable<string> OfLadder(Purpose purpose)
    {
        var now = after.LadderOf(purpose);
        return rulesBefore.Values.Where(r => r.Purpose == purpose && !now.Contains(r.Rung)).Select(r => "rules/" + r.Id);
    }

    IEnumerable<string> OfGroup(IReadOnlyList<Group> groups, string code, string taxGroups, ChangeKind kind, string family)
    {
        if (kind != ChangeKind.Ended)
            return groups.FirstOrDefault(g => Fold.Same(g.Code, code)) is { } group ? New((taxGroups, group.TaxGroup)) : [];
        return family == "party"
            ? before.Parties.Where(p => Fold.Same(p.Group, code)).Select(p => "parties/" + p.Code).Concat(RulesNaming(Fact.PartyGroup, code))
            : before.Items.Where(i => Fold.Same(i.Group, code)).Select(i => "items/" + i.Code).Concat(RulesNaming(Fact.ItemGroup, code));
    }

    IEnumerable<string> OfAccount(string number, ChangeKind kind)
    {
        var account = after.Accounts.FirstOrDefault(a => Fold.Same(a.Number, number));
        if (kind != ChangeKind.Ended && account is { Kind: Charts.AccountKind.Posting })
            return New(("itemTaxGroups", account.ItemTaxGroup), ("taxCodes", account.TaxCode));
        // What can't be posted to any more must have no rule any more.
        return rulesBefore.Values.Where(r => Fold.Same(r.Account, number)).Select(r => "rules/" + r.Id);
    }

    IEnumerable<string> OfTaxRule(TaxRule rule) =>
        [.. New(("taxCodes", rule.TaxCode), ("partyTaxGroups", rule.PartyTaxGroup), ("itemTaxGroups", rule.ItemTaxGroup)),
         .. before.TaxRules.Where(o => RuleKey.TextOf("tax", o.When()) == RuleKey.TextOf("tax", rule.When())).Select(RulebookDifference.WhereOf)];

    IEnumerable<string> OfFacts(IReadOnlyList<FactValue> when) =>
        when.SelectMany(w => w.Fact.List() is { InFile: { } file } list ? New((file, list.Owner(w.Code))) : []);

    IEnumerable<string> RulesNaming(Fact fact, string code) =>
        rulesBefore.Values.Where(r => r.When.Any(w => w.Fact == fact && Fold.Same(w.Code, code))).Select(r => "rules/" + r.Id);

    // A thing is needed where it is new; one that only changes is there already. An account that becomes one for posting is as good as new.
    IEnumerable<string> New(params (string Place, string? Code)[] things) =>
        from thing in things
        where thing.Code is not null
        let place = $"{thing.Place}/{thing.Code}"
        where byPlace.TryGetValue(Fold.Of(place), out var change)
            && (change.Kind == ChangeKind.Added || (thing.Place == "accounts" && change.Kind == ChangeKind.Changed && IsOnlyPostableAfter(thing.Code)))
        select place;

    bool IsOnlyPostableAfter(string number) =>
        before.Accounts.FirstOrDefault(a => Fold.Same(a.Number, number)) is not { Kind: Charts.AccountKind.Posting, Active: true };
}
