using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Storage.Settings;

/// <summary>Changes of tax rules.</summary>
public sealed class TaxStore(Draft draft)
{
    /// <summary>Says in the draft which tax code holds where groups and a place meet; without a code the rule ends.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who says so.</param>
    /// <param name="partyTaxGroup">Party tax group, or null for any.</param>
    /// <param name="itemTaxGroup">Item tax group, or null for any.</param>
    /// <param name="taxArea">Place, or null for any.</param>
    /// <param name="taxCode">The answer, or null.</param>
    /// <param name="stop">Cancels.</param>
    public Task<Refusal?> SetRule(int company, int user, string? partyTaxGroup, string? itemTaxGroup, string? taxArea, string? taxCode, CancellationToken stop) =>
        draft.Change(company, user, async change =>
        {
            var labels = (await change.Book()).Labels;
            var rule = new TaxRule { PartyTaxGroup = partyTaxGroup, ItemTaxGroup = itemTaxGroup, TaxArea = taxArea, TaxCode = taxCode ?? "" };
            foreach (var (fact, code) in rule.When())
                if (Labels.ListOf(fact) is { } list && labels.IdOf(list, code) is null)
                    return new Refusal(fact.Name(), $"There is no {fact.InWords()} {code}. Choose one that exists.");
            if (taxCode is not null && labels.IdOf(Labels.TaxCodes, taxCode) is null)
                return new Refusal("taxCode", $"There is no tax code {taxCode}. Choose one that exists.");

            var key = labels.RuleKeyOf(change.Company, "tax", rule.When());
            foreach (var row in await change.Command("select id from tax_rule where company_id = $1 and rule_key = $2 and editions @> $3", change.Company, key, change.Edition).List(r => r.GetInt64(0), change.Stop))
                await change.Retire("tax_rule", row);
            if (taxCode is not null)
                await Insert(change, labels, rule);
            var where = rule.When() is { Count: > 0 } when ? string.Join(" × ", when.Select(w => w.Code)) : "the default";
            await change.Log("tax-rule", 0, taxCode is null ? $"Tax rule for {where} ends." : $"Tax rule for {where} gives {taxCode}.", null, rule);
            return null;
        }, stop);

    internal static Task Insert(DraftChange change, Labels labels, TaxRule rule) =>
        change.Command("insert into tax_rule (company_id, tax_area, party_tax_group_id, item_tax_group_id, tax_code_id, rule_key, validity, introduced_in) values ($1, $2, $3, $4, $5, $6, $7, $8)",
            change.Company, rule.TaxArea, labels.IdOf(Labels.Family("party-tax"), rule.PartyTaxGroup), labels.IdOf(Labels.Family("item-tax"), rule.ItemTaxGroup),
            labels.IdOf(Labels.TaxCodes, rule.TaxCode), labels.RuleKeyOf(change.Company, "tax", rule.When()), RuleStore.Validity(rule.From, rule.To), change.Edition).Run(change.Stop);
}
