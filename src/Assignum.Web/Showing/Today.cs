namespace Assignum.Web.Showing;

/// <summary>The day it is, the same for every page.</summary>
static class Days
{
    /// <summary>Today, in universal time.</summary>
    internal static DateOnly Today(this TimeProvider clock) => DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);

    static readonly DateOnly First = new(1900, 1, 1), Last = new(2899, 12, 31);

    /// <summary>The day, or the nearest one around which days and years can be reckoned.</summary>
    internal static DateOnly Reckonable(this DateOnly day)
    {
        if (day < First)
            return First;
        return day > Last ? Last : day;
    }
}
