using Assignum.Core.Matching;
using CsCheck;

namespace Assignum.Core.Tests.Matching;

public sealed class AssignmentTests
{
    static readonly Gen<(int Lefts, int Rights, Edge[] Edges)> Small =
        from lefts in Gen.Int[1, 6]
        from rights in Gen.Int[1, 6]
        from edges in Gen.Select(Gen.Int[0, lefts - 1], Gen.Int[0, rights - 1], Gen.Long[1, 20], (l, r, w) => new Edge(l, r, w)).Array[0, 24]
        select (lefts, rights, edges.DistinctBy(e => (e.Left, e.Right)).ToArray());

    // Every way of pairing, one after the other.
    static long Most(int left, int lefts, ulong taken, ILookup<int, Edge> edges) => left == lefts ? 0
        : edges[left].Where(e => (taken & (1UL << e.Right)) == 0).Select(e => e.Worth + Most(left + 1, lefts, taken | (1UL << e.Right), edges))
            .Append(Most(left + 1, lefts, taken, edges)).Max();

    [Fact]
    public void No_other_pairing_is_worth_more() => Small.Sample(lists =>
    {
        var best = Assignment.Best(lists.Lefts, lists.Rights, lists.Edges);

        var chosen = best.Select((right, left) => right < 0 ? null : (Edge?)lists.Edges.Single(e => e.Left == left && e.Right == right)).OfType<Edge>().ToList();
        Assert.Equal(chosen.Count, chosen.Select(e => e.Right).Distinct().Count());
        Assert.Equal(Most(0, lists.Lefts, 0, lists.Edges.ToLookup(e => e.Left)), chosen.Sum(e => e.Worth));
    }, iter: 3000);

    // The dense twin: on full lists of thirty, by the classic method with a matrix.
    [Fact]
    public void On_full_lists_it_is_as_good_as_the_dense_method() =>
        Gen.Select(Gen.Int[8, 30], Gen.Int[8, 30], Gen.Int[0, int.MaxValue]).Sample((lefts, rights, seed) =>
        {
            var random = new Random(seed);
            var worth = new long[lefts, rights];
            var edges = new List<Edge>();
            for (var l = 0; l < lefts; l++)
                for (var r = 0; r < rights; r++)
                    edges.Add(new(l, r, worth[l, r] = random.Next(1, 1000)));

            var best = Assignment.Best(lefts, rights, edges);

            Assert.Equal(DenseMethod.Most(worth), best.Select((r, l) => r < 0 ? 0 : worth[l, r]).Sum());
        }, iter: 60);

    [Fact]
    public void A_pair_worth_nothing_is_a_mistake_of_the_caller() =>
        Assert.Throws<ArgumentOutOfRangeException>(() => Assignment.Best(1, 1, [new Edge(0, 0, 0)]));
}

/// <summary>The most that a full table of worths can give, one to one, by rows and columns with potentials in a square matrix.</summary>
static class DenseMethod
{
    internal static long Most(long[,] worth)
    {
        var n = Math.Max(worth.GetLength(0), worth.GetLength(1));
        long CostOf(int i, int j) => i <= worth.GetLength(0) && j <= worth.GetLength(1) ? -worth[i - 1, j - 1] : 0;
        var (u, v, row, way) = (new long[n + 1], new long[n + 1], new int[n + 1], new int[n + 1]);
        for (var i = 1; i <= n; i++)
        {
            row[0] = i;
            var column = 0;
            var least = Enumerable.Repeat(long.MaxValue, n + 1).ToArray();
            var used = new bool[n + 1];
            do
            {
                used[column] = true;
                var (delta, next) = (long.MaxValue, 0);
                for (var j = 1; j <= n; j++)
                    if (!used[j])
                    {
                        var cost = CostOf(row[column], j) - u[row[column]] - v[j];
                        if (cost < least[j])
                            (least[j], way[j]) = (cost, column);
                        if (least[j] < delta)
                            (delta, next) = (least[j], j);
                    }
                for (var j = 0; j <= n; j++)
                    if (used[j])
                        (u[row[j]], v[j]) = (u[row[j]] + delta, v[j] - delta);
                    else if (least[j] != long.MaxValue)
                        least[j] -= delta;
                column = next;
            }
            while (row[column] != 0);
            for (; column != 0; column = way[column])
                row[column] = row[way[column]];
        }
        return Enumerable.Range(1, n).Sum(j => -CostOf(row[j], j));
    }
}
