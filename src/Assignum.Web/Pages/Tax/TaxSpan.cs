using System.Globalization;

namespace Assignum.Web.Pages.Tax;

/// <summary>The months a report is for.</summary>
/// <param name="First">First day.</param>
/// <param name="Last">Last day.</param>
public sealed record TaxSpan(DateOnly First, DateOnly Last)
{
    /// <summary>From two months, "2026-03"; the month of today where none is asked, or of the last posting.</summary>
    public static TaxSpan Of(string? from, string? to, DateOnly otherwise)
    {
        var first = Month(from) ?? Month(to) ?? new DateOnly(otherwise.Year, otherwise.Month, 1);
        var last = Month(to) ?? first;
        return last < first ? new(last, first.AddMonths(1).AddDays(-1)) : new(first, last.AddMonths(1).AddDays(-1));
    }

    /// <summary>"2026-03".</summary>
    public static string Word(DateOnly month) => month.ToString("yyyy-MM", CultureInfo.InvariantCulture);

    /// <summary>"March 2026", or "January to March 2026".</summary>
    public string InWords => First.Year == Last.Year && First.Month == Last.Month ? First.ToString("MMMM yyyy", CultureInfo.InvariantCulture)
        : $"{First.ToString(First.Year == Last.Year ? "MMMM" : "MMMM yyyy", CultureInfo.InvariantCulture)} to " +
            $"{Last.ToString("MMMM yyyy", CultureInfo.InvariantCulture)}";

    /// <summary>The months, first to last.</summary>
    public IEnumerable<DateOnly> Months
    {
        get
        {
            for (var month = First; month <= Last; month = month.AddMonths(1))
                yield return month;
        }
    }

    static DateOnly? Month(string? text) =>
        DateOnly.TryParseExact(text + "-01", "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out var month) ? month : null;
}
