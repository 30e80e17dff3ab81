namespace Assignum.Core.Posting;

/// <summary>The work an event belongs to.</summary>
public enum EventFamily { Sales, Purchases, Corrections }

/// <summary>What came of landing an event that may still be in the making.</summary>
/// <param name="Outcome">Landed or held.</param>
/// <param name="Sofar">Totals and rows as far as they could be found, also when it is held; null where nothing could be opened.</param>
public sealed record Attempt(Outcome Outcome, Landed? Sofar);

/// <summary>One type of event: what it is called, where it belongs, and how it lands.</summary>
public sealed class EventType
{
    readonly Func<Rulebooks.CompiledRulebook, BusinessEvent, Attempt> land;

    internal EventType(string name, EventFamily family, Func<Rulebooks.CompiledRulebook, BusinessEvent, Attempt> land) => (Name, Family, this.land) = (name, family, land);

    /// <summary>As the formats spell it: "sales-invoice".</summary>
    public string Name { get; }
    /// <summary>The work it belongs to.</summary>
    public EventFamily Family { get; }
    /// <summary>"sales invoice".</summary>
    public string InWords => Name.Replace('-', ' ');
    /// <summary>What tells it from other priced documents; null for an event of another kind.</summary>
    public DocumentTraits? Document { get; init; }

    internal Attempt Land(Rulebooks.CompiledRulebook book, BusinessEvent happened) => land(book, happened);
}

/// <summary>All types of events, in the order they are offered.</summary>
public static class EventTypes
{
    /// <summary>All of them.</summary>
    public static IReadOnlyList<EventType> All { get; } =
    [
        .. Enum.GetValues<DocumentType>().Select(OfDocument),
        new(Reclassification.Name, EventFamily.Corrections, static (book, happened) => ReclassificationRecipe.Land(book, (Reclassification)happened)),
    ];

    static readonly Dictionary<string, EventType> ByName = All.ToDictionary(type => type.Name);

    /// <summary>The type of a name as the formats spell it; null when there is none.</summary>
    public static EventType? Find(string? name) => name is null ? null : ByName.GetValueOrDefault(name);

    /// <summary>The type of an event.</summary>
    public static EventType Of(BusinessEvent happened) => ByName[happened.TypeName];

    static EventType OfDocument(DocumentType type) =>
        new(Words<DocumentType>.Of(type), DocumentTraits.Of(type).Buys ? EventFamily.Purchases : EventFamily.Sales, static (book, happened) => DocumentRecipe.Land(book, (Document)happened))
        {
            Document = DocumentTraits.Of(type),
        };
}
