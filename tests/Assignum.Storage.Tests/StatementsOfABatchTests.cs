using System.Diagnostics;
using Assignum.Storage.Posting;

namespace Assignum.Storage.Tests;

/// <summary>Under the posting lock nothing goes by single rows: however many events a batch has, its statements are as many.</summary>
public sealed class StatementsOfABatchTests(Nursery nursery) : IClassFixture<Nursery>
{
    [Fact]
    public async Task A_thousand_revisions_take_as_many_statements_as_three()
    {
        var (few, many) = ("FEW", "MANY");
        await Post(few, 3, 1);
        await Post(many, PostingStore.LargestBatch, 1);

        var ofThree = await Statements(() => Post(few, 3, 2));
        var ofThousand = await Statements(() => Post(many, PostingStore.LargestBatch, 2));

        Assert.InRange(ofThree, 10, 60);
        Assert.Equal(ofThree, ofThousand);
    }

    async Task Post(string name, int events, int revision)
    {
        PostableEvent[] batch = [.. Enumerable.Range(0, events).Select(i => Nursery.Invoice($"{name}-{i}", 2.5m + revision, $"\"revision\":{revision},"))];
        Assert.All(await nursery.Posting.Post(nursery.Company, nursery.User, batch, default), posted => Assert.Equal(PostingFate.Landed, posted.Fate));
    }

    // The driver reports every statement and every COPY as an activity; other tests use other databases.
    async Task<int> Statements(Func<Task> act)
    {
        var database = new Npgsql.NpgsqlConnectionStringBuilder(nursery.Owner).Database;
        var count = 0;
        using var listener = new ActivityListener
        {
            ShouldListenTo = source => source.Name == "Npgsql",
            Sample = (ref ActivityCreationOptions<ActivityContext> _) => ActivitySamplingResult.AllData,
            ActivityStopped = activity =>
            {
                if (activity.TagObjects.Any(t => t.Key is "db.namespace" or "db.name" && (string?)t.Value == database))
                    Interlocked.Increment(ref count);
            },
        };
        ActivitySource.AddActivityListener(listener);
        await act();
        return count;
    }
}
