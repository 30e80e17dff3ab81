using Assignum.Storage.Journal;

namespace Assignum.Web.Showing;

/// <summary>A chain of events as it is drawn: a card for each, in the order of their days, and an arc between those that hang together.</summary>
/// <param name="Width">Width of the drawing.</param>
/// <param name="Height">Its height.</param>
/// <param name="Cards">The events.</param>
/// <param name="Arcs">What ties them.</param>
sealed record ChainDrawing(double Width, double Height, IReadOnlyList<ChainDrawing.Card> Cards, IReadOnlyList<ChainDrawing.Arc> Arcs)
{
    const int LongestLabel = 19;
    const double CardWidth = 158, Gap = 44, CardHeight = 62, Lane = 22, Margin = 4;

    /// <summary>An event.</summary>
    /// <param name="Event">The event.</param>
    /// <param name="X">Left edge.</param>
    /// <param name="Y">Upper edge.</param>
    /// <param name="Here">It is the one that is shown.</param>
    internal sealed record Card(ChainEvent Event, double X, double Y, bool Here)
    {
        /// <summary>The number of its document, else its id, as far as there is room.</summary>
        internal string Label => (Event.Number ?? Event.SourceId) is { Length: > LongestLabel } all ? all[..(LongestLabel - 1)] + "…"
            : Event.Number ?? Event.SourceId;
    }

    /// <summary>A tie.</summary>
    /// <param name="Path">Its line.</param>
    /// <param name="X">Middle of its words.</param>
    /// <param name="Y">Baseline of its words.</param>
    /// <param name="Says">Its words.</param>
    internal sealed record Arc(string Path, double X, double Y, string Says);

    internal static ChainDrawing Of(Chain chain, long here, int decimals)
    {
        var at = chain.Events.Select((one, i) => (one.Id, i)).ToDictionary(p => p.Id, p => p.i);
        // Short arcs run below long ones; none shares its lane with another over the same stretch.
        var lanes = new List<List<(int From, int To)>>();
        var laid = new List<(ChainTie Tie, int From, int To, int Lane)>();
        foreach (var tie in chain.Ties.OrderBy(t => Math.Abs(at[t.From] - at[t.To])).ThenBy(t => at[t.From]))
        {
            var (from, to) = (Math.Min(at[tie.From], at[tie.To]), Math.Max(at[tie.From], at[tie.To]));
            var lane = lanes.FindIndex(taken => taken.TrueForAll(t => t.To <= from || to <= t.From));
            if (lane < 0)
            {
                lane = lanes.Count;
                lanes.Add([]);
            }
            lanes[lane].Add((from, to));
            laid.Add((tie, from, to, lane));
        }
        var top = Margin + Math.Max(1, lanes.Count) * Lane;
        return new(chain.Events.Count * (CardWidth + Gap) - Gap + 2 * Margin, top + CardHeight + Margin,
            [.. chain.Events.Select((one, i) => new Card(one, Left(i), top, one.Id == here))],
            [.. laid.Select(l => ArcOf(l.Tie, l.From, l.To, top, l.Lane, decimals))]);
    }

    static double Left(int card) => Margin + card * (CardWidth + Gap);

    static Arc ArcOf(ChainTie tie, int from, int to, double top, int lane, int decimals)
    {
        // It leaves near the right edge of the earlier card and comes in near the left of the later one.
        var (left, right, y) = (Left(from) + CardWidth - 18 - lane * 8, Left(to) + 18 + lane * 8, top - 6 - lane * Lane);
        var says = tie.Kind switch
        {
            ChainLink.Settles => $"settles {Show.Amount(tie.Amount ?? 0, decimals)}",
            ChainLink.Receipt => $"goods for {Show.Amount(tie.Amount ?? 0, decimals)}",
            _ => "refers to",
        };
        return new(FormattableString.Invariant($"M{left:0.#} {top:0.#} V{y:0.#} H{right:0.#} V{top:0.#}"), (left + right) / 2, y - 4, says);
    }
}
