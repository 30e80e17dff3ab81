using Assignum.Core.Payouts;
using Assignum.Formats.Sheets;
using Assignum.Storage.Connections;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Connections;

/// <summary>A payout as it is shown.</summary>
/// <param name="Document">The payout.</param>
/// <param name="Match">Against the documents of the books.</param>
/// <param name="Fees">Its fees, with their tax.</param>
/// <param name="Held">What it holds back, less what it frees.</param>
/// <param name="Paid">What came to the bank.</param>
public sealed record PayoutLook(ClearingDocument Document, PayoutMatch Match, decimal Fees, decimal Held, decimal Paid);

/// <summary>What the provider says it paid, against receipts, fees, refunds and held money: the clearing account at zero, or explained document by
/// document.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class PayoutsModel(ConnectionStore connections, ListStore lists, PayoutStore payouts) : ConnectionPage(connections, lists)
{
    /// <summary>The clearing accounts.</summary>
    public IReadOnlyList<(int Id, string Number, string Name)> Accounts { get; private set; } = [];
    /// <summary>The one looked at; null: no payout has landed yet.</summary>
    public (int Id, string Number, string Name)? Account { get; private set; }
    /// <summary>The check; null: there is nothing to check.</summary>
    public PayoutCheck? Check { get; private set; }
    /// <summary>The payouts, the latest first.</summary>
    public IReadOnlyList<PayoutLook> Shown { get; private set; } = [];
    /// <summary>Documents by their entry.</summary>
    public IReadOnlyDictionary<long, ClearingDocument> ByKey { get; private set; } = new Dictionary<long, ClearingDocument>();
    /// <summary>Entry of the payout that is open.</summary>
    [BindProperty(SupportsGet = true, Name = "payout")]
    public long? Open { get; set; }

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync(string? account) => Lay(account);

    async Task Lay(string? account)
    {
        Accounts = await payouts.Accounts(Company.Id, Connection.Source, Stop);
        if (Accounts.Count == 0)
            return;
        Account = Accounts.Where(a => a.Number == account).Append(Accounts[0]).First();
        var documents = await payouts.Documents(Company.Id, Account.Value.Id, Connection.Source, Stop);
        ByKey = documents.ToDictionary(d => d.Entry);
        Check = PayoutCheck.Of([.. documents.Select(d => new Cleared(d.Entry, d.Date, d.Amount, d.IsPayout))]);
        var parts = (await payouts.Parts(Company.Id, Connection.Source, Stop)).ToLookup(p => p.Event);
        decimal Of(ClearingDocument payout, params string[] purposes) => parts[payout.Event].Where(p => purposes.Contains(p.Purpose)).Sum(p => p.Amount);
        Shown = [.. Check.Payouts.Select(m => (Document: ByKey[m.Key], Match: m)).Select(p => new PayoutLook(p.Document, p.Match,
            Of(p.Document, "processing-fee", "input-tax"), Of(p.Document, "held-funds"), Of(p.Document, "bank"))).Reverse()];
    }

    /// <summary>The check as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? account, string? kind)
    {
        await Lay(account);
        if (Check is null)
            return NotFound();
        return Export(new Table("Payout check", ["date", "payout", "said", "books", "difference", "fees", "held", "paid", "documents"], Shown.Select(p =>
            (IReadOnlyList<object?>)[p.Document.Date, p.Document.SourceId, p.Match.Said, p.Match.Had, p.Match.Difference, p.Fees, p.Held, p.Paid,
                p.Match.Documents.Count])),
            $"payouts-{Connection.Code}", kind);
    }
}
