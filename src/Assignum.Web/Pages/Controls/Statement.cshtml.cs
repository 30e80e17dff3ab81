using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Formats.Sheets;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>The account of a party over a span: what it began with, every movement, what it ends with.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class StatementModel(OpenItemStore items, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>"receivables" or "payables".</summary>
    [BindProperty(SupportsGet = true)]
    public string Of { get; set; } = "";
    /// <summary>Code of the party.</summary>
    [BindProperty(SupportsGet = true)]
    public string Party { get; set; } = "";
    /// <summary>First day.</summary>
    [BindProperty(SupportsGet = true)]
    public DateOnly? From { get; set; }

    /// <summary>The party.</summary>
    public Party Who { get; private set; } = null!;
    /// <summary>First day shown.</summary>
    public DateOnly First => From ?? Date.AddMonths(-3);
    /// <summary>What it began with, by currency; debit positive.</summary>
    public IReadOnlyDictionary<string, (decimal Document, decimal Company)> Began { get; private set; } = new Dictionary<string, (decimal, decimal)>();
    /// <summary>What moved it.</summary>
    public IReadOnlyList<PartyMove> Moves { get; private set; } = [];
    /// <summary>Currencies, the company's first.</summary>
    public IEnumerable<string> Currencies => Began.Keys.Concat(Moves.Select(m => m.Currency)).Distinct()
        .OrderBy(c => c != Company.Currency).ThenBy(c => c, StringComparer.Ordinal);

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync() => await Lay(Most * 5) ? Page() : NotFound();

    /// <summary>The movements as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind) => !await Lay(MostExported) ? NotFound()
        : Export(new Table("Statement", ["date", "type", "document", "settles", "due", "currency", "amount", "companyAmount", "text"], Moves.Select(m =>
            (IReadOnlyList<object?>)[m.Date, m.Type, m.Document, m.Settles ?? "", m.Due, m.Currency, m.DocumentAmount, m.Amount, m.Text])),
            $"{Who.Code}-statement-{Date:yyyy-MM-dd}", kind);

    async Task<bool> Lay(int most)
    {
        if (Of is not ("receivables" or "payables") || !Books.Released.Shown.Parties.TryFind(Party, out var who) || IdOf("party", who.Code) is not { } id)
            return false;
        Who = who;
        Began = (await items.Balance(Company.Id, Of, id, First.AddDays(-1), Stop)).ToDictionary(b => b.Currency, b => (b.Document, b.Company));
        Moves = await items.Moves(Company.Id, Of, id, First, Date, AtMost(most), Stop);
        return true;
    }

    /// <summary>Address of this statement.</summary>
    internal string Here(string more = "") =>
        At($"open-items/{Of}/{Uri.EscapeDataString(Who.Code)}/statement?from={Show.Field(First)}&on={Show.Field(Date)}{more}");
}
