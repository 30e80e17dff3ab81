using Assignum.Formats.Events;
using Assignum.Storage.Connections;
using Assignum.Storage.Posting;
using Microsoft.Extensions.Http.Resilience;
using Polly;

namespace Assignum.Web.Connections;

/// <summary>Everything that talks to other systems, and takes what they send.</summary>
static class ConnectionSetup
{
    internal static void AddConnections(this IServiceCollection services, IConfiguration configuration)
    {
        services.AddSingleton<ConnectionStore>().AddSingleton<ListStore>().AddSingleton<MatchStore>().AddSingleton<InboxStore>().AddSingleton<TokenStore>()
            .AddSingleton<PartnerSystem>().AddSingleton<Assignum.Storage.Consolidating.PartnerDocumentStore>().AddSingleton<OutgoingStore>()
                .AddSingleton<PayoutStore>().AddSingleton<Secrets>().AddSingleton<AllowedHosts>().AddSingleton<Receiving>()
                .AddSingleton<Feeding>()
            .AddSingleton<ListFetching>().AddSingleton<SuggestionCache>().AddHostedService<FeedWorker>();
        services.AddSingleton(provider => new EventText(EventWriter.Write, EventReader.Kept)
        {
            ReadSent = (company, came, stop) => provider.GetRequiredService<Receiving>().ReadAgain(company, came, stop),
        });
        services.AddHttpClient(SystemClient.Name, http => (http.MaxResponseContentBufferSize, http.Timeout) = (SystemClient.LargestAnswer,
            Timeout.InfiniteTimeSpan))
            // Where an answer leads elsewhere, nobody follows: the next host need not be one that is allowed.
            .ConfigurePrimaryHttpMessageHandler(() => new SocketsHttpHandler { AllowAutoRedirect = false, UseCookies = false })
            .AddStandardResilienceHandler(resilience => Set(resilience, configuration));
        services.AddSingleton(provider => new SystemClient(provider.GetRequiredService<IHttpClientFactory>().CreateClient(SystemClient.Name),
            provider.GetRequiredService<Secrets>(), provider.GetRequiredService<AllowedHosts>(), provider.GetRequiredService<PartnerSystem>()));
    }

    static void Set(HttpStandardResilienceOptions resilience, IConfiguration configuration)
    {
        var each = TimeSpan.FromSeconds(configuration.GetValue("Connections:AnswerWithin", 10.0));
        (resilience.AttemptTimeout.Timeout, resilience.TotalRequestTimeout.Timeout) = (each, each * 4);
        resilience.CircuitBreaker.SamplingDuration = each * 3;
        (resilience.Retry.MaxRetryAttempts, resilience.Retry.BackoffType, resilience.Retry.UseJitter) = (2, DelayBackoffType.Exponential, true);
        resilience.Retry.Delay = each / 20;
        // What adds something there is asked once: whether it came is seen by asking again, not by sending again.
        resilience.Retry.DisableForUnsafeHttpMethods();
    }
}
