using Assignum.Core.Groups;

namespace Assignum.Core.Posting;

/// <summary>Checks of single values before any code is looked up; each gives the first fault, in the words of its place, or null.</summary>
/// <param name="minorUnits">Decimals of the document's currency.</param>
/// <param name="companyMinorUnits">Decimals of the company's currency.</param>
readonly struct Shape(int minorUnits, int companyMinorUnits)
{
    internal const int UnitDecimals = 6;
    internal const int RateDecimals = 12;
    internal const decimal UnitLimit = 10_000_000_000_000m;

    /// <summary>What every event must be like: its currency, its rate, its task.</summary>
    /// <param name="happened">The event.</param>
    /// <param name="companyCurrency">Folded code of the company's currency.</param>
    /// <param name="shape">The checks for its currency; to be used where there is no fault.</param>
    internal static HeldReason? OfHeader(BusinessEvent happened, string companyCurrency, out Shape shape)
    {
        var currency = Fold.Of(happened.Currency ?? companyCurrency);
        var known = Money.TryMinorUnits(currency, out var minorUnits);
        shape = new(minorUnits, Money.MinorUnits(companyCurrency));
        if (!known)
            return HeldReason.Invalid("currency", $"Currency {happened.Currency} is no ISO 4217 code. Write one of three letters, such as EUR.");
        if (currency == companyCurrency && happened.Rate is { } own && own != 1)
            return HeldReason.Invalid("rate",
                $"A rate of {own} is given for the company's own currency {currency}. Leave the rate empty, or correct the currency.");
        if (currency != companyCurrency && happened.Rate is null)
            return HeldReason.Invalid("rate", $"The document is in {currency} and has no rate. Give how many {companyCurrency} one {currency} is.");
        if (happened.Rate is { } rate && OfRate("rate", rate) is { } fault)
            return fault;
        if (happened.Project is null && happened.Task is not null)
            return HeldReason.Invalid("task", $"Task {happened.Task} has no project. Name the project it belongs to.");
        return null;
    }

    /// <summary>An amount in the document's currency.</summary>
    internal HeldReason? OfMoney(Place? place, string field, decimal amount) => OfMoney(place, field, amount, minorUnits);

    /// <summary>An amount in the company's currency.</summary>
    internal HeldReason? OfCompanyMoney(Place? place, string field, decimal amount) => OfMoney(place, field, amount, companyMinorUnits);

    /// <summary>What an amount of the document is in company currency, where the event says it: the amount itself where that is its currency.</summary>
    internal HeldReason? OfCompanyMoney(Place? place, string field, decimal? said, decimal amount, PostingContext posting)
    {
        if (said is not { } company)
            return null;
        return !posting.IsConverted && company != amount
            ? Fault(place, field, $"is {company}, and the amount is {amount} in the same currency")
            : OfCompanyMoney(place, field, company);
    }

    /// <summary>An amount in the document's currency that is above 0.</summary>
    internal HeldReason? AboveZero(Place? place, string field, decimal amount) =>
        amount <= 0 ? Fault(place, field, $"is {amount}; it is above 0") : OfMoney(place, field, amount);

    /// <summary>An amount in the document's currency that is 0 or more.</summary>
    internal HeldReason? ZeroOrMore(Place? place, string field, decimal amount) =>
        amount < 0 ? Fault(place, field, $"is {amount}; it is 0 or more") : OfMoney(place, field, amount);

    static HeldReason? OfMoney(Place? place, string field, decimal amount, int decimals)
    {
        if (Math.Abs(amount) >= Money.Limit)
            return Fault(place, field, $"is {amount}; amounts stay below {Money.Limit:N0}");
        return Money.HasAtMost(amount, decimals) ? null : Fault(place, field, $"is {amount}; an amount in this currency has at most {decimals} decimals");
    }

    /// <summary>A quantity or an amount of one unit.</summary>
    internal static HeldReason? OfUnits(Place? place, string field, decimal amount)
    {
        if (Math.Abs(amount) >= UnitLimit)
            return Fault(place, field, $"is {amount}; it stays below {UnitLimit:N0}");
        return Money.HasAtMost(amount, UnitDecimals) ? null : Fault(place, field, $"is {amount}; it has at most {UnitDecimals} decimals");
    }

    /// <summary>A quantity that says something.</summary>
    internal static HeldReason? OfQuantity(Place? place, decimal quantity) =>
        quantity == 0 ? Fault(place, "quantity", "is 0. Leave it out, or give a quantity") : OfUnits(place, "quantity", quantity);

    /// <summary>The cost of one unit, where one is given.</summary>
    internal static HeldReason? OfCost(Place? place, string field, decimal? cost)
    {
        if (cost is not { } given)
            return null;
        return given < 0 ? Fault(place, field, $"is {given}. A cost is 0 or more") : OfUnits(place, field, given);
    }

    /// <summary>A rate: company currency for one unit.</summary>
    internal static HeldReason? OfRate(string field, decimal rate) =>
        rate <= 0 || rate >= UnitLimit || !Money.HasAtMost(rate, RateDecimals)
            ? HeldReason.Invalid(field, $"The {Called(field)} is {rate}; it must be above 0, with at most {RateDecimals} decimals.") : null;

    /// <summary>A rate that may be given beside the document's; in the company's own currency it is 1.</summary>
    internal static HeldReason? OfOtherRate(PostingContext posting, string field, decimal? rate)
    {
        if (rate is not { } given)
            return null;
        if (!posting.IsConverted && given != 1)
            return HeldReason.Invalid(field,
                $"The {Called(field)} is {given}, and the document is in the company's own currency {posting.CompanyCurrency}. Leave the rate out.");
        return OfRate(field, given);
    }

    /// <summary>Money comes to one place: a money account, or a method that is cleared.</summary>
    internal static HeldReason? OfMoneyPlace(string? moneyAccount, string? method)
    {
        if (moneyAccount is not null && method is not null)
            return HeldReason.Invalid("method", "Both a money account and a payment method are named. Keep one of them.");
        return moneyAccount is null && method is null
            ? HeldReason.Invalid("moneyAccount", "Where the money is, is missing. Name a money account or a payment method.") : null;
    }

    /// <summary>Whether a line has a task without any project.</summary>
    internal static HeldReason? OfTask(Place place, string? task, string? project, string? documentProject) =>
        task is not null && project is null && documentProject is null
            ? HeldReason.Invalid(place.Of("task"), $"{place.InWords}: task {task} has no project. Name the project it belongs to.") : null;

    internal static HeldReason Fault(Place? place, string field, string what) =>
        HeldReason.Invalid(Place.Field(place, field), $"{(place is { } known ? known.InWords + ": the" : "The")} {Called(field)} {what}. Correct it.");

    /// <summary>The first fault of a list.</summary>
    internal static HeldReason? FirstOf<T>(IReadOnlyList<T> things, Func<T, int, HeldReason?> check)
    {
        for (var i = 0; i < things.Count; i++)
            if (check(things[i], i) is { } fault)
                return fault;
        return null;
    }

    static string Called(string field) => field[(field.LastIndexOf('.') + 1)..] switch
    {
        "unitCost" => "cost of one unit",
        "receivedCost" => "cost of one unit received",
        "receivedAmount" => "amount received",
        "discountAmount" => "discount",
        "invoiceRate" => "rate of the invoice",
        "depositRate" => "rate of the deposit",
        "depositAmount" => "amount of the deposit",
        "cardRate" => "rate of the gift card",
        "companyAmount" => "amount in company currency",
        "documentAmount" => "amount in its own currency",
        "from" => "cost of one unit before",
        "to" => "cost of one unit after",
        var name => name,
    };
}

/// <summary>The party an event needs.</summary>
/// <param name="Required">It can't do without one.</param>
/// <param name="Role">What the party must be; null: anything.</param>
readonly record struct PartyNeed(bool Required, PartyRole? Role)
{
    internal static readonly PartyNeed None = new(false, null), Some = new(true, null), Customer = new(true, PartyRole.Customer),
        Supplier = new(true, PartyRole.Supplier), PerhapsCustomer = new(false, PartyRole.Customer);

    internal HeldReason? Missing(BusinessEvent happened) => Required && happened.Party is null
        ? HeldReason.Invalid("party", $"The {InWords(happened)} has no {Called}. Name {(Role is null ? "whom it is about" : "one")}.") : null;

    /// <summary>Why a party does not do, or null.</summary>
    internal HeldReason? Unfit(BusinessEvent happened, Party party)
    {
        if (Role is not { } role || party.Role == role || party.Role == PartyRole.Both)
            return null;
        return HeldReason.Invalid("party", $"{party.Code} {party.Name} is a {party.Role.Word()}, and a {InWords(happened)} needs a {Called}. " +
            $"Name a {Called}, or give {party.Code} the role both.");
    }

    string Called => Role is { } role ? role.Word() : "party";

    static string InWords(BusinessEvent happened) => happened.TypeName.Replace('-', ' ');
}
