using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>
/// Bought goods and services: expense, stock, or what waits for its receipt, and input tax, against the party. Tax that can't be recovered is cost of the
/// lines it
/// belongs to. A credit note is the mirror.
/// </summary>
sealed class PurchaseRecipe(CompiledRulebook book, OpenDocument open, EntryDraft entry) : DocumentRecipe(book, open, entry)
{
    // Debit positive: an invoice debits what is bought, a credit note credits it.
    readonly int side = open.Traits.IsReturn ? -1 : 1;

    /// <summary>The row that a line's own cost stands on.</summary>
    readonly record struct Main(Purpose Purpose, Account? Answer = null, Account? StandsOn = null);

    protected override void WriteRows(IReadOnlyList<ComponentTax> taxes, decimal total)
    {
        var mains = new Dictionary<OpenLine, Main>(ReferenceEqualityComparer.Instance);
        foreach (var line in Open.Lines)
            mains[line] = WriteLine(line);
        foreach (var tax in taxes)
            WriteTax(tax, mains);
        WriteParty(Purpose.Payable, -side * total);
        Entry.PostRounding();
    }

    Main WriteLine(OpenLine line)
    {
        var stock = line.IsStock(Open.Options);
        var apart = Open.Options.SeparateDiscounts && !stock && line.Asset is null && !line.Line.ToProject;
        var worth = apart ? line.Gross : line.Net;
        var main = WriteMain(line, stock, worth);
        if (apart)
            Entry.Post(Purpose.PurchaseDiscount, line.Context, -side * line.Discount);
        return main;
    }

    Main WriteMain(OpenLine line, bool stock, decimal worth)
    {
        if (Received(line, stock) is { } received)
            return WriteReceived(line, stock, worth, received);
        if (!stock)
            return WriteCost(line, CostPurpose(line), worth);
        if (line.Line.StockMoves)
            return Open.Traits.IsReturn ? WriteReturned(line, worth) : WriteStock(line, worth);
        return Open.Traits.IsReturn ? WriteCost(line, Purpose.PriceVariance, worth) : WriteWaiting(line, worth);
    }

    // What was received before, company currency; goods of kind stock that are not kept in stock never were.
    decimal? Received(OpenLine line, bool stock)
    {
        if (line.Kind == Groups.ItemKind.Stock && !stock)
            return null;
        if (line.Line.ReceivedCost is { } unit)
            return Open.Posting.Worth(line.Line.Quantity, unit);
        return line.Line.ReceivedAmount;
    }

    // What waited for the invoice goes, and what the invoice says beyond it is variance or expense.
    Main WriteReceived(OpenLine line, bool stock, decimal worth, decimal received)
    {
        var rest = stock ? Purpose.PriceVariance : CostPurpose(line);
        Entry.PostCompany(Purpose.GoodsReceivedNotInvoiced, line.Context, side * received, line.StandsOn);
        MoveStock(Subledger.Purchasing, line, side * line.Line.Quantity, CompanyAmount(side * received));
        Entry.PostRest(rest, line.Context, side * worth, side * received);
        Count(rest, line, 0, CompanyAmount(Open.Company(side * worth) - (side * received)));
        return new(rest);
    }

    Main WriteStock(OpenLine line, decimal worth)
    {
        Entry.Post(Purpose.Inventory, line.Context, side * worth, standsOn: line.StandsOn);
        Count(Purpose.Inventory, line, side * line.Line.Quantity, Amount(side * worth));
        return new(Purpose.Inventory, StandsOn: line.StandsOn);
    }

    Main WriteReturned(OpenLine line, decimal worth)
    {
        if (CostOf(line) is { } cost)
        {
            Entry.PostCompany(Purpose.Inventory, line.Context, side * cost, line.StandsOn);
            MoveStock(Subledger.Inventory, line, side * line.Line.Quantity, CompanyAmount(side * cost));
            Entry.PostRest(Purpose.PriceVariance, line.Context, side * worth, side * cost);
        }
        return new(Purpose.PriceVariance);
    }

    // It waits for its receipt.
    Main WriteWaiting(OpenLine line, decimal worth)
    {
        Entry.Post(Purpose.GoodsReceivedNotInvoiced, line.Context, side * worth);
        Count(Purpose.GoodsReceivedNotInvoiced, line, side * line.Line.Quantity, Amount(side * worth));
        return new(Purpose.GoodsReceivedNotInvoiced);
    }

    Main WriteCost(OpenLine line, Purpose purpose, decimal worth)
    {
        Entry.Post(purpose, line.Context, side * worth, line.Account);
        Count(purpose, line, 0, Amount(side * worth));
        return new(purpose, line.Account);
    }

    // What is neither stock nor an asset is expense, or cost of the project it was bought for.
    Purpose CostPurpose(OpenLine line)
    {
        if (line.Asset is not null)
            return Purpose.AssetCost;
        if (!line.Line.ToProject)
            return Purpose.PurchaseExpense;
        return IsAtInvoice(line) ? Purpose.ProjectCost : Purpose.ProjectWip;
    }

    // What the subledger of the row's purpose counts.
    void Count(Purpose purpose, OpenLine line, decimal quantity, Moved value)
    {
        if (purpose == Purpose.Inventory)
            MoveStock(Subledger.Inventory, line, quantity, value);
        else if (purpose == Purpose.GoodsReceivedNotInvoiced)
            MoveStock(Subledger.Purchasing, line, quantity, value);
        else if (purpose == Purpose.AssetCost)
            Entry.Move(new AssetMovement(line.Asset!, AssetPart.Cost, value));
        else
            MoveProject(purpose, line, value);
    }

    void WriteTax(ComponentTax tax, Dictionary<OpenLine, Main> mains)
    {
        var recovered = Money.Round(tax.Tax * tax.Component.RecoverablePercent / 100, Open.MinorUnits);
        Entry.Post(Purpose.InputTax, TaxContext(tax), side * recovered);
        MoveTax(tax, TaxSide.Input, side * tax.Base, side * recovered);
        if (tax.Code.ReverseCharge)
        {
            Entry.Post(Purpose.OutputTax, TaxContext(tax), -side * tax.Tax);
            MoveTax(tax, TaxSide.Reverse, -side * tax.Base, -side * tax.Tax);
        }
        if (tax.Tax != recovered)
            WriteAsCost(tax, tax.Tax - recovered, mains);
    }

    // Tax that is not recovered belongs to the lines it was charged for.
    void WriteAsCost(ComponentTax tax, decimal cost, Dictionary<OpenLine, Main> mains)
    {
        var lines = Open.Lines.FindAll(line => ReferenceEquals(line.TaxCode, tax.Code));
        var shares = HandingOut.Over(cost, lines.ConvertAll(line => OwnShare(line, tax)), lines.ConvertAll(line => line.Net), Open.MinorUnits);
        for (var i = 0; i < lines.Count; i++)
        {
            var main = mains[lines[i]];
            Entry.Post(main.Purpose, lines[i].Context, side * shares[i], main.Answer, main.StandsOn);
            Count(main.Purpose, lines[i], 0, Amount(side * shares[i]));
        }
    }

    // The line's own base for a component counts the line's own taxes before it, each rounded.
    decimal OwnShare(OpenLine line, ComponentTax tax)
    {
        var before = 0m;
        foreach (var component in tax.Code.Components)
        {
            var own = line.Net + (component.Base == Taxes.TaxBase.NetAndPrevious ? before : 0);
            var percent = component.PercentOn(Open.Document.EffectiveTaxDate)!.Value;
            if (ReferenceEquals(component, tax.Component))
                return Money.Round(own * percent / 100 * (100 - component.RecoverablePercent) / 100, Open.MinorUnits);
            before += Money.Round(own * percent / 100, Open.MinorUnits);
        }
        return 0;
    }
}
