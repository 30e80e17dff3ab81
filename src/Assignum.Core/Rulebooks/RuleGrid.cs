using Assignum.Core.Charts;
using Assignum.Core.Groups;

namespace Assignum.Core.Rulebooks;

/// <summary>Where the answer in a cell of a grid comes from, seen from the cell.</summary>
public enum CellOrigin
{
    /// <summary>Nothing answers.</summary>
    Nothing,
    /// <summary>A rule for exactly the facts of the cell.</summary>
    Own,
    /// <summary>A rule that asks for what stands at the left.</summary>
    Row,
    /// <summary>A rule that asks for what stands at the top.</summary>
    Column,
    /// <summary>A rule of another rung that asks for facts of both sides.</summary>
    Both,
    /// <summary>The company default, or a rule that asks for neither side.</summary>
    Default,
}

/// <summary>The answer in a cell.</summary>
/// <param name="Origin">Where it comes from.</param>
/// <param name="Account">The account, or null.</param>
/// <param name="Rule">The rule, or null.</param>
/// <param name="Rung">The rung, or null.</param>
/// <param name="By">The purpose whose ladder answered, or null.</param>
/// <param name="Postable">Whether the account takes postings on the day.</param>
public sealed record GridCell(CellOrigin Origin, Account? Account, Rule? Rule, Rung? Rung, Purpose? By, bool Postable)
{
    internal static readonly GridCell Nothing = new(CellOrigin.Nothing, null, null, null, null, false);
}

/// <summary>The answers of a purpose where two facts meet; a side without a value is "any".</summary>
public sealed class RuleGrid
{
    readonly CompiledRulebook book;
    readonly Facts given;
    readonly HashSet<Fact> givenFacts, rowFacts, columnFacts;
    readonly DateOnly date;
    // By which of the two sides have a value.
    readonly Rung?[] ownRungs;

    /// <param name="book">The rulebook.</param>
    /// <param name="purpose">The purpose.</param>
    /// <param name="down">The fact at the left.</param>
    /// <param name="across">The fact at the top, or null for a grid of one column.</param>
    /// <param name="given">Further facts that hold in every cell.</param>
    /// <param name="date">Posting date.</param>
    public RuleGrid(CompiledRulebook book, Purpose purpose, Fact down, Fact? across, IReadOnlyList<FactValue> given, DateOnly date)
    {
        (this.book, Purpose, Down, Across, Given, this.date) = (book, purpose, down, across, given, date);
        this.given = book.FactsOf(given);
        if (down != Fact.Currency && across != Fact.Currency && !this.given.Has(Fact.Currency))
            book.Set(this.given, Fact.Currency, book.Book.Company.Currency);
        givenFacts = [.. given.Select(g => g.Fact)];
        rowFacts = [.. WithWhatFollows(down)];
        columnFacts = [.. across is { } known ? WithWhatFollows(known) : []];
        var ladder = book.Book.LadderOf(purpose);
        ownRungs = [.. new[] { (false, false), (true, false), (false, true), (true, true) }.Select(sides =>
            new Rung([.. When(sides.Item1 ? "" : null, sides.Item2 ? "" : null).Select(w => w.Fact)])).Select(own =>
            ladder.FirstOrDefault(r => r.Equals(own)))];
    }

    /// <summary>The purpose.</summary>
    public Purpose Purpose { get; }
    /// <summary>The fact at the left.</summary>
    public Fact Down { get; }
    /// <summary>The fact at the top, or null.</summary>
    public Fact? Across { get; }
    /// <summary>Facts that hold in every cell.</summary>
    public IReadOnlyList<FactValue> Given { get; }

    /// <summary>The answer where a row meets a column; null is "any".</summary>
    public GridCell At(string? row, string? column)
    {
        var facts = given.Copy();
        Lay(facts, Down, row);
        if (Across is { } across)
            Lay(facts, across, column);
        var answer = book.Resolve(Purpose, facts, date);
        if (!answer.Found)
            return GridCell.Nothing;
        var (account, rung) = (book.AccountOf(answer), book.RungOf(answer));
        return new(OriginOf(answer, rung, row, column), account, book.RuleOf(answer), rung, answer.Purpose, account.TakesPostingsOn(date));
    }

    /// <summary>The facts a rule of the cell itself asks for.</summary>
    public IReadOnlyList<FactValue> When(string? row, string? column)
    {
        var when = new List<FactValue>(3);
        if (row is not null)
            when.Add(new(Down, row));
        if (Across is { } across && column is not null)
            when.Add(new(across, column));
        return [.. when, .. Given];
    }

    /// <summary>The rung of the ladder on which a rule of the cell itself stands; null where the ladder has none.</summary>
    public Rung? OwnRung(string? row, string? column) => ownRungs[(row is null ? 0 : 1) + (column is null ? 0 : 2)];

    CellOrigin OriginOf(Answer answer, Rung rung, string? row, string? column)
    {
        if (answer.Purpose == Purpose && rung.Equals(OwnRung(row, column)))
            return CellOrigin.Own;
        var (ofRow, ofColumn) = (rung.Facts.Any(rowFacts.Contains), rung.Facts.Any(columnFacts.Contains));
        return (ofRow, ofColumn) switch
        {
            (true, true) => CellOrigin.Both,
            (true, false) => CellOrigin.Row,
            (false, true) => CellOrigin.Column,
            _ => CellOrigin.Default,
        };
    }

    void Lay(Facts facts, Fact fact, string? code)
    {
        if (code is null)
            return;
        book.Set(facts, fact, code);
        if (fact == Fact.Item && book.Items.IdOf(code) is > 0 and var item)
        {
            book.SetItem(facts, item);
            book.Set(facts, Fact.ItemKind, Words<ItemKind>.Of(book.Items.ById(item).Kind));
        }
        if (fact == Fact.Party && book.Parties.IdOf(code) is > 0 and var party)
            book.SetParty(facts, party);
    }

    static IEnumerable<Fact> WithWhatFollows(Fact fact) => fact switch
    {
        Fact.Item => [Fact.Item, Fact.ItemGroup, Fact.ItemKind],
        Fact.Party => [Fact.Party, Fact.PartyGroup],
        _ => [fact],
    };
}
