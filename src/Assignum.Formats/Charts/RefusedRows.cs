using Assignum.Core.Charts;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Charts;

/// <summary>The refused rows of an import as a table: every cell as it was, and the reason in a column of its own, so that they can be fixed and imported
/// again.</summary>
public static class RefusedRows
{
    /// <summary>Heading of the reason's column.</summary>
    public const string Reason = "refused because";

    /// <summary>The table of a plan's refused rows.</summary>
    public static Table Of(Sheet sheet, ChartMapping mapping, ChartPlan plan)
    {
        var rows = sheet.Rows.ToDictionary(r => r.Line);
        var headings = ChartSheet.HeadingsOf(sheet, mapping);
        return new Table("Refused rows", [.. headings, Reason], plan.Rows.Where(r => r.Fate == ChartRowFate.Refused)
            .Select(r => (IReadOnlyList<object?>)[.. Enumerable.Range(0, headings.Count).Select(c => (object?)rows[r.Row.Line][c]), r.Why]));
    }
}
