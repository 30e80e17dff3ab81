using System.Globalization;
using Assignum.Core.Timing;
using Assignum.Formats.Sheets;
using Assignum.Storage.Journal;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Journal;

/// <summary>A sale whose revenue and cost fall apart, or whose goods have not left.</summary>
/// <param name="Document">Its document.</param>
/// <param name="RevenueIn">First day of the month of its revenue.</param>
/// <param name="CostIn">First day of the month of the cost; null: not shipped yet.</param>
/// <param name="Amount">The cost; of what is not shipped, the revenue.</param>
public sealed record TimingLine(SaleDocument Document, DateOnly RevenueIn, DateOnly? CostIn, decimal Amount);

/// <summary>Revenue and cost that fall into different months, and the margin with each cost in the month of its revenue.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class TimingModel(TimingStore timing, TimeProvider clock) : CompanyPage
{
    const int MonthsShown = 13, MonthsBeside = 12, Most = 200;

    /// <inheritdoc/>
    public override string Step => "Journal";
    /// <summary>The month whose documents are asked for: "2026-03".</summary>
    [BindProperty(SupportsGet = true, Name = "month")]
    public string? Asked { get; set; }
    /// <summary>The month whose documents are shown, or null.</summary>
    public DateOnly? Month { get; private set; }
    /// <summary>The months, newest first.</summary>
    public IReadOnlyList<TimedMonth> Months { get; private set; } = [];
    /// <summary>Documents of the month, the dearest first.</summary>
    public IReadOnlyList<TimingLine> Lines { get; private set; } = [];
    /// <summary>How many of them there are.</summary>
    public int All { get; private set; }

    /// <summary>Shows the months, and the documents of one.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync() => await Lay(AtMost(Most)) ? Page() : NotFound();

    /// <summary>The documents of a month as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        if (!await Lay(int.MaxValue))
            return NotFound();
        return Export(new Table("Timing", ["document", "type", "party", "date", "revenueIn", "costIn", "amount"], Lines.Select(l => (IReadOnlyList<object?>)
            [l.Document.Number, l.Document.Type, l.Document.PartyCode, l.Document.Date, Word(l.RevenueIn), l.CostIn is { } cost ? Word(cost) : "", l.Amount])),
            "timing-" + Word(Month ?? clock.Today()), kind);
    }

    async Task<bool> Lay(int most)
    {
        if (Asked is { Length: > 0 } && !DateOnly.TryParseExact(Asked + "-01", "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _))
            return false;
        var last = new DateOnly(clock.Today().Year, clock.Today().Month, 1);
        Month = Asked is { Length: > 0 } ? DateOnly.ParseExact(Asked + "-01", "yyyy-MM-dd", CultureInfo.InvariantCulture) : null;
        var newest = Month > last ? Month.Value : last;
        var oldest = newest.AddMonths(1 - MonthsShown) is var first && Month < first ? Month.Value : first;
        var found = new Timing(await timing.Sales(Company.Id, oldest.AddMonths(-MonthsBeside), newest.AddMonths(1 + MonthsBeside).AddDays(-1), Stop));
        Months = [.. found.Months().Where(m => m.Month >= oldest && m.Month <= newest).Reverse()];
        if (Month is { } month)
            await LayLines(found, month, most);
        return true;
    }

    async Task LayLines(Timing found, DateOnly month, int most)
    {
        List<(long Sale, DateOnly RevenueIn, DateOnly? CostIn, decimal Amount)> of =
        [
            .. found.Apart.Where(a => a.RevenueIn == month || a.CostIn == month).Select(a => (a.Sale, a.RevenueIn, (DateOnly?)a.CostIn, a.Cost)),
            .. found.NotShipped.Where(s => s.Month == month).Select(s => (s.Sale, s.Month, (DateOnly?)null, s.Goods)),
        ];
        All = of.Count;
        var shown = of.OrderByDescending(l => Math.Abs(l.Amount)).Take(most).ToList();
        var documents = (await timing.Documents(Company.Id, shown.Select(l => l.Sale), Stop)).GroupBy(d => d.Sale).ToDictionary(d => d.Key, d => d.First());
        Lines = [.. shown.Select(l => new TimingLine(documents[l.Sale], l.RevenueIn, l.CostIn, l.Amount))];
    }

    /// <summary>"2026-03".</summary>
    public static string Word(DateOnly month) => month.ToString("yyyy-MM", CultureInfo.InvariantCulture);

    /// <summary>"March 2026".</summary>
    public static string Name(DateOnly month) => month.ToString("MMMM yyyy", CultureInfo.InvariantCulture);
}
