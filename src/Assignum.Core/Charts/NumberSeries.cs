using System.Globalization;
using System.Text;

namespace Assignum.Core.Charts;

/// <summary>A number as a place in a series: its digits as one value, everything else as a frame around them. "62.10" is 6210 in the frame "##.##".</summary>
/// <param name="Frame">The number with # for each digit.</param>
/// <param name="Value">Its digits.</param>
public readonly record struct NumberSeries(string Frame, long Value)
{
    const int MostDigits = 18;

    /// <summary>Reads a number; null when it has no digit, or too many.</summary>
    public static NumberSeries? Of(string number)
    {
        var fold = Fold.Of(number);
        var digits = fold.Count(char.IsAsciiDigit);
        if (digits is 0 or > MostDigits)
            return null;
        var frame = string.Concat(fold.Select(c => char.IsAsciiDigit(c) ? '#' : c));
        return new(frame, long.Parse(string.Concat(fold.Where(char.IsAsciiDigit)), CultureInfo.InvariantCulture));
    }

    /// <summary>How many digits its numbers have.</summary>
    public int Digits => Frame.Count(c => c == '#');

    /// <summary>The number of another value in the same frame; null when it needs more digits, or is below 0.</summary>
    public string? At(long value)
    {
        var digits = value < 0 ? "" : value.ToString(CultureInfo.InvariantCulture).PadLeft(Digits, '0');
        if (value < 0 || digits.Length > Digits)
            return null;
        var text = new StringBuilder(Frame.Length);
        var next = 0;
        foreach (var c in Frame)
            text.Append(c == '#' ? digits[next++] : c);
        return text.ToString();
    }
}
