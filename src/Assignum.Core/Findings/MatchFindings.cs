using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>Matches that lead nowhere, or to two places.</summary>
static class MatchFindings
{
    internal static IEnumerable<Finding> Errors(Rulebook book)
    {
        if (book.Matches.Count == 0)
            yield break;
        var known = new Dictionary<SettingList, HashSet<string>>
        {
            [SettingList.Items] = [.. book.Items.Select(i => Fold.Of(i.Code))], [SettingList.Categories] = [.. book.ItemGroups.Select(g => Fold.Of(g.Code))],
            [SettingList.TaxCodes] = [.. book.TaxCodes.Select(t => Fold.Of(t.Code))],
        };
        var keys = new HashSet<string>(StringComparer.Ordinal);
        foreach (var match in book.Matches)
        {
            var (what, where) = (WordOf(match.List), Changes.SettingKinds.Matches.WhereOf(match));
            if (!keys.Add(match.Key))
                yield return new("duplicate-code", Severity.Error, where,
                    $"{match.Theirs} of {match.Connection} is matched twice. Keep one of the matches.");
            else if (!known[match.List].Contains(Fold.Of(match.Ours)))
                yield return new("unknown-match", Severity.Error, where,
                    $"{match.Theirs} of {match.Connection} is matched with {what} {match.Ours}, which is not there. Match it with another, " +
                    $"or add {match.Ours}.");
        }
    }

    static string WordOf(SettingList list) => list switch { SettingList.Items => "item", SettingList.Categories => "item group", _ => "tax code" };
}
