using System.Diagnostics;
using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Assignum.Storage.People;
using Microsoft.AspNetCore.Identity;

namespace Assignum.Bench;

/// <summary>Starts the application on a database and asks for its pages over HTTP, against a page without data.</summary>
static partial class PagesOverHttp
{
    internal const string Password = "seedling-2026";

    /// <summary>Prints median and p95 of each page.</summary>
    internal static async Task Measure(BenchDatabase database, string what, IReadOnlyList<string> paths, string goal, int rounds, Func<HttpClient, string, Task>? more = null)
    {
        var people = new PersonStore(database.Source);
        await people.Grant(database.Company, await people.Add("ines", "Ines", new PasswordHasher<Person>().HashPassword(null!, Password), default), Role.Preparer, null, default);
        using var application = await RunningApplication.Start(database.Owner);
        var client = await application.SignIn("ines", Password);

        var bare = await Times(client, "/sign-in", rounds);
        Ratio.Say($"{what}: a page without data: median {bare.Median:0.0} ms, p95 {bare.P95:0.0} ms");
        foreach (var path in paths)
        {
            var (median, p95) = await Times(client, "/b/" + path, rounds);
            Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
                $"{what}: {path}: median {median:0.0} ms, p95 {p95:0.0} ms, {p95 / bare.P95:0.0} × the page without data; goal: {goal}"));
        }
        if (more is not null)
            await more(client, SentToken().Match(await client.GetStringAsync("/b/rules/revenue")).Groups[1].Value);
    }

    /// <summary>Milliseconds of a POST of JSON, as the grid sends it.</summary>
    internal static async Task<double> Post(HttpClient client, string token, string path, string json)
    {
        using var request = new HttpRequestMessage(HttpMethod.Post, path) { Content = new StringContent(json, Encoding.UTF8, "application/json") };
        request.Headers.Add("RequestVerificationToken", token);
        var watch = Stopwatch.StartNew();
        using var answer = await client.SendAsync(request);
        answer.EnsureSuccessStatusCode();
        if (!(await answer.Content.ReadAsStringAsync()).Contains("\"faults\":[]", StringComparison.Ordinal))
            throw new InvalidOperationException("The cells were refused.");
        return watch.Elapsed.TotalMilliseconds;
    }

    static async Task<(double Median, double P95)> Times(HttpClient client, string path, int rounds)
    {
        for (var i = 0; i < 5; i++)
            (await client.GetAsync(path)).EnsureSuccessStatusCode();
        var times = new List<double>();
        for (var i = 0; i < rounds; i++)
        {
            var watch = Stopwatch.StartNew();
            await client.GetByteArrayAsync(path);
            times.Add(watch.Elapsed.TotalMilliseconds);
        }
        times.Sort();
        return (times[rounds / 2], times[(int)(rounds * .95)]);
    }

    [GeneratedRegex("\"RequestVerificationToken\":\"([^\"]+)\"")]
    private static partial Regex SentToken();
}
