namespace Assignum.Core.Consolidating;

/// <summary>A document that one company of the group has with another, as one of them has it.</summary>
/// <param name="Document">What the document shows.</param>
/// <param name="Date">Its posting date there.</param>
/// <param name="Currency">Its currency.</param>
/// <param name="Opened">What it was opened with, its currency, debit positive.</param>
/// <param name="Open">What is open of it at the end of the day asked for; 0 where it came later.</param>
/// <param name="Booked">What is open of it in the company's currency, as it was booked.</param>
public sealed record BetweenItem(string Document, DateOnly Date, string Currency, decimal Opened, decimal Open, decimal Booked);

/// <summary>Why two companies differ about a document.</summary>
public enum BetweenReason
{
    /// <summary>They agree.</summary>
    Agrees,
    /// <summary>Only the one that asks has it.</summary>
    OnlyHere,
    /// <summary>Only the other one has it.</summary>
    OnlyThere,
    /// <summary>Both have it, with other amounts.</summary>
    OtherAmount,
    /// <summary>One of them has it on a later day.</summary>
    OtherDate,
    /// <summary>They agree on the document and have it at other rates.</summary>
    OtherRate,
    /// <summary>Both have it with the same amount, and more of it is settled here than there, or the other way.</summary>
    OtherSettlement,
}

/// <summary>A document as both companies have it.</summary>
/// <param name="Document">What it shows.</param>
/// <param name="Ours">As the one that asks has it; null: it has not.</param>
/// <param name="Theirs">As the other one has it; null: it has not.</param>
/// <param name="Reason">Why they differ.</param>
public sealed record BetweenLine(string Document, BetweenItem? Ours, BetweenItem? Theirs, BetweenReason Reason)
{
    /// <summary>What is open here and there together, in the currency of the companies: nothing where they agree.</summary>
    public decimal Difference => (Ours?.Booked ?? 0) + (Theirs?.Booked ?? 0);
}

/// <summary>Compares what two companies of the group say they owe each other, document by document.</summary>
public static class BetweenCompanies
{
    /// <summary>Every document that is open on one side, or differs; those on which they agree too. The differences of the lines come to the difference of the
    /// two balances.</summary>
    /// <param name="ours">Documents of the one that asks, with those that came later.</param>
    /// <param name="theirs">Documents of the other one, in the same currency of the books.</param>
    /// <param name="on">The day.</param>
    public static IReadOnlyList<BetweenLine> Compare(IReadOnlyList<BetweenItem> ours, IReadOnlyList<BetweenItem> theirs, DateOnly on)
    {
        var left = theirs.GroupBy(t => Fold.Of(t.Document)).ToDictionary(t => t.Key, t => new Queue<BetweenItem>(t.OrderBy(i => i.Date)));
        var lines = new List<BetweenLine>();
        foreach (var own in ours.OrderBy(o => o.Date).ThenBy(o => o.Document, StringComparer.Ordinal))
            lines.Add(Line(own, left.TryGetValue(Fold.Of(own.Document), out var there) && there.Count > 0 ? there.Dequeue() : null));
        lines.AddRange(left.Values.SelectMany(l => l).OrderBy(t => t.Date).Select(there => Line(null, there)));
        return [.. lines.Where(l => (l.Ours?.Booked ?? 0) != 0 || (l.Theirs?.Booked ?? 0) != 0 || (l.Ours?.Open ?? 0) != 0 || (l.Theirs?.Open ?? 0) != 0)];

        BetweenLine Line(BetweenItem? own, BetweenItem? there) => new((own ?? there)!.Document, own, there, ReasonOf(own, there, on));
    }

    static BetweenReason ReasonOf(BetweenItem? own, BetweenItem? there, DateOnly on)
    {
        if (there is null)
            return BetweenReason.OnlyHere;
        if (own is null)
            return BetweenReason.OnlyThere;
        if (own.Date > on != there.Date > on)
            return BetweenReason.OtherDate;
        if (own.Currency != there.Currency || own.Opened != -there.Opened)
            return BetweenReason.OtherAmount;
        if (own.Open != -there.Open)
            return BetweenReason.OtherSettlement;
        return own.Booked == -there.Booked ? BetweenReason.Agrees : BetweenReason.OtherRate;
    }
}
