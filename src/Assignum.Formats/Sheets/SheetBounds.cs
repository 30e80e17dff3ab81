using System.Diagnostics;

namespace Assignum.Formats.Sheets;

/// <summary>A file goes beyond what is read of a sheet; the message names what, where, and what to do.</summary>
sealed class SheetTooLarge(string message) : Exception(message);

/// <summary>What reading one file may take, all its parts together. Whatever the file says of itself is not believed.</summary>
sealed class SheetBounds(CancellationToken stop)
{
    internal const int MostParts = 1_000, DeepestElement = 24, MostSheets = 100, MostStrings = 1_000_000, LongestCell = 32_767, MostCells = 3_000_000,
        MostMerges = 5_000, MostMergedCells = 100_000;
    internal const long MostCharacters = 60_000_000, LargestUnpacked = 400L << 20;
    /// <summary>What a sheet can have at all.</summary>
    internal const int LastRow = 1_048_576, LastColumn = 16_384;
    static readonly TimeSpan Longest = TimeSpan.FromSeconds(30);

    readonly long began = Stopwatch.GetTimestamp();
    long unpacked, characters;
    int cells, mergedCells;

    /// <summary>Ends the reading when whoever asked for it has gone, or when it takes too long.</summary>
    internal void Go()
    {
        stop.ThrowIfCancellationRequested();
        if (Stopwatch.GetElapsedTime(began) > Longest)
            throw new SheetTooLarge($"Reading the file takes longer than {Longest.TotalSeconds:0} seconds. Save only the sheet that is needed, and choose " +
                "that file.");
    }

    internal void Unpacked(int bytes)
    {
        if ((unpacked += bytes) > LargestUnpacked)
            throw new SheetTooLarge($"The file unpacks to more than {LargestUnpacked >> 20} MB. Save only the sheet that is needed, and choose that file.");
    }

    /// <summary>Counts a text, and refuses one that no cell of a spreadsheet holds.</summary>
    /// <param name="length">Its length so far.</param>
    /// <param name="more">What has just come to it.</param>
    /// <param name="where">The cell, as it is named.</param>
    internal void Text(int length, int more, string where)
    {
        if (length > LongestCell)
            throw new SheetTooLarge($"{where} has {length:N0} characters, and a cell holds {LongestCell:N0}. Shorten it.");
        if ((characters += more) > MostCharacters)
            throw new SheetTooLarge($"The file has more than {MostCharacters / 1_000_000} million characters. Save only the columns that are needed, and " +
                "choose that file.");
    }

    internal void Cell()
    {
        if (++cells > MostCells)
            throw new SheetTooLarge($"The file has more than {MostCells:N0} cells. Save only the rows and columns that are needed, and choose that file.");
    }

    internal void Merged(int count)
    {
        if ((mergedCells += count) > MostMergedCells)
            throw new SheetTooLarge($"The file has more than {MostMergedCells:N0} merged cells. Undo the merging of cells, and choose the file again.");
    }
}
