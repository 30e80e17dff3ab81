namespace Assignum.Core.Preparation;

/// <summary>What a payment may keep by the terms of its party: the discount of what it pays in time, and a small rest that is let go.</summary>
/// <param name="Discount">Discount of the items it pays whole with it, currency of the items, 0 or more.</param>
/// <param name="LetGo">What is then missing of the next item, where it is no more than the terms let go; else 0.</param>
/// <param name="Items">How many items it pays whole.</param>
public sealed record EarlyPayment(decimal Discount, decimal LetGo, int Items)
{
    /// <summary>Works it out.</summary>
    /// <param name="oldestFirst">What is open, above 0, with the days of its documents, in the order in which it is paid.</param>
    /// <param name="paid">What is paid, 0 or more.</param>
    /// <param name="terms">The terms.</param>
    /// <param name="day">The day it is paid.</param>
    /// <param name="minorUnits">Minor units of the currency.</param>
    public static EarlyPayment Of(IEnumerable<(decimal Open, DateOnly Document)> oldestFirst, decimal paid, Terms terms, DateOnly day, int minorUnits)
    {
        var (left, discount, items) = (paid, 0m, 0);
        foreach (var (open, document) in oldestFirst)
        {
            var off = terms.DiscountUntil(document) >= day ? Money.Round(open * terms.DiscountPercent / 100, minorUnits) : 0;
            if (left == 0)
                break;
            if (open - off - left is > 0 and var missing)
                return missing <= terms.Tolerance ? new(discount + off, missing, items + 1) : new(discount, 0, items);
            left -= open - off;
            discount += off;
            items++;
        }
        return new(discount, 0, items);
    }
}
