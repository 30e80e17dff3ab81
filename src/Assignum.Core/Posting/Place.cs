namespace Assignum.Core.Posting;

/// <summary>A place of a document, such as <c>lines[2]</c>; put into words only where a fault names it.</summary>
readonly record struct Place(string List, int Index)
{
    /// <summary>A field there: "lines[2].price".</summary>
    internal string Of(string field) => $"{this}.{field}";

    /// <summary>The place that a field begins with; null for a field of the document itself.</summary>
    internal static Place? Parse(string field) =>
        field.IndexOf('[', StringComparison.Ordinal) is > 0 and var open && field.IndexOf(']', StringComparison.Ordinal) is var close && close > open
        && int.TryParse(field.AsSpan(open + 1, close - open - 1), System.Globalization.CultureInfo.InvariantCulture, out var index) ? new(field[..open], index)
            : null;

    /// <summary>A field of a place, or of the document itself.</summary>
    internal static string Field(Place? place, string field) => place?.Of(field) ?? field;

    /// <summary>"Line 3": as people count, from 1.</summary>
    internal string InWords =>
        FormattableString.Invariant($"{(List switch { "lines" => "Line", "tenders" => "Payment", "settles" => "Part", _ => "Tax" })} {Index + 1}");

    public override string ToString() => FormattableString.Invariant($"{List}[{Index}]");
}
