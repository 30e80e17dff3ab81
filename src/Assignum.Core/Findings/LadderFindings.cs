using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>What is wrong with the ladders a company has replaced.</summary>
static class LadderFindings
{
    internal static IEnumerable<Finding> Of(Rulebook book) =>
        from ladder in book.Ladders
        from rung in ladder.Value.GroupBy(r => r).Where(same => same.Count() > 1)
        select new Finding("bad-rung", Severity.Error, "ladders/" + ladder.Key.Name,
            $"The ladder of {ladder.Key.InWords} has the rung {rung.Key.InWords} twice. Keep one of them.");
}
