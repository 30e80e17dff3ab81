using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>An entry made by hand.</summary>
public sealed record ManualJournal : BusinessEvent
{
    /// <summary>A journal with no header yet.</summary>
    public ManualJournal() { }

    /// <summary>A journal under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal ManualJournal(EventHeader header) : base(header) { }

    /// <summary>Its lines; debits and credits come to the same.</summary>
    public IReadOnlyList<JournalLine> Lines { get; init; } = [];

    /// <summary>The journal that takes this one back: every line on its other side.</summary>
    /// <param name="on">Its day.</param>
    /// <param name="of">Id of the event it refers to.</param>
    public ManualJournal TurnedRound(DateOnly on, string of) => this with
    {
        Date = on, RefersTo = of, Lines = [.. Lines.Select(line => line with { Debit = line.Credit, Credit = line.Debit })],
    };

    /// <summary>What it comes to, company currency: the sum of what stands in debit.</summary>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    public decimal Sum(int minorUnits) => Money.Round(Lines.Sum(line => Math.Max(0, line.Amount)) * (Rate ?? 1), minorUnits);

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Place.Dimensions);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "manual-journal";
}

/// <summary>The accounts named, under the policy for entries by hand; lines by party or money account by their ladder, with their movement.</summary>
sealed class ManualJournalRecipe(CompiledRulebook book, ManualJournal journal) : JournalRecipe<ManualJournal>(book, journal)
{
    internal static EventType Type { get; } = new(ManualJournal.Name, EventFamily.Journals, [EventFields.Adjustment, Lines(byParty: true)],
        static (book, happened) => new ManualJournalRecipe(book, (ManualJournal)happened).Land());

    protected override HeldReason? ShapeFault(Shape shape) => LinesFault(shape, Happened.Lines);

    protected override HeldReason? Open() => SidesFault(Happened.Lines);

    protected override void Write()
    {
        WriteLines(Happened.Lines);
        if (Happened.Lines.Sum(line => line.Amount) is not 0 and var left)
        {
            Refuse(new HeldReason(HeldCause.Unbalanced,
                FormattableString.Invariant($"Debits and credits differ by {Math.Abs(left)} {Posting.Currency}: there is ") +
                $"more {(left > 0 ? "debit" : "credit")}. Add what is missing on the other side."));
            IsComplete = false;
        }
    }

    protected override HeldReason? ByHandFault(Account account)
    {
        var said = $"Account {account.Number} {account.Name}{(account.Control is { } control ? $" is a control account of {control.InWords()}, and" : ":")} ";
        if (account.Manual == ManualPolicy.Block)
            return new HeldReason(HeldCause.ManualBlocked, said + "entries by hand are blocked there. Name another account, or the party or money account.")
            {
                Account = account.Number,
            };
        if (account.Manual == ManualPolicy.Warn)
            Entry.Warn(new Warning(null, account.Number, said + (account.Control is null ? "entries by hand ask for care there."
                : "entries by hand make ledger and subledger differ.")));
        return null;
    }
}
