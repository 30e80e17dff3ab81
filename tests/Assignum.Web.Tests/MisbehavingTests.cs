extern alias outside;

using System.Text.Json;
using Assignum.Storage.Connections;
using Assignum.Storage.Proving;
using outside::Assignum.Simulators;

namespace Assignum.Web.Tests;

/// <summary>Whatever a shop does wrong over five hundred orders: it is said in words, nothing is lost, and each order is in the books once.</summary>
public sealed class MisbehavingTests(App app) : IClassFixture<App>
{
    const int Orders = 500;
    static readonly DateOnly First = new(2026, 9, 1);

    // What must stand: of each order the highest revision; of two contents under one revision the one that came first; a revision that comes too late is refused.
    static Dictionary<string, int> Model(IEnumerable<Fed> feed)
    {
        var standing = new Dictionary<string, int>();
        foreach (var given in feed.Where(g => g.Id.Length > 0))
            standing[given.Id] = Math.Max(standing.GetValueOrDefault(given.Id), given.Revision);
        return standing;
    }

    async Task<(Outside Outside, Connected Shop)> Connect(string code, Func<Switches, Switches>? set = null)
    {
        var outside = await Outside.Start();
        return (outside, await Connected.To(app.Services, code, outside.AddressOf("web-shop"), outside.Shop.Secret, set));
    }

    static void Stage(StandIn shop, int orders = Orders) => Happenings.Orders(shop, First, 60, orders, seed: 5);

    static async Task<Dictionary<string, int>> EqualsTheLog(Connected shop, StandIn standIn)
    {
        var expected = Model(standIn.Feed.All);
        // What nobody here knows is held, whole, and so is not among what stands.
        foreach (var held in await shop.Of<InboxStore>().List(shop.Company, (await shop.Row()).Id, InboxState.Held, null, null, 5_000, default))
        {
            Assert.Contains("@" + shop.Code, held.Message, StringComparison.Ordinal);
            expected.Remove(held.SourceId!);
        }
        Assert.Equal(expected.OrderBy(e => e.Key), (await shop.Standing()).OrderBy(e => e.Key));
        Assert.True(expected.Count > Orders / 2);
        Assert.Equal(standIn.Feed.All.Select(f => f.Id).Where(id => id.Length > 0).ToHashSet(),
            standIn.Log.Where(l => l.What == "gave").Select(l => l.Id).Where(id => id.Length > 0).ToHashSet());
        return expected;
    }

    [Theory]
    [InlineData(Misbehaviour.Down, "is down: it answers 503")]
    [InlineData(Misbehaviour.Slow, "does not answer in time")]
    [InlineData(Misbehaviour.WrongSecret, "does not accept the secret")]
    [InlineData(Misbehaviour.HalfPage, "sent half a page of events")]
    [InlineData(Misbehaviour.ClockOff, "is 26 hours ahead")]
    public async Task While_it_can_t_be_trusted_nothing_is_taken_and_afterwards_everything_once(Misbehaviour how, string said)
    {
        var (outside, shop) = await Connect("s-" + how.ToString().ToLowerInvariant());
        await using var _ = outside;
        Stage(outside.Shop);

        outside.Shop.Behave(how);
        Assert.Equal(0, await shop.Fetch());
        Assert.Contains(said, (await shop.Row()).Fault, StringComparison.Ordinal);
        Assert.Empty(await shop.Counts());

        outside.Shop.Behave(Misbehaviour.None);
        // Who failed several times is left alone for a moment.
        for (var tries = 0; tries < 40 && await shop.Fetch() == 0; tries++)
            await Task.Delay(250);
        Assert.Null((await shop.Row()).Fault);
        await EqualsTheLog(shop, outside.Shop);
    }

    [Fact]
    public async Task An_account_it_lacks_is_named_and_can_be_chosen_from_here()
    {
        var (outside, shop) = await Connect("s-missing");
        await using var _ = outside;
        Stage(outside.Shop);
        outside.Shop.Behave(Misbehaviour.MissingAccount);

        Assert.Equal(0, await shop.Fetch());
        Assert.Contains("lacks an account for sales of articles without a category (Settings, Bookkeeping, Sales)", (await shop.Row()).Fault, StringComparison.Ordinal);

        var ines = await Visitor.SignedIn(app, "ines");
        await ines.Get("/qn/connections/s-missing");
        await ines.Submit("#fetch");
        await ines.Follow();
        await ines.Submit("form.missing", ("account", "4050"));
        await ines.Follow();
        Assert.Null(ines.Page.QuerySelector("form.missing"));
        Assert.Equal(Orders, await shop.Fetch());
        await EqualsTheLog(shop, outside.Shop);
    }

    [Theory]
    [InlineData(Misbehaviour.Duplicates)]
    [InlineData(Misbehaviour.OutOfOrder)]
    [InlineData(Misbehaviour.ChangedContent)]
    [InlineData(Misbehaviour.Rubbish)]
    public async Task However_the_feed_is_disarranged_each_order_stands_once_as_it_was_last_corrected(Misbehaviour how)
    {
        var (outside, shop) = await Connect("s-" + how.ToString().ToLowerInvariant());
        await using var _ = outside;
        Stage(outside.Shop);
        outside.Shop.Feed.Disarrange(how, new Random(3));
        var given = outside.Shop.Feed.All;

        await shop.Fetch();

        await EqualsTheLog(shop, outside.Shop);
        var counts = await shop.Counts();
        if (how == Misbehaviour.Duplicates)
            Assert.Equal(Orders, counts.Values.Sum());
        if (how == Misbehaviour.OutOfOrder)
            Assert.Equal(given.Count - Orders, counts[InboxState.Refused]);
        if (how == Misbehaviour.ChangedContent)
            Assert.Equal(given.Count - Orders, counts[InboxState.Refused]);
        if (how == Misbehaviour.Rubbish)
        {
            // Kept as it came, and said why; the same rubbish is kept once.
            var kept = await shop.Of<InboxStore>().List(shop.Company, (await shop.Row()).Id, InboxState.Unreadable, null, null, 100, default);
            Assert.Equal(given.Where(g => g.Id.Length == 0).Select(g => g.Raw).Distinct().Order(StringComparer.Ordinal), kept.Select(k => k.Raw).Order(StringComparer.Ordinal));
            Assert.All(kept, k => Assert.False(string.IsNullOrEmpty(k.Message)));
        }
    }

    [Fact]
    public async Task A_rate_that_differs_is_marked_where_it_is_matched_and_its_events_are_held_not_taken()
    {
        var (outside, shop) = await Connect("s-rate");
        await using var _ = outside;
        outside.Shop.Behave(Misbehaviour.RateDiffers);
        Stage(outside.Shop);

        await shop.Of<Connections.ListFetching>().Fetch(shop.Company, await shop.Row(), default);
        var changed = Assert.Single(await shop.Of<ListStore>().Entries(shop.Company, (await shop.Row()).Id, "tax-codes", default), e => e.Sent.Rate == 21);
        await shop.Fetch();

        Assert.Equal("VAT20", changed.Sent.Code);
        var held = await shop.Of<InboxStore>().List(shop.Company, (await shop.Row()).Id, InboxState.Held, null, null, 5_000, default);
        var wrong = held.Where(h => h.Message!.Contains("S20", StringComparison.Ordinal)).ToList();
        Assert.True(wrong.Count > 100);
        // None with that code has landed: a cent of difference is taken, more is asked about.
        foreach (var posted in await shop.Of<InboxStore>().List(shop.Company, (await shop.Row()).Id, InboxState.Posted, null, null, 5_000, default))
        {
            var tax = JsonDocument.Parse(posted.Raw).RootElement.GetProperty("tax").EnumerateArray().FirstOrDefault(t => t.GetProperty("taxCode").GetString() == "VAT20");
            if (tax.ValueKind == JsonValueKind.Object)
                Assert.True(tax.GetProperty("amount").GetDecimal() < 2.5m, posted.Raw);
        }
    }

    [Fact]
    public async Task A_replay_from_a_day_on_brings_nothing_twice_and_the_chain_of_the_books_is_whole()
    {
        var (outside, shop) = await Connect("s-replay");
        await using var _ = outside;
        Stage(outside.Shop);
        await shop.Fetch();
        var before = await shop.Standing();

        var row = await shop.Row();
        var came = await shop.Of<Connections.Feeding>().Fetch(shop.Company, row with { Cursor = null, Switches = row.Switches with { From = First.AddDays(30) } }, default);
        await shop.Of<Connections.Receiving>().Settle(shop.Company, row, null, default);

        Assert.True(came is > 200 and < Orders, $"{came} came again");
        Assert.Equal(before.OrderBy(b => b.Key), (await shop.Standing()).OrderBy(b => b.Key));
        Assert.Equal(Orders, (await shop.Counts()).Values.Sum());
        Assert.Empty((await shop.Of<BooksVerifying>().Verify(shop.Company, "QN", [], default)).Faults);
    }
}
