using System.Globalization;
using Assignum.Storage.Journal;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Landings;

/// <summary>The landing map of a month, from posted lines.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class MapModel(FlowStore flows) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Rules";
    /// <summary>The month asked for: "2026-03".</summary>
    [BindProperty(SupportsGet = true, Name = "month")]
    public string? Asked { get; set; }
    /// <summary>Months with entries or held events, newest first.</summary>
    public IReadOnlyList<DateOnly> Months { get; private set; } = [];
    /// <summary>First day of the month shown.</summary>
    public DateOnly Month { get; private set; }
    /// <summary>What landed in it.</summary>
    public IReadOnlyList<Flow> Landed { get; private set; } = [];
    /// <summary>What is held in it.</summary>
    public IReadOnlyList<HeldFlow> Held { get; private set; } = [];
    /// <summary>The drawing; null where there is nothing to draw.</summary>
    public LandingMap? Map { get; private set; }
    /// <summary>Lines and money on suspense.</summary>
    public (long Lines, decimal Amount) Suspense { get; private set; }

    /// <summary>Shows the map.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync()
    {
        Months = await flows.Months(Company.Id, Stop);
        if (Asked is { Length: > 0 } && !DateOnly.TryParseExact(Asked + "-01", "yyyy-MM-dd", CultureInfo.InvariantCulture, DateTimeStyles.None, out _))
            return NotFound();
        var newest = Months.Count > 0 ? Months[0] : default;
        Month = Asked is { Length: > 0 } ? DateOnly.ParseExact(Asked + "-01", "yyyy-MM-dd", CultureInfo.InvariantCulture) : newest;
        if (Month == default)
            return Page();
        var last = Month.AddMonths(1).AddDays(-1);
        (Landed, Held) = (await flows.Landed(Company.Id, Month, last, Stop), await flows.Held(Company.Id, Month, last, Stop));
        var chart = Draft.Book.Accounts.ToDictionary(a => a.Number);
        var waiting = Landed.Where(f => chart.GetValueOrDefault(f.Account)?.Suspense == true).ToList();
        Suspense = (waiting.Sum(f => f.Lines), waiting.Sum(f => f.Amount));
        if (Landed.Count + Held.Count > 0)
            Map = new LandingMap(Landed, Held, chart, Decimals, conditions => At($"journal?{conditions}&from={Show.Field(Month)}&to={Show.Field(last)}"));
        return Page();
    }

    /// <summary>"March 2026".</summary>
    public static string Name(DateOnly month) => month.ToString("MMMM yyyy", CultureInfo.InvariantCulture);
}
