namespace Assignum.Core.Rates;

/// <summary>The rate of a currency on a day.</summary>
/// <param name="Currency">Folded ISO 4217 code, another than the company's.</param>
/// <param name="Day">The day.</param>
/// <param name="Rate">Company currency for one unit, above 0, at most 12 decimals.</param>
public sealed record DayRate(string Currency, DateOnly Day, decimal Rate)
{
    const decimal Limit = 1_000_000_000_000m;

    /// <summary>What is wrong with it, with the fix; null when nothing is.</summary>
    /// <param name="companyCurrency">Folded code of the company's currency.</param>
    public string? Fault(string companyCurrency)
    {
        if (!Money.TryMinorUnits(Currency, out _))
            return $"Currency {Currency} is no ISO 4217 code. Write one of three letters, such as USD.";
        if (Currency == companyCurrency)
            return $"{Currency} is the company's own currency, whose rate is 1. Name another.";
        if (Rate <= 0 || Rate >= Limit || !Money.HasAtMost(Rate, 12))
            return $"The rate of {Currency} is {Written.NumberNow(Rate)}. A rate is above 0, with at most 12 decimals.";
        return null;
    }
}
