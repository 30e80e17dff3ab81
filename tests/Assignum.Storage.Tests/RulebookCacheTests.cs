using Assignum.Storage.Posting;

namespace Assignum.Storage.Tests;

/// <summary>Rulebooks in memory.</summary>
public sealed class RulebookCacheTests(Nursery nursery) : IClassFixture<Nursery>
{
    [Fact]
    public async Task Whoever_asks_at_the_same_time_gets_the_one_that_was_read()
    {
        var cache = new RulebookCache(nursery.Rulebooks);
        var books = await Task.WhenAll(Enumerable.Range(0, 24).Select(_ => Task.Run(() => cache.Of(nursery.Company, default))));

        Assert.Single(books.Distinct(ReferenceEqualityComparer.Instance));
        Assert.Single(books.Select(b => b.Draft).Distinct(ReferenceEqualityComparer.Instance));
        Assert.Same(books[0].Released, await cache.OfEdition(nursery.Company, books[0].State.Edition, default));
    }

    [Fact]
    public async Task A_changed_draft_is_read_again_and_what_is_in_force_is_not()
    {
        var cache = new RulebookCache(nursery.Rulebooks);
        var before = await cache.Of(nursery.Company, default);
        await nursery.SetTax("HOME", "NONE", "E0");
        var after = await cache.Of(nursery.Company, default);

        Assert.NotSame(before.Draft, after.Draft);
        Assert.Same(before.Released, after.Released);
        Assert.Contains(after.Draft.Stored.Book.TaxRules, r => r is { PartyTaxGroup: "HOME", ItemTaxGroup: "NONE", TaxCode: "E0" });
    }

    [Fact]
    public async Task One_who_goes_away_ends_the_reading_for_nobody_else()
    {
        var cache = new RulebookCache(nursery.Rulebooks);
        using var gone = new CancellationTokenSource();
        var first = cache.OfEdition(nursery.Company, 1, gone.Token);
        var second = cache.OfEdition(nursery.Company, 1, default);
        await gone.CancelAsync();

        Assert.Equal(1, (await second).Stored.Edition);
        try { await first; } catch (OperationCanceledException) { }
        Assert.Equal(1, (await cache.OfEdition(nursery.Company, 1, default)).Stored.Edition);
    }
}

/// <summary>What is kept in memory, and for how long.</summary>
public sealed class ReadOnceTests
{
    [Fact]
    public async Task The_one_asked_for_longest_ago_is_put_away_first()
    {
        var (reads, away) = (new List<string>(), new List<string>());
        var kept = new ReadOnce<string, int, string>(2, away.Add);

        foreach (var key in new[] { "a", "b", "a", "c", "a", "b" })
            Assert.Equal(key, await Get(key));

        Assert.Equal(["a", "b", "c", "b"], reads);
        Assert.Equal(["b", "c"], away);

        Task<string> Get(string key) => kept.Get(key, 1, () => { lock (reads) reads.Add(key); return Task.FromResult(key); }, _ => true, default);
    }

    [Fact]
    public async Task What_failed_or_came_of_another_state_is_not_kept()
    {
        var reads = 0;
        var kept = new ReadOnce<int, int, int>(2);
        await Assert.ThrowsAsync<IOException>(() => kept.Get(1, 1, () => throw new IOException(), _ => true, default));
        Assert.Equal(1, await kept.Get(1, 1, Read, _ => false, default));
        Assert.Equal(2, await kept.Get(1, 1, Read, _ => true, default));
        Assert.Equal(2, await kept.Get(1, 1, Read, _ => true, default));
        Assert.Equal(3, await kept.Get(1, 2, Read, _ => true, default));

        Task<int> Read() => Task.FromResult(++reads);
    }
}
