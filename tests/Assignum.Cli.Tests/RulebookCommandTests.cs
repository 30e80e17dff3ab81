using System.Diagnostics;
using System.Text.Json;
using Assignum.Storage;
using Assignum.Storage.Companies;
using Assignum.Testing;

namespace Assignum.Cli.Tests;

/// <summary>Where, coverage, export and import as a process.</summary>
public sealed class RulebookCommandTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("assignum-cli").FullName;

    static string Demo => Path.Combine(AppContext.BaseDirectory, "files", "rulebook.json");

    async Task<(int Code, string Out, string Err)> Run(params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, "assignum.dll"), .. arguments]) { RedirectStandardOutput = true, RedirectStandardError = true, WorkingDirectory = folder })!;
        var (output, error) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        await process.WaitForExitAsync();
        return (process.ExitCode, await output, await error);
    }

    static Dictionary<string, JsonElement> ByPurpose(string lines) => lines.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(l => JsonDocument.Parse(l).RootElement).ToDictionary(l => l.GetProperty("purpose").GetString()!);

    [Fact]
    public async Task Where_prints_each_purpose_with_its_account_and_rung()
    {
        var (code, output, error) = await Run("where", "--rulebook", Demo, "--party", "C-10", "--item", "SEED-01", "--date", "2026-03-14");
        var lands = ByPurpose(output);

        Assert.Equal((0, ""), (code, error));
        Assert.Equal(Core.Rulebooks.Purpose.All.Select(p => p.Name), lands.Keys);
        Assert.Equal(("4015", "itemGroup+partyGroup"), (lands["revenue"].GetProperty("account").GetString(), lands["revenue"].GetProperty("rung").GetString()));
        Assert.Equal((2, true), await Run("where", "--rulebook", Demo, "--party", "NOBODY") is var wrong ? (wrong.Code, wrong.Err.Contains("has no party of that code", StringComparison.Ordinal)) : default);
    }

    [Fact]
    public async Task Coverage_counts_what_answers_and_what_reaches_suspense()
    {
        var (code, output, _) = await Run("coverage", "--rulebook", Demo, "--date", "2026-03-14");
        var revenue = ByPurpose(output)["revenue"];

        Assert.Equal(0, code);
        Assert.True(revenue.GetProperty("suspense").GetInt64() > 0);
        Assert.True(revenue.GetProperty("combinations").GetInt64() > revenue.GetProperty("suspense").GetInt64());
    }

    [Fact]
    public async Task Export_import_export_is_the_identity_and_a_refused_file_changes_nothing()
    {
        await using var database = await FreshDatabase.Make();
        Database.Migrate(database.Owner);
        await using (var source = Database.Open(database.Owner))
            await new CompanyStore(source).Open("QN", "Quillmoss Nurseries", "EUR", default);
        Task<(int Code, string Out, string Err)> In(params string[] arguments) => Run([.. arguments, "--company", "QN", "--db", database.Owner]);

        Assert.Equal((0, true), await In("import", "--rulebook", Demo) is var taken ? (taken.Code, taken.Err.Contains("settings of QN changed in the draft", StringComparison.Ordinal)) : default);
        var (code, first, failed) = await In("export", "--edition", "2");
        Assert.True(code == 0, failed);
        await File.WriteAllTextAsync(Path.Combine(folder, "out.json"), first);
        var (again, _, said) = await In("import", "--rulebook", Path.Combine(folder, "out.json"));
        Assert.Equal((0, true), (again, said.Contains("0 settings of QN changed", StringComparison.Ordinal)));
        Assert.Equal(first, (await In("export", "--edition", "2")).Out);

        await File.WriteAllTextAsync(Path.Combine(folder, "bad.json"), first.Replace("\"account\": \"1100\"", "\"account\": \"nowhere\"", StringComparison.Ordinal).Replace("\"account\":\"1100\"", "\"account\":\"nowhere\"", StringComparison.Ordinal));
        Assert.Equal(4, (await In("import", "--rulebook", Path.Combine(folder, "bad.json"))).Code);
        Assert.Equal(first, (await In("export", "--edition", "2")).Out);
        Assert.Equal(2, (await In("export", "--edition", "9")).Code);
    }

    public void Dispose() => Directory.Delete(folder, recursive: true);
}
