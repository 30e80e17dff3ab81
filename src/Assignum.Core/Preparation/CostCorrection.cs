using Assignum.Core.Posting;

namespace Assignum.Core.Preparation;

/// <summary>
/// What the value of stock is out by after an event: goods had left before they came, at another cost than they came at; or what was taken back left a value on
/// no quantity, or one on the other side than its quantity. The difference lands by a cost change that belongs to the event.
/// </summary>
public static class CostCorrection
{
    /// <summary>Ends the id of a cost change that belongs to an event.</summary>
    public const string Suffix = "#cost";

    /// <summary>Id of the cost change that belongs to an event.</summary>
    public static string IdOf(string id) => id + Suffix;

    /// <summary>The cost change that an event makes needful; null where every value fits.</summary>
    /// <param name="happened">The event, applied to the stock since <see cref="StockOnHand.Watch"/>.</param>
    /// <param name="stock">What stands now.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    internal static StockValue? After(BusinessEvent happened, StockOnHand stock, int minorUnits)
    {
        // Who changes a cost by hand means it.
        if (happened is StockValue)
            return null;
        var lines = stock.Moved().SelectMany(shelf => shelf.Now.Select(part => LineOf(shelf.Of, part,
            OutBy(shelf.Before.FirstOrDefault(was => Fold.Same(was.Account, part.Account)), part, shelf.LastCost, minorUnits))));
        var change = new StockValue
        {
            Id = IdOf(happened.Id), Revision = happened.Revision, Date = happened.Date, RefersTo = happened.Id, Adjustment = happened.Adjustment,
            Text = $"Cost of stock after {happened.Number ?? happened.Id}", Lines = [.. lines.OfType<ValueLine>()],
        };
        return change.Lines.Count == 0 ? null : change;
    }

    static ValueLine? LineOf(StockPlace of, StockPart part, decimal outBy) => outBy == 0 ? null : new ValueLine
    {
        Item = of.Item, StandsOn = part.Account.Length == 0 ? null : part.Account, Amount = -outBy, Place = LinePlace.None with { Location = of.Location },
    };

    /// <summary>By how much what stands is worth too much, company currency.</summary>
    /// <param name="before">What stood there before.</param>
    /// <param name="now">What stands there now.</param>
    /// <param name="lastCost">Cost of one unit at which it last came; null where it never did.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    internal static decimal OutBy(StockPart before, StockPart now, decimal? lastCost, int minorUnits)
    {
        var worth = now.Quantity == 0 ? 0 : Covered(before, now, minorUnits) ?? now.Value;
        if (worth * now.Quantity < 0)
            worth = Money.Round(now.Quantity * (lastCost ?? 0), minorUnits);
        return now.Value - worth;
    }

    // What comes where goods had left already covers them at the cost it came at; what is still missing stays at the cost it left at.
    static decimal? Covered(StockPart before, StockPart now, int minorUnits)
    {
        if (before.Quantity >= 0 || now.Quantity <= before.Quantity)
            return null;
        return Money.Round(now.Quantity > 0 ? now.Quantity * (now.Value - before.Value) / (now.Quantity - before.Quantity)
            : before.Value * now.Quantity / before.Quantity, minorUnits);
    }
}
