using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Npgsql;

namespace Assignum.Storage.Settings;

/// <summary>Changes of posting groups, tax groups and their members.</summary>
public sealed partial class GroupStore(Draft draft, NpgsqlDataSource source)
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
    /// <param name="isDefault">New members begin in it, or do no longer; null leaves it as it is.</param>
    public Task<Refusal?> AddGroup(int company, int user, string family, Group group, CancellationToken stop, string? copyOf = null, bool? isDefault = null) =>
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
            await SetDefault(change, family, id, group.Code, isDefault);
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
    /// <param name="isDefault">New members begin in it, or do no longer; null leaves it as it is.</param>
    public Task<Refusal?> ChangeGroup(int company, int user, string family, string code, string name, string? taxGroup, CancellationToken stop,
        string? seen = null, bool? isDefault = null) =>
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
            await SetDefault(change, family, id, was.Code, isDefault);
            await change.Log("group", id, $"{GroupFamilies.Title(family)} {was.Code} changed.", was, new Group(was.Code, name, taxGroup));
            return null;
        }, stop);

    /// <summary>The group that new members of a family begin in; null: none.</summary>
    public Task<string?> DefaultGroup(int company, string family, CancellationToken stop) => source.Command(DefaultSql, company, family)
        .FirstOrDefault(row => row.TextOrNull(0), stop);

    const string DefaultSql = "select code from grouping where company_id = $1 and family = $2 and is_default";

    // It is no setting of an edition: a new member begins in it from now on.
    static async Task SetDefault(DraftChange change, string family, int id, string code, bool? isDefault)
    {
        if (isDefault is not { } wanted)
            return;
        var was = await change.Command("select id from grouping where company_id = $1 and family = $2 and is_default", change.Company, family)
            .FirstOrDefault(row => (int?)row.GetInt32(0), change.Stop);
        if (wanted == (was == id))
            return;
        await change.Command("update grouping set is_default = false where company_id = $1 and id = $2", change.Company, was).Run(change.Stop);
        await change.Command("update grouping set is_default = $3 where company_id = $1 and id = $2", change.Company, id, wanted).Run(change.Stop);
        change.Describes = true;
        await change.Log("group", id, wanted ? $"New {family}s begin in group {code}." : $"New {family}s begin without a group.", null, null);
    }

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
