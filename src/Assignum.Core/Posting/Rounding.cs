namespace Assignum.Core.Posting;

/// <summary>What may be left unbalanced when each row of an entry is converted to company currency on its own.</summary>
public static class Rounding
{
    /// <summary>The most that rounding explains: half a minor unit for each converted row.</summary>
    /// <param name="converted">Rows whose amount was converted, those that came to nothing included; 0 or more.</param>
    /// <param name="minorUnits">Decimals of the company's currency.</param>
    /// <returns>Company currency, 0 or more.</returns>
    public static decimal Most(int converted, int minorUnits) => converted * Money.OneUnit(minorUnits) / 2;
}
