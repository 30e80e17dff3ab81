using Assignum.Core;
using Assignum.Core.Findings;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Storage.Charts;

namespace Assignum.Storage.Settings;

/// <summary>Brings a whole rulebook into the empty draft of a company; its rules by COPY.</summary>
public sealed class RulebookImport(Draft draft)
{
    /// <summary>Brings it in, whole or not at all.</summary>
    /// <param name="company">Id of a company that has no settings yet.</param>
    /// <param name="user">Who brings it in.</param>
    /// <param name="book">A rulebook without errors.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> IntoEmpty(int company, int? user, Rulebook book, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            if (RulebookChecks.Errors(book) is [var error, ..])
                return new Refusal("file", error.Message);
            if (await change.Command("select exists (select 1 from account where company_id = $1)", company).Value<bool>(stop))
                return new Refusal("file", "The company has settings already. Import the rulebook into a new company.");
            await new Importing(change, new Labels()).All(book);
            change.HoldsAtOnce = true;
            await change.Log("rulebook", 0, $"Rulebook imported: {book.Accounts.Count} accounts, {book.Rules.Count} rules.", null, null);
            return null;
        }, stop);

    sealed class Importing(DraftChange change, Labels labels)
    {
        internal async Task All(Rulebook book)
        {
            await TaxStore.SetOptions(change, book.Company.Options);
            foreach (var (family, groups) in new[] { ("party-tax", book.PartyTaxGroups), ("item-tax", book.ItemTaxGroups), ("party", book.PartyGroups),
                ("item", book.ItemGroups), ("project", book.ProjectGroups), ("asset", book.AssetGroups) })
                await Groups(family, groups);
            foreach (var code in book.TaxCodes)
                await TaxCode(code);
            await AccountRows.Insert(change, labels, [.. Core.Charts.ChartTree.Of(book.Accounts).Nodes.Select(n => n.Account)]);
            await Members("partner", book.Partners, p => p.Code, p => p.Name, _ => new MemberSetting(0));
            await Members("party", book.Parties, p => p.Code, p => p.Name, p => MemberSetting.Of(p, labels));
            await Members("item", book.Items, i => i.Code, i => i.Name, i => MemberSetting.Of(i, labels), i => i.Cost);
            await Members("location", book.Locations, l => l.Code, l => l.Name, _ => new MemberSetting(0));
            await Members("project", book.Projects, p => p.Code, p => p.Name, p => MemberSetting.Of(p, labels));
            await Members("task", [.. book.Projects.SelectMany(p => p.Tasks.Select(t => (Project: p.Code, It: t)))], t => t.It.Code, t => t.It.Name,
                t => MemberSetting.Of(t.It, labels), owner: t => t.Project);
            await Members("asset", book.Assets, a => a.Code, a => a.Name, a => MemberSetting.Of(a, labels));
            foreach (var rule in book.TaxRules)
                await TaxStore.Insert(change, labels, rule);
            foreach (var (purpose, ladder) in book.Ladders)
                await LadderStore.Insert(change, purpose, ladder);
            await RuleRows.Copy(change, labels, book.Rules);
            await MatchRows.Put(change, labels, [], book.Matches);
        }

        int? Group(string? code, string family) => labels.IdOf(Labels.Family(family), code);

        async Task Groups(string family, IReadOnlyList<Group> groups)
        {
            foreach (var group in groups)
            {
                var id = await change.Command("insert into grouping (company_id, family, code, code_fold, name, find_fold) values ($1, $2, $3, $4, $5, $6) " +
                    "returning id",
                    change.Company, family, group.Code.Trim(), Fold.Of(group.Code), group.Name, Fold.Of($"{group.Code} {group.Name}")).Value<int>(change.Stop);
                labels.Add(Labels.Family(family), id, group.Code.Trim());
                await SettingTables.Groups.Reset(change, labels, [(id, Group(group.TaxGroup, GroupStore.TaxFamily(family)))]);
            }
        }

        async Task TaxCode(TaxCode code)
        {
            var id = await change.Command("insert into tax_code (company_id, code, code_fold, name) values ($1, $2, $3, $4) returning id", change.Company,
                code.Code.Trim(), Fold.Of(code.Code), code.Name).Value<int>(change.Stop);
            labels.Add(Labels.TaxCodes, id, code.Code.Trim());
            await SettingTables.TaxCodes.Reset(change, labels, [(id, code)]);
        }

        async Task Members<T>(string kind, IReadOnlyList<T> members, Func<T, string> code, Func<T, string> name, Func<T, MemberSetting> setting,
            Func<T, decimal?>? cost = null, Func<T, string>? owner = null)
        {
            if (members.Count == 0)
                return;
            var ids = await MemberRows.Insert(change, labels, kind, [.. members.Select(m => (code(m), name(m), owner?.Invoke(m), cost?.Invoke(m)))]);
            await MemberRows.Copy(change, members.Zip(ids, (m, id) => setting(m) with { Id = id }), change.Edition);
        }
    }
}
