namespace Assignum.Formats.Sheets;

/// <summary>A table to be exported: columns, and rows of text, amounts, whole numbers and dates.</summary>
/// <param name="Name">What it is of; the sheet's name.</param>
/// <param name="Columns">Headings.</param>
/// <param name="Rows">Cells: string, decimal, int, long, DateOnly, bool or null.</param>
public sealed record Table(string Name, IReadOnlyList<string> Columns, IEnumerable<IReadOnlyList<object?>> Rows);
