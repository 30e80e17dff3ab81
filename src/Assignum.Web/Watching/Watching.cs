using System.Globalization;
using Assignum.Storage;
using Microsoft.Extensions.Diagnostics.HealthChecks;
using Npgsql;
using OpenTelemetry.Metrics;
using OpenTelemetry.Resources;
using OpenTelemetry.Trace;
using Serilog;
using Serilog.Events;

namespace Assignum.Web.Watching;

/// <summary>What whoever runs an installation looks at: logs, health, and by configuration metrics and traces.</summary>
static class Watching
{
    const string Template = "{Timestamp:HH:mm:ss} {Level:u3} {Message:lj} {Request}{Exception}{NewLine}";

    internal static void AddWatching(this WebApplicationBuilder builder)
    {
        builder.Services.AddSerilog(log => log.ReadFrom.Configuration(builder.Configuration).Enrich.FromLogContext().MinimumLevel.Information()
            .MinimumLevel.Override("Microsoft", LogEventLevel.Warning).WriteTo.Console(outputTemplate: Template, formatProvider: CultureInfo.InvariantCulture));
        builder.Services.AddHealthChecks().AddCheck<DatabaseHealth>("database", tags: ["ready"]);
        // The exporter reads the open standard's own settings (OTEL_EXPORTER_OTLP_ENDPOINT and the like).
        if (builder.Configuration["OTEL_EXPORTER_OTLP_ENDPOINT"] is { Length: > 0 })
            builder.Services.AddOpenTelemetry().ConfigureResource(resource => resource.AddService("assignum"))
                .WithMetrics(metrics => metrics.AddAspNetCoreInstrumentation().AddMeter("Npgsql").AddOtlpExporter())
                .WithTracing(traces => traces.AddAspNetCoreInstrumentation().AddNpgsql().AddOtlpExporter());
    }

    /// <summary>Puts request, person, company and path beside everything that is logged while a request lasts, and logs what went wrong.</summary>
    internal static void UseWatching(this IApplicationBuilder app) => app.Use(async (http, next) =>
    {
        using var request = Serilog.Context.LogContext.PushProperty("Request", http.TraceIdentifier);
        http.Response.Headers["X-Request-Id"] = http.TraceIdentifier;
        try
        {
            await next(http);
        }
        catch (Exception fault) when (fault is not OperationCanceledException && !Sending.DatabaseAway.IsAway(fault))
        {
            http.RequestServices.GetRequiredService<Serilog.ILogger>().Error(fault,
                "Request {RequestId} failed: {Method} {Path}, company {Company}, person {Person}",
                http.TraceIdentifier, http.Request.Method, http.Request.Path.Value,
                http.Request.RouteValues.GetValueOrDefault("company"), http.User.Identity?.IsAuthenticated == true ? Access.SignedIn.Id(http.User) : null);
            throw;
        }
    });

    /// <summary>The application can work with the database: it answers, and it is neither older nor newer.</summary>
    sealed class DatabaseHealth(NpgsqlDataSource source) : IHealthCheck
    {
        public async Task<HealthCheckResult> CheckHealthAsync(HealthCheckContext context, CancellationToken cancellationToken = default)
        {
            try
            {
                return await Database.WhyNot(source, cancellationToken) is { } why ? HealthCheckResult.Unhealthy(why) : HealthCheckResult.Healthy();
            }
            catch (Exception fault) when (Sending.DatabaseAway.IsAway(fault))
            {
                return HealthCheckResult.Unhealthy("the database can't be reached");
            }
        }
    }
}
