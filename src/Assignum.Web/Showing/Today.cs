namespace Assignum.Web.Showing;

/// <summary>The day it is, the same for every page.</summary>
static class Days
{
    /// <summary>Today, in universal time.</summary>
    internal static DateOnly Today(this TimeProvider clock) => DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);
}
