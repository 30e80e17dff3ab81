using Assignum.Core.Charts;
using Assignum.Core.Taxes;
using Assignum.Core;
using Assignum.Formats.Sheets;
using Assignum.Storage.Journal;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Tax;

/// <summary>A row of the tax report.</summary>
/// <param name="Authority">Code of the authority, or "".</param>
/// <param name="Code">The tax code.</param>
/// <param name="Component">Code of the component, or "".</param>
/// <param name="Member">"CODE" or "CODE/COMPONENT".</param>
/// <param name="Side">"output", "input" or "reverse".</param>
/// <param name="Base">Base, debit positive.</param>
/// <param name="Amount">Tax, debit positive.</param>
/// <param name="Entries">How many tax entries.</param>
/// <param name="ByMonth">Tax by month.</param>
public sealed record TaxReportRow(string Authority, string Code, string Component, string Member, string Side, decimal Base, decimal Amount, long Entries,
    IReadOnlyDictionary<DateOnly, decimal> ByMonth);

/// <summary>Tax by authority, code, component and month, held against the tax accounts.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class ReportModel(TaxEntryStore entries, FlowStore flows, TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Tax";
    /// <summary>First month: "2026-03".</summary>
    [BindProperty(SupportsGet = true)]
    public string? From { get; set; }
    /// <summary>Last month.</summary>
    [BindProperty(SupportsGet = true)]
    public string? To { get; set; }
    /// <summary>The span reported.</summary>
    public TaxSpan Span { get; private set; } = new(default, default);
    /// <summary>Months with entries, newest first.</summary>
    public IReadOnlyList<DateOnly> Months { get; private set; } = [];
    /// <summary>The rows, by authority.</summary>
    public IReadOnlyList<TaxReportRow> Rows { get; private set; } = [];
    /// <summary>The tax accounts.</summary>
    public IReadOnlyList<TaxAccountSum> Accounts { get; private set; } = [];
    /// <summary>What of the purchases was bought on accounts that are marked as capital purchases.</summary>
    public IReadOnlyList<CapitalSum> Capital { get; private set; } = [];
    /// <summary>What the tax entries come to.</summary>
    public decimal Told => Rows.Sum(r => r.Amount);
    /// <summary>What the tax accounts moved by.</summary>
    public decimal Moved => Accounts.Sum(a => a.Movement);

    /// <summary>Shows the report.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync() => await Lay();

    /// <summary>The report as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Tax", ["authority", "code", "component", "side", "base", "tax", "entries", .. Span.Months.Select(TaxSpan.Word)],
            Rows.Select(r => (IReadOnlyList<object?>)
            [r.Authority, r.Code, r.Component, r.Side, r.Base, r.Amount, r.Entries, .. Span.Months.Select(m => (object?)r.ByMonth.GetValueOrDefault(m))])),
                $"tax-{TaxSpan.Word(Span.First)}", kind);
    }

    /// <summary>Address of the entries of a row.</summary>
    public string EntriesOf(TaxReportRow row) =>
        At($"tax/entries?from={TaxSpan.Word(Span.First)}&to={TaxSpan.Word(Span.Last)}&code={Uri.EscapeDataString(row.Member)}&side={row.Side}");

    /// <summary>A side in words.</summary>
    public static string SideInWords(string side) => side switch { "output" => "output tax", "input" => "input tax", _ => "owed by reverse charge" };

    async Task Lay()
    {
        Months = await flows.Months(Company.Id, Stop);
        Span = TaxSpan.Of(From, To, Months.Count > 0 ? Months[0] : clock.Today());
        var components = Draft.Book.TaxCodes.SelectMany(c => c.Components.Select(k => (Label: c.Label(k), Code: c, Component: k))).ToLookup(c =>
            Fold.Of(c.Label));
        Rows = [.. (await entries.Sums(Company.Id, Span.First, Span.Last, Stop)).GroupBy(s => (s.Member, s.Side)).Select(g =>
        {
            var known = components[Fold.Of(g.Key.Member)].FirstOrDefault();
            var parts = g.Key.Member.Split('/', 2);
            return new TaxReportRow(known.Component?.Authority ?? "", known.Code?.Code ?? parts[0], known.Component?.Code ?? (parts.Length > 1 ? parts[1] : ""),
                g.Key.Member, g.Key.Side,
                g.Sum(s => s.Base), g.Sum(s => s.Amount), g.Sum(s => s.Entries), g.GroupBy(s => s.Month).ToDictionary(m => m.Key, m => m.Sum(s => s.Amount)));
        }).OrderBy(r => r.Authority, StringComparer.Ordinal).ThenBy(r => r.Side == "input").ThenBy(r => r.Code, StringComparer.Ordinal).ThenBy(r => r.Component,
            StringComparer.Ordinal)];
        Capital = await entries.Capital(Company.Id, IdsOf(a => a.TaxRelevance == TaxRelevance.CapitalPurchases), Span.First, Span.Last, Stop);
        int[] controls = IdsOf(a => a.Control == Control.Tax);
        Accounts = await entries.Accounts(Company.Id, controls, Span.First, Span.Last, Stop);
    }

    int[] IdsOf(Func<Account, bool> wanted) =>
        [.. Draft.Book.Accounts.Where(wanted).Select(a => Draft.Labels.IdOf(Labels.Accounts, a.Number)).OfType<int>()];
}
