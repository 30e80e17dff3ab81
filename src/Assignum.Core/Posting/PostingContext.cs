using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What every row of an entry stands on, whatever the event: its day, its money, and the facts of the whole document.</summary>
sealed class PostingContext
{
    internal PostingContext(CompiledRulebook book, BusinessEvent happened)
    {
        Happened = happened;
        (CompanyCurrency, CompanyMinorUnits) = (book.CompanyCurrency, book.CompanyMinorUnits);
        Currency = happened.Currency is null || Fold.Of(happened.Currency) == CompanyCurrency ? CompanyCurrency : Fold.Of(happened.Currency);
        MinorUnits = ReferenceEquals(Currency, CompanyCurrency) ? CompanyMinorUnits : Money.MinorUnits(Currency);
        Rate = happened.Rate ?? 1;
        Options = book.Book.Company.Options;
        Row = new RowContext { Facts = new Facts(), Text = happened.Text, DocumentDimensions = happened.Dimensions };
    }

    internal BusinessEvent Happened { get; }
    internal CompanyOptions Options { get; }
    internal string Currency { get; }
    internal string CompanyCurrency { get; }
    internal int MinorUnits { get; }
    internal int CompanyMinorUnits { get; }
    internal decimal Rate { get; }
    internal bool IsConverted => Currency != CompanyCurrency;
    internal Party? Party => Row.Party;
    /// <summary>The control account the document chooses.</summary>
    internal Account? Control { get; private set; }
    /// <summary>What rows of the whole document stand with.</summary>
    internal RowContext Row { get; private set; }

    /// <summary>Converts an amount of the document to company currency.</summary>
    internal decimal Company(decimal amount) => Worth(amount, Rate);

    /// <summary>A quantity at what one is worth, or an amount at a rate of its own, in company currency.</summary>
    internal decimal Worth(decimal quantity, decimal each) => Money.Round(quantity * each, CompanyMinorUnits);

    /// <summary>Matches the codes of the document itself; the first that fits nothing is the reason.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="suits">Why a party does not do for the event, or null.</param>
    internal HeldReason? Open(CompiledRulebook book, Func<Party, HeldReason?> suits)
    {
        var (facts, happened, party) = (new Facts(), Happened, default(Party));
        if (happened.Party is { } code)
        {
            if (!book.Parties.TryFind(code, out party))
                return HeldReason.Unknown("party", "party", code, "Add the party, or correct the code.");
            if (suits(party) is { } unfit)
                return unfit;
            book.SetParty(facts, book.Parties.IdOf(code));
        }
        if (happened.Control is { } number)
        {
            if (!book.Accounts.TryFind(number, out var account))
                return HeldReason.Unknown("control", "account", number, "Add the account, or correct the number.");
            Control = account;
        }
        var unknown = new List<HeldReason>();
        Matching.Place(book, facts, happened.Location, happened.Project, happened.Task, null, unknown);
        if (unknown.Count > 0)
            return unknown[0];
        book.Set(facts, Fact.TaxArea, happened.TaxArea ?? party?.TaxArea);
        book.Set(facts, Fact.Connection, happened.Connection);
        book.Set(facts, Fact.Method, happened.Method);
        book.Set(facts, Fact.Currency, Currency);
        Row = Row with { Facts = facts, Party = party, Location = Matching.LocationOf(book, facts), Project = Matching.ProjectOf(book, facts) };
        return null;
    }
}
