using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>Options that ask for accounts nobody has chosen, and the other way round.</summary>
static class OptionFindings
{
    internal static IEnumerable<Finding> Of(Rulebook book)
    {
        var options = book.Company.Options;
        var purposes = book.Rules.Select(r => r.Purpose).ToHashSet();
        if (options.SeparateDiscounts && !purposes.Contains(Purpose.SalesDiscount))
            yield return new("option-account-missing", Severity.Warning, "company/options", "Option separateDiscounts is on, and sales-discount has no rule: discounts land where revenue does. Add a rule for sales-discount, or switch the option off.");
        if (!options.SeparateDiscounts && purposes.Contains(Purpose.SalesDiscount))
            yield return new("option-account-unused", Severity.Info, "company/options", "sales-discount has rules, and option separateDiscounts is off, so nothing lands there. Switch the option on, or end the rules.");
        if (options.PerpetualStock && book.Items.Any(i => i.Kind == Groups.ItemKind.Stock))
            foreach (var purpose in new[] { Purpose.Inventory, Purpose.CostOfSales }.Where(p => !purposes.Contains(p)))
                yield return new("option-account-missing", Severity.Warning, "company/options", $"Option perpetualStock is on, and {purpose} has no rule: shipped stock would be held. Add a rule for {purpose}, or switch the option off.");
        if (!options.PerpetualStock && purposes.Contains(Purpose.Inventory))
            yield return new("option-account-unused", Severity.Info, "company/options", "inventory has rules, and option perpetualStock is off, so no event lands there. Switch the option on, or end the rules.");
    }
}
