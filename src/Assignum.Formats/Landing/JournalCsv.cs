using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.Formats.Landing;

/// <summary>The journal as CSV (RFC 4180, records end in LF), one row a ledger line.</summary>
public static class JournalCsv
{
    /// <summary>The header record.</summary>
    public static ReadOnlySpan<byte> Header =>
        "event,line,date,account,debit,credit,currency,amount,purpose,rung,rule,party,item,location,project,taxcode,dimensions,text\n"u8;

    /// <summary>Writes the rows of a landed event.</summary>
    /// <param name="text">Where to.</param>
    /// <param name="happened">The event.</param>
    /// <param name="rows">Its rows.</param>
    /// <param name="companyMinorUnits">Minor units of the company's currency.</param>
    public static void Write(Utf8Text text, BusinessEvent happened, IReadOnlyList<EntryRow> rows, int companyMinorUnits)
    {
        // What every row of an event begins with is written once and copied.
        var (id, idLength, minorUnits, currency) = (text.Length, 0, companyMinorUnits, "");
        for (var i = 0; i < rows.Count; i++)
        {
            var row = rows[i];
            if (i == 0)
                idLength = text.AddCsv(happened.Id).Add((byte)',').Length - id;
            else
                text.Again(id, idLength);
            if (!ReferenceEquals(currency, row.Currency))
                (currency, minorUnits) = (row.Currency, Money.MinorUnits(row.Currency));
            text.Add(i + 1).Add((byte)',').Add(happened.Date).Add((byte)',').AddCsv(row.Account.Number).Add((byte)',');
            if (row.Amount > 0)
                text.Add(row.Amount, companyMinorUnits).Add((byte)',');
            else
                text.Add((byte)',').Add(-row.Amount, companyMinorUnits);
            text.Add((byte)',').Add(currency).Add((byte)',').Add(row.DocumentAmount, minorUnits)
                .Add((byte)',').Add(row.Purpose?.Name).Add((byte)',').Add(row.RungName).Add((byte)',').AddCsv(row.Rule?.Id)
                .Add((byte)',').AddCsv(row.Context.Party?.Code).Add((byte)',').AddCsv(row.Context.Item?.Code)
                .Add((byte)',').AddCsv(row.Context.Location?.Code).Add((byte)',').AddCsv(row.Context.Project)
                .Add((byte)',').AddCsv(row.Context.TaxLabel).Add((byte)',').AddCsv(row.Dimensions.ToString())
                .Add((byte)',').AddCsv(row.Context.Text).Add((byte)'\n');
        }
    }
}
