using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Storage.Charts;

namespace Assignum.Storage.Settings;

/// <summary>What an import of a rulebook did.</summary>
/// <param name="Refusal">Why nothing was taken in; null when it was.</param>
/// <param name="Changes">How many settings the draft changes by it.</param>
/// <param name="Kept">Accounts, and members, that the file does not have and the draft keeps.</param>
public sealed record RulebookImported(Refusal? Refusal, int Changes, IReadOnlyList<string> Kept);

/// <summary>Makes the draft say what a rulebook file says: rules, tax rules, ladders, tax codes, groups and options as they stand there; accounts and members
/// are added and changed, and never taken away.</summary>
public sealed class RulebookIntoDraft(Draft draft)
{
    /// <summary>Brings a rulebook into the draft, whole or not at all.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who brings it in; null for the command line.</param>
    /// <param name="file">The rulebook of the file.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<RulebookImported> Import(int company, int? user, Rulebook file, CancellationToken stop)
    {
        var (count, kept) = (0, new List<string>());
        var refusal = await draft.Change(company, user, async change =>
        {
            var stored = await change.Book();
            if (stored.Book.Company.Currency != file.Company.Currency)
                return new Refusal("file", $"The file keeps its books in {file.Company.Currency}, the company in {stored.Book.Company.Currency}. Import it " +
                    "into a company of that currency.");
            var target = Target(stored.Book, file, kept);
            if (RulebookChecks.Errors(target) is [var error, ..])
                return new Refusal("file", error.Message);
            count = RulebookDifference.Between(stored.Book, target).Count;
            await new Bringing(change, stored, target).All();
            await change.Log("rulebook", 0, $"Rulebook imported into the draft: {count} changes.", null, null);
            return null;
        }, stop);
        return new(refusal, refusal is null ? count : 0, kept);
    }

    static Rulebook Target(Rulebook now, Rulebook file, List<string> kept)
    {
        IReadOnlyList<T> Both<T>(IReadOnlyList<T> own, IReadOnlyList<T> theirs, Func<T, string> code, string what)
        {
            var known = theirs.Select(t => Fold.Of(code(t))).ToHashSet(StringComparer.Ordinal);
            var missing = own.Where(o => !known.Contains(Fold.Of(code(o)))).ToList();
            kept.AddRange(missing.Select(m => $"{what} {code(m)}"));
            return [.. theirs, .. missing];
        }
        return file with
        {
            Company = now.Company with { Options = file.Company.Options },
            Accounts = Both(now.Accounts, file.Accounts, a => a.Number, "account"), Parties = Both(now.Parties, file.Parties, p => p.Code, "party"),
                Items = Both(now.Items, file.Items, i => i.Code, "item"),
            Locations = Both(now.Locations, file.Locations, l => l.Code, "location"), Projects = Both(now.Projects, file.Projects, p => p.Code, "project"),
            Assets = Both(now.Assets, file.Assets, a => a.Code, "fixed asset"),
            Partners = Both(now.Partners, file.Partners, p => p.Code, "company of the group"),
            // A file of a company without connections says nothing about them.
            Matches = file.Matches.Count == 0 ? now.Matches : file.Matches,
        };
    }

    sealed class Bringing(DraftChange change, StoredRulebook stored, Rulebook target)
    {
        readonly Labels labels = stored.Labels;

        internal async Task All()
        {
            if (stored.Book.Company.Options != target.Company.Options)
                await TaxStore.SetOptions(change, target.Company.Options);
            // What is named comes before what names it, and goes after it.
            foreach (var family in GroupFamilies.All.Reverse())
                await Groups(family);
            await TaxCodes();
            await Accounts();
            await Members();
            await TaxRules();
            await MatchRows.Put(change, labels, stored.Book.Matches, target.Matches);
            await Ladders();
            await Rules();
            foreach (var family in GroupFamilies.All)
                await EndGroups(family);
            await change.EndRows("tax_code_setting", "tax_code_id",
                [.. Missing(stored.Book.TaxCodes, target.TaxCodes, t => t.Code).Select(t => labels.IdOf(Labels.TaxCodes, t.Code)!.Value)]);
        }

        async Task Groups(string family)
        {
            var known = stored.Book.GroupsOf(family).ToDictionary(g => Fold.Of(g.Code));
            foreach (var group in target.GroupsOf(family))
            {
                var id = labels.IdOf(Labels.Family(family), group.Code);
                var was = known.GetValueOrDefault(Fold.Of(group.Code));
                if (id is null)
                {
                    id = await change.Command("select id from grouping where company_id = $1 and family = $2 and code_fold = $3", change.Company, family,
                        Fold.Of(group.Code)).FirstOrDefault(row => (int?)row.GetInt32(0), change.Stop)
                        ?? await GroupStore.InsertGroup(change, family, group);
                    labels.Add(Labels.Family(family), id.Value, group.Code.Trim());
                }
                else if (was!.Name != group.Name || was.Code != group.Code)
                {
                    await change.Command("update grouping set code = $3, name = $4, find_fold = $5 where company_id = $1 and id = $2", change.Company, id.Value,
                        group.Code.Trim(), group.Name, Fold.Of($"{group.Code} {group.Name}")).Run(change.Stop);
                    change.HoldsAtOnce = true;
                }
                if (was is null || !Same(was.TaxGroup, group.TaxGroup))
                    await GroupStore.SetGroup(change, labels, family, id.Value, group);
            }
        }

        async Task EndGroups(string family)
        {
            var ended = Missing(stored.Book.GroupsOf(family), target.GroupsOf(family), g => g.Code).Select(g =>
                labels.IdOf(Labels.Family(family), g.Code)!.Value).ToArray();
            if (ended.Length > 0)
                await change.EndRows("grouping_setting", "grouping_id", ended);
        }

        async Task TaxCodes()
        {
            var known = stored.Book.TaxCodes.ToDictionary(t => Fold.Of(t.Code));
            foreach (var code in target.TaxCodes)
            {
                var was = known.GetValueOrDefault(Fold.Of(code.Code));
                var id = labels.IdOf(Labels.TaxCodes, code.Code)
                    ?? await change.Command("select id from tax_code where company_id = $1 and code_fold = $2", change.Company,
                        Fold.Of(code.Code)).FirstOrDefault(row => (int?)row.GetInt32(0), change.Stop)
                    ?? await change.Command("insert into tax_code (company_id, code, code_fold, name) values ($1, $2, $3, $4) returning id", change.Company,
                        code.Code.Trim(), Fold.Of(code.Code), code.Name).Value<int>(change.Stop);
                if (was is null)
                    labels.Add(Labels.TaxCodes, id, code.Code.Trim());
                if (was is not null && was.Name != code.Name)
                {
                    await change.Command("update tax_code set name = $3 where company_id = $1 and id = $2", change.Company, id, code.Name).Run(change.Stop);
                    change.HoldsAtOnce = true;
                }
                if (was is null || SettingKinds.TaxCodes.Differing(was, code).Length > 0)
                    await SettingTables.TaxCodes.Reset(change, labels, [(id, code)]);
            }
        }

        async Task Accounts()
        {
            var known = stored.Book.Accounts.ToDictionary(a => Fold.Of(a.Number));
            var ordered = ChartTree.Of(target.Accounts).Nodes.Select(n => n.Account).ToList();
            await AccountRows.Insert(change, labels, [.. ordered.Where(a => !known.ContainsKey(Fold.Of(a.Number)))]);
            var changed = ordered.Where(a => known.ContainsKey(Fold.Of(a.Number))).Select(a =>
                (Id: labels.Account(a.Number)!.Value, Was: known[Fold.Of(a.Number)], Now: a)).ToList();
            await AccountRows.Relabel(change, labels, [.. changed.Where(c => c.Was.Name != c.Now.Name || !Fold.Same(c.Was.Parent, c.Now.Parent))]);
            await SettingTables.Accounts.Reset(change, labels, [.. changed.Where(c => !c.Was.SameSetting(c.Now)).Select(c => (c.Id, c.Now))]);
        }

        async Task Members()
        {
            await Members("partner", stored.Book.Partners, target.Partners, p => p.Code, p => p.Name, _ => null, _ => new MemberSetting(0));
            await Members("party", stored.Book.Parties, target.Parties, p => p.Code, p => p.Name, _ => null, p => MemberSetting.Of(p, labels));
            await Members("item", stored.Book.Items, target.Items, i => i.Code, i => i.Name, i => i.Cost, i => MemberSetting.Of(i, labels));
            await Members("location", stored.Book.Locations, target.Locations, l => l.Code, l => l.Name, _ => null, _ => new MemberSetting(0));
            await Members("project", stored.Book.Projects, target.Projects, p => p.Code, p => p.Name, _ => null, p => MemberSetting.Of(p, labels));
            foreach (var project in target.Projects)
            {
                IReadOnlyList<ProjectTask> was = stored.Book.Projects.FirstOrDefault(p => Fold.Same(p.Code, project.Code))?.Tasks ?? [];
                await Members("task", was, project.Tasks, t => t.Code, t => t.Name, _ => null, t => MemberSetting.Of(t, labels), project.Code);
            }
            await Members("asset", stored.Book.Assets, target.Assets, a => a.Code, a => a.Name, _ => null, a => MemberSetting.Of(a, labels));
        }

        async Task Members<T>(string kind, IReadOnlyList<T> was, IReadOnlyList<T> now, Func<T, string> code, Func<T, string> name, Func<T, decimal?> cost,
            Func<T, MemberSetting> setting, string? owner = null) where T : class
        {
            var known = was.ToDictionary(w => Fold.Of(code(w)));
            string CodeOf(T thing) => owner is null ? code(thing) : owner + "/" + code(thing);
            var added = now.Where(n => !known.ContainsKey(Fold.Of(code(n)))).ToList();
            if (added.Count > 0)
            {
                var ids = await MemberRows.Insert(change, labels, kind, [.. added.Select(a => (code(a), name(a), owner, cost(a)))]);
                await MemberRows.Copy(change, added.Zip(ids, (a, id) => setting(a) with { Id = id }), change.Edition);
                change.HoldsAtOnce = true;
            }
            var again = new List<MemberSetting>();
            foreach (var (before, after) in now.Where(n => known.ContainsKey(Fold.Of(code(n)))).Select(n => (known[Fold.Of(code(n))], n)))
            {
                var id = labels.IdOf(kind, CodeOf(after))!.Value;
                if (name(before) != name(after) || cost(before) != cost(after))
                {
                    await change.Command("update member set name = $3, find_fold = $4, unit_cost = $5 where company_id = $1 and id = $2", change.Company, id,
                        name(after), Fold.Of($"{code(after)} {name(after)}"), cost(after)).Run(change.Stop);
                    change.HoldsAtOnce = true;
                }
                var (old, wanted) = (setting(before) with { Id = id }, setting(after) with { Id = id });
                if (old with { Alternates = wanted.Alternates } != wanted || !old.Alternates.SequenceEqual(wanted.Alternates))
                    again.Add(wanted);
            }
            await MemberRows.Reset(change, again);
        }

        async Task TaxRules()
        {
            var (before, after) = (stored.Book.TaxRules.ToLookup(Shape), target.TaxRules.ToLookup(Shape));
            foreach (var rule in stored.Book.TaxRules.Where(r => !after.Contains(Shape(r))))
                await TaxStore.Retire(change, labels, rule);
            foreach (var rule in target.TaxRules.Where(r => !before.Contains(Shape(r))))
                await TaxStore.Insert(change, labels, rule);

            static string Shape(TaxRule rule) =>
                FormattableString.Invariant($"{RuleKey.TextOf("tax", rule.When())}|{Fold.Of(rule.TaxCode)}|{rule.From:yyyy-MM-dd}|{rule.To:yyyy-MM-dd}");
        }

        async Task Ladders()
        {
            foreach (var purpose in Purpose.All.Where(p => !stored.Book.LadderOf(p).SequenceEqual(target.LadderOf(p))))
                await LadderStore.Put(change, purpose, target.LadderOf(purpose));
        }

        async Task Rules()
        {
            var known = stored.Book.Rules.ToDictionary(r => r.Id, StringComparer.Ordinal);
            var (gone, come) = (new List<long>(), new List<Rule>());
            foreach (var rule in target.Rules)
                if (!known.Remove(rule.Id, out var was))
                    come.Add(rule);
                else if (was.Key != rule.Key || !Fold.Same(was.Account, rule.Account) || was.From != rule.From || was.To != rule.To || was.Note != rule.Note)
                {
                    gone.Add(labels.RuleRow(was.Id)!.Value);
                    come.Add(rule);
                }
            gone.AddRange(known.Keys.Select(id => labels.RuleRow(id)!.Value));
            await RuleRows.Replace(change, labels, [.. gone], come);
        }

        static IEnumerable<T> Missing<T>(IReadOnlyList<T> now, IReadOnlyList<T> then, Func<T, string> code)
        {
            var there = then.Select(t => Fold.Of(code(t))).ToHashSet(StringComparer.Ordinal);
            return now.Where(n => !there.Contains(Fold.Of(code(n))));
        }

        static bool Same(string? a, string? b) => a == b || Fold.Same(a, b);
    }
}
