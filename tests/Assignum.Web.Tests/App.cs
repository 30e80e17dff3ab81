using Assignum.Testing;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;

namespace Assignum.Web.Tests;

/// <summary>The application with the demo on a database of its own.</summary>
public sealed class App : WebApplicationFactory<Program>, IAsyncLifetime
{
    /// <summary>Password of the demo's people.</summary>
    public const string Password = "seedling-2026";

    FreshDatabase database = null!;

    public async Task InitializeAsync()
    {
        database = await FreshDatabase.Make();
        Storage.Database.Migrate(database.Owner);
    }

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        builder.UseEnvironment("Production");
        builder.UseSetting("ASSIGNUM_DB", database.Owner);
        // Tests sign in and send far more often than people do.
        foreach (var limit in new[] { "sign-in", "find", "upload", "api" })
            builder.UseSetting("Limits:" + limit, "1000000");
        builder.UseSetting("ASSIGNUM_DEMO", Path.Combine(AppContext.BaseDirectory, "demo"));
    }

    async Task IAsyncLifetime.DisposeAsync()
    {
        await DisposeAsync();
        await database.DisposeAsync();
    }
}
