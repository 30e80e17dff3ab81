using Assignum.Core.Taxes;

namespace Assignum.Core.Rulebooks;

/// <summary>The tax code in a cell.</summary>
/// <param name="Origin">Where it comes from.</param>
/// <param name="Code">The tax code, or null.</param>
/// <param name="Rule">The rule that says so, or null.</param>
/// <param name="Percent">All components together on the day; null where there is no code, or no rate.</param>
public sealed record TaxGridCell(CellOrigin Origin, TaxCode? Code, TaxRule? Rule, decimal? Percent);

/// <summary>The tax codes where party tax groups meet item tax groups, in one place or anywhere.</summary>
/// <param name="book">The rulebook.</param>
/// <param name="taxArea">The place, or null.</param>
/// <param name="date">Tax date.</param>
public sealed class TaxGrid(CompiledRulebook book, string? taxArea, DateOnly date)
{
    /// <summary>The answer where a party tax group meets an item tax group; null is "any".</summary>
    public TaxGridCell At(string? partyTaxGroup, string? itemTaxGroup)
    {
        var when = When(partyTaxGroup, itemTaxGroup);
        if (book.TaxRuleFor(book.FactsOf(when), date) is not { } found)
            return new(CellOrigin.Nothing, null, null, null);
        var rung = CompiledRulebook.TaxLadder[found.Rung];
        var rule = book.Book.TaxRules[found.Rule];
        var code = book.TaxCodes.TryFind(rule.TaxCode, out var known) ? known : null;
        return new(OriginOf(rung, when), code, rule, code?.EffectivePercentOn(date));
    }

    /// <summary>The facts a tax rule of the cell itself asks for.</summary>
    public IReadOnlyList<FactValue> When(string? partyTaxGroup, string? itemTaxGroup) =>
        new TaxRule { TaxArea = taxArea, PartyTaxGroup = partyTaxGroup, ItemTaxGroup = itemTaxGroup, TaxCode = "" }.When();

    static CellOrigin OriginOf(Rung rung, IReadOnlyList<FactValue> when) =>
        rung.Equals(new Rung([.. when.Select(w => w.Fact)])) ? CellOrigin.Own
        : (rung.Facts.Contains(Fact.PartyTaxGroup), rung.Facts.Contains(Fact.ItemTaxGroup)) switch
        {
            (true, true) => CellOrigin.Both,
            (true, false) => CellOrigin.Row,
            (false, true) => CellOrigin.Column,
            _ => CellOrigin.Default,
        };
}
