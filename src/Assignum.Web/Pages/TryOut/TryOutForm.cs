using System.Globalization;
using System.Text.RegularExpressions;

namespace Assignum.Web.Pages.TryOut;

/// <summary>An event in the making, as somebody typed it: what stands in the fields of its form.</summary>
public sealed partial class TryOutForm
{
    // A pasted invoice has as many.
    const int MostLines = 2_000;

    readonly Dictionary<string, string?> head = new(StringComparer.Ordinal);

    /// <summary>Made when the page was opened, so that posting twice posts once.</summary>
    public string Id { get; set; } = "";
    /// <summary>What the form of its type asks for.</summary>
    public EventForm Kind { get; init; } = EventForm.Find(null);
    /// <summary>Its day.</summary>
    public DateOnly? Date { get; set; }
    /// <summary>The lines, each with the values of its columns.</summary>
    public List<Dictionary<string, string?>> Lines { get; } = [];

    /// <summary>What is typed in a field of the head; null: nothing.</summary>
    public string? this[string field]
    {
        get => Typed(head, field);
        set => head[field] = value;
    }

    /// <summary>What is typed in a column of a line; null: nothing.</summary>
    public string? this[int line, string column] => Typed(Lines[line], column);

    /// <summary>The lines in which something is typed that could land, by their places.</summary>
    public IReadOnlyList<int> Begun => Enumerable.Range(0, Lines.Count).Where(i => Kind.IsBegun(Lines[i])).ToList();

    /// <summary>Whether nothing was typed that could land.</summary>
    public bool IsEmpty => Begun.Count == 0 && string.IsNullOrWhiteSpace(this[Kind.Begins]);

    /// <summary>A line as it starts.</summary>
    public void AddLine() => Lines.Add(Kind.Columns.Where(c => c.Start is not null).ToDictionary(c => c.Name, c => c.Start));

    /// <summary>What a browser sent.</summary>
    internal static TryOutForm Of(IFormCollection sent, DateOnly? date)
    {
        var form = new TryOutForm { Id = (string?)sent["Id"] ?? "", Kind = EventForm.Find(sent["Type"]), Date = date };
        foreach (var (name, values) in sent)
        {
            var match = LineField().Match(name);
            if (!match.Success)
                form.head[name] = values[0];
            else if (int.Parse(match.Groups[1].Value, CultureInfo.InvariantCulture) is < MostLines and var line)
            {
                while (form.Lines.Count <= line)
                    form.Lines.Add([]);
                form.Lines[line][match.Groups[2].Value] = values[0];
            }
        }
        return form;
    }

    static string? Typed(Dictionary<string, string?> values, string field) =>
        values.GetValueOrDefault(field) is { } text && !string.IsNullOrWhiteSpace(text) ? text.Trim() : null;

    [GeneratedRegex(@"^Lines\[(\d{1,5})\]\.(\w+)$")]
    private static partial Regex LineField();
}
