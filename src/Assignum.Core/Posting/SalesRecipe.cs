using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>
/// Sold goods and services: the party (or the tenders of a till) against revenue and tax, and the cost of what is shipped with it.
/// A credit note is the mirror, on sales returns.
/// </summary>
sealed class SalesRecipe(CompiledRulebook book, OpenDocument open, EntryDraft entry)
{
    // Debit positive: an invoice credits revenue, a credit note debits it.
    readonly int revenueSide = open.Document.Type == DocumentType.SalesCreditNote ? 1 : -1;

    internal DocumentTotals Write(List<HeldReason> reasons)
    {
        var taxes = DocumentTax.Compute(open, reasons);
        var net = open.Lines.Sum(line => line.Net);
        var totals = new DocumentTotals(LineTotals(), [.. taxes.Select(t => new TaxTotals(t.Label, t.Percent, t.Base, t.Tax))], net, taxes.Sum(t => t.Tax));

        foreach (var line in open.Lines)
            WriteLine(line);
        foreach (var tax in taxes)
            WriteTax(tax);
        if (open.Document.Type == DocumentType.Takings)
            WriteTakings(totals.Total);
        else
            WriteReceivable(totals.Total);
        WriteRounding();
        CheckTotal(totals.Total);
        return totals;
    }

    void WriteLine(OpenLine line)
    {
        var purpose = line.Kind == ItemKind.Charge ? Purpose.ChargeIncome
            : open.Document.Type == DocumentType.SalesCreditNote ? Purpose.SalesReturn
            : Purpose.Revenue;
        if (open.Options.SeparateDiscounts)
        {
            entry.Post(purpose, line.Context, revenueSide * line.Gross, line.Account);
            entry.Post(Purpose.SalesDiscount, line.Context, -revenueSide * line.Discount);
        }
        else
        {
            entry.Post(purpose, line.Context, revenueSide * line.Net, line.Account);
        }
        if (line.Line.StockMoves && line.Kind == ItemKind.Stock && open.Options.PerpetualStock)
            WriteStock(line);
    }

    void WriteStock(OpenLine line)
    {
        if (line.UnitCost is not { } unitCost)
        {
            entry.Refuse(new HeldReason(HeldCause.NoCost, line.Item is { } item
                ? $"Item {item.Code} {item.Name} moves with this document and has no cost. Give unitCost on the line, or a cost on the item."
                : $"Goods of group {line.GroupCode} move with this document and have no cost. Give unitCost on the line.") { Item = line.Item?.Code });
            return;
        }
        var cost = Money.Round(line.Line.Quantity * unitCost, open.CompanyMinorUnits);
        entry.PostCompany(Purpose.CostOfSales, line.Context, -revenueSide * cost);
        entry.PostCompany(Purpose.Inventory, line.Context, revenueSide * cost, line.StandsOn);
        entry.Move(new SubledgerRow(Subledger.Inventory, $"{line.Item?.Code ?? line.GroupCode}@{line.Context.Location?.Code}",
            revenueSide * line.Line.Quantity, null, revenueSide * cost, open.CompanyCurrency, revenueSide * cost));
    }

    void WriteTax(ComponentTax tax)
    {
        if (!tax.Code.ReverseCharge)
            entry.Post(Purpose.OutputTax, TaxContext(tax), revenueSide * tax.Tax);
        entry.Move(new SubledgerRow(Subledger.Tax, tax.Label, null, open.Company(revenueSide * tax.Base), open.Company(revenueSide * tax.Tax),
            open.Currency, revenueSide * tax.Tax));
    }

    RowContext TaxContext(ComponentTax tax)
    {
        var facts = open.Context.Facts.Copy();
        facts[Fact.TaxCode] = book.TaxCodes.IdOf(tax.Code.Code);
        book.Set(facts, Fact.Authority, tax.Component.Authority);
        return open.Context with { Facts = facts, TaxLabel = tax.Label };
    }

    void WriteReceivable(decimal total)
    {
        Receivable(-revenueSide * total);
        foreach (var tender in open.Document.Tenders)
        {
            WriteTender(tender);
            Receivable(-tender.Amount);
        }
    }

    void Receivable(decimal amount)
    {
        entry.Post(Purpose.Receivable, open.Context, amount);
        entry.Move(new SubledgerRow(Subledger.Receivables, open.Party!.Code, null, null, open.Company(amount), open.Currency, amount));
    }

    void WriteTakings(decimal total)
    {
        foreach (var tender in open.Document.Tenders)
            WriteTender(tender);
        // While a line is missing, the difference says nothing about the cash.
        if (open.IsComplete)
            entry.Post(Purpose.CashDifference, open.Context, total - open.Document.Tenders.Sum(t => t.Amount));
    }

    void WriteTender(Tender tender)
    {
        var facts = open.Context.Facts.Copy();
        book.Set(facts, Fact.MoneyAccount, tender.MoneyAccount);
        book.Set(facts, Fact.Method, tender.Method);
        var purpose = tender.GiftCard ? Purpose.GiftCard : tender.MoneyAccount is not null ? Purpose.Bank : Purpose.PaymentClearing;
        entry.Post(purpose, open.Context with { Facts = facts }, tender.Amount);
        if (!tender.GiftCard)
            entry.Move(new SubledgerRow(Subledger.Bank, (tender.MoneyAccount ?? tender.Method)!.Trim(), null, null, open.Company(tender.Amount), open.Currency, tender.Amount));
    }

    void WriteRounding()
    {
        if (open.IsComplete || open.Document.Type != DocumentType.Takings)
            entry.PostRounding();
    }

    void CheckTotal(decimal total)
    {
        if (open.IsComplete && open.Document.Total is { } said && said != total)
            entry.Refuse(new HeldReason(HeldCause.TotalDiffers, FormattableString.Invariant($"The source says the total is {said}, computed is {total}. Compare prices, discounts and tax with the source, and correct the one that is wrong.")));
    }

    LineTotals?[] LineTotals()
    {
        var totals = new LineTotals?[open.Document.Lines.Count];
        foreach (var line in open.Lines)
            totals[line.Index] = new LineTotals(line.Gross, line.Discount, line.Net, line.TaxCode?.Code, line.TaxFrom);
        return totals;
    }
}
