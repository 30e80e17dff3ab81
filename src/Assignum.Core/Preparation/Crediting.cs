using Assignum.Core.Posting;

namespace Assignum.Core.Preparation;

/// <summary>A credit note beside the invoice it refers to: it may not take off more than is left of it.</summary>
sealed class Crediting
{
    readonly Document note, invoice;
    readonly List<Document> earlier;
    readonly int minorUnits;

    Crediting(Document note, Document invoice, IEnumerable<Document> earlier, int minorUnits) =>
        (this.note, this.invoice, this.earlier, this.minorUnits) = (note, invoice, [.. earlier], minorUnits);

    /// <summary>The crediting of a note; null where it refers to nothing, or to no invoice that the books have.</summary>
    /// <param name="happened">Any event.</param>
    /// <param name="invoices">The invoices.</param>
    /// <param name="minorUnits">Minor units of the note's currency.</param>
    internal static Crediting? Of(BusinessEvent happened, Invoices invoices, int minorUnits)
    {
        if (happened is not Document { RefersTo: { } id } note || DocumentTraits.Of(note.Type) is not { IsReturn: true } traits)
            return null;
        return invoices.Find(id) is { } invoice && DocumentTraits.Of(invoice.Type) is { IsReturn: false, PartyMayLack: false } own && own.Buys == traits.Buys
            ? new(note, invoice, invoices.CreditsOf(id, note.Id), minorUnits) : null;
    }

    /// <summary>The credit notes that would not fit their invoice any more as it is revised.</summary>
    /// <param name="happened">Any event.</param>
    /// <param name="invoices">The invoices, with their credit notes.</param>
    /// <param name="minorUnits">Minor units of its currency.</param>
    /// <param name="companyCurrency">The currency of documents that name none.</param>
    internal static IEnumerable<HeldReason> NotesLeftOver(BusinessEvent happened, Invoices invoices, int minorUnits, string companyCurrency)
    {
        if (happened is not Document { Revision: > 1 } invoice || DocumentTraits.Of(invoice.Type).IsReturn || invoices.Find(invoice.Id) is null)
            yield break;
        var notes = invoices.CreditsOf(invoice.Id, invoice.Id).ToList();
        for (var i = 0; i < notes.Count; i++)
            if (new Crediting(notes[i], invoice, notes.Take(i), minorUnits).Misfits(companyCurrency).FirstOrDefault() is { } misfit)
                yield return HeldReason.Invalid("lines", $"The credit note {notes[i].Id} would not fit {invoice.Id} any more: {misfit.Message} Or take back " +
                    $"{notes[i].Id} first.");
    }

    /// <summary>The invoice.</summary>
    internal Document Invoice => invoice;

    /// <summary>The line of the invoice that a line refers to: the one it names, else the only one of the same item, group or account.</summary>
    internal int? LineOf(DocumentLine line)
    {
        if (line.RefersToLine is { } named)
            return named >= 1 && named <= invoice.Lines.Count ? named - 1 : null;
        var alike = Enumerable.Range(0, invoice.Lines.Count).Where(i => invoice.Lines[i].Price is not 0 && Alike(invoice.Lines[i], line))
            .Take(2).ToList();
        return alike.Count == 1 ? alike[0] : null;
    }

    static bool Alike(DocumentLine one, DocumentLine other) =>
        Fold.Same(one.Item, other.Item) && Fold.Same(one.ItemGroup, other.ItemGroup) && Fold.Same(one.Account, other.Account);

    /// <summary>Everything that does not fit the invoice.</summary>
    /// <param name="companyCurrency">The currency of documents that name none.</param>
    internal IEnumerable<HeldReason> Misfits(string companyCurrency)
    {
        if (!Fold.Same(note.Party, invoice.Party))
            yield return HeldReason.Invalid("party", $"The credit note is for {note.Party}, and {invoice.Id}, to which it refers, for {invoice.Party}. " +
                "Correct the party, or the invoice it refers to.");
        var (own, its) = (Fold.Of(note.Currency ?? companyCurrency), Fold.Of(invoice.Currency ?? companyCurrency));
        if (own != its)
        {
            yield return HeldReason.Invalid("currency", $"The credit note is in {own}, and {invoice.Id}, to which it refers, in {its}. Credit it in {its}.");
            yield break;
        }
        for (var i = 0; i < note.Lines.Count; i++)
            if (MisfitOf(i) is { } misfit)
                yield return misfit;
        if (AmountsCompare && Left(earlier, null) is var left && Sum(note.Lines) is var sum && sum > left)
            yield return HeldReason.Invalid("lines", $"The credit note takes {Shown(sum)} off {invoice.Id}, of which {Shown(left)} is left to credit. " +
                "Correct quantities or prices, or leave out what it refers to.");
    }

    HeldReason? MisfitOf(int index)
    {
        var (line, where) = (note.Lines[index], $"Line {index + 1}");
        string Field(string name) => $"lines[{index}].{name}";
        if (LineOf(line) is not { } at)
            return line.RefersToLine is { } named
                ? HeldReason.Invalid(Field("refersToLine"), $"{where}: {invoice.Id} has {invoice.Lines.Count} lines, and none with the number {named}. " +
                    "Correct the line it refers to.")
                : null;
        if (!Alike(invoice.Lines[at], line))
            return HeldReason.Invalid(Field("refersToLine"), $"{where}: line {at + 1} of {invoice.Id} is over something else. Correct the item or the line.");
        if (line.StockMoves && QuantityOver(index, at) is { } over)
            return HeldReason.Invalid(Field("quantity"), $"{where}: {Written.NumberNow(over.Back)} come back of line {at + 1} of {invoice.Id}, of which " +
                $"{Written.NumberNow(over.Left)} are left. Correct the quantity.");
        if (AmountsCompare && NetOf(invoice.Lines[at]) > 0 && Left(earlier, at) is var left && Sum(UpTo(index, at)) > left)
            return HeldReason.Invalid(Field("price"), $"{where}: {Shown(NetOf(line))} is taken off line {at + 1} of {invoice.Id}, more than what is left of " +
                "it. Correct quantity or price.");
        return null;
    }

    // Goods that come back, the note's own lines before this one counted.
    (decimal Back, decimal Left)? QuantityOver(int index, int at)
    {
        static decimal Back(IEnumerable<DocumentLine> lines) => lines.Where(line => line.StockMoves).Sum(line => line.Quantity);
        var left = invoice.Lines[at].Quantity - Back(earlier.SelectMany(credit => credit.Lines).Where(line => LineOf(line) == at))
            - Back(UpTo(index, at).SkipLast(1));
        return note.Lines[index].Quantity > left ? (note.Lines[index].Quantity, Math.Max(0, left)) : null;
    }

    IEnumerable<DocumentLine> UpTo(int index, int at) => note.Lines.Take(index + 1).Where(line => LineOf(line) == at);

    // Prices with tax are not held against prices without it.
    bool AmountsCompare => earlier.Append(note).All(credit => credit.PricesIncludeTax == invoice.PricesIncludeTax);

    decimal Left(List<Document> credits, int? at) =>
        Sum(at is { } one ? [invoice.Lines[one]] : invoice.Lines)
        - Sum(credits.SelectMany(credit => credit.Lines).Where(line => at is null || LineOf(line) == at));

    decimal Sum(IEnumerable<DocumentLine> lines) => lines.Sum(NetOf);

    decimal NetOf(DocumentLine line) => line.Net(minorUnits);

    string Shown(decimal amount) => amount.ToString("N" + minorUnits, Written.Now) + (note.Currency is { } currency ? " " + currency : "");
}
