using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Core.Timing;
using Assignum.Storage.Charts;
using Assignum.Storage.Closing;
using Assignum.Storage.Companies;
using Assignum.Storage.Controls;
using Assignum.Storage.Journal;
using Assignum.Storage.Subledgers;
using Assignum.Web.Showing;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>A line of a month's end.</summary>
/// <param name="Name">Its name, under which it is signed.</param>
/// <param name="Title">What it is about.</param>
/// <param name="Says">What the figure means.</param>
/// <param name="Count">How many; 0: nothing is open.</param>
/// <param name="Amount">The money of it; null where none goes with it.</param>
/// <param name="Address">Where it is looked at and mended.</param>
public sealed record ClosingLine(string Name, string Title, string Says, long Count, decimal? Amount, string Address)
{
    /// <summary>The figure as it is signed.</summary>
    public string Figure => FormattableString.Invariant($"{Count} {Amount:0.####}").Trim();
}

/// <summary>Everything that can be open at the end of a period.</summary>
public sealed class ClosingLines(MonthEndStore store, StockStore stock, ControlStore controls, TimingStore timings, WaitingJournalStore journals,
    KeptJournalStore kept, RevaluationStore revaluations, ChartStore chart)
{
    /// <summary>The lines of a period, in the order of the work.</summary>
    internal async Task<IReadOnlyList<ClosingLine>> Of(CompanyPage page, ManagedPeriod period, CancellationToken stop)
    {
        var (company, to, on) = (page.Company.Id, period.Ends, Show.Field(period.Ends));
        var held = await store.Held(company, to, stop);
        var receipts = (await stock.Receipts(company, to, stop)).FindAll(r => r.Amount != 0);
        var gaps = await controls.Open(company, Assignum.Web.Pages.Controls.ControlAccounts.Of(page), to, stop);
        var drafts = page.Books.Changes.Count;
        return
        [
            new("held", "Held events", "not in the books yet", held.Count, held.Amount, page.At("held")),
            await Suspense(page, period, stop),
            new("receipts", "Receipts without invoice", "received and not invoiced, or the other way", receipts.Count, receipts.Sum(r => r.Amount),
                page.At("receipts?on=" + on)),
            await Clearing(page, period, stop),
            new("controls", "Ledger against subledgers", "events that make a difference", gaps.Sum(g => g.Gaps.Count),
                gaps.SelectMany(g => g.Gaps).Sum(g => Math.Abs(g.Difference)), page.At($"controls?on={on}{(gaps.Count > 0 ? "&of=" + gaps[0].Of : "")}")),
            await WrongSide(page, period, stop),
            await Timed(page, period, stop),
            await Foreign(page, period, stop),
            new("waiting", "Journals for a second person", "typed and not posted", await journals.Count(company, stop), null, page.At("journal/waiting")),
            new("kept", "Kept journals due", "not posted for this period", await kept.Due(company, to, stop), null, page.At("journal/kept")),
            new("draft", "Changes not released", "in the draft", drafts, null, page.At("editions")),
        ];
    }

    async Task<ClosingLine> Suspense(CompanyPage page, ManagedPeriod period, CancellationToken stop)
    {
        var stored = page.Books.Released.Stored;
        var accounts = stored.Book.Accounts.Where(a => a.Suspense).ToList();
        var (lines, balance) = await store.OnAccounts(page.Company.Id, [.. accounts.Select(a => stored.Labels.Account(a.Number) ?? 0)], period.Starts,
            period.Ends, stop);
        return new("suspense", "Suspense", $"lines of the period; {Show.Amount(balance, page.Decimals)} stands there", balance == 0 ? lines : Math.Max(lines,
            1), balance,
            accounts.Count == 1 ? page.At($"account-statement?account={Uri.EscapeDataString(accounts[0].Number)}&from={Show.Field(period.Starts)}&to={Show
                .Field(period.Ends)}")
            : page.At("trial-balance"));
    }

    // What is under way by card or shop comes to nothing when it was paid out.
    async Task<ClosingLine> Clearing(CompanyPage page, ManagedPeriod period, CancellationToken stop)
    {
        var open = (await stock.OfMoney(page.Company.Id, period.Ends, stop)).Where(m => m.MoneyAccount is null && m.Company != 0).ToList();
        return new("clearing", "Clearing", "ways of payment on which money is under way", open.Count, open.Sum(m => m.Company),
            page.At("money?on=" + Show.Field(period.Ends)));
    }

    async Task<ClosingLine> WrongSide(CompanyPage page, ManagedPeriod period, CancellationToken stop)
    {
        var stored = page.Books.Released.Stored;
        var balances = await store.Balances(page.Company.Id, period.Ends, stop);
        var book = await chart.Of(page.Company.Id, stored, stop);
        var wrong = stored.Book.Accounts.Where(a => a.Kind == AccountKind.Posting)
            .Select(a => (Account: a, Balance: balances.GetValueOrDefault(stored.Labels.Account(a.Number) ?? 0)))
            .Where(a => Standing.IsWrongSide(a.Account.Class, book.DescriptionOf(a.Account.Number).Side, a.Balance)).ToList();
        return new("sides", "Balances on the wrong side", wrong.Count == 0 ? "accounts" : "accounts: " + string.Join(", ", wrong.Take(3).Select(w =>
            w.Account.Number)) +
            (wrong.Count > 3 ? " …" : ""), wrong.Count, wrong.Sum(w => Math.Abs(w.Balance)), page.At($"trial-balance?on={Show.Field(period.Ends)}&side=wrong"));
    }

    // A month is distorted by the cost of its revenue that is booked in another, and by the cost of others that is booked in it.
    async Task<ClosingLine> Timed(CompanyPage page, ManagedPeriod period, CancellationToken stop)
    {
        var timing = new Timing(await timings.Sales(page.Company.Id, period.Starts.AddMonths(-3), period.Ends.AddMonths(3), stop));
        bool Here(DateOnly month) => period.Starts <= month && month <= period.Ends;
        var apart = timing.Apart.Where(a => Here(a.RevenueIn) || Here(a.CostIn)).ToList();
        var waiting = timing.NotShipped.Where(s => Here(s.Month)).ToList();
        return new("timing", "Timing", "sales with cost in another month, or none yet", apart.Count + waiting.Count, apart.Sum(a => Math.Abs(a.Cost))
            + waiting.Sum(s => s.Goods),
            page.At("timing"));
    }

    async Task<ClosingLine> Foreign(CompanyPage page, ManagedPeriod period, CancellationToken stop)
    {
        var open = page.Books.Released.Compiled is null ? [] : await revaluations.Open(page.Company.Id, page.Books.Released, period.Ends, stop);
        var differ = open.Where(b => b.Difference != 0).ToList();
        return new("foreign", "Other currencies", open.Any(b => b.Worth is null) ? "balances, some without a rate"
            : "balances not at the rates of the last day", differ.Count, differ.Sum(b => b.Difference ?? 0),
            page.At("revaluation?on=" + Show.Field(period.Ends)));
    }
}
