using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Formats.Sheets;
using Assignum.Storage.Posting;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>Goods received and not invoiced, and invoiced and not received, line by line; small rests are cleared.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class ReceiptsModel(StockStore stock, PostingStore posting, TimeProvider clock) : SubledgerPage(clock)
{
    const int UsualAge = 30;

    /// <summary>Only what is older than this many days.</summary>
    [BindProperty(SupportsGet = true)]
    public int? Older { get; set; }
    /// <summary>Part of a code or name of the supplier or the item.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Q { get; set; }

    /// <summary>Everything that waits.</summary>
    public IReadOnlyList<ReceiptOf> All { get; private set; } = [];
    /// <summary>What fits.</summary>
    public IReadOnlyList<ReceiptOf> Rows { get; private set; } = [];
    /// <summary>What is chosen to be cleared, as "event|line|item|place".</summary>
    public IReadOnlyCollection<string> Chosen { get; private set; } = [];
    /// <summary>What clearing would write; empty while nothing is chosen.</summary>
    public IReadOnlyList<(Document Event, Outcome Outcome)> Clearing { get; private set; } = [];
    /// <summary>Why nothing was cleared.</summary>
    public string? Fault { get; private set; }

    /// <summary>What is older than 30 days.</summary>
    public int Old => All.Count(r => AgeOf(r) > UsualAge);

    /// <summary>Days it has waited.</summary>
    public int AgeOf(ReceiptOf of) => Date.DayNumber - of.Date.DayNumber;

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    async Task Lay()
    {
        All = await stock.Receipts(Company.Id, Date, Stop);
        Rows = [.. All.Where(r => (Older is not { } days || AgeOf(r) > days) && (string.IsNullOrWhiteSpace(Q)
            || $"{r.Party} {r.PartyName} {r.Item} {r.ItemName} {r.Document}".Contains(Q.Trim(), StringComparison.OrdinalIgnoreCase)))];
    }

    /// <summary>The lines as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Receipts", ["date", "document", "line", "supplier", "name", "item", "itemName", "location", "account", "received", "invoiced",
            "waits", "amount", "days"], Rows.Select(r => (IReadOnlyList<object?>)[r.Date, r.Document, r.Line, r.Party ?? "", r.PartyName ?? "", r.Item,
                r.ItemName,
            r.Location ?? "", NumberOf(r.AccountId), r.Received, r.Invoiced, r.Waits, r.Amount, AgeOf(r)])), $"receipts-{Date:yyyy-MM-dd}", kind);
    }

    /// <summary>Shows what clearing the chosen lines would write.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostLookAsync(string[] line)
    {
        await Choose(line);
        return Page();
    }

    /// <summary>Clears the chosen lines: an invoice over nothing for each supplier takes what waits to the price variance.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostClearAsync(string[] line)
    {
        await Choose(line);
        if (Fault is not null || Clearing.Any(c => c.Outcome is Held))
            return Page();
        var posted = await posting.Post(Company.Id, UserId, [.. Clearing.Select(c => Sending.Postable.Own(c.Event))], Stop);
        if (posted.FirstOrDefault(p => p.Fate is not (PostingFate.Landed or PostingFate.Known)) is { } refused)
            return Refuse(refused.WhyNot ?? "The lines were not cleared.");
        return Done($"{Show.Count(Chosen.Count, "line")} cleared.", posted is [{ EntryId: { } entry }] ? At("journal/" + entry) : At("receipts"));
    }

    async Task Choose(string[] lines)
    {
        await Lay();
        Chosen = lines.ToHashSet(StringComparer.Ordinal);
        var chosen = All.Where(r => Chosen.Contains(KeyOf(r))).ToList();
        if (chosen.Count == 0)
            Refuse("No line is chosen. Tick what is to be cleared.");
        else if (chosen.Count != Chosen.Count)
            Refuse("Some of the chosen lines do not wait any more. Look at the list once more, then choose.");
        else if (chosen.Find(r => r.Party is null) is { } nobodys)
            Refuse($"{nobodys.Document} names no supplier, and a line is cleared by an invoice of one. Take the receipt back at its entry, or name its " +
                "supplier.");
        else if (Books.Released.Compiled is { } compiled)
            Clearing = [.. chosen.GroupBy(r => r.Party).Select(g => Made(g.Key!, [.. g])).Select(made => (made, Landing.Land(compiled, made)))];
    }

    // What was clicked twice is posted once: the id says what is cleared.
    Document Made(string party, IReadOnlyList<ReceiptOf> lines) => new()
    {
        Id = $"CLEAR-{Date:yyyyMMdd}-{Fold.Of(party)}-{Digest(lines)}", Type = DocumentType.PurchaseInvoice, Date = Date, Party = party,
        Text = "Rests of receipts cleared", RefersTo = lines.Select(l => l.SourceId).Distinct().Count() == 1 ? lines[0].SourceId : null,
        Lines = [.. lines.Select(line => new DocumentLine
        {
            Item = line.Item, Quantity = line.Waits, Price = 0, ReceivedAmount = line.Amount, StandsOn = NumberOf(line.AccountId), Location = line.Location,
            RefersToLine = line.Line > 0 ? line.Line : null,
        })],
    };

    static string Digest(IReadOnlyList<ReceiptOf> lines) =>
        Convert.ToHexString(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(string.Join('\n', lines.Select(l =>
            $"{KeyOf(l)}|{l.Waits.ToString(Written.Plain)}"))))[..5]);

    /// <summary>What a line is chosen by.</summary>
    internal static string KeyOf(ReceiptOf of) => $"{of.Event}|{of.Line}|{of.Item}|{of.Location}|{of.AccountId}";

    Microsoft.AspNetCore.Mvc.RazorPages.PageResult Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
