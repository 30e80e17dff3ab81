using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Balances with which the books begin, of accounts whose balance is not kept item by item.</summary>
public sealed record OpeningBalance : BusinessEvent
{
    /// <summary>An opening with no header yet.</summary>
    public OpeningBalance() { }

    /// <summary>An opening under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal OpeningBalance(EventHeader header) : base(header) { }

    /// <summary>The balances.</summary>
    public IReadOnlyList<JournalLine> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "opening-balance";
}

/// <summary>The accounts named against the opening balance, whatever the policy for entries by hand; what is kept by item comes as items.</summary>
sealed class OpeningBalanceRecipe(CompiledRulebook book, OpeningBalance opening) : JournalRecipe<OpeningBalance>(book, opening)
{
    internal static EventType Type { get; } = new(OpeningBalance.Name, EventFamily.Openings, [Lines(byParty: false)],
        static (book, happened) => new OpeningBalanceRecipe(book, (OpeningBalance)happened).Land());

    protected override HeldReason? ShapeFault(Shape shape) => LinesFault(shape, Happened.Lines);

    protected override void Write()
    {
        WriteLines(Happened.Lines);
        if (IsComplete)
            Entry.Post(Purpose.OpeningBalance, Row, -Happened.Lines.Sum(line => line.Amount));
    }

    protected override HeldReason? ByHandFault(Account account) => account.Control is null or Control.Tax or Control.Bank ? null
        : new HeldReason(HeldCause.ManualBlocked, $"Account {account.Number} {account.Name} is a control account of {account.Control.Value.InWords()}: " +
            "its opening comes as items, one event each. Take the line out.") { Account = account.Number };
}
