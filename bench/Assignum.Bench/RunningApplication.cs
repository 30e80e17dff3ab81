using System.Diagnostics;
using System.Net;
using System.Text.RegularExpressions;

namespace Assignum.Bench;

/// <summary>The application as it is installed: a process of its own on a free port, spoken to over HTTP.</summary>
sealed partial class RunningApplication : IDisposable
{
    static readonly TimeSpan Patience = TimeSpan.FromMinutes(1);
    readonly Process process;
    readonly Uri address;

    RunningApplication(Process process, Uri address) => (this.process, this.address) = (process, address);

    /// <summary>Starts it on a database, and comes back when it is ready.</summary>
    internal static async Task<RunningApplication> Start(string database, int? port = null, IReadOnlyDictionary<string, string>? settings = null)
    {
        var at = port ?? FreePort();
        var root = Root;
        var start = new ProcessStartInfo("dotnet",
            [$"{root}/src/Assignum.Web/bin/Release/net10.0/Assignum.Web.dll", "--contentRoot", $"{root}/src/Assignum.Web", "--urls", $"http://127.0.0.1:{at}"])
        {
            RedirectStandardOutput = true,
        };
        start.Environment["ASSIGNUM_DB"] = database;
        start.Environment.Remove("ASSIGNUM_DEMO");
        // One client asks here as often as a hundred people.
        foreach (var limit in new[] { "api", "sign-in", "upload", "token", "hook" })
            start.Environment["Limits__" + limit] = "1000000";
        foreach (var (name, value) in settings ?? new Dictionary<string, string>())
            start.Environment[name] = value;
        var process = Process.Start(start) ?? throw new InvalidOperationException("The application can't be started.");
        process.OutputDataReceived += (_, _) => { };
        process.BeginOutputReadLine();
        var made = new RunningApplication(process, new Uri($"http://127.0.0.1:{at}"));
        await made.Ready();
        return made;
    }

    /// <summary>Folder of the project.</summary>
    internal static string Root => AppContext.BaseDirectory[..AppContext.BaseDirectory.IndexOf("/bench/", StringComparison.Ordinal)];

    internal Uri Address => address;

    /// <summary>Waits until it answers and its database does; a minute at most.</summary>
    internal async Task Ready()
    {
        using var client = new HttpClient { BaseAddress = address };
        for (var watch = Stopwatch.StartNew(); ; await Task.Delay(200))
        {
            try
            {
                if ((await client.GetAsync("/health/ready")).IsSuccessStatusCode)
                    return;
            }
            catch (HttpRequestException) when (watch.Elapsed < Patience) { }
            if (watch.Elapsed > Patience)
                throw new InvalidOperationException("The application did not become ready within a minute.");
        }
    }

    /// <summary>A client that is signed in; its user disposes of it.</summary>
    internal Task<HttpClient> SignIn(string name, string password) => SignIn(address, name, password);

    /// <summary>The same where only the address is known, as the application behind it comes and goes.</summary>
    internal static async Task<HttpClient> SignIn(Uri address, string name, string password)
    {
        var client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() }) { BaseAddress = address,
            Timeout = TimeSpan.FromMinutes(5) };
        var token = TokenIn(await client.GetStringAsync("/sign-in"));
        using var form = new FormUrlEncodedContent([new("name", name), new("password", password), new("__RequestVerificationToken", token)]);
        (await client.PostAsync("/sign-in", form)).EnsureSuccessStatusCode();
        return client;
    }

    internal static string TokenIn(string page) => Token().Match(page).Groups[1].Value;

    internal static int FreePort()
    {
        using var listener = new System.Net.Sockets.TcpListener(IPAddress.Loopback, 0);
        listener.Start();
        return ((IPEndPoint)listener.LocalEndpoint).Port;
    }

    /// <summary>Ends it as a power cut would.</summary>
    internal void Kill()
    {
        if (!process.HasExited)
            process.Kill(entireProcessTree: true);
        process.WaitForExit();
    }

    public void Dispose()
    {
        Kill();
        process.Dispose();
    }

    [GeneratedRegex("__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)")]
    private static partial Regex Token();
}
