using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Posting;

/// <summary>Tax of one component over the lines of its code, in document currency.</summary>
sealed record ComponentTax(TaxCode Code, TaxComponent Component, decimal Percent, decimal Base, decimal Tax)
{
    internal string Label => Code.Label(Component);
}

/// <summary>Computes a document's tax by code and component, and where prices include it the lines' nets.</summary>
static class DocumentTax
{
    /// <summary>Taxes in the order in which their codes are first used. Sets the lines' nets, and adds reasons where the source's tax differs.</summary>
    internal static IReadOnlyList<ComponentTax> Compute(OpenDocument open, List<HeldReason> reasons)
    {
        var taxes = new List<ComponentTax>();
        foreach (var lines in ByCode(open.Lines))
        {
            var computed = open.Document.PricesIncludeTax ? TakeOutOfPrices(open, lines) : AddToNets(open, lines);
            var taken = TakeAsCharged(open, lines, computed, reasons);
            if (open.Document.PricesIncludeTax && taken.Sum(t => t.Tax) is var tax && tax != computed.Sum(t => t.Tax))
                HandOutNets(open, lines, tax);
            taxes.AddRange(open.Document.Tax.Count == 0 ? taken : WithBasesAsTaken(taken, lines.Sum(line => line.Net)));
        }
        if (open.Document.PricesIncludeTax)
            open.Lines.ForEach(line => TakeTaxOutOfDiscount(open, line));
        RefuseUnusedCharges(open, reasons);
        return taxes;
    }

    static List<List<OpenLine>> ByCode(List<OpenLine> lines)
    {
        var groups = new List<List<OpenLine>>();
        foreach (var line in lines)
        {
            if (line.TaxCode is null)
                continue;
            var group = groups.Find(g => ReferenceEquals(g[0].TaxCode, line.TaxCode));
            if (group is null)
                groups.Add([line]);
            else
                group.Add(line);
        }
        return groups;
    }

    static List<ComponentTax> AddToNets(OpenDocument open, List<OpenLine> lines) => Components(open, lines, upTo: int.MaxValue);

    // Each component is rounded alone, over the document or line by line; a later one may count the earlier ones into its base.
    static List<ComponentTax> Components(OpenDocument open, List<OpenLine> lines, int upTo)
    {
        var code = lines[0].TaxCode!;
        var taxes = new List<ComponentTax>(code.Components.Count);
        var net = lines.Sum(line => line.Net);
        var previous = 0m;
        var previousByLine = open.Options.TaxRounding == TaxRounding.Line ? new decimal[lines.Count] : null;
        foreach (var component in code.Components.Take(upTo))
        {
            var percent = component.PercentOn(open.Document.EffectiveTaxDate)!.Value;
            var compound = component.Base == TaxBase.NetAndPrevious;
            var tax = 0m;
            if (code.ReverseCharge && !open.Traits.Buys)
                tax = 0;
            else if (previousByLine is null)
                tax = Money.Round((net + (compound ? previous : 0)) * percent / 100, open.MinorUnits);
            else
                tax = SumOfLines(lines, previousByLine, compound, percent, open.MinorUnits);
            taxes.Add(new ComponentTax(code, component, percent, net + (compound ? previous : 0), tax));
            previous += tax;
        }
        return taxes;
    }

    static decimal SumOfLines(List<OpenLine> lines, decimal[] previousByLine, bool compound, decimal percent, int minorUnits)
    {
        var sum = 0m;
        for (var i = 0; i < lines.Count; i++)
        {
            var tax = Money.Round((lines[i].Net + (compound ? previousByLine[i] : 0)) * percent / 100, minorUnits);
            previousByLine[i] += tax;
            sum += tax;
        }
        return sum;
    }

    static List<ComponentTax> TakeOutOfPrices(OpenDocument open, List<OpenLine> lines)
    {
        var percent = lines[0].TaxCode!.EffectivePercentOn(open.Document.EffectiveTaxDate)!.Value;
        var tax = open.Options.TaxRounding == TaxRounding.Line
            ? lines.Sum(line => TaxWithin(line.Inclusive, percent, open.MinorUnits))
            : TaxWithin(lines.Sum(line => line.Inclusive), percent, open.MinorUnits);
        HandOutNets(open, lines, tax);

        var components = lines[0].TaxCode!.Components;
        var taxes = Components(open, lines, upTo: components.Count - 1);
        var last = components[^1];
        var before = taxes.Sum(t => t.Tax);
        var lastBase = lines.Sum(line => line.Net) + (last.Base == TaxBase.NetAndPrevious ? before : 0);
        taxes.Add(new ComponentTax(lines[0].TaxCode!, last, last.PercentOn(open.Document.EffectiveTaxDate)!.Value, lastBase, tax - before));
        return taxes;
    }

    // Sets the nets so that they and the tax come to the inclusive prices.
    static void HandOutNets(OpenDocument open, List<OpenLine> lines, decimal tax)
    {
        var percent = lines[0].TaxCode!.EffectivePercentOn(open.Document.EffectiveTaxDate)!.Value;
        var inclusive = lines.ConvertAll(line => line.Inclusive);
        var shares = inclusive.ConvertAll(amount => amount - TaxWithin(amount, percent, open.MinorUnits));
        var whole = inclusive.Sum() - tax;
        var nets = HandingOut.Over(whole, shares, inclusive, open.MinorUnits);
        for (var i = 0; i < lines.Count; i++)
            lines[i].Net = nets[i];
    }

    // A compound base counts the taxes before it as they were taken, also where they were charged.
    static List<ComponentTax> WithBasesAsTaken(List<ComponentTax> taxes, decimal net)
    {
        var previous = 0m;
        return taxes.ConvertAll(tax =>
        {
            var rebased = tax with { Base = net + (tax.Component.Base == TaxBase.NetAndPrevious ? previous : 0) };
            previous += tax.Tax;
            return rebased;
        });
    }

    static decimal TaxWithin(decimal inclusive, decimal percent, int minorUnits) => Money.Round(inclusive * percent / (100 + percent), minorUnits);

    static void TakeTaxOutOfDiscount(OpenDocument open, OpenLine line)
    {
        var percent = line.TaxCode?.EffectivePercentOn(open.Document.EffectiveTaxDate) ?? 0;
        line.Discount = Money.Round(line.Discount * 100 / (100 + percent), open.MinorUnits);
        line.Gross = line.Net + line.Discount;
    }

    static List<ComponentTax> TakeAsCharged(OpenDocument open, List<OpenLine> lines, List<ComponentTax> computed, List<HeldReason> reasons) =>
        open.Document.Tax.Count == 0 ? computed : computed.ConvertAll(tax =>
        {
            if (ChargeFor(open, tax) is not { } charged)
                return tax;
            // By reverse charge the source charges nothing, whatever the receiver owes.
            var (computed, tolerance) = tax.Code.ReverseCharge ? (0, 0) : (tax.Tax, open.Options.TaxTolerance ?? lines.Count * Money.OneUnit(open.MinorUnits));
            if (Math.Abs(charged.Amount - computed) <= tolerance)
                return tax.Code.ReverseCharge ? tax : tax with { Tax = charged.Amount };
            if (open.IsComplete)
                reasons.Add(Differs(tax.Label, charged.Amount, computed, tolerance));
            return tax;
        });

    static ChargedTax? ChargeFor(OpenDocument open, ComponentTax tax) =>
        open.Document.Tax.FirstOrDefault(charged => Fold.Same(charged.TaxCode, tax.Code.Code)
            && (charged.Component is null || Fold.Same(charged.Component, tax.Component.Code)));

    // What is charged under a code that no line has must be 0.
    static void RefuseUnusedCharges(OpenDocument open, List<HeldReason> reasons)
    {
        if (!open.IsComplete)
            return;
        foreach (var charged in open.Document.Tax)
            if (charged.Amount != 0 && !open.Lines.Exists(line => Fold.Same(line.TaxCode?.Code, charged.TaxCode)))
                reasons.Add(Differs(charged.Component is null ? charged.TaxCode : charged.TaxCode + "/" + charged.Component, charged.Amount, 0, 0));
    }

    static HeldReason Differs(string label, decimal charged, decimal computed, decimal tolerance) =>
        new(HeldCause.TaxDiffers, FormattableString.Invariant($"The source charged {charged} of tax {label}, computed is {computed}; the tolerance is ") +
            FormattableString.Invariant($"{tolerance}. Correct the document at its source, or correct the tax code's rate or the company's tax tolerance."));
}
