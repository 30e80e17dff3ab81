using System.Buffers;
using System.Globalization;
using System.Text;

namespace Assignum.Formats;

/// <summary>Text in the making, as UTF-8 bytes; grows, and is emptied for the next use.</summary>
public sealed class Utf8Text
{
    static readonly SearchValues<char> QuotedInCsv = SearchValues.Create(",\"\r\n");
    // None of them begins a formula, but for the hyphen where it stands first; none separates cells.
    static readonly SearchValues<char> PlainInCsv = SearchValues.Create("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789 .-_/#&");
    byte[] bytes = new byte[1 << 12];
    int length;

    /// <summary>What was written so far.</summary>
    public ReadOnlyMemory<byte> Written => bytes.AsMemory(0, length);

    /// <summary>How many bytes were written so far.</summary>
    internal int Length => length;

    /// <summary>Writes again what was written before.</summary>
    /// <param name="from">Where it begins.</param>
    /// <param name="count">How many bytes.</param>
    internal Utf8Text Again(int from, int count)
    {
        Reserve(count);
        bytes.AsSpan(from, count).CopyTo(bytes.AsSpan(length));
        length += count;
        return this;
    }

    /// <summary>Forgets what was written.</summary>
    public void Clear() => length = 0;

    internal Utf8Text Add(ReadOnlySpan<byte> text)
    {
        Reserve(text.Length);
        text.CopyTo(bytes.AsSpan(length));
        length += text.Length;
        return this;
    }

    internal Utf8Text Add(byte c)
    {
        Reserve(1);
        bytes[length++] = c;
        return this;
    }

    internal Utf8Text Add(string? text)
    {
        if (text is null)
            return this;
        Reserve(text.Length * 3);
        length += Encoding.UTF8.GetBytes(text, bytes.AsSpan(length));
        return this;
    }

    internal Utf8Text Add(int number)
    {
        Reserve(11);
        number.TryFormat(bytes.AsSpan(length), out var written, default, CultureInfo.InvariantCulture);
        length += written;
        return this;
    }

    /// <summary>An amount with exactly so many decimals.</summary>
    internal Utf8Text Add(decimal amount, int decimals)
    {
        Reserve(40);
        if (TryAddShort(amount, decimals))
            return this;
        var format = decimals switch { 0 => "F0", 2 => "F2", 3 => "F3", _ => "F4" };
        amount.TryFormat(bytes.AsSpan(length), out var written, format, CultureInfo.InvariantCulture);
        length += written;
        return this;
    }

    // Amounts of up to 18 digits, which is nearly all of them, are written digit by digit out of their whole minor units.
    bool TryAddShort(decimal amount, int decimals)
    {
        Span<int> bits = stackalloc int[4];
        decimal.GetBits(amount, bits);
        var scale = (bits[3] >> 16) & 0xFF;
        if (bits[2] != 0 || scale > decimals)
            return false;
        var units = ((ulong)(uint)bits[1] << 32) | (uint)bits[0];
        for (; scale < decimals; scale++)
        {
            if (units > long.MaxValue / 10)
                return false;
            units *= 10;
        }
        if (bits[3] < 0 && units != 0)
            bytes[length++] = (byte)'-';
        Span<byte> digits = stackalloc byte[24];
        var at = digits.Length;
        for (var place = 0; units != 0 || place <= decimals; place++)
        {
            if (place == decimals && decimals > 0)
                digits[--at] = (byte)'.';
            (units, var digit) = Math.DivRem(units, 10);
            digits[--at] = (byte)('0' + digit);
        }
        digits[at..].CopyTo(bytes.AsSpan(length));
        length += digits.Length - at;
        return true;
    }

    /// <summary>A quantity without trailing zeros.</summary>
    internal Utf8Text AddPlain(decimal quantity)
    {
        Reserve(40);
        quantity.TryFormat(bytes.AsSpan(length), out var written, "0.############################", CultureInfo.InvariantCulture);
        length += written;
        return this;
    }

    internal Utf8Text Add(DateOnly date)
    {
        Reserve(Days.Length);
        Days.Write(date, bytes.AsSpan(length));
        length += Days.Length;
        return this;
    }

    /// <summary>A text field of RFC 4180, quoted where it must be; it never starts a formula.</summary>
    internal Utf8Text AddCsv(string? field)
    {
        if (string.IsNullOrEmpty(field))
            return this;
        // Codes and numbers are written as they are, without looking for what they don't have.
        if (field[0] != '-' && !field.AsSpan().ContainsAnyExcept(PlainInCsv))
        {
            Reserve(field.Length);
            length += Encoding.ASCII.GetBytes(field, bytes.AsSpan(length));
            return this;
        }
        field = FormulaSafe.Of(field);
        if (field.AsSpan().IndexOfAny(QuotedInCsv) < 0)
            return Add(field);
        return Add((byte)'"').Add(field.Replace("\"", "\"\"", StringComparison.Ordinal)).Add((byte)'"');
    }

    void Reserve(int more)
    {
        if (bytes.Length - length < more)
            Array.Resize(ref bytes, Math.Max(bytes.Length * 2, length + more));
    }
}
