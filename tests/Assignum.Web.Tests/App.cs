using System.Collections.Concurrent;
using Assignum.Testing;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.AspNetCore.TestHost;
using Microsoft.Extensions.DependencyInjection;
using Serilog;
using Serilog.Core;
using Serilog.Events;

namespace Assignum.Web.Tests;

/// <summary>The application with the demo on a database of its own.</summary>
public sealed class App : WebApplicationFactory<Program>, IAsyncLifetime
{
    /// <summary>Password of the demo's people.</summary>
    public const string Password = "seedling-2026";

    FreshDatabase database = null!;
    readonly Kept kept = new();

    /// <summary>What the application has logged of itself.</summary>
    internal IEnumerable<LogEvent> Logged => kept.Events;

    // The demo is made once; every other application begins with a copy of its database.
    static readonly Lazy<Task<FreshDatabase>> pattern = new(MakePattern);

    static async Task<FreshDatabase> MakePattern()
    {
        var made = await FreshDatabase.Make();
        Storage.Database.Migrate(made.Owner);
        await using (var app = new App { database = made })
            (await app.CreateClient().GetAsync(new Uri("/health/live", UriKind.Relative))).EnsureSuccessStatusCode();
        Npgsql.NpgsqlConnection.ClearAllPools();
        AppDomain.CurrentDomain.ProcessExit += (_, _) => made.DisposeAsync().AsTask().GetAwaiter().GetResult();
        return made;
    }

    public async Task InitializeAsync() => database = await FreshDatabase.Make((await pattern.Value).Name);

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        builder.UseEnvironment("Production");
        builder.UseSetting("ASSIGNUM_DB", database.Owner);
        // Tests sign in and send far more often than people do.
        foreach (var limit in new[] { "sign-in", "find", "upload", "api", "token", "hook" })
            builder.UseSetting("Limits:" + limit, "1000000");
        builder.ConfigureTestServices(services => services.AddSingleton<Serilog.ILogger>(new LoggerConfiguration().WriteTo.Sink(kept).CreateLogger()));
        // Tests fetch when they want to, from this machine, and wait no longer than they must.
        (string Name, string Value)[] connections = [("Hosts", "127.0.0.1"), ("Seconds", "86400"), ("AnswerWithin", "0.5")];
        foreach (var (name, value) in connections)
            builder.UseSetting("Connections:" + name, value);
        builder.UseSetting("ASSIGNUM_DEMO", Path.Combine(AppContext.BaseDirectory, "demo"));
    }

    sealed class Kept : ILogEventSink
    {
        internal ConcurrentQueue<LogEvent> Events { get; } = new();

        public void Emit(LogEvent logEvent) => Events.Enqueue(logEvent);
    }

    async Task IAsyncLifetime.DisposeAsync()
    {
        await DisposeAsync();
        await database.DisposeAsync();
    }
}

/// <summary>The application on a port of its own, for who comes over real HTTP.</summary>
public sealed class ListeningApp : IAsyncLifetime
{
    internal App App { get; } = new();
    internal Uri Address => App.ClientOptions.BaseAddress;

    public async Task InitializeAsync()
    {
        await App.InitializeAsync();
        App.UseKestrel(0);
        App.StartServer();
    }

    public Task DisposeAsync() => ((IAsyncLifetime)App).DisposeAsync();
}
