using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>A part of an open item that is settled.</summary>
public sealed record SettledPart
{
    /// <summary>Id of the event that opened the item.</summary>
    public required string Event { get; init; }
    /// <summary>How much of it, document currency, above 0.</summary>
    public required decimal Amount { get; init; }
    /// <summary>Number of the account the item stands on; null: the ladder says.</summary>
    public string? Account { get; init; }
    /// <summary>The rate at which it was booked; null: that of the invoice.</summary>
    public decimal? Rate { get; init; }
    /// <summary>What is left of it in company currency, where it is settled whole; null: by the rate.</summary>
    public decimal? CompanyAmount { get; init; }
    /// <summary>Dimensions of the item, in place of the document's; null: the document's.</summary>
    public Dimensions? Dimensions { get; init; }

    /// <summary>Its fields, as files have them.</summary>
    internal static EventField Fields { get; } = new("settles", FieldKind.List)
    {
        Inner =
        [
            new("event", FieldKind.Code) { Required = true }, new("amount", FieldKind.Amount) { Required = true }, new("account", FieldKind.Code),
            new("rate", FieldKind.Amount), new("companyAmount", FieldKind.Amount), new("dimensions", FieldKind.Dimensions),
        ],
    };
}

/// <summary>Recipes of money that takes away what stands on a party's account.</summary>
abstract class SettlingRecipe<T>(CompiledRulebook book, T happened) : Recipe<T>(book, happened) where T : BusinessEvent
{
    Account?[] standing = [];

    /// <summary>The parts the event says it settles.</summary>
    protected virtual IReadOnlyList<SettledPart> Settles => [];
    /// <summary>What it settles in all, document currency.</summary>
    protected abstract decimal Whole { get; }

    /// <summary>What is malformed about the parts.</summary>
    protected HeldReason? PartsFault(Shape shape)
    {
        if (Shape.FirstOf(Settles, (part, i) => PartFault(shape, part, new Place("settles", i))) is { } fault)
            return fault;
        var sum = Settles.Sum(part => part.Amount);
        return Settles.Count > 0 && sum > Whole
            ? HeldReason.Invalid("settles", $"The parts come to {sum}, and there is {Whole} to settle with. Take something off the parts.") : null;
    }

    HeldReason? PartFault(Shape shape, SettledPart part, Place place) =>
        shape.AboveZero(place, "amount", part.Amount) ?? Shape.OfOtherRate(Posting, place.Of("rate"), part.Rate)
        ?? shape.OfCompanyMoney(place, "companyAmount", part.CompanyAmount, part.Amount, Posting);

    /// <summary>Finds the accounts of the parts; the first that is not there is the fault.</summary>
    protected override HeldReason? Open()
    {
        var unknown = new List<HeldReason>();
        standing = [.. Settles.Select((part, i) => Matching.Code(Book.Accounts, part.Account, new Place("settles", i), "account", "account", unknown))];
        return unknown.Count > 0 ? unknown[0] : null;
    }

    /// <summary>Writes what is settled, part by part and then the rest, each followed by its exchange.</summary>
    /// <param name="purpose">Receivable or payable.</param>
    /// <param name="side">-1 where a credit takes it away, 1 where a debit does.</param>
    /// <param name="booked">The rate at which what is settled was booked.</param>
    /// <param name="worth">The rate at which what settles it stands.</param>
    protected void WriteSettled(Purpose purpose, int side, decimal booked, decimal worth)
    {
        var rest = Whole;
        for (var i = 0; i < Settles.Count; i++)
        {
            var part = Settles[i];
            rest -= part.Amount;
            var row = RowOf(i, part.Dimensions);
            var company = part.CompanyAmount ?? Posting.Worth(part.Amount, part.Rate ?? booked);
            Write(purpose, row, side, part.Amount, company, worth, standing[i], part.Event);
        }
        Write(purpose, Row, side, rest, Posting.Worth(rest, booked), worth, null, null);
    }

    void Write(Purpose purpose, RowContext row, int side, decimal amount, decimal company, decimal worth, Account? account, string? item)
    {
        WriteParty(purpose, row, side * amount, side * company, account, item);
        Entry.PostExchange(side * (Posting.Worth(amount, worth) - company));
    }
}
