using Assignum.Core.Posting;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>What a row of a run is of, in a code.</summary>
static class RunWords
{
    internal static string Of(BusinessEvent happened, EntryRow row) =>
        happened is AssetDepreciation depreciation && row.Context.Line is { } line ? depreciation.Lines[line].Asset : row.Context.Project
            ?? row.Context.Party?.Code ?? "";
}
