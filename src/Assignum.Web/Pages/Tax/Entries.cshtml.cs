using System.Globalization;
using Assignum.Formats.Sheets;
using Assignum.Storage.Journal;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Tax;

/// <summary>Tax entries: base, amount, code, document, date, with totals by code and month.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class EntriesModel(TaxEntryStore entries, FlowStore flows, TimeProvider clock) : CompanyPage
{
    const int Most = 100, MostExported = 200_000;

    /// <inheritdoc/>
    public override string Step => "Tax";
    [BindProperty(SupportsGet = true)]
    public string? From { get; set; }
    [BindProperty(SupportsGet = true)]
    public string? To { get; set; }
    /// <summary>"CODE" or "CODE/COMPONENT".</summary>
    [BindProperty(SupportsGet = true)]
    public string? Code { get; set; }
    [BindProperty(SupportsGet = true)]
    public string? Side { get; set; }
    /// <summary>Where the page before ended: "2026-03-31,512,2".</summary>
    [BindProperty(SupportsGet = true)]
    public string? After { get; set; }
    /// <summary>The span shown.</summary>
    public TaxSpan Span { get; private set; } = new(default, default);
    /// <summary>Months with entries.</summary>
    public IReadOnlyList<DateOnly> Months { get; private set; } = [];
    /// <summary>Sums of the span, those that fit.</summary>
    public IReadOnlyList<TaxSum> Sums { get; private set; } = [];
    /// <summary>Codes there are entries of.</summary>
    public IReadOnlyList<string> Members { get; private set; } = [];
    /// <summary>Entries shown.</summary>
    public IReadOnlyList<TaxEntry> Shown { get; private set; } = [];
    /// <summary>Address of the next page, or null at the end.</summary>
    public string? Next { get; private set; }

    /// <summary>Shows entries.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync()
    {
        await Lay();
        var most = AtMost(Most);
        var page = await entries.Page(Company.Id, Filter(), Place(After), most + 1, Stop);
        Shown = [.. page.Take(most)];
        if (page.Count > most)
            Next = Query() + string.Create(CultureInfo.InvariantCulture, $"&after={Show.Field(Shown[^1].Date)},{Shown[^1].EventId},{Shown[^1].LineNo}");
    }

    /// <summary>All that fit, as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        var all = await entries.Page(Company.Id, Filter(), null, MostExported, Stop);
        return Export(new Table("Tax entries", ["date", "taxDate", "document", "type", "party", "name", "code", "side", "base", "tax"],
            all.Select(e => (IReadOnlyList<object?>)
            [Show.Field(e.Date), Show.Field(e.TaxDate), e.Document, e.Type, e.PartyCode ?? "", e.PartyName ?? "", e.Member, e.Side, e.Base, e.Amount])),
                "tax-entries", kind);
    }

    /// <summary>The address with its filters.</summary>
    public string Query() =>
        At($"tax/entries?from={TaxSpan.Word(Span.First)}&to={TaxSpan.Word(Span.Last)}"
            + $"&code={Uri.EscapeDataString(Code ?? "")}&side={Uri.EscapeDataString(Side ?? "")}");

    async Task Lay()
    {
        Months = await flows.Months(Company.Id, Stop);
        Span = TaxSpan.Of(From, To, Months.Count > 0 ? Months[0] : clock.Today());
        var sums = await entries.Sums(Company.Id, Span.First, Span.Last, Stop);
        Members = [.. sums.Select(s => s.Member).Distinct().Order(StringComparer.Ordinal)];
        Sums = [.. sums.Where(s => (string.IsNullOrEmpty(Code) || s.Member == Code) && (string.IsNullOrEmpty(Side) || s.Side == Side))];
    }

    TaxEntryFilter Filter() => new(Span.First, Span.Last, string.IsNullOrEmpty(Code) ? null : Code, string.IsNullOrEmpty(Side) ? null : Side);

    static TaxEntryPlace? Place(string? after) =>
        after?.Split(',') is [var date, var id, var line] && DateOnly.TryParseExact(date, "yyyy-MM-dd", out var day)
            && long.TryParse(id, CultureInfo.InvariantCulture, out var of) && int.TryParse(line, CultureInfo.InvariantCulture, out var no)
            ? new TaxEntryPlace(day, of, no) : null;
}
