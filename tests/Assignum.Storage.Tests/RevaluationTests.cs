using Assignum.Core.Rates;
using Assignum.Storage.Closing;
using Assignum.Storage.Posting;
using Assignum.Storage.Proving;
using Assignum.Storage.Rates;
using Assignum.Storage.Settings;

namespace Assignum.Storage.Tests;

/// <summary>What is open in other currencies at the rates of a day: shown, posted, and taken back on the next.</summary>
public sealed class RevaluationTests(Nursery nursery) : IClassFixture<Nursery>
{
    static readonly DateOnly Day = new(2026, 4, 30);

    RateStore Rates => new(nursery.Source);
    RevaluationStore Store => new(nursery.Source, Rates, nursery.Posting, new EventText(Formats.Events.EventWriter.Write, Formats.Events.EventReader.Kept));

    async Task<LandingBook> Book(int company) => new(await nursery.Rulebooks.Load(company, null, default));

    async Task<IReadOnlyList<ForeignBalance>> Open(int company, DateOnly? on = null) => await Store.Open(company, await Book(company), on ?? Day, default);

    // We owe 200 dollars booked at 0.90, have 100 of a bill of 300 paid from the dollar account, and a customer paid kroner onto the euro account.
    async Task<int> Books(string code)
    {
        var company = await nursery.OpenCompany(code);
        string[] events =
        [
            """{"id":"BILL","type":"purchase-invoice","date":"2026-04-02","party":"S-40","currency":"USD","rate":0.90,"lines":[{"account":"6140","price":300,"taxCode":"E0"}]}""",
            """{"id":"PAID","type":"supplier-payment","date":"2026-04-10","party":"S-40","currency":"USD","rate":0.92,"moneyAccount":"DOLLAR","amount":100,"settles":[{"event":"BILL","amount":100}]}""",
            """{"id":"EURO","type":"sales-invoice","date":"2026-04-11","party":"C-10","lines":[{"account":"4110","price":50,"taxCode":"E0"}]}""",
        ];
        Assert.All(await nursery.Posting.Post(company, nursery.User, [.. events.Select(e => Nursery.Event(e))], default), p => Assert.True(p.Fate == PostingFate.Landed, p.WhyNot));
        return company;
    }

    Task<Refusal?> Rate(int company, decimal rate) => Rates.Set(company, nursery.User, [new DayRate("USD", Day, rate)], replace: true, default);

    async Task<decimal> Stands(int company, string account, DateOnly on) => await nursery.Ask<decimal>($"select coalesce(sum(l.amount), 0) from line l join account a on a.id = l.account_id where l.company_id = {company} and a.number = '{account}' and l.date <= '{on:yyyy-MM-dd}'");

    [Fact]
    public async Task Items_and_money_in_other_currencies_are_found_with_what_they_are_worth()
    {
        var company = await Books("FOUND");
        Assert.Equal([(200m, (decimal?)null), (-100, null)], (await Open(company)).Select(b => (Math.Abs(b.Open) == 200 ? 200 : b.Open, b.Worth)));
        Assert.Null(await Rate(company, 0.95m));
        Assert.Equal([("2030", "S-40", -200m, -180m, -190m, -10m), ("1020", null, -100, -92, -95, -3)],
            (await Open(company)).Select(b => (b.Account, b.Party, b.Open, b.Booked, b.Worth!.Value, b.Difference!.Value)));
    }

    [Fact]
    public async Task What_is_revalued_stands_at_the_rate_of_the_day_and_as_it_was_booked_on_the_next()
    {
        var company = await Books("TURNED");
        Assert.Null(await Rate(company, 0.95m));
        var made = await Store.Made(company, await Open(company), Day, default);
        Assert.Null((await Store.Post(company, nursery.User, made!, default)).WhyNot);
        Assert.Equal((-190, -95, 13), (await Stands(company, "2030", Day), await Stands(company, "1020", Day), await Stands(company, "8020", Day) - await Stands(company, "8020", new(2026, 4, 29))));
        Assert.Equal((-180, -92), (await Stands(company, "2030", Day.AddDays(1)), await Stands(company, "1020", Day.AddDays(1))));
        Assert.All(await Open(company), b => Assert.Equal(0, b.Difference));
        Assert.Null(await Store.Made(company, await Open(company), Day, default));

        // Another rate of the same day: only what the first left is posted, and the days after see neither.
        Assert.Null(await Rate(company, 0.90m));
        Assert.Equal([10m, 5], (await Open(company)).Select(b => b.Difference!.Value));
        Assert.Null((await Store.Post(company, nursery.User, (await Store.Made(company, await Open(company), Day, default))!, default)).WhyNot);
        Assert.Equal((-180, -90, -180), (await Stands(company, "2030", Day), await Stands(company, "1020", Day), await Stands(company, "2030", Day.AddDays(1))));
        Assert.All(await Open(company), b => Assert.Equal(0, b.Difference));

        // What is settled is settled at what it was booked at.
        await nursery.Posting.Post(company, nursery.User, [Nursery.Event("""{"id":"REST","type":"supplier-payment","date":"2026-05-10","party":"S-40","currency":"USD","rate":0.90,"moneyAccount":"DOLLAR","amount":200,"settles":[{"event":"BILL","amount":200}]}""")], default);
        Assert.Equal(0, await Stands(company, "2030", new(2026, 5, 31)));
        Assert.Empty((await new BooksVerifying(nursery.Source).Verify(company, "QN", [], default)).Faults);
    }

    [Fact]
    public async Task Where_the_next_day_is_closed_neither_is_posted()
    {
        var company = await Books("BOTH");
        Assert.Null(await Rate(company, 0.95m));
        Assert.Null(await nursery.Periods.Close(company, nursery.User, await nursery.PeriodOf(company, 5), null, default));
        Assert.Contains("closed", (await Store.Post(company, nursery.User, (await Store.Made(company, await Open(company), Day, default))!, default)).WhyNot!, StringComparison.Ordinal);
        Assert.Equal((-180, 0), (await Stands(company, "2030", new(2026, 12, 31)), (await nursery.Held.Total(company, default)).Events));
    }
}
