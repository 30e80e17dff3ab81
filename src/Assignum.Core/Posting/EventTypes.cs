using System.Collections.Frozen;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>The work an event belongs to.</summary>
public enum EventFamily { Sales, Purchases, Stock, Projects, Assets, Payments, Payouts, Journals, Openings, Corrections }

/// <summary>What came of landing an event that may still be in the making.</summary>
/// <param name="Outcome">Landed or held.</param>
/// <param name="Sofar">Totals and rows as far as they could be found, also when it is held; null where nothing could be opened.</param>
public sealed record Attempt(Outcome Outcome, Landed? Sofar);

/// <summary>One type of event: what it is called, where it belongs, which fields it has, and how it lands.</summary>
public sealed class EventType
{
    readonly Func<CompiledRulebook, BusinessEvent, Attempt> land;

    internal EventType(string name, EventFamily family, IReadOnlyList<EventField> fields, Func<CompiledRulebook, BusinessEvent, Attempt> land) =>
        (Name, Family, Fields, this.land) = (name, family, fields, land);

    /// <summary>As the formats spell it: "sales-invoice".</summary>
    public string Name { get; }
    /// <summary>The work it belongs to.</summary>
    public EventFamily Family { get; }
    /// <summary>"sales invoice".</summary>
    public string InWords => Name.Replace('-', ' ');
    /// <summary>Its own fields, beside those that every event has.</summary>
    public IReadOnlyList<EventField> Fields { get; }
    /// <summary>What tells it from other priced documents; null for an event of another kind.</summary>
    public DocumentTraits? Document { get; init; }

    /// <summary>Fills in from the books what an event of the type leaves out; null where nothing of it stands there.</summary>
    internal Func<Preparation.Preparing, BusinessEvent, BusinessEvent>? Prepare { get; init; }

    internal Attempt Land(CompiledRulebook book, BusinessEvent happened) => land(book, happened);
}

/// <summary>All types of events, in the order they are offered.</summary>
public static class EventTypes
{
    // Read by every event that lands, written when the program starts.
    static volatile FrozenDictionary<string, EventType> byName = FrozenDictionary<string, EventType>.Empty;
    static volatile EventType[] all = [];

    static EventTypes() => Set(
    [
        .. Enum.GetValues<DocumentType>().Select(OfDocument), .. ShipmentRecipe.Types, PurchaseReceiptRecipe.Type, StockAdjustmentRecipe.Type,
        StockTransferRecipe.Type, ProductionRecipe.Type, .. StockValueRecipe.Types, ProjectUsageRecipe.Type, ProjectRecognitionRecipe.Type,
        DepreciationRecipe.Type, AssetTransferRecipe.Type, AssetDisposalRecipe.Type, .. PaymentRecipe.Types, PayoutRecipe.Type, .. DepositRecipe.Types,
        .. AppliedRecipe.Types, GiftCardSoldRecipe.Type, LateChargeRecipe.Type, SettlementRecipe.Type, ManualJournalRecipe.Type, OpeningItemRecipe.Type,
        OpeningBalanceRecipe.Type, YearEndRecipe.Type, RevaluationRecipe.Type, StandingTransferRecipe.Type, ReclassificationRecipe.Type,
        BalanceStatementRecipe.Type,
    ]);

    /// <summary>All of them.</summary>
    public static IReadOnlyList<EventType> All => all;

    /// <summary>The type of a name as the formats spell it; null when there is none.</summary>
    public static EventType? Find(string? name) => name is null ? null : byName.GetValueOrDefault(name);

    /// <summary>The type of an event.</summary>
    public static EventType Of(BusinessEvent happened) => byName[happened.TypeName];

    /// <summary>Adds a type that stands in another assembly; to be called while the program starts. One of the same name takes its place.</summary>
    public static void Add(EventType type) => Set([.. all.Where(known => known.Name != type.Name), type]);

    static void Set(EventType[] types) => (all, byName) = (types, types.ToFrozenDictionary(type => type.Name));

    static EventType OfDocument(DocumentType type)
    {
        var traits = DocumentTraits.Of(type);
        return new(Words<DocumentType>.Of(type), FamilyOf(traits), EventFields.Of(traits),
            static (book, happened) => DocumentRecipe.Land(book, (Document)happened))
        {
            Document = traits, Prepare = static (preparing, happened) => DocumentRecipe.Prepare(preparing, (Document)happened),
        };
    }

    static EventFamily FamilyOf(DocumentTraits traits)
    {
        if (traits.OfProject)
            return EventFamily.Projects;
        return traits.Buys ? EventFamily.Purchases : EventFamily.Sales;
    }
}
