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
            await Members("party", [.. book.Parties.Select(p =>
                new MemberRow(p.Code, p.Name, Group(p.Group, "party"), Group(p.TaxGroup, "party-tax")) { Role = p.Role.Word(), TaxArea = p.TaxArea,
                Alternates = [.. p.ControlAlternates.Select(a => labels.Account(a)!.Value)] })]);
            await Members("item", [.. book.Items.Select(i =>
                new MemberRow(i.Code, i.Name, Group(i.Group, "item"), Group(i.TaxGroup, "item-tax")) { ItemKind = i.Kind.Word(), UnitCost = i.Cost })]);
            await Members("location", [.. book.Locations.Select(l => new MemberRow(l.Code, l.Name, null, null))]);
            await Members("project", [.. book.Projects.Select(p => new MemberRow(p.Code, p.Name, Group(p.Group, "project"), null) { Method = p.Method })]);
            await Members("task", [.. book.Projects.SelectMany(p =>
                p.Tasks.Select(t => new MemberRow(t.Code, t.Name, Group(t.Group, "project"), null) { Owner = p.Code }))]);
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
                await SettingTables.Groups.Reset(change, labels, [(id, Group(group.TaxGroup, family + "-tax"))]);
            }
        }

        async Task TaxCode(TaxCode code)
        {
            var id = await change.Command("insert into tax_code (company_id, code, code_fold, name) values ($1, $2, $3, $4) returning id", change.Company,
                code.Code.Trim(), Fold.Of(code.Code), code.Name).Value<int>(change.Stop);
            labels.Add(Labels.TaxCodes, id, code.Code.Trim());
            await SettingTables.TaxCodes.Reset(change, labels, [(id, code)]);
        }

        sealed record MemberRow(string Code, string Name, int? Group, int? TaxGroup)
        {
            internal string? Owner { get; init; }
            internal string? Role { get; init; }
            internal string? ItemKind { get; init; }
            internal string? TaxArea { get; init; }
            internal string? Method { get; init; }
            internal decimal? UnitCost { get; init; }
            internal int[] Alternates { get; init; } = [];
        }

        async Task Members(string kind, IReadOnlyList<MemberRow> rows)
        {
            if (rows.Count == 0)
                return;
            var ids = await MemberRows.Insert(change, labels, kind, [.. rows.Select(r => (r.Code, r.Name, r.Owner, r.UnitCost))]);
            await MemberRows.Copy(change, rows.Zip(ids, (r, id) =>
                new MemberSetting(id, r.Group, r.TaxGroup, r.Role, r.ItemKind, r.TaxArea, r.Method, r.Alternates)), change.Edition);
        }
    }
}
