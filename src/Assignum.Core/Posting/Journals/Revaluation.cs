using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What stands on an account in another currency is worth more or less by the rate of the day.</summary>
/// <param name="Account">Number of the account it stands on.</param>
/// <param name="Amount">The difference, company currency, debit positive.</param>
public sealed record RevaluedLine(string Account, decimal Amount)
{
    /// <summary>Code of the party it stands by; null: of none.</summary>
    public string? Party { get; init; }
    /// <summary>Code of the money account it is; null: none.</summary>
    public string? MoneyAccount { get; init; }
    /// <summary>The currency it is in; null: the company's.</summary>
    public string? Currency { get; init; }
}

/// <summary>What is open in other currencies, at the rates of a day. The application takes it back on the next.</summary>
public sealed record Revaluation : BusinessEvent
{
    /// <summary>A revaluation with no header yet.</summary>
    public Revaluation() { }

    /// <summary>A revaluation under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Revaluation(EventHeader header) : base(header) { }

    /// <summary>What is worth more or less.</summary>
    public IReadOnlyList<RevaluedLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "revaluation";
}

/// <summary>Each difference on the account where the balance stands, and against it a gain or a loss that is not realised. The document amount stays.</summary>
sealed class RevaluationRecipe(CompiledRulebook book, Revaluation revaluation) : Recipe<Revaluation>(book, revaluation)
{
    internal static EventType Type { get; } = new(Revaluation.Name, EventFamily.Journals,
    [
        EventFields.Adjustment,
        new("lines", FieldKind.List)
        {
            Required = true,
            Inner = [new("account", FieldKind.Code) { Required = true }, new("party", FieldKind.Code), new("moneyAccount", FieldKind.Code),
                new("currency", FieldKind.Code), new("amount", FieldKind.Amount) { Required = true }],
        },
    ], static (book, happened) => new RevaluationRecipe(book, (Revaluation)happened).Land());

    protected override HeldReason? ShapeFault(Shape shape) =>
        Posting.IsConverted ? HeldReason.Invalid("currency",
            $"A revaluation is in company currency {Posting.CompanyCurrency}; its lines name theirs. Leave the currency out.")
        : Shape.FirstOf(Happened.Lines, (line, i) => LineFault(shape, line, new Place("lines", i)));

    static HeldReason? LineFault(Shape shape, RevaluedLine line, Place place)
    {
        if (line is { Party: not null, MoneyAccount: not null })
            return HeldReason.Invalid(place.ToString(), $"{place.InWords}: a party and a money account are named. Keep one of them.");
        if (line.Currency is { } currency && !Money.TryMinorUnits(Fold.Of(currency), out _))
            return HeldReason.Invalid(place.Of("currency"), $"{place.InWords}: {currency} is no ISO 4217 code. Write one of three letters, such as USD.");
        return shape.OfCompanyMoney(place, "amount", line.Amount);
    }

    protected override void Write()
    {
        for (var i = 0; i < Happened.Lines.Count; i++)
            Write(Happened.Lines[i], new Place("lines", i));
    }

    void Write(RevaluedLine line, Place place)
    {
        var (account, party, facts) = (default(Account), default(Party), Row.Facts.Copy());
        if (!Matches(unknown =>
        {
            account = Matching.Code(Book.Accounts, line.Account, place, "account", "account", unknown);
            party = Matching.Code(Book.Parties, line.Party, place, "party", "party", unknown);
        }))
            return;
        if (party is not null)
            Book.SetParty(facts, Book.Parties.IdOf(party.Code));
        if (line.MoneyAccount is not null)
            Book.Set(facts, Fact.MoneyAccount, line.MoneyAccount);
        var currency = Fold.Of(line.Currency ?? Posting.CompanyCurrency);
        Book.Set(facts, Fact.Currency, currency);
        var row = Row with { Facts = facts, Line = place.Index, Party = party ?? Row.Party };
        Entry.PostWhereItStands(account!, row, line.Amount);
        var value = new Moved(line.Amount, currency, 0);
        if (party is not null)
            Entry.Move(new PartyMovement(SubledgerOf(account!, party), party, Happened.Id, Happened.DueDate ?? Happened.Date, value));
        else if (line.MoneyAccount is not null)
            Entry.Move(new MoneyMovement(line.MoneyAccount, null, null, value));
        Entry.PostCompany(line.Amount > 0 ? Purpose.UnrealisedGain : Purpose.UnrealisedLoss, row, -line.Amount);
    }

    // Of whose subledger the account is; where it says none, the side it is on.
    static Subledger SubledgerOf(Account account, Party party) => account.Control switch
    {
        Control.Receivables => Subledger.Receivables,
        Control.Payables => Subledger.Payables,
        Control.Intercompany => Subledger.Intercompany,
        _ => party.Role == PartyRole.Supplier || (party.Role == PartyRole.Both && account.Class == AccountClass.Liability)
            ? Subledger.Payables : Subledger.Receivables,
    };
}
