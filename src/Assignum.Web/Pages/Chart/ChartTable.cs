using Assignum.Core.Charts;
using Assignum.Core;
using Assignum.Formats.Sheets;

namespace Assignum.Web.Pages.Chart;

/// <summary>The chart as a table to take away: the columns shown, and class, kind and parent always, so that it can be brought back.</summary>
static class ChartTable
{
    internal static Table Of(IndexModel page, IEnumerable<ChartLine> lines)
    {
        var columns = page.Columns.Where(c => c.Word is not ("class" or "trend" or "short" or "tax" or "control")).ToList();
        return new Table("Chart of accounts",
            ["number", "name", "class", "kind", "parent", "shortName", "control", "manual", "taxCode", "itemTaxGroup", "active",
                .. columns.Select(c => c.Title.ToLowerInvariant())],
            lines.Where(l => !l.Context).Select(line => Row(page, line, columns)));
    }

    static IReadOnlyList<object?> Row(IndexModel page, ChartLine line, List<ChartColumn> columns)
    {
        var account = line.Node.Account;
        var description = page.Chart.DescriptionOf(account.Number);
        return
        [
            account.Number, account.Name, account.Class.Word(), account.Kind.Word(), account.Parent ?? "", description.ShortName ?? "", account.Control?.Word()
                ?? "", account.Manual.Word(), account.TaxCode ?? "", account.ItemTaxGroup ?? "", account.Active,
            .. columns.Select(c => (object?)(c.Word switch
            {
                "group" => description.GroupAccount ?? "",
                "reporting" => string.Join("; ", description.Reporting.Select(r => $"{r.Report}: {r.Code}")),
                "dimensions" => string.Join("; ", account.Dimensions.Select(d => $"{d.Key} {d.Value.Word()}")),
                "used" => line.UsedBy,
                "movement" => line.Movement,
                "balance" => line.Balance,
                _ => null,
            })),
        ];
    }
}
