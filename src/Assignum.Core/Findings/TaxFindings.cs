using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Findings;

/// <summary>What is wrong with tax codes and tax rules.</summary>
static class TaxFindings
{
    internal static IEnumerable<Finding> Errors(Rulebook book)
    {
        var called = new Called(book);
        var codes = book.TaxCodes.Select(t => Fold.Of(t.Code)).ToHashSet();
        var partyGroups = MemberFindings.Folds(book.PartyTaxGroups);
        var itemGroups = MemberFindings.Folds(book.ItemTaxGroups);
        for (var i = 0; i < book.TaxRules.Count; i++)
        {
            var (rule, where) = (book.TaxRules[i], $"taxRules/{i}");
            if (!codes.Contains(Fold.Of(rule.TaxCode)))
                yield return new("unknown-tax-code", Severity.Error, where,
                    $"{called.Of(rule)} gives tax code {rule.TaxCode}, which does not exist. Add it, or choose another.");
            foreach (var missing in MemberFindings.Missing(where, called.Of(rule), "party tax group", rule.PartyTaxGroup, partyGroups))
                yield return missing;
            foreach (var missing in MemberFindings.Missing(where, called.Of(rule), "item tax group", rule.ItemTaxGroup, itemGroups))
                yield return missing;
            if (rule.From > rule.To)
                yield return new("rule-dates", Severity.Error, where,
                    $"{called.Of(rule)} ends on {Written.DayNow(rule.To.Value)}, before it begins on {Written.DayNow(rule.From.Value)}. Correct one of the " +
                        "dates.");
        }
        var numbered = book.TaxRules.Select((rule, i) => (rule, i));
        foreach (var (a, b) in Overlaps.Among(numbered, r => RuleKey.TextOf("tax", r.rule.When()), r => r.rule.From, r => r.rule.To))
            yield return new("rule-overlap", Severity.Error, $"taxRules/{b.i}",
                $"{called.Of(a.rule)} is there twice for the same days, with {a.rule.TaxCode} and with {b.rule.TaxCode}. End one before the other begins, or " +
                    "remove it.");
    }

    internal static IEnumerable<Finding> Advice(CompiledRulebook compiled, DateOnly today) =>
        [.. Holes(compiled), .. WithoutRate(compiled, today), .. CodesWithoutAccount(compiled), .. Contradictions(compiled)];

    static IEnumerable<Finding> Holes(CompiledRulebook compiled)
    {
        var book = compiled.Book;
        if (book.TaxCodes.Count == 0)
            yield break;
        foreach (var party in book.PartyTaxGroups)
            foreach (var item in book.ItemTaxGroups)
            {
                var facts = compiled.FactsOf([new(Fact.PartyTaxGroup, party.Code), new(Fact.ItemTaxGroup, item.Code)]);
                var asked = book.TaxRules.Any(rule => Answers(rule, party.Code, item.Code));
                if (!asked && compiled.ResolveTax(facts, DateOnly.MaxValue) is null)
                    yield return new("tax-hole", Severity.Warning, $"taxRules/{party.Code}/{item.Code}",
                        $"No tax code is set where {Name(party)} meets {Name(item)}: such lines would be held. Choose one where they meet.");
            }
    }

    static string Name(Groups.Group group) => group.Name.Length > 0 ? group.Name : group.Code;

    // One finding a code: where it is first met, and in how many places.
    static IEnumerable<Finding> WithoutRate(CompiledRulebook compiled, DateOnly today)
    {
        var book = compiled.Book;
        var met = new Dictionary<string, (TaxCode Code, string First, int Places)>(StringComparer.Ordinal);
        foreach (var party in book.PartyTaxGroups)
            foreach (var item in book.ItemTaxGroups)
            {
                var facts = compiled.FactsOf([new(Fact.PartyTaxGroup, party.Code), new(Fact.ItemTaxGroup, item.Code)]);
                if (compiled.ResolveTax(facts, today) is { Code: { } code } && code.EffectivePercentOn(today) is null)
                    met[code.Code] = met.TryGetValue(code.Code, out var so) ? so with { Places = so.Places + 1 }
                        : (code, $"{Name(party)} meets {Name(item)}", 1);
            }
        foreach (var (code, first, places) in met.Values)
            yield return new("tax-rate-missing", Severity.Warning, "taxCodes/" + code.Code,
                $"Tax code {code.Code} {code.Name} has no rate on {Written.DayNow(today)}, and is what holds where " +
                    $"{first}{(places > 1 ? $" and in {places - 1} more places" : "")}: such lines would be held. Give it a rate for today.");
    }

    static bool Answers(TaxRule rule, string party, string item) =>
        rule.TaxArea is null && (rule.PartyTaxGroup is null || Fold.Same(rule.PartyTaxGroup, party))
            && (rule.ItemTaxGroup is null || Fold.Same(rule.ItemTaxGroup, item));

    static IEnumerable<Finding> CodesWithoutAccount(CompiledRulebook compiled)
    {
        foreach (var code in compiled.Book.TaxCodes.Where(c => !c.ReverseCharge && c.Components.Any(p => p.Rates.Any(r => r.Percent != 0))))
            foreach (var component in code.Components)
                foreach (var purpose in PurposesOf(code))
                    if (!HasRule(compiled, purpose, code, component))
                        yield return new("tax-code-without-account", Severity.Warning, "taxCodes/" + code.Code,
                            $"Tax code {code.Label(component)} has no account for {purpose.InWords}, so its tax would be held. Add a rule for " +
                                $"{purpose.InWords}.");
    }

    static Purpose[] PurposesOf(TaxCode code) => code.Direction switch
    {
        TaxDirection.Sales => [Purpose.OutputTax],
        TaxDirection.Purchases => [Purpose.InputTax],
        _ => [Purpose.OutputTax, Purpose.InputTax],
    };

    // Any rule that could answer for the code will do, on whatever day and at whatever place.
    static bool HasRule(CompiledRulebook compiled, Purpose purpose, TaxCode code, TaxComponent component) =>
        compiled.Book.Rules.Any(rule => rule.Purpose == purpose && rule.When.All(w =>
            w.Fact == Fact.TaxCode ? Fold.Same(w.Code, code.Code) : w.Fact != Fact.Authority || Fold.Same(w.Code, component.Authority)));

    static IEnumerable<Finding> Contradictions(CompiledRulebook compiled)
    {
        var book = compiled.Book;
        foreach (var account in book.Accounts)
        {
            if (account.TaxCode is null || !compiled.TaxCodes.TryFind(account.TaxCode, out var code))
                continue;
            // What is said of an account goes before what its class suggests.
            var sells = account.TaxRelevance is { } said ? said == TaxRelevance.Sales : account.Class is AccountClass.Income or AccountClass.OtherIncome;
            var buys = account.TaxRelevance is { } told ? told is TaxRelevance.Purchases or TaxRelevance.CapitalPurchases
                : account.Class is AccountClass.Expense or AccountClass.CostOfSales or AccountClass.OtherExpense;
            if ((sells && code.Direction == TaxDirection.Purchases) || (buys && code.Direction == TaxDirection.Sales))
                yield return new("tax-direction", Severity.Warning, "accounts/" + account.Number,
                    $"Account {account.Number} {account.Name} of class {account.Class.InWords()} has tax code {code.Code}, which is for " +
                        $"{Words<TaxDirection>.Of(code.Direction)} only. Choose another tax code.", account.Number);
            var answers = book.TaxRules.Where(rule => account.ItemTaxGroup is not null && rule.PartyTaxGroup is null && rule.TaxArea is null
                && Fold.Same(rule.ItemTaxGroup, account.ItemTaxGroup));
            foreach (var rule in answers.Where(rule => !Fold.Same(rule.TaxCode, code.Code)))
                yield return new("account-tax-contradiction", Severity.Warning, "accounts/" + account.Number,
                    $"Account {account.Number} {account.Name} has tax code {code.Code}, and the tax rule of its item tax group {account.ItemTaxGroup} gives " +
                        $"{rule.TaxCode}. Make them the same, or take one away.", account.Number);
        }
    }
}
