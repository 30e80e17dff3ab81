using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Storage.Charts;
using Assignum.Storage.Companies;
using Assignum.Storage.Journal;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Showing;

namespace Assignum.Web.Demo;

/// <summary>What the office of the nurseries does when thirteen months are in: the old year ends, journals that come back are kept, large ones want a second
/// person.</summary>
sealed class DemoClosing(PostingStore posting, BalanceStore balances, RulebookStore rulebooks, KeptJournalStore kept, CompanyStore companies,
    TimeProvider clock)
{
    const decimal SecondPersonAbove = 5_000;

    internal async Task Close(int company, int ines, CancellationToken stop)
    {
        await EndTheYear(company, ines, clock.Today().Year - 1, stop);
        if ((await kept.All(company, stop)).Count == 0)
            await Keep(company, ines, stop);
        await companies.SetSecondPersonAbove(company, ines, SecondPersonAbove, stop);
    }

    // Income and expense of the year, account by account, to retained earnings, in the adjustment period.
    async Task EndTheYear(int company, int ines, int year, CancellationToken stop)
    {
        var book = await rulebooks.Load(company, null, stop);
        var accounts = book.Book.Accounts.Where(a => a.Class >= AccountClass.Income).ToDictionary(a => book.Labels.Account(a.Number) ?? 0, a => a.Number);
        var end = new YearEnd
        {
            Id = $"YEAR-{year}", Date = new DateOnly(year, 12, 31), Adjustment = true, FiscalYear = $"{year}", Text = $"End of {year}",
            Lines = [.. from part in await balances.OfYear(company, new DateOnly(year, 1, 1), stop) where accounts.ContainsKey(part.Account)
                select new ClosedBalance(accounts[part.Account], part.Amount, part.Dimensions)],
        };
        if (end.Lines.Count > 0)
            await posting.Post(company, ines, [Sending.Postable.Own(end)], stop);
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
