extern alias outside;

using System.Net;
using Assignum.Storage.Connections;
using Assignum.Storage.HeldEvents;
using Assignum.Storage.Settings;
using Assignum.Storage.Posting;
using Microsoft.Extensions.DependencyInjection;
using outside::Assignum.Simulators;

namespace Assignum.Web.Tests;

/// <summary>What a connection may reach, keep and take, and what becomes of it afterwards.</summary>
public sealed class ConnectedTests(App app) : IClassFixture<App>
{
    static readonly DateOnly First = new(2026, 10, 1);

    async Task<(Outside Outside, Connected Shop)> Connect(string code, Func<Switches, Switches>? set = null, string system = "web-shop")
    {
        var outside = await Outside.Start();
        return (outside, await Connected.To(app.Services, code, outside.AddressOf(system), outside.Systems[system].Secret, set));
    }

    static System.Text.Json.Nodes.JsonObject Order(string id, string item, string more = "") => System.Text.Json.Nodes.JsonNode.Parse(
        $$"""{"id":"{{id}}","type":"sales-invoice","at":"2026-10-02T10:00:00+02:00","party":"K-204","lines":[{"item":"{{item}}","category":"C-SEED","quantity":1,"price":2}]{{more}}}""")!.AsObject();

    [Theory]
    [InlineData("http://example.org/adapter", "is not among the hosts")]
    [InlineData("http://127.0.0.1@example.org/", "is not among the hosts")]
    [InlineData("file:///etc/passwd", "is no address")]
    [InlineData("ftp://127.0.0.1/", "is no address")]
    [InlineData("shop", "is no address")]
    public async Task Only_hosts_that_are_listed_are_reached(string address, string said)
    {
        var adam = await Visitor.SignedIn(app, "adam");
        var code = "h" + Guid.NewGuid().ToString("N")[..6];
        await adam.Get("/qn/connections");
        await adam.Submit("#new-connection", ("code", code), ("name", ""));
        await adam.Follow();
        await adam.Submit("#reach", ("address", address), ("secret", "x"));

        Assert.Equal(HttpStatusCode.BadRequest, adam.Last.StatusCode);
        Assert.Contains(said, adam.Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_secret_is_kept_encrypted_and_shown_to_nobody()
    {
        var (outside, shop) = await Connect("c-secret");
        await using var _ = outside;

        Assert.DoesNotContain(outside.Shop.Secret, (await shop.Row()).Secret, StringComparison.Ordinal);
        Assert.Equal(outside.Shop.Secret, shop.Of<Connections.Secrets>().Open((await shop.Row()).Secret!));
        foreach (var name in new[] { "adam", "ines" })
            Assert.DoesNotContain(outside.Shop.Secret, (await (await Visitor.SignedIn(app, name)).Get("/qn/connections/c-secret")).Text, StringComparison.Ordinal);
        Assert.DoesNotContain(app.Logged, l => l.RenderMessage(null).Contains(outside.Shop.Secret, StringComparison.Ordinal));
    }

    [Fact]
    public async Task An_event_held_for_a_code_without_a_match_lands_by_itself_when_the_match_is_released()
    {
        var (outside, shop) = await Connect("c-held");
        await using var _ = outside;
        outside.Shop.Feed.Add(Order("H-1", "S-2003"));
        await shop.Fetch();
        Assert.Equal(1, await shop.Count(InboxState.Held));

        var ines = await shop.Person("ines");
        Assert.Null(await shop.Of<MatchStore>().Decide(shop.Company, ines, await shop.Row(), "items", [new("S-2003", "SEED-04", "by hand")], default));
        Assert.Null(await shop.Of<EditionStore>().Release(shop.Company, await shop.Person("tomas"), await shop.Of<RulebookStore>().StateOf(shop.Company, default), "", default));
        await shop.Of<Retrying>().Retry(shop.Company, ines, null, default);

        Assert.Equal(1, await shop.Count(InboxState.Posted));
        Assert.Equal(["H-1"], (await shop.Standing()).Keys);
    }

    [Fact]
    public async Task An_item_nobody_knows_lands_by_its_category_and_is_counted_where_that_is_wanted()
    {
        var (outside, shop) = await Connect("c-category", s => s with { Items = UnknownItems.ByCategory });
        await using var _ = outside;
        outside.Shop.Feed.Add(Order("K-1", "S-2003"));

        await shop.Fetch();

        var row = Assert.Single(await shop.Of<InboxStore>().List(shop.Company, (await shop.Row()).Id, null, null, null, 10, default));
        Assert.Equal((InboxState.Posted, 1), (row.State, row.ByCategory));
    }

    [Fact]
    public async Task What_the_switches_do_not_take_is_left_or_waits_with_the_reason()
    {
        var (outside, shop) = await Connect("c-switches", s => s with { Refunds = false, HeldFunds = false, Disputes = false, From = First.AddDays(5), Revisions = Taking.Review },
            "card-payments");
        await using var _ = outside;
        var feed = outside.Systems["card-payments"].Feed;
        void Add(string text) => feed.Add(System.Text.Json.Nodes.JsonNode.Parse(text)!.AsObject());
        Add("""{"id":"back","type":"refund","date":"2026-10-08","party":"C-31","method":"card","amount":5}""");
        Add("""{"id":"held","type":"payout","date":"2026-10-08","method":"card","moneyAccount":"MAIN","lines":[{"kind":"receipt","amount":9},{"kind":"held","amount":2}]}""");
        Add("""{"id":"fight","type":"payout","date":"2026-10-09","method":"card","moneyAccount":"MAIN","lines":[{"kind":"receipt","amount":9},{"kind":"dispute","amount":2}]}""");
        Add("""{"id":"early","type":"customer-payment","date":"2026-10-02","party":"C-31","method":"card","amount":5}""");
        Add("""{"id":"paid","type":"customer-payment","date":"2026-10-08","party":"C-31","method":"card","amount":5}""");
        Add("""{"id":"paid","revision":2,"withdrawn":true,"type":"customer-payment","date":"2026-10-08","party":"C-31","method":"card","amount":5}""");

        await shop.Fetch();

        var became = (await shop.Of<InboxStore>().List(shop.Company, (await shop.Row()).Id, null, null, null, 20, default)).ToDictionary(r => (r.SourceId, r.Revision), r => (r.State, r.Message));
        Assert.Equal(InboxState.Left, became[("early", 1)].State);
        Assert.Contains("before the first day", became[("early", 1)].Message, StringComparison.Ordinal);
        Assert.Equal((InboxState.Left, "Refunds are not taken from this connection."), became[("back", 1)]);
        Assert.Equal((InboxState.Review, "The provider holds or frees money in it."), became[("held", 1)]);
        Assert.Equal((InboxState.Review, "It has a dispute."), became[("fight", 1)]);
        Assert.Equal(InboxState.Posted, became[("paid", 1)].State);
        Assert.Equal((InboxState.Review, "It takes back what is posted."), became[("paid", 2)]);
        Assert.Equal(["paid"], (await shop.Standing()).Keys);
    }

    [Fact]
    public async Task A_list_fetched_again_shows_what_is_new_changed_and_gone_until_somebody_has_seen_it()
    {
        var (outside, shop) = await Connect("c-lists");
        await using var _ = outside;
        var (lists, row) = (shop.Of<ListStore>(), await shop.Row());
        await lists.MarkSeen(shop.Company, row.Id, "items", default);
        var items = outside.Shop.Lists["items"];
        items.Put(new Entry("S-3001", "Raised bed"));
        items.Put(new Entry("S-1001", "Field poppy, 3 g") { Kind = "stock", Category = "C-SEED" });
        items.Take("S-1002");

        var found = (await shop.Of<Connections.ListFetching>().Fetch(shop.Company, row, default)).Single(f => f.List == "items").Found;

        Assert.Equal(new Refreshed(1, 1, 1), found);
        var entries = (await lists.Entries(shop.Company, row.Id, "items", default)).ToDictionary(e => e.Sent.Code);
        Assert.Equal(EntrySeen.New, entries["S-3001"].Seen);
        Assert.Contains("Field poppy, 2 g", entries["S-1001"].Was, StringComparison.Ordinal);
        Assert.NotNull(entries["S-1002"].GoneAt);
        Assert.Equal(EntrySeen.Seen, entries["S-1003"].Seen);
    }

    [Fact]
    public async Task Two_who_change_a_connection_see_each_others_change_first()
    {
        var (outside, shop) = await Connect("c-two");
        await using var _ = outside;
        var (seen, ines) = (await shop.Row(), await shop.Person("ines"));
        Assert.Null(await shop.Of<ConnectionStore>().SetRunning(shop.Company, ines, seen, true, default));

        Assert.Contains("Somebody else has changed", (await shop.Of<ConnectionStore>().SetSwitches(shop.Company, ines, seen, new Switches(), "UTC", default, default))!.Message, StringComparison.Ordinal);
    }
}
