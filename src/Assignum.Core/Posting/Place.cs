namespace Assignum.Core.Posting;

/// <summary>A place of a document, such as <c>lines[2]</c>; put into words only where a fault names it.</summary>
readonly record struct Place(string List, int Index)
{
    /// <summary>A field there: "lines[2].price".</summary>
    internal string Of(string field) => $"{this}.{field}";

    /// <summary>A field of a place, or of the document itself.</summary>
    internal static string Field(Place? place, string field) => place?.Of(field) ?? field;

    public override string ToString() => FormattableString.Invariant($"{List}[{Index}]");
}
