// The stand-ins for the nurseries' systems, in one process. They are what a real adapter would talk to, made up.
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Assignum.Simulators;

CultureInfo.DefaultThreadCurrentCulture = CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
var builder = WebApplication.CreateBuilder(args);
builder.Logging.SetMinimumLevel(LogLevel.Warning);
builder.Services.AddHttpClient();
builder.Services.ConfigureHttpJsonOptions(json =>
{
    json.SerializerOptions.Converters.Add(new JsonStringEnumConverter(JsonNamingPolicy.KebabCaseLower));
    json.SerializerOptions.DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull;
});
var app = builder.Build();
var today = DateOnly.FromDateTime(DateTime.UtcNow);
app.MapStandIns(StandIns.All(app.Configuration["Simulators:Secret"] ?? "leaf", today, app.Configuration.GetValue("Simulators:Days", 35)));
await app.RunAsync();

/// <summary>Named for tests that start it.</summary>
public partial class Program;

/// <summary>The nurseries' systems.</summary>
static class StandIns
{
    static readonly string[] Systems = ["web-shop", "till", "stock-room", "card-payments", "crew-planner", "ql-ledger"];

    /// <summary>All of them, with the events of some days up to one.</summary>
    /// <param name="secret">Their secrets are this, a hyphen and their code.</param>
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
