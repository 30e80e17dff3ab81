using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Rulebooks;

namespace Assignum.Web.Pages.Editions;

/// <summary>Which changes are looked at.</summary>
/// <param name="Of">Name of a purpose, or what kind of setting it is; empty: all.</param>
/// <param name="Text">What the sentence must have in it.</param>
public sealed record ChangeFilter(string? Of, string? Text)
{
    /// <summary>The changes that fit.</summary>
    public List<SettingChange> Fitting(IEnumerable<SettingChange> changes)
    {
        var sought = new Sought(Text);
        return [.. changes.Where(c => (string.IsNullOrEmpty(Of) || WordOf(c) == Of) && sought.In(c.Sentence))];
    }

    /// <summary>What can be chosen from, with counts: purposes as the ladder has them, then the other settings.</summary>
    public static IReadOnlyList<(string Word, string Title, int Count)> Choices(IEnumerable<SettingChange> changes) =>
        [.. changes.GroupBy(WordOf).Select(g => (Word: g.Key, First: g.First(), Count: g.Count())).OrderBy(g => g.First.Purpose?.Index
            ?? int.MaxValue).ThenBy(g => g.Word, StringComparer.Ordinal)
            .Select(g => (g.Word, g.First.Purpose?.Title ?? Showing.Show.Title(g.First.Subject), g.Count))];

    static string WordOf(SettingChange change) => change.Purpose?.Name ?? change.Subject;
}
