using System.Diagnostics;

namespace Assignum.Web.Tests;

/// <summary>The short form of <c>bench/run kills</c>: application and database end, as by a power cut, while four people post.</summary>
public sealed class KilledWhilePostingTests
{
    static async Task<string> Bench(string part)
    {
        var root = AppContext.BaseDirectory[..AppContext.BaseDirectory.IndexOf("/tests/", StringComparison.Ordinal)];
        using var kills = Process.Start(new ProcessStartInfo("dotnet",
            [$"{root}/bench/Assignum.Bench/bin/Release/net10.0/Assignum.Bench.dll", part]) { RedirectStandardOutput = true,
            RedirectStandardError = true })!;
        var (said, fault) = (kills.StandardOutput.ReadToEndAsync(), kills.StandardError.ReadToEndAsync());
        await kills.WaitForExitAsync();
        Assert.True(kills.ExitCode == 0, await said + await fault);
        return await said;
    }

    [Fact]
    public async Task What_was_said_to_be_posted_is_posted_once_and_no_number_is_missing() =>
        Assert.Contains("0 lost, 0 doubled, 0 numbers missing, 0 entries out of balance, 0 balances adrift", await Bench("kills:2"), StringComparison.Ordinal);

    // The short form of bench/run writers.
    [Fact]
    public async Task What_eight_writers_send_while_both_are_killed_stands_line_by_line_as_without_kills() =>
        Assert.Contains("0 with other lines or movements than without kills, 0 faults in numbers, sums and chain", await Bench("writers:2"), StringComparison.Ordinal);
}
