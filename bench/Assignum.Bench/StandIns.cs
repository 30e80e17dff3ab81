using System.Diagnostics;
using System.Net.Http.Json;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Assignum.Bench;

/// <summary>The stand-ins of the nurseries' systems, in a process that nobody kills.</summary>
sealed class StandIns : IDisposable
{
    readonly Process process;
    readonly HttpClient client;

    StandIns(Process process, Uri address) => (this.process, Address, client) = (process, address, new HttpClient { BaseAddress = address,
        Timeout = TimeSpan.FromMinutes(5) });

    internal Uri Address { get; }

    internal static async Task<StandIns> Start()
    {
        var address = new Uri($"http://127.0.0.1:{RunningApplication.FreePort()}");
        var start = new ProcessStartInfo("dotnet", [$"{RunningApplication.Root}/src/Assignum.Simulators/bin/Release/net10.0/Assignum.Simulators.dll",
            "--urls", address.ToString(),
            "--Simulators:Days", "0"]) { RedirectStandardOutput = true };
        var process = Process.Start(start) ?? throw new InvalidOperationException("The stand-ins can't be started.");
        process.OutputDataReceived += (_, _) => { };
        process.BeginOutputReadLine();
        var made = new StandIns(process, address);
        for (var tries = 0; ; tries++)
            try
            {
                (await made.client.GetAsync("/")).EnsureSuccessStatusCode();
                return made;
            }
            catch (HttpRequestException) when (tries < 300)
            {
                await Task.Delay(100);
            }
    }

    internal async Task Post(string path, object body) => (await client.PostAsJsonAsync("/behind/card-payments/" + path, body)).EnsureSuccessStatusCode();

    internal Task<JsonArray?> Get(string path) => client.GetFromJsonAsync<JsonArray>("/behind/card-payments/" + path,
        new JsonSerializerOptions(JsonSerializerDefaults.Web));

    public void Dispose()
    {
        process.Kill();
        process.Dispose();
        client.Dispose();
    }
}
