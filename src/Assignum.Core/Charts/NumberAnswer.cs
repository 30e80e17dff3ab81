namespace Assignum.Core.Charts;

/// <summary>What can be said of a number at once.</summary>
public enum NumberFate { Empty, Free, Taken, Outside }

/// <summary>A number that is not given again.</summary>
/// <param name="Owner">Number now of the account it belongs to.</param>
/// <param name="Sentence">Whose it is.</param>
public sealed record KeptNumber(string Owner, string Sentence);

/// <summary>The answer to a number while it is typed.</summary>
/// <param name="Fate">Whether it can be used.</param>
/// <param name="Sentence">The answer as a sentence.</param>
/// <param name="Free">The next free numbers beside the neighbour, the best first.</param>
public sealed record NumberAnswer(NumberFate Fate, string Sentence, IReadOnlyList<string> Free);

/// <summary>Numbers of a chart: who has one, and which are free beside a neighbour.</summary>
/// <param name="tree">The chart.</param>
/// <param name="plan">The numbering plan.</param>
/// <param name="kept">Numbers that are not given again, by fold: former ones of renumbered accounts, and those of accounts that left the chart.</param>
public sealed class ChartNumbers(ChartTree tree, NumberingPlan plan, IReadOnlyDictionary<string, KeptNumber> kept)
{
    const int MostFree = 4;

    /// <summary>The chart.</summary>
    public ChartTree Tree => tree;
    /// <summary>The numbering plan.</summary>
    public NumberingPlan Plan => plan;

    /// <summary>Answers a number for an account.</summary>
    /// <param name="number">What was typed.</param>
    /// <param name="was">Number the account has now, or null.</param>
    /// <param name="accountClass">Its class, where known.</param>
    /// <param name="kind">Its kind.</param>
    /// <param name="parent">Number of the account it stands under, or null.</param>
    /// <param name="beside">Number of its neighbour, or null.</param>
    public NumberAnswer Answer(string? number, string? was, AccountClass? accountClass, AccountKind kind, string? parent, string? beside)
    {
        var typed = number?.Trim() ?? "";
        var free = FreeBeside(beside ?? (typed.Length > 0 ? typed : null), accountClass, kind, parent);
        if (typed.Length == 0)
            return new(NumberFate.Empty, free.Count == 0 ? "Type a number." : "Type a number, or take one that is free.", free);
        if (AccountCheck.NumberFault(typed) is { } malformed)
            return new(NumberFate.Outside, malformed, free);
        if (!Fold.Same(typed, was) && TakenBy(typed, was) is { } taken)
            return new(NumberFate.Taken, taken, free);
        return accountClass is { } known && plan.Fault(typed, known, kind, HeadingsOf(parent)) is { } outside
            ? new(NumberFate.Outside, outside, free)
            : new(NumberFate.Free, Fold.Same(typed, was) ? $"{typed} is its number now." : $"{typed} is free.", free);
    }

    /// <summary>Who has a number, as a sentence; null when nobody has it.</summary>
    /// <param name="number">The number.</param>
    /// <param name="by">Number now of the account that asks, which may have its own former number back; null for a new one.</param>
    public string? TakenBy(string number, string? by = null)
    {
        if (tree.Find(number) is { } account)
            return $"{number} is taken by {account.Name}.";
        if (kept.TryGetValue(Fold.Of(number), out var former) && !(by is not null && Fold.Same(former.Owner, by)))
            return former.Sentence;
        return null;
    }

    /// <summary>Why the plan bars the number of an account where it stands; null when it fits.</summary>
    internal string? OutsidePlan(Account account) => plan.Fault(account.Number, account.Class, account.Kind, HeadingsOf(account.Parent));

    /// <summary>"Free beside it: 4011, 4012."</summary>
    internal string FreeInWords(string beside, Account account) =>
        FreeBeside(beside, account.Class, account.Kind, account.Parent) is { Count: > 0 } free ? $"Free beside it: {string.Join(", ", free)}."
            : "Choose another.";

    /// <summary>Free numbers beside another: half way to the next one first, then those close by, then the next step after its last sibling.</summary>
    public IReadOnlyList<string> FreeBeside(string? beside, AccountClass? accountClass, AccountKind kind, string? parent)
    {
        if ((beside ?? FirstBelow(parent, accountClass)) is not { } start || NumberSeries.Of(start) is not { } series)
            return [];
        var headings = HeadingsOf(parent).ToList();
        var free = new List<string>(MostFree);
        foreach (var value in Candidates(series, start))
        {
            if (free.Count == MostFree)
                break;
            if (series.At(value) is { } number && !free.Contains(number) && TakenBy(number) is null
                && !(accountClass is { } known && plan.Fault(number, known, kind, headings) is not null))
                free.Add(number);
        }
        return free;
    }

    /// <summary>The next free number after an account's, for another account like it; null when none is free within a thousand.</summary>
    /// <param name="last">The account before it.</param>
    /// <param name="given">Numbers that are given in the same act already.</param>
    public string? NextAfter(Account last, IReadOnlySet<string> given)
    {
        if (NumberSeries.Of(last.Number) is not { } series)
            return null;
        for (var step = 1; step <= 1000; step++)
            if (series.At(series.Value + step) is { } next && !given.Contains(next)
                && Answer(next, null, last.Class, last.Kind, last.Parent, null).Fate == NumberFate.Free)
                return next;
        return null;
    }

    // Without a neighbour, the range says where to begin.
    string? FirstBelow(string? parent, AccountClass? accountClass)
    {
        if (tree.PlaceOf(parent) is >= 0 and var place
            && tree.Below(place).Select(p => tree.Nodes[p].Account).LastOrDefault(a => a.Kind == AccountKind.Posting) is { } last)
            return last.Number;
        return plan.RangeUnder(HeadingsOf(parent))?.From ?? (accountClass is { } known ? plan.RangeOf(known)?.From : null);
    }

    IEnumerable<long> Candidates(NumberSeries series, string start)
    {
        var siblings = SiblingValues(series, start);
        var next = siblings.FirstOrDefault(v => v > series.Value, -1);
        if (next > series.Value + 1)
            yield return series.Value + ((next - series.Value) / 2);
        if (siblings.Count > 0)
            yield return siblings[^1] + StepOf(siblings);
        yield return series.Value;
        for (var near = 1; near <= 2000; near++)
            yield return series.Value + near;
        for (var near = 1; near <= 2000; near++)
            yield return series.Value - near;
    }

    List<long> SiblingValues(NumberSeries series, string start)
    {
        var place = tree.PlaceOf(start);
        var siblings = place < 0 ? [] : tree.Below(tree.Nodes[place].Parent).Select(p =>
            NumberSeries.Of(tree.Nodes[p].Account.Number)).OfType<NumberSeries>().Where(s => s.Frame == series.Frame).Select(s => s.Value).ToList();
        siblings.Sort();
        return siblings;
    }

    /// <summary>The step in which numbers mostly follow each other, as a power of ten; 10 where too few are there to tell.</summary>
    internal static long StepOf(List<long> sorted)
    {
        if (sorted.Count < 2)
            return 10;
        var gaps = sorted.Zip(sorted.Skip(1), (a, b) => b - a).Order().ToList();
        var median = gaps[gaps.Count / 2];
        var step = 1L;
        while (step * 10 <= median)
            step *= 10;
        return step;
    }

    IEnumerable<string> HeadingsOf(string? parent) =>
        tree.PlaceOf(parent) is >= 0 and var place ? tree.Above(place).Prepend(place).Select(p => tree.Nodes[p].Account.Number) : [];

    /// <summary>The stretch of numbers around one.</summary>
    public NumberRuler? RulerAround(string? number, string? beside)
    {
        var typed = number is { Length: > 0 } ? NumberSeries.Of(number) : null;
        var shown = typed ?? (beside is not null ? NumberSeries.Of(beside) : null);
        return shown is { } series ? NumberRuler.Around(tree, series, number, beside) : null;
    }
}
