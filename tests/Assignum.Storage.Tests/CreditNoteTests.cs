using Assignum.Formats.Events;
using Assignum.Storage.Posting;

namespace Assignum.Storage.Tests;

/// <summary>A credit note that refers to its invoice takes over what it leaves out, and takes off no more than is left.</summary>
public sealed class CreditNoteTests(Nursery nursery) : IClassFixture<Nursery>, IAsyncLifetime
{
    int company;

    public async Task InitializeAsync() => company = await nursery.OpenCompany("K" + Guid.NewGuid().ToString("N")[..8]);

    public Task DisposeAsync() => Task.CompletedTask;

    async Task<IReadOnlyList<Posted>> Post(params string[] events) => await nursery.Posting.Post(company, nursery.User, [.. events.Select(json =>
        new PostableEvent(EventReader.Kept(json)!, PostableEvent.Own, json, json, CanonicalJson.Digest(json)))], default);

    async Task Lands(params string[] events) =>
        Assert.All(await Post(events), p => Assert.True(p.Fate == PostingFate.Landed, p.Message + string.Join(" ", p.Reasons.Select(r => r.Message))));

    async Task<IReadOnlyList<string?>> Held(string note)
    {
        var posted = Assert.Single(await Post(note));
        Assert.Equal(PostingFate.Held, posted.Fate);
        return [.. posted.Reasons.Select(r => r.Field)];
    }

    static string Receipt(string id, string cost) =>
        $$"""{"id":"{{id}}","type":"purchase-receipt","date":"2026-03-01","party":"S-12","location":"NORTH","lines":[{"item":"TREE-01","quantity":10,"unitCost":{{cost}}}]}""";

    const string Goods = """
        {"id":"I1","type":"sales-invoice","date":"2026-03-06","party":"C-10","location":"NORTH","lines":[{"item":"TREE-01","quantity":3,"price":9.99,"shipped":true}]}
        """;

    static string Back(string id, int quantity, string more = "", string ofLine = "") => $$"""
        {"id":"{{id}}","type":"sales-credit-note","date":"2026-04-10","party":"C-10","location":"NORTH","refersTo":"I1",{{more}}
            "lines":[{"item":"TREE-01","quantity":{{quantity}},"price":9.99,"returned":true{{ofLine}}}]}
        """;

    static string Invoice(string more = "") =>
        $$"""{"id":"I1","type":"sales-invoice","date":"2026-03-06","party":"C-10",{{more}}"lines":[{"account":"4110","price":100,"taxCode":"O0"},{"account":"4110","price":20,"taxCode":"O0"}]}""";

    static string Off(string id, string price, string more = "", int ofLine = 1) => $$"""
        {"id":"{{id}}","type":"sales-credit-note","date":"2026-04-10",{{(more.Contains("party", StringComparison.Ordinal) ? "" : "\"party\":\"C-10\",")}}{{more}}"refersTo":"I1",
            "lines":[{"account":"4110","price":{{price}},"taxCode":"O0","refersToLine":{{ofLine}}}]}
        """;

    [Fact]
    public async Task An_invoice_is_not_revised_below_what_was_credited_of_it()
    {
        await Lands(Invoice(), Off("C1", "60"), Off("C2", "30"));
        string Revised(int revision, int price) => Invoice($"\"revision\":{revision},").Replace("\"price\":100", $"\"price\":{price}", StringComparison.Ordinal);

        var posted = Assert.Single(await Post(Revised(2, 80)));
        Assert.Equal(PostingFate.Held, posted.Fate);
        Assert.Contains("credit note C2", Assert.Single(posted.Reasons).Message, StringComparison.Ordinal);
        await Lands(Revised(3, 90));
    }

    [Fact]
    public async Task Goods_come_back_at_the_cost_at_which_they_left_and_tax_goes_by_the_day_of_the_invoice()
    {
        await Lands(Receipt("R1", "4"), Goods, Receipt("R2", "6"), Back("C1", 2));

        Assert.Equal("2026-03-06", await nursery.Ask<string>($"select tax_date::text from event where company_id = {company} and source_id = 'C1'"));
        Assert.Equal(8m, await nursery.Ask<decimal>($"""
            select m.amount from event e join stock_movement m on m.company_id = e.company_id and m.event_id = e.id
            where e.company_id = {company} and e.source_id = 'C1' and m.subledger = 'inventory'
            """));
    }

    [Fact]
    public async Task No_more_comes_back_than_has_left_whatever_came_back_before()
    {
        await Lands(Receipt("R1", "4"), Goods, Back("C1", 2));
        Assert.Equal(["lines[0].quantity", "lines"], await Held(Back("C2", 2)));
        // The note before it, revised and then withdrawn, leaves room again.
        await Lands(Back("C1", 1, "\"revision\":2,"), Back("C2", 2, "\"revision\":2,"));
        Assert.Contains("lines[0].quantity", await Held(Back("C3", 1)));
        await Lands(Back("C2", 2, "\"revision\":3,\"withdrawn\":true,"), Back("C3", 2, "\"revision\":2,"));
    }

    [Fact]
    public async Task No_more_is_taken_off_a_line_than_is_left_of_it()
    {
        await Lands(Invoice(), Off("C1", "60"));
        Assert.Equal(["lines[0].price"], await Held(Off("C2", "40.01")));
        Assert.Equal(["lines[0].price"], await Held(Off("C3", "20.01", ofLine: 2)));
        await Lands(Off("C4", "40"), Off("C5", "20", ofLine: 2));
        Assert.Equal(["lines[0].price", "lines"], await Held(Off("C6", "0.01")));
    }

    [Fact]
    public async Task Party_currency_and_line_are_those_of_the_invoice()
    {
        await Lands(Invoice("\"currency\":\"USD\",\"rate\":0.9,"));
        Assert.Equal(["party"], await Held(Off("C1", "10", "\"party\":\"C-11\",\"currency\":\"USD\",")));
        Assert.Equal(["currency"], await Held(Off("C2", "10")));
        Assert.Equal(["lines[0].refersToLine"], await Held(Off("C3", "10", "\"currency\":\"USD\",", 3)));
        await Lands(Off("C4", "10", "\"currency\":\"USD\","));
        // At the rate of the invoice.
        Assert.Equal(-9m, await nursery.Ask<decimal>($"""
            select m.amount from event e join party_movement m on m.company_id = e.company_id and m.event_id = e.id where e.company_id = {company} and e.source_id = 'C4'
            """));
    }

    [Fact]
    public async Task A_note_that_refers_to_what_the_books_do_not_have_is_posted_as_it_is() => await Lands(Off("C1", "500"));
}
