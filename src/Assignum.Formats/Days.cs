namespace Assignum.Formats;

/// <summary>Days as YYYY-MM-DD, read and written digit by digit.</summary>
static class Days
{
    internal const int Length = 10;

    /// <summary>Reads a day; nothing but ten signs of that form is one.</summary>
    internal static bool TryParse(ReadOnlySpan<byte> text, out DateOnly day)
    {
        day = default;
        if (text.Length != Length || text[4] != '-' || text[7] != '-'
            || Number(text[..4]) is not (>= 1 and var year) || Number(text[5..7]) is not (>= 1 and <= 12 and var month)
            || Number(text[8..]) is not (>= 1 and var ofMonth) || ofMonth > DateTime.DaysInMonth(year, month))
            return false;
        day = new DateOnly(year, month, ofMonth);
        return true;
    }

    /// <summary>Writes a day into at least ten bytes.</summary>
    internal static void Write(DateOnly day, Span<byte> to)
    {
        var (year, month, ofMonth) = day;
        Digits(year, to[..4]);
        to[4] = to[7] = (byte)'-';
        Digits(month, to[5..7]);
        Digits(ofMonth, to[8..Length]);
    }

    // The number of some digits, or -1.
    static int Number(ReadOnlySpan<byte> digits)
    {
        var number = 0;
        foreach (var c in digits)
        {
            if (c is < (byte)'0' or > (byte)'9')
                return -1;
            number = number * 10 + (c - '0');
        }
        return number;
    }

    static void Digits(int number, Span<byte> to)
    {
        for (var at = to.Length - 1; at >= 0; at--)
            (number, to[at]) = (number / 10, (byte)('0' + number % 10));
    }
}
