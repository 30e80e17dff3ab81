using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace Assignum.Storage.Proving;

/// <summary>The canonical form of a posted event, of which its digest is taken (docs/formats.md, "Chain of digests"): a row for the event, its entries, their
/// lines and its movements, fields parted by tabs. The database writes the same rows when the chain is checked.</summary>
sealed class CanonicalText
{
    const string Nothing = @"\N";

    readonly StringBuilder text = new();

    /// <summary>Adds a row.</summary>
    internal void Row(string kind, params ReadOnlySpan<object?> fields)
    {
        text.Append(kind);
        foreach (var field in fields)
            text.Append('\t').Append(Written(field));
        text.Append('\n');
    }

    /// <summary>The digest of everything added, chained to the one before.</summary>
    /// <param name="before">The digest before, 32 bytes; empty for the first of a year.</param>
    internal byte[] Chained(byte[] before) => Chained(before, text.ToString());

    /// <summary>The digest of a canonical form, chained to the one before.</summary>
    internal static byte[] Chained(byte[] before, string form) => SHA256.HashData([.. before, .. Encoding.UTF8.GetBytes(form)]);

    /// <summary>An amount as the database writes it: four places.</summary>
    internal static string Amount(decimal amount) => amount.ToString("F4", CultureInfo.InvariantCulture);

    /// <summary>A quantity as the database writes it: six places.</summary>
    internal static string Quantity(decimal quantity) => quantity.ToString("F6", CultureInfo.InvariantCulture);

    static string Written(object? field) => field switch
    {
        null => Nothing,
        string written => written.Replace(@"\", @"\\", StringComparison.Ordinal).Replace("\t", @"\t", StringComparison.Ordinal)
            .Replace("\n", @"\n", StringComparison.Ordinal),
        DateOnly day => day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
        bool said => said ? "1" : "0",
        IFormattable number => number.ToString(null, CultureInfo.InvariantCulture),
        _ => throw new InvalidOperationException($"A {field.GetType().Name} has no canonical form."),
    };
}
