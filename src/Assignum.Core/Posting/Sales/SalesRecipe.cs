using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>
/// Sold goods and services: the party (or the tenders of a till) against revenue and tax, and the cost of what is shipped with it.
/// A credit note is the mirror, on sales returns.
/// </summary>
sealed class SalesRecipe(CompiledRulebook book, OpenDocument open, EntryDraft entry) : DocumentRecipe(book, open, entry)
{
    // Debit positive: an invoice credits revenue, a credit note debits it.
    readonly int revenueSide = open.Traits.IsReturn ? 1 : -1;

    protected override void WriteRows(IReadOnlyList<ComponentTax> taxes, decimal total)
    {
        foreach (var line in Open.Lines)
            WriteLine(line);
        foreach (var tax in taxes)
            WriteTax(tax);
        if (Open.Traits.PartyMayLack)
            WriteTakings(total);
        else
            WriteReceivable(total);
        if (Open.IsComplete || !Open.Traits.PartyMayLack)
            Entry.PostRounding();
    }

    Purpose PurposeOf(OpenLine line)
    {
        if (line.Asset is not null)
            return Purpose.AssetDisposal;
        if (line.Kind == ItemKind.Charge)
            return Purpose.ChargeIncome;
        if (Open.Traits.OfProject)
            return IsAtInvoice(line) ? Purpose.ProjectRevenue : Purpose.ProjectBilled;
        return Open.Traits.IsReturn ? Purpose.SalesReturn : Purpose.Revenue;
    }

    static Purpose PurposeOf(Tender tender)
    {
        if (tender.GiftCard)
            return Purpose.GiftCard;
        return tender.MoneyAccount is not null ? Purpose.Bank : Purpose.PaymentClearing;
    }

    void WriteLine(OpenLine line)
    {
        var purpose = PurposeOf(line);
        if (Open.Options.SeparateDiscounts && line.Asset is null && !Open.Traits.OfProject)
        {
            Entry.Post(purpose, line.Context, revenueSide * line.Gross, line.Account);
            Entry.Post(Purpose.SalesDiscount, line.Context, -revenueSide * line.Discount);
        }
        else
        {
            Entry.Post(purpose, line.Context, revenueSide * line.Net, line.Account);
            MoveProject(purpose, line, Amount(revenueSide * line.Net));
        }
        if (line.Line.StockMoves && line.IsStock(Open.Options) && CostOf(line) is { } cost)
        {
            var takes = Open.Traits.OfProject && !IsAtInvoice(line) ? Purpose.ProjectWip : Purpose.CostOfSales;
            Entry.PostCompany(takes, line.Context, -revenueSide * cost);
            MoveProject(takes, line, CompanyAmount(-revenueSide * cost));
            Entry.PostCompany(Purpose.Inventory, line.Context, revenueSide * cost, line.StandsOn);
            MoveStock(Subledger.Inventory, line, revenueSide * line.Line.Quantity, CompanyAmount(revenueSide * cost));
        }
    }

    void WriteTax(ComponentTax tax)
    {
        if (!tax.Code.ReverseCharge)
            Entry.Post(Purpose.OutputTax, TaxContext(tax), revenueSide * tax.Tax);
        MoveTax(tax, TaxSide.Output, revenueSide * tax.Base, revenueSide * tax.Tax);
    }

    void WriteReceivable(decimal total)
    {
        WriteParty(Purpose.Receivable, -revenueSide * total);
        foreach (var tender in Open.Document.Tenders)
        {
            WriteTender(tender);
            WriteParty(Purpose.Receivable, -tender.Amount);
        }
    }

    void WriteTakings(decimal total)
    {
        foreach (var tender in Open.Document.Tenders)
            WriteTender(tender);
        // While a line is missing, the difference says nothing about the cash.
        if (Open.IsComplete)
            Entry.Post(Purpose.CashDifference, Open.Posting.Row, total - Open.Document.Tenders.Sum(t => t.Amount));
    }

    void WriteTender(Tender tender)
    {
        var facts = Open.Posting.Row.Facts.Copy();
        Book.Set(facts, Fact.MoneyAccount, tender.MoneyAccount);
        Book.Set(facts, Fact.Method, tender.Method);
        Entry.Post(PurposeOf(tender), Open.Posting.Row with { Facts = facts }, tender.Amount);
        if (!tender.GiftCard)
            Entry.Move(new MoneyMovement(tender.MoneyAccount, tender.Method, Open.Document.Connection, Amount(tender.Amount)));
    }
}
