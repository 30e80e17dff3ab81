using System.Diagnostics;
using System.Globalization;

namespace Assignum.Bench;

/// <summary>Runs ours and its reference in turn, and prints the ratio pair by pair: machines drift, pairs drift together.</summary>
static class Ratio
{
    const int Rounds = 5;

    /// <summary>Prints how many times as long ours takes.</summary>
    /// <param name="what">What is compared.</param>
    /// <param name="goal">The goal, in words.</param>
    /// <param name="ours">Ours.</param>
    /// <param name="reference">The reference.</param>
    /// <returns>Median seconds of ours.</returns>
    internal static double Print(string what, string goal, Action ours, Action reference) =>
        PrintAsync(what, goal, () => { ours(); return Task.CompletedTask; }, () => { reference(); return Task.CompletedTask; }).GetAwaiter().GetResult();

    /// <inheritdoc cref="Print"/>
    internal static async Task<double> PrintAsync(string what, string goal, Func<Task> ours, Func<Task> reference)
    {
        await ours();
        await reference();
        var pairs = new List<(double Ours, double Reference)>();
        for (var round = 0; round < Rounds; round++)
            pairs.Add((await Seconds(ours), await Seconds(reference)));
        double[] ratios = [.. pairs.Select(p => p.Ours / p.Reference).Order()];
        double[] seconds = [.. pairs.Select(p => p.Ours).Order()];
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{what}: {ratios[Rounds / 2]:0.00} × the reference ({ratios[0]:0.00} to {ratios[^1]:0.00}); goal: {goal}"));
        return seconds[Rounds / 2];
    }

    internal static void Say(FormattableString line) => Console.WriteLine(FormattableString.Invariant(line));

    static async Task<double> Seconds(Func<Task> act)
    {
        GC.Collect();
        var watch = Stopwatch.StartNew();
        await act();
        return watch.Elapsed.TotalSeconds;
    }
}
