using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.DemoEvents.Year;

/// <summary>What a document comes to, reckoned here and not by the product.</summary>
static class Bill
{
    /// <summary>Net of a line, without tax.</summary>
    internal static decimal Net(DocumentLine line)
    {
        var gross = Money.Round(line.Quantity * line.Price!.Value, 2);
        return gross - Money.Round(gross * (line.DiscountPercent ?? 0) / 100, 2);
    }

    /// <summary>What a customer pays: nets, and the tax of each rate on their sum.</summary>
    /// <param name="world">Whose items they are.</param>
    /// <param name="lines">Lines over items.</param>
    /// <param name="percents">Percentages by item tax group, each on the nets and the taxes before it.</param>
    internal static decimal Total(World world, IEnumerable<DocumentLine> lines, Func<string, decimal[]> percents)
    {
        var total = 0m;
        // All lines of one tax code are taxed together.
        foreach (var taxed in lines.GroupBy(line => string.Join('+', percents(world.TaxGroupOf(world.Item(line.Item!))))))
        {
            var sum = taxed.Sum(Net);
            foreach (var percent in percents(world.TaxGroupOf(world.Item(taxed.First().Item!))))
                sum += Money.Round(sum * percent / 100, 2);
            total += sum;
        }
        return total;
    }

    internal static decimal[] Home(string taxGroup) => taxGroup switch { "STANDARD" => [20], "REDUCED" => [8], _ => [0] };
    internal static decimal[] Abroad(string taxGroup) => [0];
    internal static decimal[] District(string taxGroup) => taxGroup is "STANDARD" or "REDUCED" ? [6, 1.5m] : [0];
}
