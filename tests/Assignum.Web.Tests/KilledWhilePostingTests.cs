using System.Diagnostics;

namespace Assignum.Web.Tests;

/// <summary>The short form of <c>bench/run kills</c>: application and database end, as by a power cut, while four people post.</summary>
public sealed class KilledWhilePostingTests
{
    [Fact]
    public async Task What_was_said_to_be_posted_is_posted_once_and_no_number_is_missing()
    {
        var root = AppContext.BaseDirectory[..AppContext.BaseDirectory.IndexOf("/tests/", StringComparison.Ordinal)];
        using var kills = Process.Start(new ProcessStartInfo("dotnet",
            [$"{root}/bench/Assignum.Bench/bin/Release/net10.0/Assignum.Bench.dll", "kills:2"]) { RedirectStandardOutput = true,
            RedirectStandardError = true })!;
        var (said, fault) = (kills.StandardOutput.ReadToEndAsync(), kills.StandardError.ReadToEndAsync());
        await kills.WaitForExitAsync();

        Assert.True(kills.ExitCode == 0, await said + await fault);
        Assert.Contains("0 lost, 0 doubled, 0 numbers missing, 0 entries out of balance, 0 balances adrift", await said, StringComparison.Ordinal);
    }
}
