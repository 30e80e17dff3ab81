using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Formats.Sheets;
using Assignum.Storage.Charts;
using Assignum.Storage.Reports;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Reports;

/// <summary>A balance sheet or an income statement, by the chart's own headings.</summary>
public abstract class StatementPage(ReportStore reports, ChartStore charts, TimeProvider clock) : ReportPage(reports, charts, clock)
{
    /// <summary>Accounts that belong on it.</summary>
    protected abstract bool Belongs(AccountClass of);
    /// <summary>The figure of a row, as it is read there: what one has, or earns, above 0.</summary>
    public abstract decimal Figure(ReportRow row, bool before);
    /// <summary>Name of its file.</summary>
    protected abstract string FileName { get; }

    /// <summary>Its rows: headings with their sums, accounts with a figure.</summary>
    public IReadOnlyList<ReportRow> Shown { get; private set; } = [];
    /// <summary>The result of the days: above 0 a profit.</summary>
    public (decimal Now, decimal Before) Result { get; private set; }

    /// <summary>Lays it out.</summary>
    protected async Task Lay()
    {
        var rows = await Rows();
        Shown = [.. rows.Where(r => Belongs(r.Node.Account.Class) && (r.Sums != default || r.Before != default) && (Figure(r, false) != 0 || Figure(r,
            true) != 0))];
        var posting = rows.Where(r => r.IsPosting && r.Node.Account.Class >= AccountClass.Income).ToList();
        Result = (-posting.Sum(r => ResultOf(r.Sums)), -posting.Sum(r => ResultOf(r.Before)));
    }

    /// <summary>What of an account of income or expense counts for the result.</summary>
    protected virtual decimal ResultOf(AccountSums sums) => sums.Moved;

    /// <summary>The figures of accounts of a class, as they are read.</summary>
    public (decimal Now, decimal Before) SumOf(Func<AccountClass, bool> of)
    {
        var posting = Shown.Where(r => r.IsPosting && of(r.Node.Account.Class)).ToList();
        return (posting.Sum(r => Figure(r, false)), posting.Sum(r => Figure(r, true)));
    }

    /// <summary>The rows as a table to take away.</summary>
    protected FileStreamResult Table(string title, string? kind) => Export(new Table(title, ["account", "name", "kind", "class", "level", "amount",
        .. With == Beside.Nothing ? Array.Empty<string>() : ["before", "difference"]], Shown.Select(r => (IReadOnlyList<object?>)[r.Node.Account.Number,
            r.Node.Account.Name,
            r.Node.Account.Kind.Word(), r.Node.Account.Class.Word(), r.Node.Depth, Figure(r, false), .. With == Beside.Nothing ? Array.Empty<object?>()
            : [Figure(r, true), Figure(r, false) - Figure(r, true)]])), $"{FileName}-{To:yyyy-MM-dd}", kind);
}

/// <summary>What the company has and owes on a day.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class BalanceSheetModel(ReportStore reports, ChartStore charts, TimeProvider clock) : StatementPage(reports, charts, clock)
{
    /// <inheritdoc/>
    protected override string FileName => "balance-sheet";
    /// <inheritdoc/>
    protected override bool Belongs(AccountClass of) => of < AccountClass.Income;
    /// <inheritdoc/>
    public override decimal Figure(ReportRow row, bool before) =>
        (before ? row.Before : row.Sums).Closing * (row.Node.Account.Class == AccountClass.Asset ? 1 : -1);
    // What has not gone to retained earnings yet belongs to the owners all the same.
    /// <inheritdoc/>
    protected override decimal ResultOf(AccountSums sums) => sums.Closing;

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Takes it away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Table("Balance sheet", kind);
    }
}

/// <summary>What the company earned and spent within days.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IncomeStatementModel(ReportStore reports, ChartStore charts, TimeProvider clock) : StatementPage(reports, charts, clock)
{
    /// <inheritdoc/>
    protected override string FileName => "income-statement";
    /// <inheritdoc/>
    protected override bool WithoutYearEnd => true;
    /// <inheritdoc/>
    protected override bool Belongs(AccountClass of) => of >= AccountClass.Income;
    /// <inheritdoc/>
    public override decimal Figure(ReportRow row, bool before) => -(before ? row.Before : row.Sums).Moved;

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Takes it away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Table("Income statement", kind);
    }
}
