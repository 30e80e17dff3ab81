namespace Assignum.Core.Matching;

/// <summary>How alike two entries are: by number, by the words of their names, by what they are of and used with. Words that are rare in our list say more
/// than common ones.</summary>
sealed class Likeness
{
    // Figures that differ and words that exclude each other make near-twins: alike, and not the same.
    const double OtherFigures = 0.5, Excluding = 0.4, OtherKind = 0.6;
    const double SameNumber = 0.55, SameKind = 0.05, SameUse = 0.05;
    const double CutShort = 0.85, Misspelt = 0.85, Together = 0.95;

    readonly Dictionary<string, double> weights = new(StringComparer.Ordinal);
    readonly double rare;

    /// <param name="ours">Our list: what is rare there, and what common.</param>
    internal Likeness(IReadOnlyList<Wording> ours)
    {
        foreach (var meaning in ours.SelectMany(w => w.Meanings))
            weights[meaning] = weights.GetValueOrDefault(meaning) + 1;
        foreach (var (meaning, count) in weights)
            weights[meaning] = Math.Log((ours.Count + 1) / count) + 0.5;
        rare = Math.Log(ours.Count + 1) + 0.5;
    }

    /// <summary>How much a meaning says.</summary>
    internal double WeightOf(string meaning) => weights.GetValueOrDefault(meaning, rare * 0.8);

    /// <summary>The score, from 0 to 1, with its reason.</summary>
    internal (double Score, string Reason) Of(MatchEntry theirs, Wording their, MatchEntry ours, Wording our)
    {
        var (name, hits) = Names(their, our);
        var sameNumber = their.Code.Length > 0 && their.Code == our.Code;
        var score = sameNumber ? Math.Max(name, SameNumber + ((1 - SameNumber) * name)) : name * 0.95;
        var reasons = new List<string>();
        if (sameNumber)
            reasons.Add("same number");
        if (name > 0)
            reasons.Add(name >= 0.999 ? "same name" : Counted(hits, their));
        var otherFigures = their.Figures.Length > 0 && our.Figures.Length > 0 && !their.Figures.Intersect(our.Figures).Any();
        var excluding = Array.Exists(their.Meanings, t => Array.Exists(our.Meanings, o => TradeWords.Exclude(t, o) && !their.Meanings.Contains(o)));
        if (otherFigures)
            (score, _) = (score * OtherFigures, Add($"{our.Figures[0]}, not {their.Figures[0]}"));
        else if (their.Figures.Intersect(our.Figures).Any())
            score = Nearer(score, 0.25);
        if (excluding)
            (score, _) = (score * Excluding, Add("other way round"));
        if (theirs.Kind is { } kind && ours.Kind is { } own)
            score = Fold.Same(kind, own) ? Nearer(score, SameKind, Add(own)) : score * OtherKind * (Add($"{own}, not {kind}") ? 1 : 1);
        if (theirs.Use is { } use && Fold.Same(use, ours.Use))
            score = Nearer(score, SameUse, Add($"used with {use}"));
        return (Math.Min(1, score), string.Join("; ", reasons));

        bool Add(string reason)
        {
            reasons.Add(reason);
            return true;
        }
    }

    static double Nearer(double score, double part, bool _ = true) => score == 0 ? 0 : score + ((1 - score) * part);

    static string Counted(int hits, Wording their) => their.Words.Length switch
    {
        0 => "like names",
        1 => hits > 0 ? "same word" : "like word",
        var all => $"{hits} of {all} words",
    };

    // What both say, against what either says; ours may say more than theirs at a smaller price.
    (double Score, int Hits) Names(Wording their, Wording our)
    {
        if (their.Letters.Length > 0 && their.Letters == our.Letters)
            return (SameWords(their, our) ? 1 : Together, their.Words.Length);
        var (found, hits, foundOurs) = (0.0, 0, new double[our.Meanings.Length]);
        var all = 0.0;
        for (var i = 0; i < their.Meanings.Length; i++)
        {
            var meaning = their.Meanings[i];
            var (best, at) = (0.0, -1);
            for (var j = 0; j < our.Meanings.Length; j++)
                if (Word(meaning, our.Meanings[j]) is var alike && alike > best)
                    (best, at) = (alike, j);
            var weight = at < 0 ? WeightOf(meaning) * 0.8 : WeightOf(our.Meanings[at]);
            all += weight;
            if (at < 0)
                continue;
            found += weight * best;
            hits++;
            foundOurs[at] = Math.Max(foundOurs[at], best);
        }
        var (said, ourAll) = (0.0, 0.0);
        for (var j = 0; j < our.Meanings.Length; j++)
        {
            ourAll += WeightOf(our.Meanings[j]);
            said += WeightOf(our.Meanings[j]) * foundOurs[j];
        }
        if (found == 0)
            return (0, 0);
        var (recall, precision) = (found / all, said / ourAll);
        return ((0.4 * Math.Min(recall, precision)) + (0.6 * (recall + precision) / 2), Math.Min(hits, Math.Max(1, their.Words.Length)));
    }

    static bool SameWords(Wording their, Wording our) => their.Words.AsSpan().SequenceEqual(our.Words);

    /// <summary>How alike two words are: 1 the same, less where one is cut short or misspelt, else 0.</summary>
    internal static double Word(string one, string other)
    {
        if (one == other)
            return 1;
        var (shorter, longer) = one.Length <= other.Length ? (one, other) : (other, one);
        if (shorter.Length >= 3 && longer.StartsWith(shorter, StringComparison.Ordinal) && longer.Length - shorter.Length <= 9)
            return shorter.Length >= longer.Length - 2 ? 0.95 : CutShort;
        if (shorter.Length >= 4 && IsSkeleton(shorter, longer))
            return CutShort - 0.05;
        // "T." for Town, "O." for Orla: an initial says a little.
        if (shorter.Length == 1 && longer[0] == shorter[0])
            return 0.5;
        var edits = shorter.Length >= 4 ? Edits(shorter, longer, shorter.Length >= 8 ? 2 : 1) : int.MaxValue;
        return edits switch { 1 => Misspelt, 2 => Misspelt - 0.15, _ => 0 };
    }

    // "cornflwr" is cornflower without some of its letters, in their order, from the same first to the same last one.
    static bool IsSkeleton(string shorter, string longer)
    {
        if (shorter[0] != longer[0] || shorter[^1] != longer[^1] || shorter.Length * 2 < longer.Length)
            return false;
        var at = 0;
        foreach (var c in longer)
            if (at < shorter.Length && shorter[at] == c)
                at++;
        return at == shorter.Length;
    }

    // Letters left out, added, changed or swapped; more than the most is not counted.
    static int Edits(string a, string b, int most)
    {
        if (b.Length - a.Length > most)
            return int.MaxValue;
        Span<int> before = stackalloc int[b.Length + 1], last = stackalloc int[b.Length + 1], now = stackalloc int[b.Length + 1];
        for (var j = 0; j <= b.Length; j++)
            last[j] = j;
        for (var i = 1; i <= a.Length; i++)
        {
            now[0] = i;
            for (var j = 1; j <= b.Length; j++)
            {
                now[j] = Math.Min(Math.Min(last[j] + 1, now[j - 1] + 1), last[j - 1] + (a[i - 1] == b[j - 1] ? 0 : 1));
                if (i > 1 && j > 1 && a[i - 1] == b[j - 2] && a[i - 2] == b[j - 1])
                    now[j] = Math.Min(now[j], before[j - 2] + 1);
            }
            last.CopyTo(before);
            now.CopyTo(last);
        }
        return last[b.Length] <= most ? last[b.Length] : int.MaxValue;
    }
}
