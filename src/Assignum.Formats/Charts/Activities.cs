using Assignum.Core;
using Assignum.Formats.Sheets;

namespace Assignum.Formats.Charts;

/// <summary>An economic activity.</summary>
/// <param name="Code">"A" for a section, "01" for a division.</param>
/// <param name="Name">Its name.</param>
/// <param name="Section">The section a division belongs to; null for a section.</param>
public sealed record Activity(string Code, string Name, string? Section);

/// <summary>Sections and divisions of the International Standard Industrial Classification of All Economic Activities, revision 4 (United Nations,
/// 2008).</summary>
public static class Activities
{
    static readonly Lazy<IReadOnlyList<Activity>> List = new(Read);

    /// <summary>All of them: each section before its divisions.</summary>
    public static IReadOnlyList<Activity> All => List.Value;

    /// <summary>The activity of a code; null when there is none.</summary>
    public static Activity? Find(string? code) => code is null ? null : All.FirstOrDefault(a => Fold.Same(a.Code, code));

    static IReadOnlyList<Activity> Read() =>
        [.. SheetFile.Part("isic-4.csv").Rows.Skip(1).Select(r => new Activity(r[0], r[2], r[1].Length == 0 ? null : r[1]))];
}
