using Assignum.Core;
using Assignum.Core.Rates;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Rates;

/// <summary>A row of a sheet that gives no rate.</summary>
/// <param name="Line">Number of its line.</param>
/// <param name="Why">What is wrong, and the fix.</param>
public sealed record RefusedRate(int Line, string Why);

/// <summary>Exchange rates as a sheet: a day, a currency and a rate in each row, in whatever order; a first row of headings is passed over.</summary>
public static class RateSheet
{
    /// <summary>Reads a sheet.</summary>
    /// <param name="sheet">The sheet.</param>
    /// <param name="companyCurrency">Folded code of the company's currency.</param>
    public static (IReadOnlyList<DayRate> Rates, IReadOnlyList<RefusedRate> Refused) Read(Sheet sheet, string companyCurrency)
    {
        var (rates, refused) = (new Dictionary<(string, DateOnly), DayRate>(), new List<RefusedRate>());
        foreach (var (row, i) in sheet.Rows.Select((row, i) => (row, i)))
        {
            var (day, currency, number) = (DayOf(row), CurrencyOf(row), NumberOf(row));
            if (i == 0 && day is null && number is null)
                continue;
            if (day is null || currency is null || number is null)
                refused.Add(new(row.Line,
                    $"The row has no {Missing(day, currency, number)}. Give a day as 2026-03-14, a currency as USD, and a rate as 0.92."));
            else if (new DayRate(currency, day.Value, number.Value) is var rate && rate.Fault(companyCurrency) is { } fault)
                refused.Add(new(row.Line, fault));
            else if (!rates.TryAdd((currency, day.Value), rate) && rates[(currency, day.Value)] != rate)
                refused.Add(new(row.Line, $"The rate of {currency} on {Written.DayNow(day.Value)} is there twice, and differs. Keep one of them."));
        }
        return ([.. rates.Values], refused);
    }

    static string Missing(DateOnly? day, string? currency, decimal? number)
    {
        if (day is null)
            return "day";
        return currency is null || number is not null ? "currency" : "rate";
    }

    static DateOnly? DayOf(SheetRow row) =>
        row.Cells.Select(c => Written.Now.TryDay(c, out var day) ? day : (DateOnly?)null).FirstOrDefault(d => d is not null);

    static string? CurrencyOf(SheetRow row) => row.Cells.FirstOrDefault(c => c.Length == 3 && c.All(char.IsAsciiLetter)) is { } code ? Fold.Of(code) : null;

    static decimal? NumberOf(SheetRow row) =>
        row.Cells.Select(c => Decimals.TryParse(c, out var number) || Written.Now.TryNumber(c, out number) ? number : (decimal?)null)
            .FirstOrDefault(n => n is not null);
}
