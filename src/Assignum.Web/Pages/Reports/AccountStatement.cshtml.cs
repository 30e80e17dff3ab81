using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Formats.Sheets;
using Assignum.Storage.Reports;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Reports;

/// <summary>The lines of an account within days, with what stands after each.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class AccountStatementModel(ReportStore reports, TimeProvider clock) : CompanyPage
{
    const int Most = 200, MostExported = 1_000_000;

    /// <inheritdoc/>
    public override string Step => "Reports";
    /// <summary>The account typed: its number, or part of its name.</summary>
    [BindProperty(SupportsGet = true, Name = "account")]
    public string? Typed { get; set; }
    /// <summary>First day asked for.</summary>
    [BindProperty(SupportsGet = true, Name = "from")]
    public DateOnly? AskedFrom { get; set; }
    /// <summary>Last day asked for.</summary>
    [BindProperty(SupportsGet = true, Name = "to")]
    public DateOnly? AskedTo { get; set; }
    /// <summary>Dimension and value, as "CC=100".</summary>
    [BindProperty(SupportsGet = true, Name = "dimension")]
    public string? Dimension { get; set; }
    /// <summary>Lines that come before those shown.</summary>
    [BindProperty(SupportsGet = true, Name = "skip")]
    public int Skip { get; set; }

    /// <summary>The account; null where none is chosen.</summary>
    public Account? Account { get; private set; }
    /// <summary>What is wrong with what was typed.</summary>
    public string? Fault { get; private set; }
    /// <summary>Last day.</summary>
    public DateOnly To => (AskedTo ?? clock.Today()).Reckonable();
    /// <summary>First day.</summary>
    public DateOnly From => AskedFrom ?? new DateOnly(To.Year, 1, 1);
    /// <summary>Its sums.</summary>
    public AccountSums Sums { get; private set; }
    /// <summary>The lines shown.</summary>
    public IReadOnlyList<StatementLine> Lines { get; private set; } = [];
    /// <summary>More lines follow.</summary>
    public bool More { get; private set; }

    ReportSpan Span => Dimension?.Split('=', 2) is [var name, var value] ? new(From, To, name, value) : new(From, To);

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync()
    {
        var most = AtMost(Most);
        if (Find() is not { } id)
            return;
        Sums = (await reports.Sums(Company.Id, Span, Stop)).GetValueOrDefault(id);
        var read = await reports.Lines(Company.Id, id, Span, Math.Max(0, IsPrint ? 0 : Skip), most + 1, Stop);
        (Lines, More) = ([.. read.Take(most)], read.Count > most);
    }

    /// <summary>All its lines as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        if (Find() is not { } id)
            return NotFound();
        return Export(new Table(Account!.Number, ["date", "entry", "line", "type", "document", "party", "text", "purpose", "currency", "documentAmount",
            "debit", "credit", "balance"],
            (await reports.Lines(Company.Id, id, Span, 0, MostExported, Stop)).Select(l => (IReadOnlyList<object?>)[l.Date, l.Number, l.LineNo, l.Type,
                l.Document, l.Party ?? "",
                l.Text, l.Purpose ?? "", l.Currency, l.DocumentAmount, l.Amount > 0 ? l.Amount : null, l.Amount < 0 ? -l.Amount : null, l.Stands])),
            $"account-{Account.Number}-{To:yyyy-MM-dd}", kind);
    }

    int? Find()
    {
        if (string.IsNullOrWhiteSpace(Typed))
            return null;
        var stored = Books.Released.Stored;
        var picked = Pick.One(Typed, stored.Book.Accounts, a => a.Number, a => a.Name, "account");
        (Account, Fault) = (picked.Thing, picked.Fault);
        return Account is { } account ? stored.Labels.Account(account.Number) : null;
    }

    /// <summary>The address with its days.</summary>
    public string Here(string more = "") =>
        At($"account-statement?account={Uri.EscapeDataString(Account?.Number ?? "")}&from={Show.Field(From)}&to={Show.Field(To)}&dimension=" +
        Uri.EscapeDataString(Dimension ?? "") + more);
}
