using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Preparation;

/// <summary>Something filled in from the books.</summary>
/// <param name="Where">"Line 1", or "The document".</param>
/// <param name="What">What was filled in: "cost of one unit".</param>
/// <param name="Value">Its value.</param>
/// <param name="From">Where it comes from.</param>
public sealed record FilledIn(string Where, string What, string Value, string From);

/// <summary>An event with costs, standing accounts, settled items and its rate filled in from the books.</summary>
/// <param name="Happened">The event as it lands.</param>
/// <param name="Filled">What was filled in; empty where nothing was missing.</param>
public sealed record PreparedEvent(BusinessEvent Happened, IReadOnlyList<FilledIn> Filled)
{
    /// <summary>What the books have against it: it is held for these.</summary>
    public IReadOnlyList<HeldReason> Objections { get; init; } = [];
    /// <summary>The change of cost that would belong to it; null: stock is worth what came and left.</summary>
    public StockValue? CostChange { get; private init; }

    /// <summary>The same, with what it would do to the worth of stock.</summary>
    /// <param name="book">The rulebook it lands by.</param>
    /// <param name="books">What stands before it; from here on, also what it moves.</param>
    public PreparedEvent WithCostChange(CompiledRulebook book, Books books)
    {
        if (Objections.Count > 0 || Landing.Land(book, Happened) is not Landed landed)
            return this;
        books.Stock.Watch();
        books.Apply(Happened, landed, book.CompanyMinorUnits);
        return this with { CostChange = books.CostChangeAfter(Happened, book.CompanyMinorUnits) };
    }
}

/// <summary>Fills in what an event leaves out and the books know. What it says itself always stays.</summary>
public sealed partial class Preparing
{
    readonly CompiledRulebook book;
    readonly BusinessEvent happened;
    readonly Books books;
    readonly Crediting? crediting;
    readonly List<FilledIn> filled = [];
    readonly List<HeldReason> objections = [];

    Preparing(CompiledRulebook book, BusinessEvent received, Books books)
    {
        (this.book, this.books) = (book, books);
        happened = received;
        crediting = Crediting.Of(received, books.Invoices, MinorUnits);
        happened = crediting is null ? happened : WithInvoice((Document)happened, crediting);
        happened = WithRate();
        happened = WithDue();
    }

    /// <summary>Prepares an event.</summary>
    /// <param name="book">The rulebook it will land by.</param>
    /// <param name="happened">The event as received.</param>
    /// <param name="books">What stands in the books before it. What is asked for is noted there, also where nothing is known.</param>
    public static PreparedEvent Prepare(CompiledRulebook book, BusinessEvent happened, Books books)
    {
        foreach (var stock in happened.StockMoved)
            if (IsStock(book, stock.Item, out var item))
                books.Stock.Ask(new(item.Code, stock.Location));
        if (happened.Withdrawn)
            return new(happened, []);
        var preparing = new Preparing(book, happened, books);
        var prepared = EventTypes.Of(happened).Prepare?.Invoke(preparing, preparing.happened) ?? preparing.happened;
        return new(prepared, preparing.filled)
        {
            Objections =
            [
                .. preparing.crediting?.Misfits(book.CompanyCurrency) ?? [], .. preparing.objections,
                .. Crediting.NotesLeftOver(happened, books.Invoices, preparing.MinorUnits, book.CompanyCurrency),
            ],
        };
    }

    string Currency => happened.Currency is { } currency ? Fold.Of(currency) : book.CompanyCurrency;
    Party? TheParty => happened.Party is { } party && book.Parties.TryFind(party, out var known) ? known : null;
    string? KnownParty => TheParty?.Code;
    // Of a currency that is none, two: the event is held for it.
    int MinorUnits => Money.TryMinorUnits(Currency, out var units) ? units : 2;
    bool IsForeign => Currency != book.CompanyCurrency;

    // A credit note has the tax date, the rate, and where it names lines or items, the costs and standing accounts of its invoice.
    Document WithInvoice(Document note, Crediting crediting)
    {
        var invoice = crediting.Invoice;
        var made = note with { Lines = [.. note.Lines.Select((line, i) => WithLine(line, $"Line {i + 1}", crediting))] };
        if (note.TaxDate is null && invoice.EffectiveTaxDate != note.Date)
        {
            Note("The document", "tax date", Written.DayNow(invoice.EffectiveTaxDate), $"that of {invoice.Id}");
            made = made with { TaxDate = invoice.EffectiveTaxDate };
        }
        if (note.Rate is null && IsForeign && invoice.Rate is { } rate)
        {
            Note("The document", "rate", Written.NumberNow(rate), $"that of {invoice.Id}");
            made = made with { Rate = rate };
        }
        return made;
    }

    DocumentLine WithLine(DocumentLine line, string where, Crediting crediting)
    {
        if (!line.StockMoves || crediting.LineOf(line) is not { } at)
            return line;
        var own = crediting.Invoice.Lines[at];
        if (line.UnitCost is null && own.UnitCost is { } cost)
            Note(where, "cost of one unit", Written.NumberNow(cost), $"that of line {at + 1} of {crediting.Invoice.Id}");
        if (line.StandsOn is null && own.StandsOn is { } account)
            Note(where, "stands on", account, $"line {at + 1} of {crediting.Invoice.Id} stood there");
        return line with { UnitCost = line.UnitCost ?? own.UnitCost, StandsOn = line.StandsOn ?? own.StandsOn };
    }

    BusinessEvent WithRate()
    {
        if (happened.Rate is not null || !IsForeign || books.RateOf(Currency, happened.Date) is not { } known)
            return happened;
        Note("The document", "rate", Written.NumberNow(known.Rate), $"the rate of {Currency} on {Written.DayNow(known.Of)}");
        return happened with { Rate = known.Rate };
    }

    void Note(string where, string what, string value, string from) => filled.Add(new(where, what, value, from));

    // Goods that are kept in stock.
    bool IsStock(string? code, out Item item) => IsStock(book, code, out item);

    static bool IsStock(CompiledRulebook book, string? code, out Item item)
    {
        item = null!;
        return code is not null && book.Book.Company.Options.PerpetualStock && book.Items.TryFind(code, out item!) && item.Kind == ItemKind.Stock;
    }

    string? OwnAccount(Item item, string? place)
    {
        var facts = Whereabouts.FactsOf(book, new Asked
        {
            Item = item.Code, Party = happened.Party, Further = place is null ? [] : [new FactValue(Fact.Location, place)],
        });
        return Whereabouts.Of(book, Purpose.Inventory, facts, happened.Date).Account?.Number;
    }

    /// <summary>Goods of lines that leave stock (or come to it, where the quantity is negative): their cost, and the account they stand on. A line whose
    /// stock stands on several accounts becomes several.</summary>
    /// <param name="lines">The lines.</param>
    /// <param name="leaving">1 where a quantity above 0 leaves, -1 where it comes.</param>
    /// <param name="underWay">They have been under way, at no place.</param>
    internal IReadOnlyList<GoodsLine> Goods(IReadOnlyList<GoodsLine> lines, int leaving, bool underWay = false) =>
        Goods(lines, leaving, line => new(line.Item, underWay ? null : line.Place.Location ?? happened.Location, line.Quantity, line.UnitCost, line.StandsOn),
            (line, issue) => line with { Quantity = issue.Quantity, UnitCost = issue.UnitCost, StandsOn = issue.Account });

    /// <summary>What a project uses of stock: its cost, and the account it stands on.</summary>
    internal IReadOnlyList<UsageLine> Goods(IReadOnlyList<UsageLine> lines) =>
        Goods(lines, 1, line => new(line.Item, line.Place.Location ?? happened.Location, line.Quantity, line.UnitCost, line.StandsOn),
            (line, issue) => line with { Quantity = issue.Quantity, UnitCost = issue.UnitCost, StandsOn = issue.Account });

    /// <summary>What a line says of goods that move.</summary>
    readonly record struct SaidOfGoods(string? Item, string? Place, decimal Quantity, decimal? UnitCost, string? StandsOn);

    List<T> Goods<T>(IReadOnlyList<T> lines, int leaving, Func<T, SaidOfGoods> said, Func<T, StockIssue, T> with)
    {
        var made = new List<T>(lines.Count);
        for (var i = 0; i < lines.Count; i++)
        {
            var (line, where) = (said(lines[i]), $"Line {i + 1}");
            if (!IsStock(line.Item, out var item) || line.Quantity == 0)
                made.Add(lines[i]);
            else if (Math.Sign(line.Quantity) == leaving)
                made.AddRange(Issues(item, line.Place, Math.Abs(line.Quantity), line.UnitCost, line.StandsOn, where)
                    .Select(issue => with(lines[i], issue with { Quantity = leaving * issue.Quantity })));
            else
                made.Add(with(lines[i], new(line.StandsOn, line.Quantity, line.UnitCost ?? Average(item, line.Place, where))));
        }
        return made;
    }

    /// <summary>Goods of a priced document that leave stock or come back to it. Where its stock stands on several accounts, the line itself moves nothing
    /// any more, and lines without a price behind it move the parts: so no amount of the document changes.</summary>
    internal IReadOnlyList<DocumentLine> Goods(IReadOnlyList<DocumentLine> lines, int leaving)
    {
        var (made, moves) = (new List<DocumentLine>(lines.Count), new List<DocumentLine>());
        for (var i = 0; i < lines.Count; i++)
        {
            var (line, where) = (lines[i], $"Line {i + 1}");
            var place = line.Location ?? happened.Location;
            if (!line.StockMoves || !IsStock(line.Item, out var item) || line.Quantity == 0)
                made.Add(line);
            else if (Math.Sign(line.Quantity) != leaving)
                made.Add(line with { UnitCost = line.UnitCost ?? Average(item, place, where) });
            else if (Issues(item, place, Math.Abs(line.Quantity), line.UnitCost, line.StandsOn, where) is var issues && issues.Count == 1)
                made.Add(line with { UnitCost = issues[0].UnitCost, StandsOn = issues[0].Account });
            else
            {
                made.Add(line with { StockMoves = false });
                moves.AddRange(issues.Select(issue => line with
                {
                    Quantity = leaving * issue.Quantity, UnitCost = issue.UnitCost, StandsOn = issue.Account, Price = 0, DiscountAmount = null,
                    DiscountPercent = null,
                }));
            }
        }
        return [.. made, .. moves];
    }

    List<StockIssue> Issues(Item item, string? place, decimal quantity, decimal? cost, string? standsOn, string where)
    {
        // What the line says itself holds.
        if (standsOn is not null && cost is not null)
            return [new(standsOn, quantity, cost)];
        var issues = books.Stock.Leave(item.Code, place, quantity, OwnAccount(item, place)).ToList();
        if (standsOn is not null)
            issues = [new(standsOn, quantity, issues[0].UnitCost)];
        if (cost is not null)
            issues = issues.ConvertAll(issue => issue with { UnitCost = cost });
        foreach (var issue in issues)
            NoteIssue(item, place, issue, cost is null, standsOn is null, where);
        return issues;
    }

    void NoteIssue(Item item, string? place, StockIssue issue, bool ofCost, bool ofAccount, string where)
    {
        var at = place is null ? "" : $" at {place}";
        if (ofCost && issue.UnitCost is { } cost)
            Note(where, "cost of one unit", Written.NumberNow(cost),
                issue.Account is null ? $"the last cost of {item.Code}{at}; {Written.NumberNow(issue.Quantity)} are not in stock"
                    : $"the average of {item.Code}{at}");
        if (ofAccount && issue.Account is { } account)
            Note(where, "stands on", account, $"{Written.NumberNow(issue.Quantity)} of {item.Code}{at} stand there");
    }

    decimal? Average(Item item, string? place, string where)
    {
        var average = books.Stock.Average(item.Code, place);
        if (average is { } cost)
            Note(where, "cost of one unit", Written.NumberNow(cost), $"the average of {item.Code}{(place is null ? "" : " at " + place)}");
        return average;
    }
}
