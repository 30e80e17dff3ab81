using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What is applied to open items: a customer's deposit, one paid to a supplier, or a gift card.</summary>
public enum AppliedType { DepositApplied, DepositSettled, GiftCardUsed }

/// <summary>Something paid before that settles an invoice now.</summary>
public sealed record Applied : BusinessEvent
{
    /// <summary>An application with no header yet.</summary>
    public Applied() { }

    /// <summary>An application under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Applied(EventHeader header, decimal amount) : base(header) => (Type, Amount) = (Words<AppliedType>.Parse(header.Type), amount);

    /// <summary>What is applied.</summary>
    public required AppliedType Type { get; init; }
    /// <summary>How much of it, document currency, above 0.</summary>
    public required decimal Amount { get; init; }
    /// <summary>Number of the account it stands on.</summary>
    public string? StandsOn { get; init; }
    /// <summary>Rate at which it was booked (<c>depositRate</c> or <c>cardRate</c>); null: the document's.</summary>
    public decimal? OwnRate { get; init; }
    /// <summary>What is left of a deposit in company currency, where all of it is applied; null: by the rate.</summary>
    public decimal? DepositAmount { get; init; }
    /// <summary>Rate at which what it settles was booked; null: the document's.</summary>
    public decimal? InvoiceRate { get; init; }
    /// <summary>The parts of open items that it settles.</summary>
    public IReadOnlyList<SettledPart> Settles { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Words<AppliedType>.Of(Type);
}

/// <summary>The deposit or card, as it was booked, against what it settles, part by part with the exchange of the two.</summary>
sealed class AppliedRecipe(CompiledRulebook book, Applied applied) : SettlingRecipe<Applied>(book, applied)
{
    Account? standsOn;

    internal static IReadOnlyList<EventType> Types { get; } = [.. Enum.GetValues<AppliedType>().Select(type => new EventType(Words<AppliedType>.Of(type),
        EventFamily.Payments,
        [
            new("amount", FieldKind.Amount) { Required = true },
            .. type == AppliedType.GiftCardUsed ? [new("standsOn", FieldKind.Code), new("cardRate", FieldKind.Amount)] : Deposit.StandingFields,
            new("invoiceRate", FieldKind.Amount), SettledPart.Fields,
        ], static (book, happened) => new AppliedRecipe(book, (Applied)happened).Land())
        {
            Prepare = static (preparing, happened) => Prepare(preparing, (Applied)happened),
        })];

    static Applied Prepare(Preparation.Preparing preparing, Applied applied)
    {
        var buys = applied.Type == AppliedType.DepositSettled;
        if (applied.Type != AppliedType.GiftCardUsed)
        {
            var says = applied is not { StandsOn: null, OwnRate: null, DepositAmount: null };
            var (of, account, rate, company) = preparing.Deposit(applied.Amount, PurposeOf(applied.Type), buys ? 1 : -1, says);
            applied = says ? applied with { RefersTo = of } : applied with { RefersTo = of, StandsOn = account, OwnRate = rate, DepositAmount = company };
        }
        return applied with { Settles = preparing.Parts(applied.Settles, applied.Amount, buys ? Purpose.Payable : Purpose.Receivable, buys ? -1 : 1) };
    }

    bool Buys => Happened.Type == AppliedType.DepositSettled;
    decimal OwnRate => Happened.OwnRate ?? Posting.Rate;

    protected override PartyNeed Party => Buys ? PartyNeed.Supplier : PartyNeed.Customer;
    protected override IReadOnlyList<SettledPart> Settles => Happened.Settles;
    protected override decimal Whole => Happened.Amount;

    protected override HeldReason? ShapeFault(Shape shape) =>
        shape.AboveZero(null, "amount", Happened.Amount)
        ?? Shape.OfOtherRate(Posting, Happened.Type == AppliedType.GiftCardUsed ? "cardRate" : "depositRate", Happened.OwnRate)
        ?? shape.OfCompanyMoney(null, "depositAmount", Happened.DepositAmount, Happened.Amount, Posting)
        ?? Shape.OfOtherRate(Posting, "invoiceRate", Happened.InvoiceRate) ?? PartsFault(shape);

    protected override HeldReason? Open()
    {
        standsOn = AccountOf(Happened.StandsOn, "standsOn", out var fault);
        return fault ?? base.Open();
    }

    protected override void Write()
    {
        var side = Buys ? -1 : 1;
        var freed = Happened.DepositAmount ?? Posting.Worth(Happened.Amount, OwnRate);
        if (Happened.Type == AppliedType.GiftCardUsed)
            Entry.PostAt(Purpose.GiftCard, Row, side * Happened.Amount, side * freed, standsOn);
        else
            WriteParty(PurposeOf(Happened.Type), Row, side * Happened.Amount, side * freed, standsOn, Happened.RefersTo);
        WriteSettled(Buys ? Purpose.Payable : Purpose.Receivable, -side, Happened.InvoiceRate ?? Posting.Rate, OwnRate);
    }

    static Purpose PurposeOf(AppliedType type) => type switch
    {
        AppliedType.DepositApplied => Purpose.CustomerDeposit,
        AppliedType.DepositSettled => Purpose.SupplierDeposit,
        _ => Purpose.GiftCard,
    };
}
