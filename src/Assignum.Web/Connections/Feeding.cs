using Assignum.Storage.Connections;

namespace Assignum.Web.Connections;

/// <summary>Fetches the events of connections, page by page: a page is kept together with how far the feed is, so that a stop at any moment loses nothing.
/// </summary>
public sealed class Feeding(ConnectionStore connections, InboxStore inbox, Receiving receiving, SystemClient client, TimeProvider clock)
{
    /// <summary>Most events of a page.</summary>
    internal const int Page = 200;

    /// <summary>Pages fetched while somebody waits for them.</summary>
    internal const int WhileWaiting = 2;

    /// <summary>By how much a system's clock may be wrong before its days are doubted.</summary>
    internal static readonly TimeSpan ClockMayDiffer = TimeSpan.FromMinutes(5);

    /// <summary>Fetches what is new from a connection; says with the connection why it can't.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="of">The connection.</param>
    /// <param name="stop">Cancels between pages; what has come stays.</param>
    /// <param name="most">Most pages; what is left is fetched by the worker.</param>
    /// <returns>How many events came.</returns>
    internal async Task<int> Fetch(int company, ConnectionRow of, CancellationToken stop, int most = int.MaxValue)
    {
        try
        {
            var health = await client.Health(of, stop);
            if (WhyClock(of, health, clock.GetUtcNow()) is { } wrong)
                throw new OutsideException(wrong);
            if (health.Missing.Count > 0)
                throw new OutsideException($"{of.Name} lacks {string.Join(" and ", health.Missing.Select(m => m.Name))} ({health.Missing[0].Where}). Choose " +
                    "it there, or from the page of this connection.");
            var (cursor, all) = (of.Cursor, 0);
            for (var pages = 1; ; pages++)
            {
                var page = await client.Events(of, cursor, of.Switches.From, Page, stop);
                await receiving.Take(company, of, Via.Feed, page.Events, stop, page.Next);
                all += page.Events.Count;
                if (!page.More || page.Next == cursor || pages == most)
                    return all;
                cursor = page.Next;
            }
        }
        catch (OutsideException fault)
        {
            await connections.Failing(company, of.Id, fault.Message, stop);
            return 0;
        }
    }

    /// <summary>Why a system's clock can't be trusted; null where it can.</summary>
    internal static string? WhyClock(ConnectionRow of, Health health, DateTimeOffset now)
    {
        var off = health.Clock - now;
        if (off.Duration() <= ClockMayDiffer)
            return null;
        var (amount, unit) = off.Duration().TotalHours >= 2 ? (off.Duration().TotalHours, "hours") : (off.Duration().TotalMinutes, "minutes");
        return FormattableString.Invariant($"The clock of {of.Name} is {amount:0} {unit} {(off > TimeSpan.Zero ? "ahead" : "behind")}. ") +
            "Events would land on wrong days, so none are taken. Set it right there.";
    }

    /// <summary>Fetches from every connection that runs, and settles whatever waits.</summary>
    internal async Task Once(CancellationToken stop)
    {
        foreach (var (company, connection) in await connections.Running(stop))
            await Fetch(company, connection, stop);
        await SettleAll(stop);
    }

    /// <summary>Settles whatever waits, of every connection.</summary>
    internal async Task SettleAll(CancellationToken stop)
    {
        foreach (var ofCompany in (await inbox.Open(stop)).GroupBy(o => o.Company))
        {
            var all = (await connections.All(ofCompany.Key, stop)).ToDictionary(c => c.Id);
            foreach (var (_, connection) in ofCompany)
                await receiving.Settle(ofCompany.Key, all[connection], null, stop);
        }
    }
}

/// <summary>Looks after the feeds while the application runs.</summary>
sealed class FeedWorker(Feeding feeding, IConfiguration configuration, ILogger<FeedWorker> log) : BackgroundService
{
    static readonly TimeSpan PauseToSettle = TimeSpan.FromMilliseconds(500);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        var every = TimeSpan.FromSeconds(configuration.GetValue("Connections:Seconds", 10.0));
        for (var next = DateTime.MinValue; !stoppingToken.IsCancellationRequested;)
        {
            try
            {
                if (DateTime.UtcNow >= next)
                {
                    await feeding.Once(stoppingToken);
                    next = DateTime.UtcNow + every;
                }
                else
                    await feeding.SettleAll(stoppingToken);
                await Task.Delay(PauseToSettle, stoppingToken);
            }
            catch (OperationCanceledException) when (stoppingToken.IsCancellationRequested)
            {
            }
            catch (Exception fault)
            {
                Failed(log, fault);
                await Task.Delay(every, stoppingToken).ContinueWith(_ => { }, CancellationToken.None, TaskContinuationOptions.None, TaskScheduler.Default);
            }
        }
    }

    static readonly Action<ILogger, Exception?> Failed = LoggerMessage.Define(LogLevel.Error, new EventId(1, "FeedFailed"),
        "Events of connections can't be fetched or settled at the moment.");
}
