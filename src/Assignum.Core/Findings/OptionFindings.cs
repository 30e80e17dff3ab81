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
            yield return new("option-account-missing", Severity.Warning, "company/options",
                "Discounts are to have accounts of their own, and sales discount has no rule: discounts land where revenue does. Add a rule for sales " +
                    "discount, or switch the option off.");
        if (!options.SeparateDiscounts && purposes.Contains(Purpose.SalesDiscount))
            yield return new("option-account-unused", Severity.Info, "company/options",
                "Sales discount has rules, but discounts on accounts of their own are switched off, so nothing lands there. Switch the option on, or end the " +
                    "rules.");
        if (options.PerpetualStock && book.Items.Any(i => i.Kind == Groups.ItemKind.Stock))
            foreach (var purpose in new[] { Purpose.Inventory, Purpose.CostOfSales }.Where(p => !purposes.Contains(p)))
                yield return new("option-account-missing", Severity.Warning, "company/options",
                    $"Stock is kept at cost with every movement, and {purpose.InWords} has no rule: shipped stock would be held. Add a rule for " +
                        $"{purpose.InWords}, or switch the option off.");
        if (!options.PerpetualStock && purposes.Contains(Purpose.Inventory))
            yield return new("option-account-unused", Severity.Info, "company/options",
                "Inventory has rules, but keeping stock at cost with every movement is switched off, so nothing lands there. Switch the option on, or end " +
                    "the rules.");
    }
}
