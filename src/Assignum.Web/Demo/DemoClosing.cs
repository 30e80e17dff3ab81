using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Formats.Events;
using Assignum.Storage.Companies;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Storage.Rates;
using Assignum.Storage.Settings;
using Assignum.Storage.Subledgers;
using Assignum.Web.Showing;

namespace Assignum.Web.Demo;

/// <summary>What the office of the nurseries does when thirteen months are in: the old year ends, journals that come back are kept, large ones want a second
/// person, terms are agreed, and connected systems say what they have.</summary>
sealed class DemoClosing(PostingStore posting, PeriodStore periods, YearEndStore years, RulebookStore rulebooks, KeptJournalStore kept, CompanyStore companies,
    TermsStore terms, StockStore stock, RateStore rates, TimeProvider clock)
{
    const decimal SecondPersonAbove = 5_000;
    const int StatedItems = 24;

    internal async Task Close(int company, int ines, CancellationToken stop)
    {
        await EndTheYear(company, ines, stop);
        if ((await kept.All(company, stop)).Count == 0)
            await Keep(company, ines, stop);
        await CloseMonths(company, ines, stop);
        await companies.SetSecondPersonAbove(company, ines, SecondPersonAbove, stop);
        await Agree(company, ines, stop);
        var last = new DateOnly(clock.Today().Year, clock.Today().Month, 1).AddDays(-1);
        DemoCompany.Insist(await rates.Set(company, ines, [new("USD", last, 0.93m), new("NOK", last, 0.0861m)], replace: true, stop));
        BalanceStatement[] said = [await OfStockRoom(company, last, stop), await OfCards(company, last, stop)];
        await posting.Post(company, ines, [.. said.Select(s => Sending.Postable.Of(s, s.Connection!, EventWriter.Write(s)))], stop);
    }

    // What was agreed with customers and suppliers.
    async Task Agree(int company, int ines, CancellationToken stop)
    {
        var book = await rulebooks.Load(company, null, stop);
        foreach (var (group, of) in new[]
        {
            ("TRADE", new Terms(30, 2, 10, 0.5m)), ("COUNCIL", new Terms(30, 0, 0, 0)), ("EXPORT", new Terms(30, 2, 10, 1)), ("GROWERS", new Terms(14, 0, 0,
                0)),
            ("GOODS", new Terms(30, 3, 8, 0)),
        })
            await terms.Set(company, ines, (null, book.Labels.IdOf(Labels.Family("party"), group), group), null, of, stop);
    }

    // The stock room counts what it has at the end of the month; of one item it has two fewer than the books.
    async Task<BalanceStatement> OfStockRoom(int company, DateOnly day, CancellationToken stop)
    {
        var kept = (await stock.All(company, day, stop)).FindAll(s => s is { Location: "NORTH", Quantity: > 0 });
        return new()
        {
            Id = $"COUNTED-{day:yyyyMM}", Date = day, Connection = "stock-room", Text = "Month's end",
            Lines = [.. kept.GroupBy(s => s.Item).Take(StatedItems).Select((item, i) => new StatedBalance(Subledger.Inventory, $"{item.Key}@NORTH", null, null,
                item.Sum(s => s.Quantity) - (i == 2 ? 2 : 0)))],
            Numbers = [new StatedNumbers("RCP-", "RCP-1001", "RCP-1150", 150)],
        };
    }

    // What the card company holds for the nurseries.
    async Task<BalanceStatement> OfCards(int company, DateOnly day, CancellationToken stop) => new()
    {
        Id = $"HELD-{day:yyyyMM}", Date = day, Connection = "card-payments", Text = "Month's end",
        Lines = [.. (await stock.OfMoney(company, day, stop)).Where(m => m.MoneyAccount is null && m.Currency == "EUR").GroupBy(m => m.Method ?? m.Connection!)
            .Select(m => new StatedBalance(Subledger.Bank, m.Key, null, m.Sum(one => one.Company), null))],
    };

    // Every month but the last two is closed; what comes later is posted on the first open day.
    async Task CloseMonths(int company, int ines, CancellationToken stop)
    {
        await periods.SetMovesLate(company, ines, true, stop);
        var lastMonth = new DateOnly(clock.Today().Year, clock.Today().Month, 1).AddMonths(-1);
        foreach (var month in (await periods.All(company, stop)).Where(p => p is { Adjustment: false, Closed: false } && p.Ends < lastMonth))
            DemoCompany.Insist(await periods.Close(company, ines, month.Id, null, stop));
    }

    // Every year but the last has ended.
    async Task EndTheYear(int company, int ines, CancellationToken stop)
    {
        foreach (var year in (await periods.All(company, stop)).Where(p => p.Ends < new DateOnly(clock.Today().Year, 1, 1)).Select(p => p.YearId).Distinct())
            if (await years.Look(company, year, stop) is { Standing: null, Lines.Count: > 0 } look)
                DemoCompany.Insist(await years.End(company, ines, year, look.Result, stop) is { } why ? new Refusal("", why) : null);
    }

    async Task Keep(int company, int ines, CancellationToken stop)
    {
        var last = new DateOnly(clock.Today().Year, clock.Today().Month, 1).AddDays(-1);
        await Keep("Accrued electricity", last, turned: true, "6140", "2490", 310);
        await Keep("Accrued rent of the market stands", KeptJournal.After(last, Every.Month), turned: true, "6210", "2490", 185);

        Task Keep(string name, DateOnly next, bool turned, string debit, string credit, decimal amount)
        {
            var journal = new ManualJournal
            {
                Id = "KEPT", Date = next, Text = name,
                Lines = [new JournalLine { Account = debit, Debit = amount }, new JournalLine { Account = credit, Credit = amount }],
            };
            return kept.Keep(company, ines, new(0, name, EventWriter.Write(journal), Every.Month, next, turned, ""), stop);
        }
    }
}
