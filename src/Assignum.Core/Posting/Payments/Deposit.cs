using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What happens with a deposit in money: it is received or paid, and given back or got back.</summary>
public enum DepositType { DepositReceived, DepositPaid, DepositReturned, DepositRecovered }

/// <summary>What the types of deposits have in common.</summary>
public static class DepositTypes
{
    /// <summary>The deposit was there before and ends now.</summary>
    public static bool Ends(this DepositType type) => type is DepositType.DepositReturned or DepositType.DepositRecovered;
    /// <summary>It is a customer's; else it is one paid to a supplier.</summary>
    public static bool IsCustomers(this DepositType type) => type is DepositType.DepositReceived or DepositType.DepositReturned;
    /// <summary>Money comes in; else it goes out.</summary>
    public static bool BringsMoney(this DepositType type) => type.Ends() != type.IsCustomers();
}

/// <summary>Money paid before there is an invoice, or such money coming back.</summary>
public sealed record Deposit : BusinessEvent
{
    /// <summary>A deposit with no header yet.</summary>
    public Deposit() { }

    /// <summary>A deposit under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Deposit(EventHeader header, decimal amount) : base(header) => (Type, Amount) = (Words<DepositType>.Parse(header.Type), amount);

    /// <summary>What happens with it.</summary>
    public required DepositType Type { get; init; }
    /// <summary>The money, document currency, above 0.</summary>
    public required decimal Amount { get; init; }
    /// <summary>Code of the money account; null where a method is given.</summary>
    public string? MoneyAccount { get; init; }
    /// <summary>Number of the account the deposit stands on.</summary>
    public string? StandsOn { get; init; }
    /// <summary>Rate at which the deposit was booked; null: the document's.</summary>
    public decimal? DepositRate { get; init; }
    /// <summary>What is left of it in company currency, where all of it comes back; null: by the rate.</summary>
    public decimal? DepositAmount { get; init; }

    /// <summary>It was there before and ends now.</summary>
    public bool Ends => Type.Ends();
    /// <summary>It is a customer's; else it is one paid to a supplier.</summary>
    public bool IsCustomers => Type.IsCustomers();
    /// <inheritdoc/>
    public override string TypeName => Words<DepositType>.Of(Type);

    /// <summary>Fields of a deposit that is there already.</summary>
    internal static IReadOnlyList<EventField> StandingFields { get; } =
        [new("standsOn", FieldKind.Code), new("depositRate", FieldKind.Amount), new("depositAmount", FieldKind.Amount)];
}

/// <summary>Money against the deposit; when it comes back, the deposit as it was booked against the money, with the exchange of the two.</summary>
sealed class DepositRecipe(CompiledRulebook book, Deposit deposit) : Recipe<Deposit>(book, deposit)
{
    Account? standsOn;

    internal static IReadOnlyList<EventType> Types { get; } = [.. Enum.GetValues<DepositType>().Select(type => new EventType(Words<DepositType>.Of(type),
        EventFamily.Payments,
        [
            new("amount", FieldKind.Amount) { Required = true }, new("moneyAccount", FieldKind.Code),
            .. type.Ends() ? Deposit.StandingFields : [],
        ], static (book, happened) => new DepositRecipe(book, (Deposit)happened).Land())
        {
            Prepare = static (preparing, happened) => Prepare(preparing, (Deposit)happened),
        })];

    static Deposit Prepare(Preparation.Preparing preparing, Deposit deposit)
    {
        if (!deposit.Ends)
            return deposit;
        var says = deposit.StandsOn is not null || deposit.DepositRate is not null || deposit.DepositAmount is not null;
        var (of, account, rate, company) = preparing.Deposit(deposit.Amount, deposit.IsCustomers ? Purpose.CustomerDeposit : Purpose.SupplierDeposit,
            deposit.IsCustomers ? -1 : 1, says);
        return says ? deposit with { RefersTo = of } : deposit with { RefersTo = of, StandsOn = account, DepositRate = rate, DepositAmount = company };
    }

    protected override PartyNeed Party => Happened.IsCustomers ? PartyNeed.Customer : PartyNeed.Supplier;
    protected override string? MoneyAccount => Happened.MoneyAccount;

    protected override HeldReason? ShapeFault(Shape shape) =>
        shape.AboveZero(null, "amount", Happened.Amount) ?? Shape.OfMoneyPlace(Happened.MoneyAccount, Happened.Method)
        ?? Shape.OfOtherRate(Posting, "depositRate", Happened.DepositRate)
        ?? shape.OfCompanyMoney(null, "depositAmount", Happened.DepositAmount, Happened.Amount, Posting);

    protected override HeldReason? Open()
    {
        standsOn = AccountOf(Happened.StandsOn, "standsOn", out var fault);
        return fault;
    }

    protected override void Write()
    {
        var purpose = Happened.IsCustomers ? Purpose.CustomerDeposit : Purpose.SupplierDeposit;
        var side = Happened.Type.BringsMoney() ? 1 : -1;
        if (!Happened.Ends && Happened.IsCustomers)
            WriteMoney(Happened.Amount);
        var booked = Happened.Ends ? Happened.DepositRate ?? Posting.Rate : Posting.Rate;
        var freed = Happened.DepositAmount ?? Posting.Worth(Happened.Amount, booked);
        WriteParty(purpose, Row, -side * Happened.Amount, -side * freed, standsOn, Happened.Ends ? Happened.RefersTo : null);
        if (Happened.Ends || !Happened.IsCustomers)
            WriteMoney(side * Happened.Amount);
        if (Happened.Ends)
            Entry.PostExchange(-Entry.Balance);
    }
}
