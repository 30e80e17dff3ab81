namespace Assignum.Core.Charts;

/// <summary>A used number on the ruler.</summary>
/// <param name="Value">Its digits.</param>
/// <param name="Number">The number.</param>
/// <param name="Name">Who has it.</param>
public sealed record UsedNumber(long Value, string Number, string Name);

/// <summary>A stretch of numbers as ticks: used, free, proposed.</summary>
/// <param name="From">First value of the stretch.</param>
/// <param name="To">Last value.</param>
/// <param name="Unit">What one tick is.</param>
/// <param name="Labels">Numbers written below, one every ten ticks.</param>
/// <param name="Used">The numbers in use.</param>
/// <param name="Proposed">The number typed, with its value; null when none is typed.</param>
public sealed record NumberRuler(long From, long To, long Unit, IReadOnlyList<(long Value, string Number)> Labels, IReadOnlyList<UsedNumber> Used,
    (long Value, string Number)? Proposed)
{
    const int Ticks = 50;

    internal static NumberRuler Around(ChartTree tree, NumberSeries series, string? typed, string? beside)
    {
        var all = tree.Nodes.Where(n => n.Account.Kind == AccountKind.Posting).Select(n => (n.Account, Series: NumberSeries.Of(n.Account.Number))).Where(n =>
            n.Series?.Frame == series.Frame)
            .Select(n => new UsedNumber(n.Series!.Value.Value, n.Account.Number, n.Account.Name)).OrderBy(u => u.Value).ToList();
        var unit = UnitOf(all, series.Value);
        var from = Math.Max(0, series.Value - (series.Value % (unit * 10)) - (unit * 10));
        var to = from + (unit * Ticks);
        var labels = Enumerable.Range(0, (Ticks / 10) + 1).Select(i => from + (i * unit * 10)).Select(v => (v, series.At(v))).Where(l =>
            l.Item2 is not null).Select(l => (l.v, l.Item2!)).ToList();
        var proposed = typed is { Length: > 0 } && NumberSeries.Of(typed) is { } own && !Fold.Same(typed, beside) ? (own.Value, typed.Trim())
            : ((long, string)?)null;
        return new(from, to, unit, labels, [.. all.Where(u => u.Value >= from && u.Value <= to)], proposed);
    }

    // A tenth of the usual step of the numbers close by, so that about five of them are in sight.
    static long UnitOf(List<UsedNumber> all, long value)
    {
        var at = all.FindIndex(u => u.Value >= value);
        var near = all.Skip(Math.Max(0, (at < 0 ? all.Count : at) - 5)).Take(10).Select(u => u.Value).ToList();
        return Math.Max(1, ChartNumbers.StepOf(near) / 10);
    }
}
