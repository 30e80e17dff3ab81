using Assignum.Core.Matching;
using Xunit.Abstractions;

namespace Assignum.Core.Tests.Matching;

/// <summary>How often suggestions are right, on pairs that people labelled before there was a scorer: half of them are held out from tuning.</summary>
public sealed class SuggestingTests(ITestOutputHelper output)
{
    [Theory]
    [InlineData("tune", 0.9, 0.75)]
    [InlineData("held", 0.9, 0.75)]
    public void Of_what_is_offered_nine_in_ten_are_right_and_three_in_four_are_found(string half, double precision, double recall)
    {
        var (right, wrong, missed) = (0, 0, 0);
        foreach (var list in Labelled.Pairs.Where(p => p.Half == half).GroupBy(p => p.List))
        {
            var ours = Labelled.Ours(list.Key);
            var theirs = list.ToList();
            var suggested = Suggesting.For([.. theirs.Select(t => t.Theirs)], ours);
            for (var i = 0; i < theirs.Count; i++)
            {
                var best = suggested.Best[i];
                var offered = best is { Score: >= Suggesting.Good } ? ours[best.Ours].Code : null;
                // Who waits for another of our entries that is taken already is no mistake of the scorer.
                if (offered == theirs[i].Ours && offered is not null)
                    right++;
                else
                {
                    wrong += offered is null ? 0 : 1;
                    missed += theirs[i].Ours is null ? 0 : 1;
                    if (offered != theirs[i].Ours)
                        output.WriteLine($"{theirs[i].Theirs.Name} → {best?.Score:0.00} {(best is null ? "" : ours[best.Ours].Name)} ({best?.Reason}); labelled {theirs[i].Ours}");
                }
            }
        }
        output.WriteLine($"{half}: right {right}, wrong {wrong}, missed {missed}; precision {(double)right / (right + wrong):0.00}, recall {(double)right / (right + missed):0.00}");
        Assert.True((double)right / (right + wrong) >= precision, $"{wrong} of {right + wrong} offered are wrong.");
        Assert.True((double)right / (right + missed) >= recall, $"{missed} of {right + missed} are missed.");
    }

    [Fact]
    public void The_same_number_and_name_is_a_whole_score() =>
        Assert.Equal(1, Suggesting.For([new("4010", "Sales of seeds", "income")], [new("4010", "Sales of seeds", "income")]).Best[0]!.Score);

    [Fact]
    public void An_entry_of_ours_is_suggested_as_the_best_of_one_only()
    {
        var best = Suggesting.For([new("1", "Sales of seeds"), new("2", "Sale of seeds")], [new("4010", "Sales of seeds")]).Best;

        Assert.Single(best.OfType<Suggestion>());
    }

    [Fact]
    public void Sizes_that_differ_are_no_match()
    {
        var suggested = Suggesting.For([new("A", "Clay pot, 14 cm")], [new("POT-12", "Clay pot, 12 cm")]);

        Assert.True(suggested.Best[0]!.Score < Suggesting.Good);
        Assert.Contains("12, not 14", suggested.Best[0]!.Reason, StringComparison.Ordinal);
    }

    [Fact]
    public void Two_lists_of_five_thousand_are_done_with_every_true_pair_found()
    {
        var random = new Random(7);
        string[] first = ["Alder", "Birch", "Cedar", "Dogwood", "Elm", "Fir", "Gorse", "Holly", "Ivy", "Juniper"], second = ["seat", "table", "frame", "basket", "label"];
        var ours = Enumerable.Range(0, 5000).Select(i => new MatchEntry($"I-{i:0000}", $"{first[i % 10]} {second[i / 10 % 5]}, {i / 50} cm")).ToList();
        var theirs = ours.OrderBy(_ => random.Next()).Select(o => new MatchEntry("X" + o.Code[2..], string.Join(' ', o.Name.Replace(",", "", StringComparison.Ordinal).Split(' ').Reverse()))).ToList();

        var best = Suggesting.For(theirs, ours).Best;

        Assert.All(best.Select((b, i) => (b, i)), one => Assert.Equal(theirs[one.i].Code[1..], ours[one.b!.Ours].Code[2..]));
    }
}

/// <summary>The labelled pairs, and our side of them: the nurseries' own lists.</summary>
static class Labelled
{
    internal sealed record Pair(string Half, string List, MatchEntry Theirs, string? Ours);

    internal static readonly IReadOnlyList<Pair> Pairs =
        [.. Rows("labelled-pairs.csv").Select(f => new Pair(f[0], f[1], new(f[2], f[3], f[4].Length > 0 ? f[4] : null), f[5].Length > 0 ? f[5] : null))];

    static readonly ILookup<string, MatchEntry> Lists =
        Rows("our-lists.csv").ToLookup(f => f[0], f => new MatchEntry(f[1], f[2], f[3].Length > 0 ? f[3] : null));

    internal static IReadOnlyList<MatchEntry> Ours(string list) => [.. Lists[list]];

    static IEnumerable<string[]> Rows(string file)
    {
        using var parser = new Microsoft.VisualBasic.FileIO.TextFieldParser(Path.Combine(AppContext.BaseDirectory, "Matching", file));
        parser.SetDelimiters(",");
        parser.ReadFields();
        while (parser.ReadFields() is { } fields)
            yield return fields;
    }
}
