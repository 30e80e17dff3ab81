using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;

namespace Assignum.Core.Posting;

/// <summary>What a line of a payout is.</summary>
public enum PayoutKind { Receipt, Refund, Fee, Dispute, DisputeWon, Held, Freed, Adjustment }

/// <summary>A line of a payout.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Amount">Company currency, above 0; of an adjustment signed, what is taken negative.</param>
/// <param name="TaxCode">Tax on a fee, on top of its amount.</param>
public sealed record PayoutLine(PayoutKind Kind, decimal Amount, string? TaxCode);

/// <summary>What whoever collects payments pays out: receipts less refunds, fees and what is held back.</summary>
public sealed record Payout : BusinessEvent
{
    /// <summary>A payout with no header yet.</summary>
    public Payout() { }

    /// <summary>A payout under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Payout(EventHeader header, string moneyAccount) : base(header) => MoneyAccount = moneyAccount;

    /// <summary>Code of the money account it is paid to.</summary>
    public required string MoneyAccount { get; init; }
    /// <summary>What it is made of.</summary>
    public IReadOnlyList<PayoutLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "payout";
}

/// <summary>Each line on its account, a fee with its tax, and the bank with what is left, on either side.</summary>
sealed class PayoutRecipe(CompiledRulebook book, Payout payout) : Recipe<Payout>(book, payout)
{
    internal static EventType Type { get; } = new(Payout.Name, EventFamily.Payouts,
    [
        new("moneyAccount", FieldKind.Code) { Required = true },
        new("lines", FieldKind.List)
        {
            Required = true,
            Inner = [new("kind", FieldKind.Word) { Required = true, Words = Words<PayoutKind>.All }, new("amount", FieldKind.Amount) { Required = true },
                new("taxCode", FieldKind.Code)],
        },
    ], static (book, happened) => new PayoutRecipe(book, (Payout)happened).Land());

    protected override string? MoneyAccount => Happened.MoneyAccount;

    protected override HeldReason? ShapeFault(Shape shape)
    {
        if (Happened.Connection is null)
            return HeldReason.Invalid("connection", "Who pays out is missing. Name the connection.");
        if (Happened.Method is null)
            return HeldReason.Invalid("method", "What is paid out is missing. Name the payment method.");
        if (Posting.IsConverted)
            return HeldReason.Invalid("currency",
                $"A payout is in company currency {Posting.CompanyCurrency}, and this one is in {Posting.Currency}. " +
                $"Give its amounts in {Posting.CompanyCurrency}.");
        return Shape.FirstOf(Happened.Lines, (line, i) => LineFault(shape, line, new Place("lines", i)));
    }

    static HeldReason? LineFault(Shape shape, PayoutLine line, Place place)
    {
        if (line.TaxCode is not null && line.Kind != PayoutKind.Fee)
            return HeldReason.Invalid(place.Of("taxCode"), $"{place.InWords}: only a fee has a tax code. Leave it out.");
        if (line.Kind != PayoutKind.Adjustment)
            return shape.AboveZero(place, "amount", line.Amount);
        return line.Amount == 0 ? Shape.Fault(place, "amount", "is 0. Leave the line out, or give an amount") : shape.OfMoney(place, "amount", line.Amount);
    }

    protected override void Write()
    {
        for (var i = 0; i < Happened.Lines.Count; i++)
            Write(Happened.Lines[i], new Place("lines", i));
        if (!IsComplete)
            return;
        var left = -Entry.Balance;
        Entry.Post(Purpose.Bank, Row, left);
        Entry.Move(new MoneyMovement(Happened.MoneyAccount, null, null, Amount(left)));
    }

    void Write(PayoutLine line, Place place)
    {
        var row = Row with { Line = place.Index };
        switch (line.Kind)
        {
            case PayoutKind.Receipt: WriteClearing(row, -line.Amount); break;
            case PayoutKind.Refund: WriteClearing(row, line.Amount); break;
            case PayoutKind.Dispute or PayoutKind.Held: WriteHeld(row, line.Amount); break;
            case PayoutKind.DisputeWon or PayoutKind.Freed: WriteHeld(row, -line.Amount); break;
            case PayoutKind.Adjustment: Entry.Post(Purpose.ProcessingFee, row, -line.Amount); break;
            default: WriteFee(line, place, row); break;
        }
    }

    void WriteClearing(RowContext row, decimal amount)
    {
        Entry.Post(Purpose.PaymentClearing, row, amount);
        Entry.Move(new MoneyMovement(null, Happened.Method, Happened.Connection, Amount(amount)));
    }

    void WriteHeld(RowContext row, decimal amount)
    {
        Entry.Post(Purpose.HeldFunds, row, amount);
        Entry.Move(new MoneyMovement(null, null, Happened.Connection, Amount(amount)));
    }

    void WriteFee(PayoutLine line, Place place, RowContext row)
    {
        TaxCode? code = null;
        if (!Matches(unknown => code = Matching.Code(Book.TaxCodes, line.TaxCode, place, "taxCode", "tax code", unknown)))
            return;
        Entry.Post(Purpose.ProcessingFee, row, line.Amount);
        if (code is null)
            return;
        if (WhyNot(code, place) is { } reason)
        {
            Refuse(reason);
            return;
        }
        var before = 0m;
        foreach (var component in code.Components)
        {
            var taxed = line.Amount + (component.Base == TaxBase.NetAndPrevious ? before : 0);
            var tax = Money.Round(taxed * component.PercentOn(Happened.EffectiveTaxDate)!.Value / 100, Posting.MinorUnits);
            WriteTax(code, component, row, taxed, tax);
            before += tax;
        }
    }

    HeldReason? WhyNot(TaxCode code, Place place)
    {
        if (code.Direction == TaxDirection.Sales)
            return HeldReason.Invalid(place.Of("taxCode"),
                $"{place.InWords}: tax code {code.Code} is for sales only, and a fee is bought. Choose one for purchases.");
        return code.EffectivePercentOn(Happened.EffectiveTaxDate) is not null ? null : new HeldReason(HeldCause.NoTaxRule,
            $"Tax code {code.Code} has no rate on {Written.DayNow(Happened.EffectiveTaxDate)}. Add a rate that begins on or before that day.")
            { TaxCode = code.Code };
    }

    void WriteTax(TaxCode code, TaxComponent component, RowContext row, decimal taxed, decimal tax)
    {
        var recovered = Money.Round(tax * component.RecoverablePercent / 100, Posting.MinorUnits);
        var facts = row.Facts.Copy();
        facts[Fact.TaxCode] = Book.TaxCodes.IdOf(code.Code);
        Book.Set(facts, Fact.Authority, component.Authority);
        var ofTax = row with { Facts = facts, TaxLabel = code.Label(component) };
        Entry.Post(Purpose.InputTax, ofTax, recovered);
        Entry.Move(new TaxMovement(code, component, TaxSide.Input, Posting.Company(taxed), Amount(recovered)));
        if (code.ReverseCharge)
        {
            Entry.Post(Purpose.OutputTax, ofTax, -tax);
            Entry.Move(new TaxMovement(code, component, TaxSide.Reverse, -Posting.Company(taxed), Amount(-tax)));
        }
        Entry.Post(Purpose.ProcessingFee, row, tax - recovered);
    }
}
