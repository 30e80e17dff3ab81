using System.Diagnostics;

namespace Assignum.Cli.Tests;

/// <summary>The command as a process: its exit codes, its files, its streams.</summary>
public sealed class CommandTests : IDisposable
{
    readonly string folder = Directory.CreateTempSubdirectory("assignum-cli").FullName;

    string In(string name) => Path.Combine(folder, name);

    async Task<(int Code, string Out, string Err)> Run(params string[] arguments)
    {
        var start = new ProcessStartInfo("dotnet", [Path.Combine(AppContext.BaseDirectory, "assignum.dll"), .. arguments]) { RedirectStandardOutput = true, RedirectStandardError = true, WorkingDirectory = folder };
        // Whatever language the machine speaks, files are written alike.
        start.Environment["LANG"] = start.Environment["LC_ALL"] = "de_DE.UTF-8";
        using var process = Process.Start(start)!;
        var output = process.StandardOutput.ReadToEndAsync();
        var error = process.StandardError.ReadToEndAsync();
        await process.WaitForExitAsync();
        return (process.ExitCode, await output, await error);
    }

    Task<(int Code, string Out, string Err)> Land(string rulebook, string events) =>
        Run("land", "--rulebook", rulebook, "--events", events, "--journal", In("J.csv"), "--held", In("H.ndjson"), "--subledger", In("S.csv"));

    static string Demo(string name) => Path.Combine(AppContext.BaseDirectory, "files", name);

    string Write(string name, string text)
    {
        File.WriteAllText(In(name), text);
        return In(name);
    }

    [Fact]
    public async Task All_landed_is_0_and_all_three_files_are_there()
    {
        var (code, _, error) = await Land(Demo("rulebook.json"), Demo("events.ndjson"));

        Assert.Equal((0, ""), (code, error));
        Assert.StartsWith("event,line,date", await File.ReadAllTextAsync(In("J.csv")), StringComparison.Ordinal);
        Assert.Equal("", await File.ReadAllTextAsync(In("H.ndjson")));
        Assert.Contains(",inventory,", await File.ReadAllTextAsync(In("S.csv")), StringComparison.Ordinal);
        Assert.Equal(3, Directory.GetFiles(folder).Length);
    }

    [Fact]
    public async Task Some_held_is_3_and_journal_and_held_are_written()
    {
        var events = Write("E.ndjson", await File.ReadAllTextAsync(Demo("events.ndjson")) + """{"id":"X","type":"barter","date":"2026-03-14"}""");

        Assert.Equal(3, (await Land(Demo("rulebook.json"), events)).Code);
        Assert.Contains("\"event\":\"X\"", await File.ReadAllTextAsync(In("H.ndjson")), StringComparison.Ordinal);
        Assert.True((await File.ReadAllLinesAsync(In("J.csv"))).Length > 300);
    }

    [Fact]
    public async Task A_refused_rulebook_is_4_with_findings_on_standard_error_and_no_file_written()
    {
        var rulebook = Write("R.json", (await File.ReadAllTextAsync(Demo("rulebook.json"))).Replace("\"account\": \"1100\"", "\"account\": \"1\"", StringComparison.Ordinal));
        var (code, _, error) = await Land(rulebook, Demo("events.ndjson"));

        Assert.Equal(4, code);
        Assert.StartsWith("{\"check\":\"rule-account-not-postable\",\"severity\":\"error\",\"where\":\"rules/r1\"", error, StringComparison.Ordinal);
        Assert.False(File.Exists(In("J.csv")));
        Assert.Equal(4, (await Land(Write("R2.json", "{"), Demo("events.ndjson"))).Code);
    }

    [Fact]
    public async Task Wrong_use_is_2_and_says_what_is_wrong()
    {
        Assert.Equal(2, (await Run("land", "--rulebook", Demo("rulebook.json"))).Code);
        Assert.Equal(2, (await Run("plough")).Code);
        var (code, _, error) = await Land(Demo("rulebook.json"), In("missing.ndjson"));
        Assert.Equal(2, code);
        Assert.Contains("missing.ndjson", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Files_of_an_earlier_run_stay_when_a_run_can_t_begin()
    {
        Write("J.csv", "kept");
        await Land(Demo("rulebook.json"), In("missing.ndjson"));

        Assert.Equal("kept", await File.ReadAllTextAsync(In("J.csv")));
    }

    [Fact]
    public async Task Check_prints_findings_and_is_4_only_for_errors()
    {
        var (code, output, _) = await Run("check", "--rulebook", Demo("rulebook.json"));

        Assert.Equal(0, code);
        Assert.Contains("\"check\":\"tax-hole\",\"severity\":\"warning\"", output, StringComparison.Ordinal);
        Assert.Equal(4, (await Run("check", "--rulebook", Write("R.json", "{\"format\":\"assignum-rulebook/1\"}"))).Code);
    }

    [Fact]
    public async Task Warnings_go_to_standard_error()
    {
        var rulebook = Write("R.json", (await File.ReadAllTextAsync(Demo("rulebook.json"))).Replace("\"control\": \"bank\", \"manual\": \"block\"", "\"control\": \"bank\", \"manual\": \"warn\"", StringComparison.Ordinal));
        var events = Write("E.ndjson", """{"id":"X","type":"sales-invoice","date":"2026-03-14","party":"C-10","lines":[{"account":"1050","price":1,"taxCode":"S20"}]}""");
        var (code, _, error) = await Land(rulebook, events);

        Assert.Equal(0, code);
        Assert.StartsWith("{\"event\":\"X\",\"severity\":\"warning\",\"purpose\":\"revenue\",\"account\":\"1050\"", error, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_foreign_chart_becomes_accounts_of_a_rulebook_with_its_mapping_proposed_and_its_refused_rows_explained()
    {
        await File.WriteAllBytesAsync(In("alt.xlsx"), Testing.MessyChart.Xlsx());
        var (code, mapping, error) = await Run("chart", "--file", In("alt.xlsx"), "--out", In("A.json"), "--refused", In("R.csv"));

        Assert.Equal((3, $"assignum: {Testing.MessyChart.Sound} accounts taken, {Testing.MessyChart.Refused} rows refused."), (code, error.Trim()));
        Assert.Contains("\"Aktiv\": \"asset\"", mapping, StringComparison.Ordinal);
        Assert.Equal(Testing.MessyChart.Refused + 1, (await File.ReadAllLinesAsync(In("R.csv"))).Length);

        // The accounts go into a rulebook as they are, and the mapping that was printed says the same again.
        var book = Write("B.json", $$"""{"format":"assignum-rulebook/1","company":{"code":"QT","name":"Trials","currency":"EUR"},"accounts":{{await File.ReadAllTextAsync(In("A.json"))}}}""");
        Assert.Equal(0, (await Run("check", "--rulebook", book)).Code);
        var first = await File.ReadAllTextAsync(In("A.json"));
        var (again, silent, _) = await Run("chart", "--file", In("alt.xlsx"), "--map", Write("M.json", mapping), "--out", In("A.json"), "--refused", In("R.csv"));
        Assert.Equal((3, "", first), (again, silent, await File.ReadAllTextAsync(In("A.json"))));
    }

    [Fact]
    public async Task A_chart_without_names_a_sheet_that_is_not_there_and_a_file_that_is_none_write_nothing()
    {
        Assert.Equal(2, (await Run("chart", "--file", Write("x.csv", "Konto;Kontoart\n1000;Aktiv\n1200;Aktiv\n"), "--out", In("A.json"), "--refused", In("R.csv"))).Code);
        Assert.Equal(2, (await Run("chart", "--file", In("x.csv"), "--sheet", "Other", "--out", In("A.json"), "--refused", In("R.csv"))).Code);
        Assert.Equal(4, (await Run("chart", "--file", Write("y.csv", ""), "--out", In("A.json"), "--refused", In("R.csv"))).Code);
        Assert.False(File.Exists(In("A.json")) || File.Exists(In("R.csv")));
    }

    public void Dispose() => Directory.Delete(folder, recursive: true);
}
