using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Openings;
using Assignum.Formats.Sheets;
using Assignum.Storage.Controls;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>An account in the old books and here.</summary>
/// <param name="Account">The account.</param>
/// <param name="Old">What the old books say, company currency, debit positive.</param>
/// <param name="Here">What stands here.</param>
public sealed record OpeningLine(Account Account, decimal Old, decimal Here)
{
    /// <summary>What is missing here.</summary>
    public decimal Missing => Old - Here;
    /// <summary>Its opening comes item by item: a balance alone would part ledger and subledger.</summary>
    public bool ComesAsItems => Account.Control is Control.Receivables or Control.Payables or Control.Inventory or Control.Purchasing or Control.Projects
        or Control.Assets or Control.Intercompany;
}

/// <summary>Taking over from other books: open items from a sheet, balances, and whether all of it agrees with their trial balance.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class OpeningModel(ControlStore controls, PostingStore posting, TimeProvider clock) : SubledgerPage(clock)
{
    const int Largest = 4 << 20;

    /// <summary>The trial balance, as it was pasted or read, to be carried along.</summary>
    public string Block { get; private set; } = "";
    /// <summary>Every account of it, and every other with something here; null while none is laid beside the books.</summary>
    public IReadOnlyList<OpeningLine>? Lines { get; private set; }
    /// <summary>Rows that were not taken.</summary>
    public IReadOnlyList<RefusedBalance> Refused { get; private set; } = [];
    /// <summary>Why nothing was done.</summary>
    public string? Fault { get; private set; }

    /// <summary>What an opening balance can bring.</summary>
    public IReadOnlyList<OpeningLine> AsBalance => [.. Lines?.Where(l => l is { ComesAsItems: false, Missing: not 0 } && !IsOffset(l.Account)) ?? []];

    /// <summary>Shows the page.</summary>
    [Needs(Need.Reads)]
    public void OnGet() { }

    /// <summary>A sheet of opening items to fill in, with one of each kind.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetTemplate(string? kind) => Export(new Table("Opening items", ["id", "type", "date", "kind", "party", "number", "amount",
        "currency",
        "rate", "dueDate", "item", "location", "quantity", "unitCost"], Words<OpeningKind>.All.Select((word, i) => (IReadOnlyList<object?>)[$"OPEN-{i + 1}",
        OpeningItem.Name, Date, word, .. Enumerable.Repeat((object?)"", 10)])), "opening-items", kind ?? "xlsx");

    /// <summary>Lays a trial balance beside the books.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnPostLookAsync(IFormFile? file, string? block)
    {
        await Lay(file, block);
        return Page();
    }

    /// <summary>Posts what the accounts that have no items lack, as an opening balance.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostPostAsync(string? block)
    {
        await Lay(null, block);
        if (Fault is not null)
            return Page();
        if (Refused.Count > 0)
            return Refuse("Some rows of the trial balance can't be taken; what is wrong with each stands below. Fix them first, then post.");
        if (AsBalance.Count == 0)
            return Refuse("No account without items of its own lacks anything. There is nothing to post.");
        var posted = (await posting.Post(Company.Id, UserId, [Sending.Postable.Own(Made())], Stop))[0];
        return posted is { Fate: PostingFate.Landed or PostingFate.Known, EntryId: { } entry } ? Done("The opening balance is posted.", At("journal/" + entry))
            : Refuse(posted.WhyNot ?? "The opening balance was not posted.");
    }

    async Task Lay(IFormFile? file, string? block)
    {
        if (file is { Length: > Largest })
        {
            Refuse($"The file has {file.Length >> 20} MB, and a trial balance has less than {Largest >> 20}. Choose the right file.");
            return;
        }
        using var content = new MemoryStream();
        if (file is not null)
            await file.CopyToAsync(content, Stop);
        else
            content.Write(System.Text.Encoding.UTF8.GetBytes(block ?? ""));
        var read = SheetFile.Read(content.ToArray(), Stop);
        if (read.Sheets.Count == 0 || Books.Released.Compiled is not { } book)
        {
            Refuse(content.Length == 0 ? "There is no trial balance yet. Choose a sheet, or paste its rows: account, name, debit, credit." : read.Fault!);
            return;
        }
        Block = string.Join('\n', read.Sheets[0].Rows.Select(row => string.Join('\t', row.Cells)));
        (var old, Refused) = TrialBalanceSheet.Read(read.Sheets[0], book);
        if (old.Count == 0)
        {
            Refuse("No row of it names an account of this company and what stands there.");
            return;
        }
        await Lay(book, old);
    }

    async Task Lay(CompiledRulebook book, IReadOnlyList<OldBalance> old)
    {
        var labels = Books.Released.Stored.Labels;
        var accounts = book.Book.Accounts.Where(a => a.Kind == AccountKind.Posting).ToList();
        var here = await controls.Ledger(Company.Id, [.. accounts.Select(a => labels.Account(a.Number) ?? 0)], Date, Stop);
        var said = old.ToDictionary(o => o.Account.Number, o => o.Amount);
        Lines = [.. from account in accounts
            let stands = here.GetValueOrDefault(labels.Account(account.Number) ?? 0)
            where stands != 0 || said.ContainsKey(account.Number)
            select new OpeningLine(account, said.GetValueOrDefault(account.Number), stands)];
    }

    /// <summary>The account against which openings are posted: it comes to nothing when all of them are in.</summary>
    public bool IsOffset(Account account) => Books.Released.Compiled is { } book && Fold.Same(account.Number,
        Whereabouts.Of(book, Purpose.OpeningBalance, Whereabouts.FactsOf(book, new Asked()), Date).Account?.Number);

    OpeningBalance Made() => new()
    {
        Id = $"OPENING-{Date:yyyyMMdd}-{Guid.NewGuid().ToString("N")[..6].ToUpperInvariant()}", Date = Date, Text = "Taken over from the old books",
        Lines = [.. AsBalance.Select(line => (MoneyAccountOf(line.Account) is { } money ? new JournalLine { MoneyAccount = money }
            : new JournalLine { Account = line.Account.Number }) with { Debit = line.Missing > 0 ? line.Missing : null,
                Credit = line.Missing < 0 ? -line.Missing
                : null })],
    };

    // What stands on the account of a bank comes as money of that bank, so that the money subledger has it too.
    string? MoneyAccountOf(Account account) => account.Control != Control.Bank ? null
        : Books.Released.Stored.Book.Rules.Where(r => r.Purpose == Purpose.Bank && Fold.Same(r.Account, account.Number))
            .SelectMany(r => r.When).Where(v => v.Fact == Fact.MoneyAccount).Select(v => v.Code).FirstOrDefault();

    Microsoft.AspNetCore.Mvc.RazorPages.PageResult Refuse(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
