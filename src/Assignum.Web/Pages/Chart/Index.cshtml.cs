using Assignum.Core.Charts;
using Assignum.Core;
using Assignum.Storage.Charts;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Chart;

/// <summary>The chart of accounts: a tree with classes, uses and balances, narrowed and sorted as the address says.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(ChartStore charts, BalanceStore balances, PanelMaker panels, TimeProvider clock) : CompanyPage
{
    const int MostLines = 200, DaysRemembered = 365;
    const string Remembered = "assignum.chart.columns";

    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>What is asked for.</summary>
    [BindProperty(SupportsGet = true)]
    public ChartQuery Query { get; set; } = new();
    /// <summary>The chart.</summary>
    public ChartBook Chart { get; private set; } = null!;
    /// <summary>The lines of this page.</summary>
    public IReadOnlyList<ChartLine> Lines { get; private set; } = [];
    /// <summary>How many lines follow them.</summary>
    public int More { get; private set; }
    /// <summary>The span; null while the company has no period.</summary>
    public ChartSpan? Span { get; private set; }
    /// <summary>Trends by place in the tree.</summary>
    public IReadOnlyDictionary<int, Trend> Trends { get; private set; } = new Dictionary<int, Trend>();
    /// <summary>The columns shown.</summary>
    public IReadOnlyList<ChartColumn> Columns { get; private set; } = [];
    /// <summary>Accounts whose balance stands on the wrong side.</summary>
    public int WrongSides { get; private set; }
    /// <summary>Posting accounts that no rule answers with.</summary>
    public int Unruled => Chart.Tree.Nodes.Count(n => n.Account.Kind == AccountKind.Posting && !Chart.Uses.RulesOf(n.Fold).Any());
    /// <summary>How many accounts there are.</summary>
    public int All => Chart.Tree.Nodes.Count;

    /// <summary>Shows the chart; without an account, the ways to start one.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync()
    {
        await Lay();
        if (All == 0 && MayPrepare && !Request.IsHtmx())
            return Redirect(At("chart/start"));
        if (Query.Columns is not null)
            Response.Cookies.Append(Remembered, Query.Columns,
                new CookieOptions { MaxAge = TimeSpan.FromDays(DaysRemembered), HttpOnly = true, SameSite = SameSiteMode.Lax, Path = At("chart") });
        return Query.After is { Length: > 0 } && Request.IsHtmx() ? Partial("_Lines", this) : Page();
    }

    /// <summary>Opens the panel of an account beside the chart.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAccountAsync(string number)
    {
        await Lay();
        return await panels.Of(this, Chart, number, Stop) is { } panel ? Drawer("_Panel", panel) : NotFound();
    }

    /// <summary>Opens the panel of a new account: beside another, below one, or like one.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetNewAsync(string? beside, string? below, string? like)
    {
        await Lay();
        return Drawer("_Panel", await panels.Begin(this, Chart, beside, below, like, Stop));
    }

    /// <summary>Exports what is shown, folded branches included, as CSV or XLSX.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? @as)
    {
        await Lay();
        return Export(ChartTable.Of(this, View().Everything()), "chart-" + Company.Code.ToLowerInvariant(), @as);
    }

    IReadOnlyDictionary<int, SpanSum> sums = new Dictionary<int, SpanSum>();
    IReadOnlyDictionary<int, int> matches = new Dictionary<int, int>();

    ChartView View() => new(Chart, ChartLook.Of(Chart, Draft.Labels), sums, matches, Query);

    async Task Lay()
    {
        Chart = await charts.Of(Company.Id, Draft, Stop);
        var periods = await balances.Periods(Company.Id, Stop);
        Span = ChartSpan.Of(periods, Query.From, Query.To, Query.To is null ? await balances.LastPosted(Company.Id, Stop) : null,
            clock.Today());
        if (Span is { } span)
            sums = await balances.Over(Company.Id, span.Periods, span.From, span.To, Stop);
        Query.Columns = Request.Query.TryGetValue("cols", out var chosen) ? chosen.ToString() : null;
        matches = await charts.MatchCounts(Company.Id, Stop);
        Columns = ChosenColumns();
        var view = View();
        WrongSides = view.WrongSides;
        (Lines, More) = IsPrint ? Whole(view) : view.Page(Query.After, MostLines);
        if (Columns.Any(c => c.Word == "trend") && Span is not null)
            Trends = await TrendsOf(Span);
    }

    static (IReadOnlyList<ChartLine>, int) Whole(ChartView view)
    {
        List<ChartLine> all = [.. view.Everything()];
        return (all.Count > MostPrinted ? all[..MostPrinted] : all, Math.Max(0, all.Count - MostPrinted));
    }

    IReadOnlyList<ChartColumn> ChosenColumns()
    {
        var words = (Query.Columns ?? Request.Cookies[Remembered])?.Split(',', StringSplitOptions.RemoveEmptyEntries);
        return [.. ChartQuery.AllColumns.Where(c => words is null ? c.Shown : words.Contains(c.Word))];
    }

    // Only for the posting accounts on the page.
    async Task<IReadOnlyDictionary<int, Trend>> TrendsOf(ChartSpan span)
    {
        var look = ChartLook.Of(Chart, Draft.Labels);
        var shown = Lines.Where(l => l.Posted && l.Node.Account.Kind == AccountKind.Posting && !l.Context).ToList();
        var periods = span.TrendPeriods;
        var movements = await balances.ByPeriod(Company.Id, [.. shown.Select(l => look.Ids[l.Place])], [.. periods.Select(p => p.Id)], Stop);
        var trends = new Dictionary<int, Trend>();
        foreach (var line in shown)
            if (Trend.Of(line.Node.Account.Class, periods, movements[look.Ids[line.Place]], sums.GetValueOrDefault(look.Ids[line.Place]).Balance) is { } trend)
                trends[line.Place] = trend;
        return trends;
    }
}
