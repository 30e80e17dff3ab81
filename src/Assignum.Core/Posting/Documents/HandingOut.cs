namespace Assignum.Core.Posting;

/// <summary>Hands an amount out over lines, to the minor unit.</summary>
public static class HandingOut
{
    /// <summary>
    /// Each line first takes its own share; what the shares differ from the whole goes one minor unit at a time to the lines with the
    /// largest absolute base, the earlier line first, from the start again while units remain.
    /// </summary>
    /// <param name="whole">The amount to hand out.</param>
    /// <param name="shares">Own share of each line, rounded.</param>
    /// <param name="bases">Base of each line.</param>
    /// <param name="minorUnits">Decimals of the currency.</param>
    /// <returns>What each line gets; the sum is the whole.</returns>
    public static decimal[] Over(decimal whole, IReadOnlyList<decimal> shares, IReadOnlyList<decimal> bases, int minorUnits)
    {
        decimal[] handed = [.. shares];
        var rest = whole - handed.Sum();
        if (rest == 0 || handed.Length == 0)
            return handed;

        var unit = Money.OneUnit(minorUnits);
        var units = Math.Abs(rest) / unit;
        var rounds = decimal.Floor(units / handed.Length);
        var left = (int)(units - rounds * handed.Length);
        var step = unit * Math.Sign(rest);

        int[] order = [.. Enumerable.Range(0, handed.Length).OrderByDescending(i => Math.Abs(bases[i]))];
        for (var i = 0; i < order.Length; i++)
            handed[order[i]] += step * (rounds + (i < left ? 1 : 0));
        return handed;
    }
}
