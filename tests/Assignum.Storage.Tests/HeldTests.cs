using Assignum.Core.Posting;
using Assignum.Core.HeldEvents;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Posting;

namespace Assignum.Storage.Tests;

/// <summary>Held events: by cause, in the order in which they came, tried again, corrected by their source, set aside.</summary>
public sealed class HeldTests(Nursery nursery) : IClassFixture<Nursery>
{
    // VOUCHER has no rule for revenue: the sample's rulebook says nothing of it.
    static string Sale(string id, string item, string more = "") => $$"""{"id":"{{id}}","type":"sales-invoice","date":"2026-03-14","party":"C-10",{{more}}"lines":[{"item":"{{item}}","price":10,"taxCode":"E0"}]}""";

    async Task<IReadOnlyList<Posted>> Post(int company, params string[] events) => await nursery.Posting.Post(company, nursery.User, [.. events.Select(e => Nursery.Event(e))], default);

    async Task<List<string>> Waiting(int company) => [.. (await nursery.Held.All(company, default)).Select(h => h.SourceId)];

    [Fact]
    public async Task Events_that_one_member_would_mend_are_one_cause_with_their_money_and_post_in_the_order_in_which_they_came()
    {
        var company = await nursery.OpenCompany("ORDER");
        await Post(company, Sale("B", "NEW"), Sale("A", "NEW"), Sale("OTHER", "STRANGE"), Sale("C", "NEW", "\"total\":12.5,"));
        var held = await nursery.Held.All(company, default);
        var groups = held.GroupBy(h => HeldGrouping.Of(Nursery.Book, h.Reasons[0]) with { When = [] }).ToList();
        Assert.Equal([("Item", "NEW", 3, 32.5m), ("Item", "STRANGE", 1, 10)], groups.Select(g => (g.Key.Lacks, g.Key.For, g.Count(), g.Sum(h => h.Amount ?? 0))));

        // The source corrects the first: the correction takes its place. It is tried before those that came after it.
        await Post(company, Sale("B", "SEED-01", "\"revision\":2,\"documentDate\":\"2026-01-01\",").Replace("SEED-01", "NEW", StringComparison.Ordinal));
        Assert.Equal(["B", "A", "OTHER", "C"], await Waiting(company));
        Assert.Null(await nursery.Groups.AddItem(company, nursery.User, new Core.Groups.Item { Code = "NEW", Name = "New", Kind = Core.Groups.ItemKind.Service, Group = "SEEDS", Cost = null }, default));
        Assert.Equal(new HeldEvents.Retried(2, 2), await nursery.Retrying.Retry(company, nursery.User, null, default));
        Assert.Equal(["B", "A"], await nursery.AskAll($"select e.source_id from entry n join event e on e.company_id = n.company_id and e.id = n.event_id where n.company_id = {company} order by n.number"));
        Assert.Equal(["OTHER", "C"], await Waiting(company));
    }

    [Fact]
    public async Task What_still_waits_for_the_same_is_left_as_it_is_and_what_waits_for_something_else_says_so()
    {
        var company = await nursery.OpenCompany("STILL");
        await Post(company, Sale("A", "NEW"));
        var before = (await nursery.Held.All(company, default)).Single();
        await nursery.Retrying.Retry(company, nursery.User, null, default);
        Assert.Equal(before.Id, (await nursery.Held.All(company, default)).Single().Id);
    }

    [Fact]
    public async Task An_event_that_is_set_aside_waits_no_more_and_never_posts()
    {
        var company = await nursery.OpenCompany("ASIDE");
        await Post(company, Sale("A", "NEW"), Sale("B", "NEW"));
        var first = (await nursery.Held.All(company, default))[0];
        Assert.Null(await nursery.Retrying.SetAside(company, nursery.User, first.Id, "sent twice", default));
        Assert.Equal(["B"], await Waiting(company));
        Assert.NotNull(await nursery.Retrying.SetAside(company, nursery.User, first.Id, "again", default));
        // The same event, sent once more, is known: it does not come back.
        Assert.Equal(PostingFate.Known, (await Post(company, Sale("A", "NEW")))[0].Fate);
        Assert.Equal(["B"], await Waiting(company));
    }

    [Fact]
    public async Task The_rung_proposed_for_a_rule_is_the_one_the_company_uses_most_of_those_for_groups()
    {
        var facts = new FactValue[] { new(Fact.Item, "BULB-01"), new(Fact.ItemGroup, "BULBS"), new(Fact.Party, "C-10"), new(Fact.PartyGroup, "TRADE"), new(Fact.Location, "NORTH") };
        var group = HeldGrouping.Of(Nursery.Book, new KeptReason(HeldCause.NoRule, Purpose.CostOfSales, facts, null, null, null, "…"));
        Assert.Equal("item group BULBS", group.For);
        Assert.Equal([new FactValue(Fact.ItemGroup, "BULBS")], group.When);
        await Task.CompletedTask;
    }
}
