using Assignum.Core.Charts;
using Assignum.Storage.Charts;
using Assignum.Storage.Reports;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Reports;

/// <summary>With what a report's figures are compared.</summary>
public enum Beside { Nothing, MonthBefore, YearBefore }

/// <summary>A row of a report: an account, a heading, or a subtotal.</summary>
/// <param name="Node">Its place in the chart.</param>
/// <param name="Sums">Its figures with those of all below it.</param>
/// <param name="Before">The same of the days it is compared with.</param>
public sealed record ReportRow(ChartNode Node, AccountSums Sums, AccountSums Before)
{
    /// <summary>It is an account that takes postings.</summary>
    public bool IsPosting => Node.Account.Kind == AccountKind.Posting;
}

/// <summary>A report by the chart's own headings, with days, a dimension and a comparison.</summary>
public abstract class ReportPage(ReportStore reports, ChartStore charts, TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Reports";
    /// <summary>First day asked for.</summary>
    [BindProperty(SupportsGet = true, Name = "from")]
    public DateOnly? AskedFrom { get; set; }
    /// <summary>Last day asked for.</summary>
    [BindProperty(SupportsGet = true, Name = "on")]
    public DateOnly? AskedTo { get; set; }
    /// <summary>Dimension and value, as "CC=100".</summary>
    [BindProperty(SupportsGet = true, Name = "dimension")]
    public string? Dimension { get; set; }
    /// <summary>With what the figures are compared.</summary>
    [BindProperty(SupportsGet = true, Name = "beside")]
    public string? AskedBeside { get; set; }
    /// <summary>Part of a number or name.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }

    /// <summary>Today.</summary>
    protected DateOnly Today => clock.Today();
    /// <summary>Last day.</summary>
    public DateOnly To => (AskedTo ?? Today).Reckonable();
    /// <summary>First day: that asked for, else the first of the year.</summary>
    public virtual DateOnly From => (AskedFrom ?? new DateOnly(To.Year, 1, 1)).Reckonable();
    /// <summary>With what the figures are compared.</summary>
    public Beside With => Core.Words<Beside>.TryParse(AskedBeside ?? "", out var known) ? known : Beside.Nothing;
    /// <summary>Dimensions and values to choose from.</summary>
    public IReadOnlyList<(string Dimension, string Value)> Dimensions { get; private set; } = [];
    /// <summary>Whether entries that ended a year are left out of its days.</summary>
    protected virtual bool WithoutYearEnd => false;

    /// <summary>The days compared with.</summary>
    public (DateOnly From, DateOnly To) BeforeDays => With == Beside.YearBefore ? (From.AddYears(-1), To.AddYears(-1))
        : (From.AddMonths(-1), To == LastOf(To) ? LastOf(To.AddMonths(-1)) : To.AddMonths(-1));

    static DateOnly LastOf(DateOnly day) => new DateOnly(day.Year, day.Month, 1).AddMonths(1).AddDays(-1);

    /// <summary>The rows of the chart, each heading with the sum of what is below it.</summary>
    protected async Task<IReadOnlyList<ReportRow>> Rows()
    {
        Dimensions = await reports.Dimensions(Company.Id, Stop);
        var stored = Books.Released.Stored;
        var tree = (await charts.Of(Company.Id, stored, Stop)).Tree;
        var ids = tree.Nodes.Select(n => stored.Labels.Account(n.Account.Number) ?? 0).ToArray();
        var now = Totals(tree, ids, await reports.Sums(Company.Id, Span(From, To), Stop));
        var (from, to) = BeforeDays;
        var before = With == Beside.Nothing ? new AccountSums[ids.Length] : Totals(tree, ids, await reports.Sums(Company.Id, Span(from, to), Stop));
        return [.. tree.Nodes.Select((node, i) => new ReportRow(node, now[i], before[i]))];
    }

    ReportSpan Span(DateOnly from, DateOnly to)
    {
        var parts = Dimension?.Split('=', 2);
        return parts is [var name, var value] ? new(from, to, name, value, WithoutYearEnd) : new(from, to, WithoutYearEnd: WithoutYearEnd);
    }

    static AccountSums[] Totals(ChartTree tree, int[] ids, IReadOnlyDictionary<int, AccountSums> sums)
    {
        decimal[] Of(Func<AccountSums, decimal> figure) => tree.Totals([.. ids.Select(id => figure(sums.GetValueOrDefault(id)))]);
        var (opening, debit, credit) = (Of(s => s.Opening), Of(s => s.Debit), Of(s => s.Credit));
        return [.. ids.Select((_, i) => new AccountSums(opening[i], debit[i], credit[i]))];
    }

    /// <summary>Address of the report as it is, with more.</summary>
    public string Here(string path, string more = "") =>
        At($"{path}?from={Show.Field(From)}&on={Show.Field(To)}&dimension={Uri.EscapeDataString(Dimension ?? "")}&beside=" +
        $"{Core.Words<Beside>.Of(With)}&q={Uri.EscapeDataString(Filter ?? "")}{more}");

    /// <summary>Address of an account's statement over the days of the report.</summary>
    public string AtStatement(Account account, bool fromStart = false) =>
        At($"account-statement?account={Uri.EscapeDataString(account.Number)}&from={Show.Field(fromStart ? new DateOnly(To.Year, 1, 1) : From)}&to={Show
            .Field(To)}" +
            (string.IsNullOrEmpty(Dimension) ? "" : "&dimension=" + Uri.EscapeDataString(Dimension)));
}
