namespace Assignum.Formats.Sheets;

/// <summary>A row of a sheet.</summary>
/// <param name="Line">Number of its first line in the file, from 1.</param>
/// <param name="Cells">Its cells as text, without white space around them; rows may be of different length.</param>
public sealed record SheetRow(int Line, IReadOnlyList<string> Cells)
{
    /// <summary>A cell; empty where the row has none.</summary>
    public string this[int column] => column >= 0 && column < Cells.Count ? Cells[column] : "";

    /// <summary>Whether nothing is written in it.</summary>
    public bool IsBlank => Cells.All(c => c.Length == 0);
}

/// <summary>A sheet of a file.</summary>
/// <param name="Name">Its name; of a CSV file: "".</param>
/// <param name="Rows">Its rows, blank ones left out.</param>
public sealed record Sheet(string Name, IReadOnlyList<SheetRow> Rows)
{
    /// <summary>How many columns its longest row has.</summary>
    public int Columns => Rows.Count == 0 ? 0 : Rows.Max(r => r.Cells.Count);
}

/// <summary>A file of sheets as read.</summary>
/// <param name="Sheets">Its sheets; empty when the file was refused.</param>
/// <param name="Fault">Why the whole file is refused, and the mend; null when it was read.</param>
/// <param name="Said">What was found out about it: "Windows-1252, separated by semicolons".</param>
public sealed record ReadSheets(IReadOnlyList<Sheet> Sheets, string? Fault, string Said)
{
    internal static ReadSheets Refused(string fault) => new([], fault, "");
}

/// <summary>Reads CSV and XLSX files into sheets of text. What the file is, is found out from its bytes.</summary>
public static class SheetFile
{
    /// <summary>Largest file in bytes, most rows of a sheet, and most columns; further columns are left out.</summary>
    public const int LargestFile = 48 << 20, MostRows = 120_000, MostColumns = 100;

    /// <summary>Reads a file.</summary>
    /// <param name="file">Its bytes, at most <see cref="LargestFile"/>.</param>
    /// <param name="stop">Ends the reading.</param>
    public static ReadSheets Read(ReadOnlyMemory<byte> file, CancellationToken stop = default)
    {
        var bounds = new SheetBounds(stop);
        var bytes = file.Span;
        if (bytes.Length > LargestFile)
            return ReadSheets.Refused(TooLarge(bytes.Length));
        if (bytes.IsEmpty || bytes.Trim(" \t\r\n"u8).IsEmpty || bytes.SequenceEqual("\uFEFF"u8))
            return ReadSheets.Refused("The file is empty. Choose a CSV or XLSX file with a row for each account.");
        if (bytes.StartsWith("PK\u0003\u0004"u8))
            return XlsxSheets.Read(file, bounds);
        if (bytes.Length > 3 && bytes[0] == 0xD0 && bytes[1] == 0xCF && bytes[2] == 0x11)
            return ReadSheets.Refused("The file is a spreadsheet of an older or a protected kind. Open it, save it as XLSX or CSV without a password, and " +
                "choose that file.");
        return CsvSheet.Read(bytes, bounds);
    }

    /// <summary>A CSV file that is part of the assembly.</summary>
    internal static Sheet Part(string name)
    {
        using var stream = typeof(SheetFile).Assembly.GetManifestResourceStream(name)
            ?? throw new InvalidOperationException($"{name} is not part of the assembly.");
        using var content = new MemoryStream();
        stream.CopyTo(content);
        return Read(content.ToArray()).Sheets[0];
    }

    /// <summary>What is said of a file of more than <see cref="LargestFile"/> bytes, which need not be read for it.</summary>
    /// <param name="length">Its length in bytes.</param>
    public static string TooLarge(long length) =>
        $"The file has {length >> 20} MB. A sheet of {MostRows:N0} rows has less than {LargestFile >> 20} MB: choose the file of the chart, or split it.";

    internal static string TooManyRows => $"The file has more than {MostRows:N0} rows. Split it.";

    internal static string Cleaned(string? cell) => cell is null ? "" : string.Join(' ', cell.Split((char[]?)null, StringSplitOptions.RemoveEmptyEntries));
}
