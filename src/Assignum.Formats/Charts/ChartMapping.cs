using Assignum.Core.Charts;

namespace Assignum.Formats.Charts;

/// <summary>How a sheet becomes accounts: where its table begins, which column fills which field, and what its codes for class and kind mean.</summary>
public sealed record ChartMapping
{
    /// <summary>Name of the sheet; of a CSV file: "".</summary>
    public string Sheet { get; init; } = "";
    /// <summary>Line of the file that holds the headings; 0: there are none.</summary>
    public int HeaderLine { get; init; }
    /// <summary>Column of each field, from 0.</summary>
    public IReadOnlyDictionary<string, int> Columns { get; init; } = new Dictionary<string, int>();
    /// <summary>Class of each code of the file, in the words of the formats; codes compare as headings do.</summary>
    public IReadOnlyDictionary<string, string> Classes { get; init; } = new Dictionary<string, string>();
    /// <summary>Kind of each code of the file.</summary>
    public IReadOnlyDictionary<string, string> Kinds { get; init; } = new Dictionary<string, string>();
    /// <summary>Meanings of the codes of further fields with few values: control, manual and active; "none" leaves the field empty.</summary>
    public IReadOnlyDictionary<string, IReadOnlyDictionary<string, string>> Values { get; init; } = new Dictionary<string, IReadOnlyDictionary<string,
        string>>();
    /// <summary>What becomes of rows that name what nobody has.</summary>
    public ChartLenience Lenience { get; init; } = ChartLenience.None;
    /// <summary>How rows find their place.</summary>
    public Placing Placing { get; init; }

    /// <summary>Fields beside class and kind whose codes have meanings, with the words they can mean.</summary>
    public static IReadOnlyDictionary<string, IReadOnlyList<string>> FieldsOfValues { get; } = new Dictionary<string, IReadOnlyList<string>>
    {
        ["control"] = [.. Core.Words<Control>.All, None], ["manual"] = [.. Core.Words<ManualPolicy>.All, None], ["active"] = ["yes", "no", None],
    };
    /// <summary>The meaning of a code that leaves its field empty.</summary>
    public const string None = "none";

    /// <summary>The codes of a field with what they mean.</summary>
    public IReadOnlyDictionary<string, string> MeaningsOf(string field) =>
        field switch { "class" => Classes, "kind" => Kinds, _ => Values.GetValueOrDefault(field) ?? new Dictionary<string, string>() };

    /// <summary>Whether the file says which rows are headings.</summary>
    public bool KindsGiven => Columns.ContainsKey("kind");

    /// <summary>The same, with a column for a field; null takes the field's column away. A column fills one field only.</summary>
    public ChartMapping With(string field, int? column)
    {
        var columns = Columns.Where(c => c.Key != field && c.Value != column).ToDictionary();
        if (column is { } known)
            columns[field] = known;
        return this with { Columns = columns };
    }
}
