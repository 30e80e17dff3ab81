using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Formats.Sheets;
using Assignum.Storage.Charts;
using Assignum.Storage.Reports;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Reports;

/// <summary>The trial balance of any days, by dimension, with a comparison.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class TrialBalanceModel(ReportStore reports, ChartStore charts, TimeProvider clock) : ReportPage(reports, charts, clock)
{
    readonly ChartStore charts = charts;

    /// <summary>"wrong": only balances on the wrong side.</summary>
    [BindProperty(SupportsGet = true, Name = "side")]
    public string? Side { get; set; }
    /// <summary>Also accounts without any figure.</summary>
    [BindProperty(SupportsGet = true, Name = "empty")]
    public bool Empty { get; set; }
    /// <summary>The rows shown.</summary>
    public IReadOnlyList<ReportRow> Shown { get; private set; } = [];
    /// <summary>Sums over the accounts shown.</summary>
    public (AccountSums Now, AccountSums Before) Sum { get; private set; }

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync()
    {
        var rows = await Rows();
        var described = Side == "wrong" ? await charts.Of(Company.Id, Books.Released.Stored, Stop) : null;
        var sought = new Sought(Filter);
        Shown = [.. rows.Where(r => r.IsPosting && (Empty || r.Sums != default || r.Before != default)
            && sought.In($"{r.Node.Account.Number} {r.Node.Account.Name}")
            && (described is null || Standing.IsWrongSide(r.Node.Account.Class, described.DescriptionOf(r.Node.Account.Number).Side, r.Sums.Closing)))
            .OrderBy(r => r.Node.Account.Number, StringComparer.Ordinal)];
        Sum = (Add(Shown.Select(r => r.Sums)), Add(Shown.Select(r => r.Before)));
    }

    static AccountSums Add(IEnumerable<AccountSums> all) => all.Aggregate(default(AccountSums), (sum, one) => new(sum.Opening + one.Opening, sum.Debit
        + one.Debit, sum.Credit + one.Credit));

    /// <summary>The rows as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await OnGetAsync();
        return Export(new Table("Trial balance", ["account", "name", "class", "opening", "debit", "credit", "balance", .. With == Beside.Nothing
            ? Array.Empty<string>()
            : ["before", "difference"]], Shown.Select(r => (IReadOnlyList<object?>)[r.Node.Account.Number, r.Node.Account.Name, r.Node.Account.Class.Word(),
                r.Sums.Opening,
                r.Sums.Debit, r.Sums.Credit, r.Sums.Closing, .. With == Beside.Nothing ? Array.Empty<object?>() : [r.Before.Closing,
                    r.Sums.Closing - r.Before.Closing]])),
            $"trial-balance-{To:yyyy-MM-dd}", kind);
    }
}
