using Assignum.Core.Rulebooks;

namespace Assignum.Web.Pages.Rules;

/// <summary>A grid as the browser draws it.</summary>
/// <param name="Down">What stands at the left, in words.</param>
/// <param name="Across">What stands at the top, in words; empty for one column.</param>
/// <param name="Rows">Values at the left: code (null for "any") and name.</param>
/// <param name="Columns">Values at the top.</param>
/// <param name="Total">How many rows there are in all.</param>
/// <param name="Answers">Answers that occur: what is shown large, what is shown small, and signs: "s" suspense, "x" takes no postings.</param>
/// <param name="Cells">Row by row: place of the answer (-1: none), origin (n, o, r, c, b, d), id of the cell's own rule or what it says (null: none), and
/// whether the cell can have one.</param>
public sealed record GridData(string Down, string Across, IReadOnlyList<AxisValue> Rows, IReadOnlyList<AxisValue> Columns, int Total,
    IReadOnlyList<string[]> Answers, IReadOnlyList<object?[]> Cells)
{
    /// <summary>The state of the settings it was read in.</summary>
    public string Stamp { get; init; } = "";
    /// <summary>Only the rows and columns that an edit can have changed; the rest is as it was.</summary>
    public bool IsPart { get; init; }

    const string Origins = "norcbd";

    /// <summary>Draws a grid.</summary>
    internal static GridData Of(string down, string across, IReadOnlyList<AxisValue> rows, IReadOnlyList<AxisValue> columns, int total, Func<AxisValue,
        AxisValue, (string[]? Answer, CellOrigin Origin, string? Own, bool Open)> cell)
    {
        var (answers, places) = (new List<string[]>(), new Dictionary<string, int>(StringComparer.Ordinal));
        var cells = new List<object?[]>(rows.Count * columns.Count);
        foreach (var row in rows)
            foreach (var column in columns)
            {
                var (answer, origin, own, open) = cell(row, column);
                var place = -1;
                if (answer is not null && !places.TryGetValue(answer[0], out place))
                {
                    places[answer[0]] = place = answers.Count;
                    answers.Add(answer);
                }
                cells.Add([place, Origins[(int)origin].ToString(), own, open]);
            }
        return new GridData(down, across, rows, columns, total, answers, cells);
    }
}

/// <summary>A change of a cell as the browser sends it.</summary>
/// <param name="Row">Code at the left; null for "any".</param>
/// <param name="Column">Code at the top; null for "any".</param>
/// <param name="Text">What was typed; empty: the cell falls back.</param>
/// <param name="Own">Id of the cell's own rule as it was seen, or null.</param>
/// <param name="Seen">What that rule said.</param>
/// <param name="Typed">Somebody typed it into this very cell; filled and pasted cells that say what holds already stay as they are.</param>
public sealed record CellSent(string? Row, string? Column, string? Text, string? Own, string? Seen, bool Typed)
{
    const int LongestText = 300;

    /// <summary>Cells as they were sent, checked as every text that enters is; null when they are no cells at all.</summary>
    internal static CellSent[]? Read(CellSent?[]? sent) =>
        sent is null || sent.Any(c => c is null
            || new[] { c.Row, c.Column, c.Text, c.Own, c.Seen }.Any(t => t is not null && Sending.SentText.Fault(t, "cell", LongestText) is not null)) ? null
            : [.. sent.OfType<CellSent>()];
}

/// <summary>What came of it.</summary>
/// <param name="Faults">Why nothing was changed: place in what was sent, and a sentence; empty when all was.</param>
/// <param name="Grid">The grid as it is now.</param>
/// <param name="Said">What was done.</param>
/// <param name="Draft">"Draft 8: 12 changes", as the head of the page says it.</param>
/// <param name="Stamp">The state of the settings now.</param>
/// <param name="Warnings">What was taken, and yet has something that speaks against it.</param>
public sealed record CellsAnswered(IReadOnlyList<object[]> Faults, GridData? Grid, string? Said, string Draft, string Stamp, IReadOnlyList<string> Warnings);
