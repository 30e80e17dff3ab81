using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Preparation;
using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Posting;

/// <summary>An event with its outcome under one rulebook, before it meets the books.</summary>
sealed record LandedEvent(PostableEvent Event, Outcome Outcome)
{
    internal BusinessEvent Happened => Event.Happened;
    internal string Source => Event.FoldedSource;
    /// <summary>The connection it names, as a fact; what names none was typed in.</summary>
    internal string Connection => Fold.Of(Happened.Connection ?? PostableEvent.Own);
    internal Landed? Landed => Outcome as Landed;
    /// <summary>To which lines of receipts movements of it belong; those that are not here, to lines of its own.</summary>
    internal IReadOnlyDictionary<StockMovement, IReadOnlyList<ReceiptPart>>? Receipts { get; init; }
    /// <summary>The change of cost that belongs to it; null: stock is worth what came and left.</summary>
    internal LandedEvent? CostChange { get; init; }
}
