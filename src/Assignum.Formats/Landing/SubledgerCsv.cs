using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.Formats.Landing;

/// <summary>Subledger movements as CSV (RFC 4180, records end in LF).</summary>
public static class SubledgerCsv
{
    /// <summary>The header record.</summary>
    public static ReadOnlySpan<byte> Header => "event,date,subledger,member,quantity,base,amount,currency,documentamount\n"u8;

    /// <summary>Writes the movements of a landed event.</summary>
    public static void Write(Utf8Text text, BusinessEvent happened, IReadOnlyList<Movement> movements, int companyMinorUnits)
    {
        foreach (var row in movements)
        {
            text.AddCsv(happened.Id).Add((byte)',').Add(happened.Date)
                .Add((byte)',').Add(Words<Subledger>.Of(row.Subledger)).Add((byte)',').AddCsv(row.Member).Add((byte)',');
            if (row.MovedQuantity is { } quantity)
                text.AddPlain(quantity);
            text.Add((byte)',');
            if (row.TaxedBase is { } taxBase)
                text.Add(taxBase, companyMinorUnits);
            text.Add((byte)',').Add(row.Amount, companyMinorUnits).Add((byte)',').Add(row.Value.Currency)
                .Add((byte)',').Add(row.Value.DocumentAmount, Money.MinorUnits(row.Value.Currency)).Add((byte)'\n');
        }
    }
}
