using Assignum.Storage.Closing;

namespace Assignum.Storage.Tests;

/// <summary>Lines of a month's end: signed with a figure, and open again when that is another.</summary>
public sealed class MonthEndTests(Nursery nursery) : IClassFixture<Nursery>
{
    MonthEndStore Store => new(nursery.Source);

    [Fact]
    public async Task A_line_is_signed_with_the_figure_that_was_seen_and_left_only_with_a_reason()
    {
        var company = await nursery.OpenCompany("SIGN");
        var period = await nursery.PeriodOf(company, 3);
        Assert.Contains("has changed since you looked", (await Store.Sign(company, nursery.User, period, "held", "3 12.5", "2 12.5", false, null, default))!.Message, StringComparison.Ordinal);
        Assert.Contains("Say why", (await Store.Sign(company, nursery.User, period, "held", "3 12.5", "3 12.5", true, " ", default))!.Message, StringComparison.Ordinal);
        Assert.Null(await Store.Sign(company, nursery.User, period, "held", "3 12.5", "3 12.5", true, "the shop mends them", default));
        Assert.Null(await Store.Sign(company, nursery.User, period, "held", "1 5", "1 5", false, null, default));
        Assert.Equal([("held", "1 5", false, "Ines")], (await Store.Signed(company, period, default)).Select(s => (s.Line, s.Figure, s.WasLeft, s.By)));
        Assert.Empty(await Store.Signed(company, await nursery.PeriodOf(company, 4), default));
    }

    [Fact]
    public async Task A_close_keeps_the_head_of_the_chain_and_what_was_signed_and_opening_again_wants_a_reason()
    {
        var company = await nursery.OpenCompany("KEEPS");
        await nursery.Posting.Post(company, nursery.User, [Nursery.Invoice("A")], default);
        var march = await nursery.PeriodOf(company, 3);
        Assert.Null(await nursery.Periods.Close(company, nursery.User, march, await nursery.Periods.LastEvent(company, default), default, """[{"Title":"Held events"}]"""));
        var close = Assert.Single(await nursery.Periods.Closes(company, 10, default));
        var head = Assert.Single(await new Proving.BooksVerifying(nursery.Source).Heads(company, default));
        Assert.Equal((head.Place, head.Digest, true), (close.Place, close.Digest, close.Closed));
        Assert.Contains("Held events", await Store.Statement(company, close.Id, default), StringComparison.Ordinal);
        Assert.Contains("Say why", (await nursery.Periods.Reopen(company, nursery.User, march, " ", default))!.Message, StringComparison.Ordinal);
        Assert.Null(await nursery.Periods.Reopen(company, nursery.User, march, "a bill came late", default));
        Assert.Equal([(false, "a bill came late"), (true, "")], (await nursery.Periods.Closes(company, 10, default)).Select(c => (c.Closed, c.Reason)));
    }

    [Fact]
    public async Task Figures_of_suspense_held_events_and_balances_are_those_of_the_lines()
    {
        var company = await nursery.OpenCompany("FIGURES");
        await nursery.Posting.Post(company, nursery.User, [Nursery.Event("""{"id":"V","type":"sales-invoice","date":"2026-03-14","party":"C-10","lines":[{"item":"VOU-25","price":25,"taxCode":"E0"}]}"""),
            Nursery.Event("""{"id":"H","type":"sales-invoice","date":"2026-03-15","party":"C-10","lines":[{"item":"NONE","price":7}]}""")], default);
        var suspense = (await nursery.Rulebooks.Load(company, null, default)).Labels.Account("1999")!.Value;
        Assert.Equal((1, -25m), await Store.OnAccounts(company, [suspense], new(2026, 3, 1), new(2026, 3, 31), default));
        Assert.Equal((0, -25m), await Store.OnAccounts(company, [suspense], new(2026, 4, 1), new(2026, 4, 30), default));
        Assert.Equal(new CountAndAmount(1, 7), await Store.Held(company, new(2026, 3, 31), default));
        Assert.Equal(new CountAndAmount(0, 0), await Store.Held(company, new(2026, 3, 14), default));
        Assert.Equal((-25m, 0), ((await Store.Balances(company, new(2026, 3, 31), default))[suspense], (await Store.Balances(company, new(2026, 2, 28), default)).Count));
    }
}
