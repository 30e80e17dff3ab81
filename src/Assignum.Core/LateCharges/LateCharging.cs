using Assignum.Core.Preparation;

namespace Assignum.Core.LateCharges;

/// <summary>An item that a customer owes.</summary>
/// <param name="Due">When it is due.</param>
/// <param name="Moves">What opened it and what changed it, its currency, debit positive.</param>
/// <param name="ChargedTo">The last day up to which interest was charged; null: none was.</param>
public sealed record OwedItem(DateOnly Due, IReadOnlyList<(DateOnly Date, decimal Amount)> Moves, DateOnly? ChargedTo)
{
    /// <summary>What is open of it at the end of a day.</summary>
    public decimal OpenOn(DateOnly day) => Moves.Where(m => m.Date <= day).Sum(m => m.Amount);
}

/// <summary>What is charged for an item that is paid late.</summary>
/// <param name="From">The first day that counts.</param>
/// <param name="To">The last one.</param>
/// <param name="Interest">Interest in the item's currency.</param>
public sealed record LateInterest(DateOnly From, DateOnly To, decimal Interest)
{
    /// <summary>How many days count.</summary>
    public int Days => To.DayNumber - From.DayNumber + 1;
}

/// <summary>Interest and reminder fees, by the terms of payment.</summary>
public static class LateCharging
{
    /// <summary>Days that lie at least between two reminders of one customer.</summary>
    public const int BetweenReminders = 30;
    const int DaysOfYear = 365;

    /// <summary>Whether an item is late: open, and its days of grace are over.</summary>
    public static bool IsLate(OwedItem item, Terms terms, DateOnly on) => item.OpenOn(on) > 0 && item.Due.AddDays(terms.GraceDays) < on;

    /// <summary>
    /// Interest of an item up to a day: from the day after it was due, or after the day up to which interest was charged before, on what was open at the
    /// end of each day, a 365th of the yearly percentage a day; rounded once. Null where nothing is charged.
    /// </summary>
    /// <param name="item">The item.</param>
    /// <param name="terms">The customer's terms.</param>
    /// <param name="on">The last day.</param>
    /// <param name="minorUnits">Minor units of the item's currency.</param>
    public static LateInterest? InterestOf(OwedItem item, Terms terms, DateOnly on, int minorUnits)
    {
        var from = item.ChargedTo is { } charged && charged > item.Due ? charged.AddDays(1) : item.Due.AddDays(1);
        if (!IsLate(item, terms, on) || terms.LatePercent == 0 || from > on)
            return null;
        var sum = DaySpan.Parted(from, on, item.Moves.Select(m => m.Date)).Sum(span => Math.Max(0, item.OpenOn(span.First)) * span.Days);
        var interest = Money.Round(sum * terms.LatePercent / 100 / DaysOfYear, minorUnits);
        return interest > 0 ? new(from, on, interest) : null;
    }

    /// <summary>The fee of a customer with late items: none within some days of the last reminder.</summary>
    /// <param name="items">The customer's items.</param>
    /// <param name="terms">The customer's terms.</param>
    /// <param name="reminded">The day of the last reminder; null: none yet.</param>
    /// <param name="on">The day of this one.</param>
    public static decimal FeeOf(IEnumerable<OwedItem> items, Terms terms, DateOnly? reminded, DateOnly on) =>
        items.Any(item => IsLate(item, terms, on)) && !(reminded?.AddDays(BetweenReminders) > on) ? terms.ReminderFee : 0;
}
