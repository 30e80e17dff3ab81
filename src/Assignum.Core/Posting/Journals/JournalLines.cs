using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Whose account a journal line by party goes to.</summary>
public enum PartySide { Receivable, Payable }

/// <summary>A line of a journal: by account, by party, or by money account.</summary>
public sealed record JournalLine
{
    /// <summary>Number of the account.</summary>
    public string? Account { get; init; }
    /// <summary>Code of a party; beside an account it is a label.</summary>
    public string? Party { get; init; }
    /// <summary>Whether a line by party is a receivable or a payable; needed where its role is both.</summary>
    public PartySide? Of { get; init; }
    /// <summary>Code of a money account.</summary>
    public string? MoneyAccount { get; init; }
    /// <summary>Document currency, not 0; exactly one of debit and credit is given.</summary>
    public decimal? Debit { get; init; }
    /// <summary>Document currency, not 0.</summary>
    public decimal? Credit { get; init; }
    /// <summary>Where the line is, and what is said of it.</summary>
    public LinePlace Place { get; init; } = LinePlace.None;

    /// <summary>Debit positive.</summary>
    public decimal Amount => Debit ?? -Credit ?? 0;
}

/// <summary>Recipes of lines that name what they are posted to.</summary>
abstract class JournalRecipe<T>(CompiledRulebook book, T happened) : Recipe<T>(book, happened) where T : BusinessEvent
{
    /// <summary>Fields of a line.</summary>
    protected static EventField Lines(bool byParty) => new("lines", FieldKind.List)
    {
        Required = true,
        Inner =
        [
            new("account", FieldKind.Code), .. byParty
                ? [new("party", FieldKind.Code), new("of", FieldKind.Word) { Words = Words<PartySide>.All }] : Array.Empty<EventField>(),
            new("moneyAccount", FieldKind.Code), new("debit", FieldKind.Amount), new("credit", FieldKind.Amount), .. LinePlace.Fields,
        ],
    };

    /// <summary>Why an account can't be named, whatever the day; null where it can.</summary>
    protected abstract HeldReason? ByHandFault(Account account);

    /// <summary>What is malformed about lines.</summary>
    protected HeldReason? LinesFault(Shape shape, IReadOnlyList<JournalLine> lines) =>
        lines.Count == 0 ? HeldReason.Invalid("lines", "There are no lines. Give at least one.")
        : Shape.FirstOf(lines, (line, i) => LineFault(shape, line, new Place("lines", i)));

    HeldReason? LineFault(Shape shape, JournalLine line, Place place)
    {
        var ways = (line.Account is null ? 0 : 1) + (line.MoneyAccount is null ? 0 : 1) + (line.Party is not null && line.Account is null ? 1 : 0);
        if (ways != 1)
            return HeldReason.Invalid(place.ToString(), ways == 0 ? $"{place.InWords}: nothing is named. Name an account, a party or a money account."
                : $"{place.InWords}: more than one of account, party and money account is named. Keep one of them.");
        if (line.Of is not null && (line.Party is null || line.Account is not null))
            return HeldReason.Invalid(place.Of("of"), $"{place.InWords}: receivable or payable goes with a line by party. Leave it out.");
        if (line.Debit is null == line.Credit is null)
            return HeldReason.Invalid(place.ToString(), $"{place.InWords}: give a debit or a credit, one of them.");
        var field = line.Debit is null ? "credit" : "debit";
        if (line.Amount == 0)
            return Shape.Fault(place, field, "is 0. Leave the line out, or give an amount");
        return shape.OfMoney(place, field, line.Debit ?? line.Credit!.Value) ?? Shape.OfTask(place, line.Place.Task, line.Place.Project, Happened.Project);
    }

    /// <summary>A line by a party that is customer and supplier must say which of them is meant.</summary>
    protected HeldReason? SidesFault(IReadOnlyList<JournalLine> lines) => Shape.FirstOf(lines, (line, i) =>
        line is { Party: { } code, Account: null, Of: null } && Book.Parties.TryFind(code, out var party) && SideOf(party.Role) is null
            ? HeldReason.Invalid($"lines[{i}].of", $"Line {i + 1}: {party.Code} {party.Name} is customer and supplier. Say whether the line is of the " +
                "receivable or of the payable.") : null);

    /// <summary>Writes the lines; one with an unknown code drops out.</summary>
    protected void WriteLines(IReadOnlyList<JournalLine> lines)
    {
        for (var i = 0; i < lines.Count; i++)
            Write(lines[i], new Place("lines", i));
    }

    void Write(JournalLine line, Place place)
    {
        var facts = Row.Facts.Copy();
        var (account, party, row) = (default(Account), default(Party), Row);
        var known = Matches(unknown =>
        {
            account = Matching.Code(Book.Accounts, line.Account, place, "account", "account", unknown);
            party = Matching.Code(Book.Parties, line.Party, place, "party", "party", unknown);
            row = OpenRow(facts, line.Place, place, unknown) with { Party = party ?? Row.Party };
        });
        if (!known)
            return;
        if (account is not null)
            WriteNamed(line, row, account);
        else if (party is not null)
            WriteParty(line, row, party);
        else
            WriteMoney(line, row);
    }

    void WriteNamed(JournalLine line, RowContext row, Account account)
    {
        if (ByHandFault(account) is { } barred)
            Refuse(barred);
        Entry.PostNamed(account, row, line.Amount, Posting.Company(line.Amount));
    }

    void WriteParty(JournalLine line, RowContext row, Party party)
    {
        Book.SetParty(row.Facts, Book.Parties.IdOf(party.Code));
        var purpose = ((line.Of ?? SideOf(party.Role)) == PartySide.Receivable ? Purpose.Receivable : Purpose.Payable).With(party);
        Entry.Post(purpose, row, line.Amount);
        Entry.Move(PartyMovement.Of(purpose, party, Happened.Id, Happened.DueDate ?? Happened.Date, Amount(line.Amount)));
    }

    static PartySide? SideOf(PartyRole role) => role switch
    {
        PartyRole.Customer => PartySide.Receivable,
        PartyRole.Supplier => PartySide.Payable,
        _ => null,
    };

    void WriteMoney(JournalLine line, RowContext row)
    {
        Book.Set(row.Facts, Fact.MoneyAccount, line.MoneyAccount);
        Entry.Post(Purpose.Bank, row, line.Amount);
        Entry.Move(new MoneyMovement(line.MoneyAccount, null, null, Amount(line.Amount)));
    }
}
