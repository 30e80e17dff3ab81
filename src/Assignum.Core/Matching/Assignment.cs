namespace Assignum.Core.Matching;

/// <summary>A pair that may be chosen, with what it is worth.</summary>
/// <param name="Left">Place in the first list.</param>
/// <param name="Right">Place in the second list.</param>
/// <param name="Worth">What it is worth, above 0.</param>
public readonly record struct Edge(int Left, int Right, long Worth);

/// <summary>
/// Pairs the entries of two lists one to one so that the pairs are worth the most together; entries may stay alone. Each entry of the first list in turn finds
/// the cheapest way to a place, moving others where that is better for all (shortest augmenting paths over reduced costs).
/// </summary>
public static class Assignment
{
    /// <summary>The best pairing.</summary>
    /// <param name="lefts">How many entries the first list has.</param>
    /// <param name="rights">How many the second has.</param>
    /// <param name="edges">The pairs that may be chosen.</param>
    /// <returns>For each entry of the first list its place in the second, or −1 where it stays alone.</returns>
    /// <exception cref="ArgumentOutOfRangeException">A pair is worth nothing, or names a place that is not there.</exception>
    public static int[] Best(int lefts, int rights, IEnumerable<Edge> edges)
    {
        var from = new List<Edge>[lefts];
        foreach (var edge in edges)
        {
            if (edge.Worth <= 0 || edge.Left < 0 || edge.Left >= lefts || edge.Right < 0 || edge.Right >= rights)
                throw new ArgumentOutOfRangeException(nameof(edges), edge, "A pair is worth more than 0 and lies in both lists.");
            (from[edge.Left] ??= []).Add(edge);
        }
        return new Search(from, rights).Run();
    }

    // Staying alone costs nothing more than the worth given up: each left has a place of its own for that, beyond those of the second list.
    sealed class Search(List<Edge>[] from, int rights)
    {
        readonly int lefts = from.Length;
        readonly int[] partner = Filled(from.Length, -1), holder = Filled(rights + from.Length, -1), cameFrom = new int[rights + from.Length];
        readonly long[] price = new long[rights + from.Length], distance = new long[rights + from.Length];
        readonly int[] seen = new int[rights + from.Length], settled = new int[rights + from.Length];

        internal int[] Run()
        {
            for (var left = 0; left < lefts; left++)
                if (from[left] is { Count: > 0 })
                    Place(left, round: left + 1);
            return [.. partner.Select(p => p >= rights ? -1 : p)];
        }

        void Place(int start, int round)
        {
            var queue = new PriorityQueue<int, long>();
            var reached = new List<int>();
            Reach(start, 0);
            while (queue.TryDequeue(out var right, out var far))
            {
                if (settled[right] == round || far > distance[right])
                    continue;
                settled[right] = round;
                if (holder[right] < 0)
                {
                    Reprice(reached, round, far);
                    Walk(right, start);
                    return;
                }
                // Whoever holds it would have to go elsewhere; what it costs now is what its place is worth to it.
                Reach(holder[right], far - Cost(holder[right], right));
            }

            void Reach(int left, long base_)
            {
                foreach (var edge in from[left])
                    Offer(edge.Right, base_ - edge.Worth + price[edge.Right], left);
                Offer(rights + left, base_ + price[rights + left], left);
            }

            void Offer(int right, long far, int left)
            {
                if (settled[right] == round || (seen[right] == round && far >= distance[right]))
                    return;
                if (seen[right] != round)
                    reached.Add(right);
                (seen[right], distance[right], cameFrom[right]) = (round, far, left);
                queue.Enqueue(right, far);
            }
        }

        // What the place a left holds costs it, with the price of the place.
        long Cost(int left, int right)
        {
            if (right >= rights)
                return price[right];
            foreach (var edge in from[left])
                if (edge.Right == right)
                    return price[right] - edge.Worth;
            throw new InvalidOperationException("A left holds only what it may.");
        }

        void Reprice(List<int> reached, int round, long far)
        {
            foreach (var right in reached)
                if (settled[right] == round)
                    price[right] += far - distance[right];
        }

        void Walk(int right, int start)
        {
            for (; ; )
            {
                var left = cameFrom[right];
                var next = partner[left];
                (partner[left], holder[right]) = (right, left);
                if (left == start)
                    return;
                right = next;
            }
        }

        static int[] Filled(int length, int value)
        {
            var array = new int[length];
            Array.Fill(array, value);
            return array;
        }
    }
}
