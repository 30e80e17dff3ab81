using System.Globalization;

namespace Assignum.Formats;

/// <summary>Amounts as text, read exactly: what would be rounded is refused.</summary>
static class Decimals
{
    const NumberStyles Styles = NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint | NumberStyles.AllowExponent;
    const int MostDigits = 28;

    /// <summary>Reads a number of a sheet that people fill in: as files have it, or as whoever reads writes numbers.</summary>
    internal static bool TryTyped(string text, out decimal number) => TryParse(text, out number) || Core.Written.Now.TryNumber(text, out number);

    /// <summary>Reads "1.90", "-3" or "2.5e3"; no blanks, no separators of thousands.</summary>
    internal static bool TryParse(ReadOnlySpan<byte> text, out decimal amount) =>
        TryParseShort(text, out amount) || TryParseAny(text, out amount);

    // Up to 18 digits and a point, which is nearly all there is, are read digit by digit.
    static bool TryParseShort(ReadOnlySpan<byte> text, out decimal amount)
    {
        const int mostDigits = 18;
        amount = 0;
        var negative = text.Length > 1 && text[0] == '-';
        var digits = negative ? text[1..] : text;
        if (digits.Length is 0 or > mostDigits + 1)
            return false;
        var (value, scale, point) = (0L, 0, false);
        foreach (var c in digits)
        {
            if (c is >= (byte)'0' and <= (byte)'9')
            {
                value = value * 10 + (c - '0');
                scale += point ? 1 : 0;
            }
            else if (c == '.' && !point)
                point = true;
            else
                return false;
        }
        if (digits.Length - (point ? 1 : 0) is 0 or > mostDigits)
            return false;
        amount = new decimal((int)value, (int)(value >> 32), 0, negative && value != 0, (byte)scale);
        return true;
    }

    static bool TryParseAny(ReadOnlySpan<byte> text, out decimal amount) =>
        decimal.TryParse(text, Styles, CultureInfo.InvariantCulture, out amount) && (text.Length <= MostDigits || IsExact(text)) && !Underflows(text);

    /// <inheritdoc cref="TryParse(ReadOnlySpan{byte}, out decimal)"/>
    internal static bool TryParse(string text, out decimal amount)
    {
        Span<byte> bytes = stackalloc byte[64];
        amount = 0;
        return text.Length <= bytes.Length && System.Text.Ascii.FromUtf16(text, bytes, out var length) == System.Buffers.OperationStatus.Done
            && TryParse(bytes[..length], out amount);
    }

    // Digits between the first and the last that is not 0, at most 28 of them.
    static bool IsExact(ReadOnlySpan<byte> text)
    {
        var (significant, zeros) = (0, 0);
        foreach (var c in Mantissa(text))
        {
            if (c == '0' && significant > 0)
                zeros++;
            else if (c is >= (byte)'1' and <= (byte)'9')
            {
                significant += zeros + 1;
                zeros = 0;
            }
        }
        return significant <= MostDigits;
    }

    static bool Underflows(ReadOnlySpan<byte> text)
    {
        var mantissa = Mantissa(text);
        if (mantissa.Length == text.Length
            || !int.TryParse(text[(mantissa.Length + 1)..], NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var exponent))
            return false;
        var point = mantissa.IndexOf((byte)'.');
        return (point < 0 ? 0 : mantissa.Length - point - 1) - exponent > MostDigits;
    }

    static ReadOnlySpan<byte> Mantissa(ReadOnlySpan<byte> text)
    {
        var exponent = text.IndexOfAny((byte)'e', (byte)'E');
        return exponent < 0 ? text : text[..exponent];
    }
}
