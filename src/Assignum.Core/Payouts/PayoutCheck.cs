namespace Assignum.Core.Payouts;

/// <summary>A document on a provider's clearing account.</summary>
/// <param name="Key">What tells it from others.</param>
/// <param name="Date">Posting date.</param>
/// <param name="Amount">Company currency: receipts positive, refunds negative; of a payout what it clears, turned round.</param>
/// <param name="IsPayout">It is a payout.</param>
public readonly record struct Cleared(long Key, DateOnly Date, decimal Amount, bool IsPayout);

/// <summary>A payout against what came since the one before.</summary>
/// <param name="Key">Of the payout.</param>
/// <param name="Said">Receipts less refunds, as the provider says.</param>
/// <param name="Had">Receipts less refunds, as the books have them.</param>
/// <param name="Documents">The documents of the books.</param>
/// <param name="CutOff">How many of the documents are of the day of the payout, and came after what the provider counted.</param>
public sealed record PayoutMatch(long Key, decimal Said, decimal Had, IReadOnlyList<Cleared> Documents, int CutOff)
{
    /// <summary>What the provider does not say, and the books have; negative: the other way.</summary>
    public decimal Difference => Had - Said;

    /// <summary>One document, or two, that make up the difference: the provider does not have them. Empty: there is none, or no such documents.</summary>
    public IReadOnlyList<Cleared> Missing
    {
        get
        {
            if (Difference == 0)
                return [];
            foreach (var one in Documents)
                if (one.Amount == Difference)
                    return [one];
            var seen = new Dictionary<decimal, Cleared>();
            foreach (var one in Documents)
            {
                if (seen.TryGetValue(Difference - one.Amount, out var other))
                    return [other, one];
                seen.TryAdd(one.Amount, one);
            }
            return [];
        }
    }
}

/// <summary>What a clearing account has, explained: each payout against its documents, and what is not paid out yet.</summary>
/// <param name="Payouts">The payouts in their order.</param>
/// <param name="Open">Documents after the last payout.</param>
/// <param name="Balance">What stands on the account.</param>
public sealed record PayoutCheck(IReadOnlyList<PayoutMatch> Payouts, IReadOnlyList<Cleared> Open, decimal Balance)
{
    /// <summary>What is not paid out yet.</summary>
    public decimal OpenAmount => Open.Sum(o => o.Amount);
    /// <summary>What payouts and books differ by, over all.</summary>
    public decimal Differences => Payouts.Sum(p => p.Difference);

    /// <summary>
    /// Lays documents against payouts. A provider pays what it has up to some document of the day; where leaving out the last documents before a payout
    /// makes it agree
    /// to the cent, those belong to the next one.
    /// </summary>
    /// <param name="documents">Documents and payouts, by day and in the order of posting.</param>
    public static PayoutCheck Of(IReadOnlyList<Cleared> documents)
    {
        var (payouts, open) = (new List<PayoutMatch>(), new List<Cleared>());
        foreach (var one in documents)
            if (!one.IsPayout)
                open.Add(one);
            else
            {
                var said = -one.Amount;
                var late = LateOnes(open, said);
                var taken = open.Take(open.Count - late).ToList();
                payouts.Add(new(one.Key, said, taken.Sum(t => t.Amount), taken, late));
                open.RemoveRange(0, taken.Count);
            }
        return new(payouts, open, documents.Sum(d => d.Amount));
    }

    const int MostLate = 200;

    static int LateOnes(List<Cleared> open, decimal said)
    {
        var sum = open.Sum(o => o.Amount);
        for (var late = 0; late <= Math.Min(open.Count, MostLate); late++)
        {
            if (sum == said)
                return late;
            if (late < open.Count)
                sum -= open[open.Count - 1 - late].Amount;
        }
        return 0;
    }
}
