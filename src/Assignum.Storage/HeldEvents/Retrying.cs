using Assignum.Core.Posting;
using Assignum.Storage.Posting;
using Npgsql;

namespace Assignum.Storage.HeldEvents;

/// <summary>What came of trying held events again.</summary>
/// <param name="Landed">How many are in the books now.</param>
/// <param name="Held">How many still wait.</param>
public sealed record Retried(int Landed, int Held);

/// <summary>Tries held events again, in the order in which they came: each is prepared anew from the books. One that still waits for the same stays as it is.
/// </summary>
public sealed class Retrying(NpgsqlDataSource source, PostingStore posting, EventText text)
{
    /// <summary>Kind of the job that tries them.</summary>
    public const string Job = "retry-held";

    const int AtOnce = 500;

    /// <summary>Tries them. What has landed stays landed when this is cancelled, and the rest goes on waiting.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who tries.</param>
    /// <param name="only">Ids of those to be tried; null: all.</param>
    /// <param name="stop">Cancels.</param>
    /// <param name="tell">Told how many have been tried, and of how many.</param>
    public async Task<Retried> Retry(int company, int? user, long[]? only, CancellationToken stop, Func<int, int, Task>? tell = null)
    {
        var ids = await HeldStore.Ids(source, company, only, stop);
        var (landed, held) = (0, 0);
        for (var from = 0; from < ids.Count; from += AtOnce)
        {
            var events = await HeldStore.AsTheyCame(source, company, [.. ids.Skip(from).Take(AtOnce)], text, stop);
            foreach (var one in await posting.Post(company, user, events, stop))
            {
                landed += one.Fate == PostingFate.Landed ? 1 : 0;
                held += one.Fate == PostingFate.Held ? 1 : 0;
            }
            if (tell is not null)
                await tell(Math.Min(from + AtOnce, ids.Count), ids.Count);
        }
        if (landed > 0)
            await Connections.InboxStore.Refresh(source, company, stop);
        return new(landed, held);
    }

    /// <summary>What would become of held events if they were tried now, one after the other. Nothing is kept.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="ids">Their ids.</param>
    /// <param name="by">The rulebook they would land by.</param>
    /// <param name="stop">Cancels.</param>
    public async Task<IReadOnlyList<Posted>> Look(int company, long[] ids, LandingBook by, CancellationToken stop) =>
        await posting.Look(company, await HeldStore.AsTheyCame(source, company, ids, text, stop), stop, by);

    /// <summary>Sets a held event aside for good: it counts as taken back, and never posts.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="user">Who sets it aside.</param>
    /// <param name="id">Its id.</param>
    /// <param name="why">Why; kept with it.</param>
    /// <param name="stop">Cancels.</param>
    /// <returns>Why it was not; null when it was.</returns>
    public async Task<string?> SetAside(int company, int user, long id, string why, CancellationToken stop)
    {
        if (await HeldStore.AsTheyCame(source, company, [id], text, stop) is not [var held])
            return "The event waits no more: it has landed, was corrected by its source, or was set aside already.";
        var aside = held.Happened with { Withdrawn = true, Text = why };
        var written = text.Write(aside);
        return (await posting.Post(company, user, [held with { Happened = aside, Prepared = written, HeldFor = null }], stop))[0].WhyNot;
    }
}
