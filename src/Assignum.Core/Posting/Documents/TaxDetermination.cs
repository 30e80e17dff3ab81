using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Posting;

/// <summary>Which tax code a line has, and why.</summary>
/// <param name="Code">The tax code, or null.</param>
/// <param name="From">How it was found, in words.</param>
/// <param name="Reason">Why there is none, or none that is valid.</param>
readonly record struct DeterminedTax(TaxCode? Code, string? From, HeldReason? Reason);

/// <summary>Finds the tax code of a line: the one typed, else by tax rules, for accounts also by their own settings.</summary>
static class TaxDetermination
{
    internal static DeterminedTax Determine(CompiledRulebook book, Facts facts, Account? account, TaxCode? typed, DateOnly taxDate)
    {
        var (code, from) = typed is not null ? (typed, "typed on the line") : OfRules(book, facts, account, taxDate);
        if (code is null)
            return new(null, null, NoTax(book, facts,
                $"No tax code holds for {Asked(book, facts)} on {Written.DayNow(taxDate)}. Choose one where the groups meet, or give the party and the item " +
                    "tax groups that have one."));
        if (code.EffectivePercentOn(taxDate) is null)
            return new(code, from, NoTax(book, facts,
                $"Tax code {code.Code} has no rate on {Written.DayNow(taxDate)}. Add a rate that begins on or before that day.") with { TaxCode = code.Code });
        return new(code, from, null);
    }

    static (TaxCode?, string?) OfRules(CompiledRulebook book, Facts facts, Account? account, DateOnly taxDate) =>
        account is null ? Said(book.ResolveTax(facts, taxDate)) : OfAccount(book, facts, account, taxDate);

    static (TaxCode?, string?) OfAccount(CompiledRulebook book, Facts facts, Account account, DateOnly taxDate)
    {
        if (facts.Has(Fact.ItemTaxGroup) && facts.Has(Fact.PartyTaxGroup) && book.ResolveTaxOfBothGroups(facts, taxDate) is { } exact)
            return Said(exact);
        if (account.TaxCode is { } own && book.TaxCodes.TryFind(own, out var code))
            return (code, "account " + account.Number);
        return Said(book.ResolveTax(facts, taxDate));
    }

    static (TaxCode?, string?) Said(TaxAnswer? answer) => (answer?.Code, answer?.InWords);

    static HeldReason NoTax(CompiledRulebook book, Facts facts, string message) =>
        new(HeldCause.NoTaxRule, message) { Facts = TaxFacts(book, facts) };

    static string Asked(CompiledRulebook book, Facts facts) =>
        TaxFacts(book, facts) is { Count: > 0 } asked ? string.Join(", ", asked.Select(f => $"{f.Fact.InWords()} {f.Code}")) : "a line without tax groups";

    static List<FactValue> TaxFacts(CompiledRulebook book, Facts facts) =>
        [.. book.InWords(facts).Where(f => f.Fact is Fact.TaxArea or Fact.PartyTaxGroup or Fact.ItemTaxGroup)];
}
