using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Which way money goes between the company and a party.</summary>
public enum PaymentType { CustomerPayment, SupplierPayment, Refund }

/// <summary>Money that settles what a party owes or is owed, or that is given back.</summary>
public sealed record Payment : BusinessEvent
{
    /// <summary>A payment with no header yet.</summary>
    public Payment() { }

    /// <summary>A payment under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Payment(EventHeader header, decimal amount) : base(header) => (Type, Amount) = (Words<PaymentType>.Parse(header.Type), amount);

    /// <summary>Which payment it is.</summary>
    public required PaymentType Type { get; init; }
    /// <summary>The money, document currency, above 0.</summary>
    public required decimal Amount { get; init; }
    /// <summary>Discount for early payment, 0 or more.</summary>
    public decimal Discount { get; init; }
    /// <summary>A small difference that is let go, signed.</summary>
    public decimal Tolerance { get; init; }
    /// <summary>Code of the money account; null where a method is given.</summary>
    public string? MoneyAccount { get; init; }
    /// <summary>Rate at which what it settles was booked; null: the payment's.</summary>
    public decimal? InvoiceRate { get; init; }
    /// <summary>The parts of open items that it settles.</summary>
    public IReadOnlyList<SettledPart> Settles { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Words<PaymentType>.Of(Type);
}

/// <summary>
/// A customer's money, discount and tolerance against what the customer owes; for a supplier the mirror, for a refund money alone against what is owed.
/// What the money is worth more or less than what it settles was booked at is exchange gain or loss.
/// </summary>
sealed class PaymentRecipe(CompiledRulebook book, Payment payment) : SettlingRecipe<Payment>(book, payment)
{
    static readonly EventField Amounts = new("amount", FieldKind.Amount) { Required = true };

    internal static IReadOnlyList<EventType> Types { get; } = [.. Enum.GetValues<PaymentType>().Select(type => new EventType(Words<PaymentType>.Of(type),
        EventFamily.Payments,
        [
            Amounts, .. type == PaymentType.Refund ? Array.Empty<EventField>() : [new("discount", FieldKind.Amount), new("tolerance", FieldKind.Amount)],
            new("moneyAccount", FieldKind.Code), new("invoiceRate", FieldKind.Amount), SettledPart.Fields,
        ], static (book, happened) => new PaymentRecipe(book, (Payment)happened).Land())
        {
            Prepare = static (preparing, happened) => Prepare(preparing, (Payment)happened),
        })];

    // A customer's payment takes away what stands in debit, a refund and a supplier's payment what stands in credit.
    static Payment Prepare(Preparation.Preparing preparing, Payment payment) => payment with
    {
        Settles = preparing.Parts(payment.Settles, payment.Amount + payment.Discount + payment.Tolerance,
            payment.Type == PaymentType.SupplierPayment ? Purpose.Payable : Purpose.Receivable, payment.Type == PaymentType.CustomerPayment ? 1 : -1),
    };

    protected override PartyNeed Party => Happened.Type == PaymentType.SupplierPayment ? PartyNeed.Supplier : PartyNeed.Customer;
    protected override string? MoneyAccount => Happened.MoneyAccount;
    protected override IReadOnlyList<SettledPart> Settles => Happened.Settles;
    protected override decimal Whole => Happened.Amount + Happened.Discount + Happened.Tolerance;

    protected override HeldReason? ShapeFault(Shape shape) =>
        shape.AboveZero(null, "amount", Happened.Amount) ?? shape.ZeroOrMore(null, "discount", Happened.Discount)
        ?? shape.OfMoney(null, "tolerance", Happened.Tolerance) ?? Shape.OfMoneyPlace(Happened.MoneyAccount, Happened.Method)
        ?? Shape.OfOtherRate(Posting, "invoiceRate", Happened.InvoiceRate) ?? PartsFault(shape);

    protected override void Write()
    {
        if (Happened.Type == PaymentType.CustomerPayment)
        {
            WriteMoney(1, Purpose.PaymentDiscountGiven);
            WriteSettled(Purpose.Receivable, -1);
        }
        else
        {
            var buys = Happened.Type == PaymentType.SupplierPayment;
            WriteSettled(buys ? Purpose.Payable : Purpose.Receivable, 1);
            WriteMoney(-1, Purpose.PaymentDiscountTaken);
        }
    }

    void WriteMoney(int side, Purpose discount)
    {
        WriteMoney(side * Happened.Amount);
        Entry.Post(discount, Row, side * Happened.Discount);
        Entry.Post(Purpose.PaymentTolerance, Row, side * Happened.Tolerance);
    }

    void WriteSettled(Purpose purpose, int side) =>
        WriteSettled(purpose, side, Happened.InvoiceRate ?? Posting.Rate, Posting.Rate);
}
