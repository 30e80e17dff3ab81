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

    public async Task InitializeAsync() => database = await FreshDatabase.Make();

    protected override void ConfigureWebHost(IWebHostBuilder builder)
    {
        builder.UseEnvironment("Production");
        builder.UseSetting("ASSIGNUM_DB", database.Owner);
        builder.UseSetting("ASSIGNUM_DEMO", Path.Combine(AppContext.BaseDirectory, "demo"));
    }

    async Task IAsyncLifetime.DisposeAsync()
    {
        await DisposeAsync();
        await database.DisposeAsync();
    }
}
