namespace Assignum.Core.Matching;

/// <summary>Which of our entries are worth a look for one of theirs: those that share its number, a meaning, or pieces of words.</summary>
sealed class Candidates
{
    /// <summary>Most of them an entry.</summary>
    internal const int Most = 50;

    readonly Dictionary<string, List<int>> byPiece = new(StringComparer.Ordinal);
    readonly Likeness likeness;
    readonly double[] points;
    readonly List<int> touched = [];

    internal Candidates(IReadOnlyList<Wording> ours, Likeness likeness)
    {
        this.likeness = likeness;
        points = new double[ours.Count];
        for (var place = 0; place < ours.Count; place++)
            foreach (var (piece, _) in Pieces(ours[place]))
                if (byPiece.TryGetValue(piece, out var places))
                    places.Add(place);
                else
                    byPiece[piece] = [place];
    }

    /// <summary>Places of our entries, the most promising first.</summary>
    internal int[] For(Wording their)
    {
        foreach (var (piece, weight) in Pieces(their))
            if (byPiece.TryGetValue(piece, out var places))
            {
                // What a great part of the list has tells nothing.
                var each = weight / Math.Log(places.Count + 2);
                foreach (var place in places)
                {
                    if (points[place] == 0)
                        touched.Add(place);
                    points[place] += each;
                }
            }
        int[] found = [.. touched.OrderByDescending(place => points[place]).ThenBy(place => place).Take(Most)];
        foreach (var place in touched)
            points[place] = 0;
        touched.Clear();
        return found;
    }

    IEnumerable<(string Piece, double Weight)> Pieces(Wording wording)
    {
        if (wording.Code.Length > 0)
            yield return ("#" + wording.Code, 20);
        foreach (var meaning in wording.Meanings)
        {
            var weight = likeness.WeightOf(meaning);
            yield return ("=" + meaning, weight * 3);
            // Of a word cut short or misspelt the pieces are still there.
            for (var at = 0; at + 3 <= meaning.Length; at++)
                yield return (meaning.Substring(at, 3), weight / meaning.Length);
        }
        foreach (var figure in wording.Figures)
            yield return ("%" + figure, 1);
        if (wording.Letters.Length is > 0 and <= 40)
            yield return ("&" + wording.Letters, 10);
    }
}
