using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>What an event yields. Its shape is looked at first, then its codes, then its rows are written; the rounding is the last of them.</summary>
/// <typeparam name="T">The event.</typeparam>
/// <param name="book">The rulebook.</param>
/// <param name="happened">The event.</param>
abstract class Recipe<T>(CompiledRulebook book, T happened) where T : BusinessEvent
{
    readonly List<HeldReason> reasons = [];

    /// <summary>The rulebook.</summary>
    protected CompiledRulebook Book => book;
    /// <summary>The event.</summary>
    protected T Happened => happened;
    /// <summary>What its rows stand on.</summary>
    protected PostingContext Posting { get; } = new(book, happened);
    /// <summary>The entry in the making.</summary>
    protected EntryDraft Entry { get; private set; } = null!;
    /// <summary>What rows of the whole document stand with.</summary>
    protected RowContext Row => Posting.Row;
    /// <summary>What the row of a line stands with, where the item it settles has dimensions of its own.</summary>
    protected RowContext RowOf(int line, Dimensions? own) =>
        own is null ? Row with { Line = line } : Row with { Line = line, DocumentDimensions = Dimensions.None, OwnDimensions = own };
    /// <summary>Every line is there; only then can what is left be reckoned.</summary>
    protected bool IsComplete { get; set; } = true;

    /// <summary>The party it needs.</summary>
    protected virtual PartyNeed Party => PartyNeed.None;
    /// <summary>The code of the money account it names, which is a fact of the document.</summary>
    protected virtual string? MoneyAccount => null;

    /// <summary>The first thing that is malformed, or null.</summary>
    protected abstract HeldReason? ShapeFault(Shape shape);

    /// <summary>Writes rows and movements, all but the rounding.</summary>
    protected abstract void Write();

    /// <summary>Matches further codes of the document itself; the first that fits nothing.</summary>
    protected virtual HeldReason? Open() => null;

    internal Attempt Land()
    {
        if (Shape.OfHeader(happened, book.CompanyCurrency, out var shape) is { } malformed)
            return new(new Held([malformed]), null);
        if ((Party.Missing(happened) ?? ShapeFault(shape) ?? Posting.Open(book, party => Party.Unfit(happened, party)) ?? Open()) is { } fault)
            return new(new Held([fault]), null);
        if (MoneyAccount is { } code)
            book.Set(Row.Facts, Fact.MoneyAccount, code);
        Entry = new EntryDraft(book, Posting, reasons);
        Write();
        if (IsComplete)
            Entry.PostRounding();
        var sofar = new Landed(Entry.Rows, Entry.Subledger) { Warnings = Entry.Warnings };
        return new(reasons.Count == 0 ? sofar : new Held([.. reasons.Distinct()]) { Warnings = Entry.Warnings }, sofar);
    }

    /// <summary>An account that the document names; null, with a fault, where there is none of that number.</summary>
    protected Account? AccountOf(string? number, string field, out HeldReason? fault)
    {
        var unknown = new List<HeldReason>();
        var account = Matching.Code(book.Accounts, number, null, field, "account", unknown);
        fault = unknown.Count > 0 ? unknown[0] : null;
        return account;
    }

    /// <summary>Matches codes of a line; a line with an unknown one drops out.</summary>
    protected bool Matches(Action<List<HeldReason>> match)
    {
        var unknown = new List<HeldReason>();
        match(unknown);
        reasons.AddRange(unknown);
        IsComplete &= unknown.Count == 0;
        return unknown.Count == 0;
    }

    /// <summary>Notes a reason that bars it.</summary>
    protected void Refuse(HeldReason reason) => reasons.Add(reason);

    /// <summary>What rows of a line stand with; its unknown codes are noted.</summary>
    protected RowContext OpenRow(Facts facts, LinePlace at, Place place, List<HeldReason> unknown)
    {
        Matching.Place(book, facts, at.Location, at.Project, at.Task, place, unknown);
        if (at.TaxArea is not null)
            book.Set(facts, Fact.TaxArea, at.TaxArea);
        return Row with
        {
            Facts = facts, Line = place.Index, Location = Matching.LocationOf(book, facts), Project = Matching.ProjectOf(book, facts),
            Text = book.Book.Company.Options.TextOf(at.Text, happened.Text), OwnDimensions = at.Dimensions,
        };
    }

    /// <summary>The facts of an item, laid over others.</summary>
    protected void SetItem(Facts facts, Item item)
    {
        Book.SetItem(facts, Book.Items.IdOf(item.Code));
        facts[Fact.ItemKind] = (int)item.Kind + 1;
    }

    /// <summary>An amount of the document as what moves.</summary>
    protected Moved Amount(decimal amount) => Amount(amount, Posting.Company(amount));

    /// <summary>An amount of the document that stands in company currency at a rate of its own.</summary>
    protected Moved Amount(decimal amount, decimal company) => new(company, Posting.Currency, amount);

    /// <summary>An amount that arises in company currency as what moves.</summary>
    protected Moved CompanyAmount(decimal amount) => new(amount, Posting.CompanyCurrency, amount);

    /// <summary>Money that comes (debit) to the place the document names, or leaves it.</summary>
    protected void WriteMoney(decimal amount)
    {
        Entry.Post(MoneyAccount is null ? Purpose.PaymentClearing : Purpose.Bank, Row, amount);
        Entry.Move(new MoneyMovement(MoneyAccount, happened.Method, happened.Connection, Amount(amount)));
    }

    /// <summary>What the party owes, is owed, or has paid ahead: an item is opened, or one is changed.</summary>
    /// <param name="purpose">What it is; between companies of the group the purpose for them.</param>
    /// <param name="row">What the row stands with.</param>
    /// <param name="amount">Document currency, debit positive.</param>
    /// <param name="company">The same in company currency; null: by the document's rate.</param>
    /// <param name="standsOn">The account it stands on; null: the ladder says.</param>
    /// <param name="item">Id of the event that opened the item; null: this one opens it.</param>
    protected void WriteParty(Purpose purpose, RowContext row, decimal amount, decimal? company = null, Account? standsOn = null, string? item = null)
    {
        purpose = purpose.With(Posting.Party);
        var worth = company ?? Posting.Company(amount);
        Entry.PostAt(purpose, row, amount, worth, standsOn);
        Entry.Move(PartyMovement.Of(purpose, Posting.Party!, item ?? happened.Id, happened.DueDate ?? happened.Date, Amount(amount, worth)));
    }
}
