using Assignum.Core.Charts;

namespace Assignum.Core.Consolidating;

/// <summary>The rate by which an account of a company is translated into the group's currency.</summary>
public enum TranslationRate
{
    /// <summary>The rate of the day on which the balances stand.</summary>
    Closing,
    /// <summary>The average of the fiscal year's days so far.</summary>
    Average,
    /// <summary>Each amount at the rate of its own day.</summary>
    Historical,
}

/// <summary>Where an account of a company goes in the group's chart.</summary>
/// <param name="Debit">Number of the group's account for a balance in debit.</param>
/// <param name="Credit">Number of the group's account for a balance in credit; null: the same.</param>
/// <param name="Rate">By which rate it is translated; null: that of its class.</param>
public sealed record GroupMatch(string Debit, string? Credit = null, TranslationRate? Rate = null)
{
    /// <summary>The group's account for a balance.</summary>
    public string For(decimal balance) => balance < 0 ? Credit ?? Debit : Debit;

    /// <summary>As sentences have it: "G-240, in credit to G-310, at the historical rate".</summary>
    public string InWords =>
        Debit + (Credit is null ? "" : $", in credit to {Credit}") + (Rate is { } rate ? $", at the {Words<TranslationRate>.Of(rate)} rate" : "");

    /// <summary>The rate for accounts of a class: income and expense at the average, equity as it came in, the rest at the closing rate.</summary>
    public static TranslationRate RateOf(AccountClass accountClass) => accountClass switch
    {
        AccountClass.Asset or AccountClass.Liability => TranslationRate.Closing,
        AccountClass.Equity => TranslationRate.Historical,
        _ => TranslationRate.Average,
    };
}
