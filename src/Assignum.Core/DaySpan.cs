namespace Assignum.Core;

/// <summary>Days between which nothing changes.</summary>
/// <param name="First">The first one.</param>
/// <param name="Last">The last one; not before the first.</param>
public readonly record struct DaySpan(DateOnly First, DateOnly Last)
{
    /// <summary>How many days they are, 1 or more.</summary>
    public int Days => Last.DayNumber - First.DayNumber + 1;

    /// <summary>Parts days wherever something changes.</summary>
    /// <param name="first">The first day.</param>
    /// <param name="last">The last day; not before the first.</param>
    /// <param name="changes">Days from whose morning on something is different, in any order; those outside, or on the first day, part nothing.</param>
    public static IEnumerable<DaySpan> Parted(DateOnly first, DateOnly last, IEnumerable<DateOnly> changes)
    {
        foreach (var day in changes.Where(day => day > first && day <= last).Distinct().Order())
        {
            yield return new(first, day.AddDays(-1));
            first = day;
        }
        yield return new(first, last);
    }
}
