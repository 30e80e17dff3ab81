using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>The balance of an account of the profit and loss that is taken out at the year's end.</summary>
/// <param name="Account">Number of the account.</param>
/// <param name="Amount">Its balance, company currency, debit positive.</param>
/// <param name="Dimensions">Dimensions of that balance.</param>
public sealed record ClosedBalance(string Account, decimal Amount, Dimensions Dimensions);

/// <summary>The end of a fiscal year: income and expense go to retained earnings.</summary>
public sealed record YearEnd : BusinessEvent
{
    /// <summary>A year's end with no header yet.</summary>
    public YearEnd() { }

    /// <summary>A year's end under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal YearEnd(EventHeader header, string fiscalYear) : base(header) => FiscalYear = fiscalYear;

    /// <summary>The year that ends.</summary>
    public required string FiscalYear { get; init; }
    /// <summary>The balances.</summary>
    public IReadOnlyList<ClosedBalance> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Dimensions);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "year-end";
}

/// <summary>Every balance is taken off its account, and their sum goes to retained earnings. The accounts may be inactive, and fall under no policy.</summary>
sealed class YearEndRecipe(CompiledRulebook book, YearEnd end) : Recipe<YearEnd>(book, end)
{
    internal static EventType Type { get; } = new(YearEnd.Name, EventFamily.Journals,
    [
        EventFields.Adjustment, new("fiscalYear", FieldKind.Year) { Required = true },
        new("lines", FieldKind.List)
        {
            Required = true,
            Inner = [new("account", FieldKind.Code) { Required = true }, new("amount", FieldKind.Amount) { Required = true },
                new("dimensions", FieldKind.Dimensions)],
        },
    ], static (book, happened) => new YearEndRecipe(book, (YearEnd)happened).Land());

    protected override HeldReason? ShapeFault(Shape shape) =>
        Posting.IsConverted ? HeldReason.Invalid("currency",
            $"A year ends in company currency {Posting.CompanyCurrency}. Leave the currency out.")
        : Shape.FirstOf(Happened.Lines, (line, i) => shape.OfCompanyMoney(new Place("lines", i), "amount", line.Amount));

    protected override HeldReason? Open() => Shape.FirstOf(Happened.Lines, (line, i) =>
        Book.Accounts.TryFind(line.Account, out var account) && account.Class is AccountClass.Asset or AccountClass.Liability or AccountClass.Equity
            ? HeldReason.Invalid($"lines[{i}].account", $"Line {i + 1}: account {account.Number} {account.Name} is of class {account.Class.Word()}, and its " +
                "balance goes on into the next year. Take the line out.") : null);

    protected override void Write()
    {
        var sum = 0m;
        for (var i = 0; i < Happened.Lines.Count; i++)
        {
            var (line, place, account) = (Happened.Lines[i], new Place("lines", i), default(Account));
            if (!Matches(unknown => account = Matching.Code(Book.Accounts, line.Account, place, "account", "account", unknown)))
                continue;
            sum += line.Amount;
            Entry.PostNamed(account!, Row with { Line = i, OwnDimensions = line.Dimensions }, -line.Amount, -line.Amount, closed: true);
        }
        Entry.PostCompany(Purpose.RetainedEarnings, Row, sum);
    }
}
