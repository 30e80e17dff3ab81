using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>A balance as a connected system has it.</summary>
/// <param name="Subledger">The subledger.</param>
/// <param name="Member">Whose it is.</param>
/// <param name="Currency">Currency of the amount; null: the company's.</param>
/// <param name="Amount">The balance, debit positive.</param>
/// <param name="Quantity">The quantity, for stock.</param>
public sealed record StatedBalance(Subledger Subledger, string Member, string? Currency, decimal? Amount, decimal? Quantity);

/// <summary>A range of document numbers as a connected system has used it.</summary>
/// <param name="Series">Which documents.</param>
/// <param name="From">First number.</param>
/// <param name="To">Last number.</param>
/// <param name="Count">How many there are.</param>
public sealed record StatedNumbers(string Series, string From, string To, int Count);

/// <summary>What a connected system says its own balances, counts and number ranges are. It posts nothing: it is there to be compared.</summary>
public sealed record BalanceStatement : BusinessEvent
{
    /// <summary>A statement with no header yet.</summary>
    public BalanceStatement() { }

    /// <summary>A statement under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal BalanceStatement(EventHeader header) : base(header) { }

    /// <summary>Balances.</summary>
    public IReadOnlyList<StatedBalance> Lines { get; init; } = [];
    /// <summary>Ranges of numbers.</summary>
    public IReadOnlyList<StatedNumbers> Numbers { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "balance-statement";
}

/// <summary>Nothing is posted.</summary>
sealed class BalanceStatementRecipe(CompiledRulebook book, BalanceStatement statement) : Recipe<BalanceStatement>(book, statement)
{
    internal static EventType Type { get; } = new(BalanceStatement.Name, EventFamily.Openings,
    [
        new("lines", FieldKind.List)
        {
            Inner =
            [
                new("subledger", FieldKind.Word) { Required = true, Words = Words<Subledger>.All },
                new("member", FieldKind.Code) { Required = true }, new("currency", FieldKind.Code), new("amount", FieldKind.Amount),
                new("quantity", FieldKind.Amount),
            ],
        },
        new("numbers", FieldKind.List)
        {
            Inner =
            [
                new("series", FieldKind.Code) { Required = true }, new("from", FieldKind.Code) { Required = true },
                new("to", FieldKind.Code) { Required = true }, new("count", FieldKind.Whole) { Required = true },
            ],
        },
    ], static (book, happened) => new BalanceStatementRecipe(book, (BalanceStatement)happened).Land());

    protected override HeldReason? ShapeFault(Shape shape) => null;

    protected override void Write()
    {
    }
}
