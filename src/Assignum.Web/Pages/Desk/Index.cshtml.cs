using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Storage.Checks;
using Assignum.Storage.Closing;
using Assignum.Storage.Controls;
using Assignum.Storage.HeldEvents;
using Assignum.Storage.Journal;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Pages.HeldEvents;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Desk;

/// <summary>Something that waits, with its money.</summary>
/// <param name="Says">What it is, in a sentence.</param>
/// <param name="Count">How many; null: it is one.</param>
/// <param name="Amount">The money of it; null: none goes with it.</param>
/// <param name="Address">Where it is mended.</param>
public sealed record Waits(string Says, long? Count, decimal? Amount, string Address);

/// <summary>A subledger beside its ledger.</summary>
public sealed record Gauge(string Name, decimal Ledger, decimal Subledger, string Address);

/// <summary>The start page: what waits, by weight, what changed since the last visit, and what lands where this month.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(HeldStore held, DeskStore desk, MonthEndStore monthEnd, FlowStore flows, AcceptedFindings accepted, ControlStore controls,
    StockStore stock, WaitingJournalStore journals, TimeProvider clock) : CompanyPage
{
    const int MostCauses = 5, OldDays = 30;

    /// <inheritdoc/>
    public override string Step => "Desk";
    /// <summary>Causes of held events, those with most money first.</summary>
    public IReadOnlyList<CauseOf> Causes { get; private set; } = [];
    /// <summary>How many more causes there are.</summary>
    public int MoreCauses { get; private set; }
    /// <summary>All held events.</summary>
    public HeldTotal Held { get; private set; } = new(0, 0);
    /// <summary>First day of the month shown: that of the last entry.</summary>
    public DateOnly Month { get; private set; }
    /// <summary>Events that landed in it.</summary>
    public long Landed { get; private set; }
    /// <summary>What the checks find, and what waits elsewhere.</summary>
    public IReadOnlyList<Waits> Others { get; private set; } = [];
    /// <summary>Where the month landed; null while nothing has.</summary>
    public LandingMap? Map { get; private set; }
    /// <summary>The last visit, universal time; null on the first.</summary>
    public DateTime? LastVisit { get; private set; }
    /// <summary>What has happened since.</summary>
    public SinceThen? Since { get; private set; }
    /// <summary>Subledgers beside their ledgers.</summary>
    public IReadOnlyList<Gauge> Gauges { get; private set; } = [];

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync()
    {
        LastVisit = await monthEnd.Visit(Company.Id, UserId, Stop);
        Since = LastVisit is { } before ? await desk.Since(Company.Id, UserId, before, Stop) : null;
        Held = await held.Total(Company.Id, Stop);
        var causes = Held.Events == 0 ? [] : CauseOf.All(this, await held.All(Company.Id, Stop));
        (Causes, MoreCauses) = ([.. causes.Take(MostCauses)], Math.Max(0, causes.Count - MostCauses));
        var months = await flows.Months(Company.Id, Stop);
        // What is dated ahead, as the end of a year, is no month one is in.
        Month = months.Find(m => m <= clock.Today()) is { Year: > 1 } known ? known : new DateOnly(clock.Today().Year, clock.Today().Month, 1);
        Landed = await desk.Landed(Company.Id, Month, LastDay, Stop);
        Others = [.. (await Waiting()).Where(w => w is not { Count: 0 }).OrderByDescending(w => Math.Abs(w.Amount ?? 0)).Take(6)];
    }

    DateOnly LastDay => Month.AddMonths(1).AddDays(-1);

    /// <summary>Where a month landed, drawn when the page is there.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetMapAsync(DateOnly? month)
    {
        if (month is not { } first)
            return NotFound();
        Month = first.Reckonable();
        var last = LastDay;
        var (landed, waiting) = (await flows.Landed(Company.Id, Month, last, Stop), await flows.Held(Company.Id, Month, last, Stop));
        var chart = Draft.Book.Accounts.ToDictionary(a => a.Number);
        if (landed.Count + waiting.Count > 0)
            Map = new LandingMap(landed, waiting, chart, Decimals, conditions => At($"journal?{conditions}&from={Show.Field(Month)}&to={Show.Field(last)}"));
        return Partial("_Map", this);
    }

    /// <summary>"November 2026".</summary>
    public string MonthName => Month.ToString("MMMM yyyy", System.Globalization.CultureInfo.InvariantCulture);

    async Task<IEnumerable<Waits>> Waiting()
    {
        var today = clock.Today();
        var old = (await stock.Receipts(Company.Id, today, Stop)).FindAll(r => r.Amount != 0 && today.DayNumber - r.Date.DayNumber > OldDays);
        var lines = IsLarge ? [] : Checks.IndexModel.Lines(this, await accepted.Of(Company.Id, Stop), today).Where(l => l.Accepted is null
            && l.Finding.Severity != Severity.Info)
            .ToList();
        var stored = Books.Released.Stored;
        int[] suspense = [.. stored.Book.Accounts.Where(a => a.Suspense).Select(a => stored.Labels.Account(a.Number) ?? 0)];
        var (reached, balance) = await monthEnd.OnAccounts(Company.Id, suspense, Month, LastDay, Stop);
        return
        [
            new($"lines of {MonthName} reached suspense, where this stands", reached, Math.Abs(balance), At($"map?month={Month:yyyy-MM}")),
            new($"receipts wait more than {OldDays} days for their invoice", old.Count, old.Sum(r => r.Amount), At("receipts?older=" + OldDays)),
            new("journals wait for a second person", await journals.Count(Company.Id, Stop), null, At("journal/waiting")),
            new(MayApprove ? "changes wait for release" : "changes are in the draft", Books.Changes.Count, null, At("editions")),
            .. lines.Take(2).Select(l => new Waits(l.Finding.Message, null, null, At("checks"))),
            new("more findings of the checks", Math.Max(0, lines.Count - 2), null, At("checks")),
        ];
    }

    /// <summary>Subledgers beside their ledgers, drawn when the page is there: they are summed over all lines.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetControlsAsync()
    {
        Gauges = [.. (await controls.Compare(Company.Id, Assignum.Web.Pages.Controls.ControlAccounts.Of(this), clock.Today(), Stop)).GroupBy(d => d.Of)
            .Select(d => new Gauge(Show.Title(d.Key), d.Sum(x => x.Ledger), d.Sum(x => x.Subledger), At("controls?of=" + d.Key)))];
        return Partial("_Gauges", this);
    }
}
