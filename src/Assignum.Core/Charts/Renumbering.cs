namespace Assignum.Core.Charts;

/// <summary>A new number for an account.</summary>
/// <param name="Account">The account as it is.</param>
/// <param name="To">Its new number; null when the plan has no free number for it.</param>
/// <param name="Why">Why the old one does not fit.</param>
public sealed record NewNumber(Account Account, string? To, string Why);

/// <summary>Proposes numbers for the accounts that do not fit a plan. Nothing is done by proposing.</summary>
public static class Renumbering
{
    /// <summary>
    /// Proposes. An account keeps its digits where it can (shorter ones get zeros at the end, longer ones lose zeros there); else it takes the next free number
    /// of its range. No number that an account has or ever had is given to another.
    /// </summary>
    /// <param name="tree">The chart.</param>
    /// <param name="plan">The plan the accounts shall fit.</param>
    /// <param name="kept">Numbers that are not given again, by fold.</param>
    public static IReadOnlyList<NewNumber> Propose(ChartTree tree, NumberingPlan plan, IReadOnlyDictionary<string, KeptNumber> kept)
    {
        var taken = tree.Nodes.Select(n => n.Fold).Concat(kept.Keys).ToHashSet();
        var proposals = new List<NewNumber>();
        foreach (var (node, why) in plan.Misfits(tree))
        {
            var headings = tree.Above(tree.PlaceOf(node.Account.Number)).Select(p => tree.Nodes[p].Account.Number).ToList();
            var to = Candidates(node.Account, plan, headings).FirstOrDefault(n => !taken.Contains(Fold.Of(n))
                && plan.Fault(n, node.Account.Class, node.Account.Kind, headings) is null);
            if (to is not null)
                taken.Add(Fold.Of(to));
            proposals.Add(new NewNumber(node.Account, to, why));
        }
        return proposals;
    }

    static IEnumerable<string> Candidates(Account account, NumberingPlan plan, IReadOnlyList<string> headings)
    {
        var frame = plan.Pattern.Length > 0 ? new NumberSeries(Fold.Of(plan.Pattern), 0) : NumberSeries.Of(account.Number) ?? new NumberSeries("####", 0);
        var digits = string.Concat(account.Number.Where(char.IsAsciiDigit));
        if (digits.Length > frame.Digits)
            digits = digits[..frame.Digits] + digits[frame.Digits..].TrimEnd('0');
        if (digits.Length <= frame.Digits && digits.Length > 0
            && frame.At(long.Parse(digits.PadRight(frame.Digits, '0'), System.Globalization.CultureInfo.InvariantCulture)) is { } own)
            yield return own;

        var range = plan.RangeUnder(headings) ?? plan.RangeOf(account.Class);
        var start = range is null ? NumberSeries.Of(frame.At(0)!) : NumberSeries.Of(range.From);
        if (start is not { } first)
            yield break;
        var step = first.Digits > 2 ? (long)Math.Pow(10, first.Digits / 3) : 1;
        foreach (var by in new[] { step, 1 })
            for (var (value, tries) = (first.Value, 0); tries < 100_000 && first.At(value) is { } next && (range is null || range.Has(next)); value += by,
                tries++)
                yield return next;
    }
}
