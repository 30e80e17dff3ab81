using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What all priced documents share: shape, codes, tax by code, the party's total, rounding, and the comparison with what the source says.</summary>
abstract class DocumentRecipe(CompiledRulebook book, OpenDocument open, EntryDraft entry)
{
    /// <summary>The rulebook.</summary>
    protected CompiledRulebook Book => book;
    /// <summary>The document, opened.</summary>
    protected OpenDocument Open => open;
    /// <summary>The entry in the making.</summary>
    protected EntryDraft Entry => entry;

    internal static Attempt Land(CompiledRulebook book, Document document)
    {
        if (DocumentShape.FirstFault(document, Fold.Of(book.Book.Company.Currency)) is { } fault)
            return new(new Held([fault]), null);
        var reasons = new List<HeldReason>();
        if (OpenDocument.Open(book, document, reasons, out var open) is { } unknown)
            return new(new Held([unknown]), null);

        var entry = new EntryDraft(book, open.Posting, reasons);
        DocumentRecipe recipe = open.Traits.Buys ? new PurchaseRecipe(book, open, entry) : new SalesRecipe(book, open, entry);
        var totals = recipe.Write(reasons);
        var sofar = new Landed(entry.Rows, entry.Subledger) { Totals = totals, Warnings = entry.Warnings };
        return new(reasons.Count == 0 ? sofar : new Held([.. reasons.Distinct()]) { Warnings = entry.Warnings }, sofar);
    }

    /// <summary>Goods that leave with the document, or come back: their cost, and the account they stand on; of a supplier's invoice, what was received before.
    /// </summary>
    internal static Document Prepare(Preparation.Preparing preparing, Document document)
    {
        var traits = DocumentTraits.Of(document.Type);
        // What comes with a supplier's invoice is worth what the invoice says.
        return traits.Buys && !traits.IsReturn ? document with { Lines = preparing.Received(document) }
            : document with { Lines = preparing.Goods(document.Lines, traits.Buys == traits.IsReturn ? 1 : -1) };
    }

    DocumentTotals Write(List<HeldReason> reasons)
    {
        var taxes = DocumentTax.Compute(open, reasons);
        var totals = new DocumentTotals(LineTotals(), [.. taxes.Select(t => new TaxTotals(t.Label, t.Percent, t.Base, t.Tax))],
            open.Lines.Sum(line => line.Net), taxes.Where(t => !t.Code.ReverseCharge).Sum(t => t.Tax)) { Owes = open.Traits.Owes };
        WriteRows(taxes, totals.Total);
        if (open.IsComplete && open.Document.Total is { } said && said != totals.Total)
            entry.Refuse(new HeldReason(HeldCause.TotalDiffers, 
                FormattableString.Invariant($"The source says the total is {said}, computed is {totals.Total}. ")
                + "Compare prices, discounts and tax with the source, and correct the one that is wrong."));
        return totals;
    }

    /// <summary>Writes rows and movements, the rounding last.</summary>
    /// <param name="taxes">Tax by code and component.</param>
    /// <param name="total">What the party owes or is owed, document currency.</param>
    protected abstract void WriteRows(IReadOnlyList<ComponentTax> taxes, decimal total);

    /// <summary>What a tax row resolves with: the document's facts, the code and its authority.</summary>
    protected RowContext TaxContext(ComponentTax tax)
    {
        var facts = open.Posting.Row.Facts.Copy();
        facts[Fact.TaxCode] = book.TaxCodes.IdOf(tax.Code.Code);
        book.Set(facts, Fact.Authority, tax.Component.Authority);
        return open.Posting.Row with { Facts = facts, TaxLabel = tax.Label };
    }

    /// <summary>What moves with a line at its unit cost, company currency; null, with a reason, where there is no cost.</summary>
    protected decimal? CostOf(OpenLine line)
    {
        if (line.UnitCost is { } unitCost)
            return open.Posting.Worth(line.Line.Quantity, unitCost);
        entry.Refuse(new HeldReason(HeldCause.NoCost, line.Item is { } item
            ? $"Item {item.Code} {item.Name} moves with this document and has no cost. Give unitCost on the line, or a cost on the item."
            : $"Goods of group {line.GroupCode} move with this document and have no cost. Give unitCost on the line.") { Item = line.Item?.Code });
        return null;
    }

    /// <summary>An amount of the document as what moves.</summary>
    protected Moved Amount(decimal amount) => new(open.Company(amount), open.Posting.Currency, amount);

    /// <summary>An amount that arises in company currency as what moves.</summary>
    protected Moved CompanyAmount(decimal amount) => new(amount, open.Posting.CompanyCurrency, amount);

    /// <summary>What the party owes or is owed, and its movement: the document opens an item.</summary>
    protected void WriteParty(Purpose purpose, decimal amount)
    {
        purpose = purpose.With(open.Posting.Party);
        entry.Post(purpose, open.Posting.Row, amount);
        entry.Move(PartyMovement.Of(purpose, open.Posting.Party!, open.Document.Id, open.Document.DueDate ?? open.Document.Date, Amount(amount)));
    }

    /// <summary>What of a line's project moves with a row of a purpose; nothing where the purpose is none of those that stand there.</summary>
    protected void MoveProject(Purpose purpose, OpenLine line, Moved value)
    {
        if (ProjectPlace.Movement(book, purpose, line.Context.Facts, value) is { } movement)
            entry.Move(movement);
    }

    /// <summary>Whether a line's project keeps no work in progress.</summary>
    protected bool IsAtInvoice(OpenLine line) => ProjectPlace.IsAtInvoice(book, line.Context.Facts);

    /// <summary>A movement of a line's goods.</summary>
    protected void MoveStock(Subledger subledger, OpenLine line, decimal quantity, Moved value) =>
        entry.Move(new StockMovement(subledger, line.Item, line.GroupCode, line.Context.Location, quantity, value));

    /// <summary>A tax entry; base and tax in document currency.</summary>
    protected void MoveTax(ComponentTax tax, TaxSide side, decimal taxed, decimal amount) =>
        entry.Move(new TaxMovement(tax.Code, tax.Component, side, open.Company(taxed), Amount(amount)));

    LineTotals?[] LineTotals()
    {
        var totals = new LineTotals?[open.Document.Lines.Count];
        foreach (var line in open.Lines)
            totals[line.Index] = new LineTotals(line.Gross, line.Discount, line.Net, line.TaxCode?.Code, line.TaxFrom);
        return totals;
    }
}
