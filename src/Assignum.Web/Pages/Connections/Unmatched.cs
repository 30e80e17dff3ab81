using Assignum.Storage.Connections;

namespace Assignum.Web.Pages.Connections;

/// <summary>What waits for somebody at the connections: entries without a match, and events to be reviewed.</summary>
static class Unmatched
{
    internal static async Task<int> Count(IServiceProvider services, CompanyPage page, CancellationToken stop)
    {
        var counts = await services.GetRequiredService<ListStore>().Counts(page.Company.Id, stop);
        var review = (int)await services.GetRequiredService<InboxStore>().ToReview(page.Company.Id, stop);
        if (counts.Count == 0)
            return review;
        var all = await services.GetRequiredService<ConnectionStore>().All(page.Company.Id, stop);
        return review + all.Sum(c => ListCount.Of(counts, c, page.Books.Draft.Stored.Book).Values.Sum(l => l.Waiting));
    }
}
