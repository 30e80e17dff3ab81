using System.Text.Json;
using System.Text.Json.Serialization;

namespace Assignum.Simulators;

/// <summary>The nurseries' systems, ready to answer.</summary>
static class Stage
{
    static readonly string[] Systems = ["web-shop", "till", "stock-room", "card-payments", "crew-planner", "ql-ledger"];

    /// <summary>Makes the application with its systems; their secrets are Simulators:Secret, a hyphen and their code.</summary>
    internal static (WebApplication App, IReadOnlyDictionary<string, StandIn> Systems) Build(string[] args)
    {
        var builder = WebApplication.CreateBuilder(new WebApplicationOptions { Args = args, ContentRootPath = AppContext.BaseDirectory });
        builder.Logging.SetMinimumLevel(LogLevel.Warning);
        builder.Services.AddHttpClient();
        builder.Services.ConfigureHttpJsonOptions(json =>
        {
            json.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower));
            json.SerializerOptions.DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull;
        });
        var app = builder.Build();
        var systems = All(app.Configuration["Simulators:Secret"] ?? "leaf", DateOnly.FromDateTime(DateTime.UtcNow),
            app.Configuration.GetValue("Simulators:Days", 35));
        app.MapStandIns(systems);
        return (app, systems);
    }

    /// <summary>All systems, with the events of some days up to one.</summary>
    /// <param name="secret">What their secrets begin with.</param>
    /// <param name="today">The last day.</param>
    /// <param name="days">How many days of events; 0: none.</param>
    internal static IReadOnlyDictionary<string, StandIn> All(string secret, DateOnly today, int days)
    {
        var all = Systems.ToDictionary(s => s, s => new StandIn(s, SystemData.Of(s), $"{secret}-{s}"), StringComparer.OrdinalIgnoreCase);
        if (days > 0)
            foreach (var system in all.Values)
                Happenings.Fill(system, today.AddDays(1 - days), today, 16);
        return all;
    }
}
