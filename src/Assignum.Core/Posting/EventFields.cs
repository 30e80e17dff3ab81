using Assignum.Core.Groups;

namespace Assignum.Core.Posting;

/// <summary>What the value of a field is.</summary>
public enum FieldKind { Text, Code, Amount, Whole, Flag, Date, Word, Dimensions, List, Year }

/// <summary>A field of an event, as files spell it; readers, writers, schemas and forms are held against it.</summary>
/// <param name="Name">"unitCost".</param>
/// <param name="Kind">What its value is.</param>
public sealed record EventField(string Name, FieldKind Kind)
{
    /// <summary>A file without it is no such event.</summary>
    public bool Required { get; init; }
    /// <summary>The words it may have, of a field that is a word.</summary>
    public IReadOnlyList<string> Words { get; init; } = [];
    /// <summary>The fields of each entry, of a field that is a list.</summary>
    public IReadOnlyList<EventField> Inner { get; init; } = [];
}

/// <summary>The fields that events share.</summary>
public static class EventFields
{
    /// <summary>Those that every event has, in the order in which they are written.</summary>
    public static IReadOnlyList<EventField> Header { get; } =
    [
        new("id", FieldKind.Code) { Required = true }, new("type", FieldKind.Word) { Required = true }, new("date", FieldKind.Date) { Required = true },
        new("documentDate", FieldKind.Date), new("taxDate", FieldKind.Date), new("dueDate", FieldKind.Date), new("number", FieldKind.Text),
            new("revision", FieldKind.Whole),
        new("withdrawn", FieldKind.Flag), new("refersTo", FieldKind.Code), new("party", FieldKind.Code), new("currency", FieldKind.Code),
            new("rate", FieldKind.Amount),
        new("location", FieldKind.Code), new("project", FieldKind.Code), new("task", FieldKind.Code), new("taxArea", FieldKind.Code),
            new("connection", FieldKind.Code),
        new("method", FieldKind.Code), new("text", FieldKind.Text), new("control", FieldKind.Code), new("dimensions", FieldKind.Dimensions),
    ];

    /// <summary>It is posted in the adjustment period of its date; of events that may be.</summary>
    internal static EventField Adjustment { get; } = new("adjustment", FieldKind.Flag);

    /// <summary>Those of a priced document.</summary>
    internal static IReadOnlyList<EventField> Of(DocumentTraits traits) =>
    [
        new("total", FieldKind.Amount), new("pricesInclude", FieldKind.Word) { Words = ["none", "tax"] },
        new("lines", FieldKind.List) { Required = true, Inner = LineOf(traits) },
        new("tax", FieldKind.List)
        {
            Inner = [new("taxCode", FieldKind.Code) { Required = true }, new("component", FieldKind.Code), new("amount", FieldKind.Amount) { Required = true }],
        },
        .. traits.TakesTenders ? [Tenders(traits.PartyMayLack)] : Array.Empty<EventField>(),
    ];

    static EventField Tenders(bool required) => new("tenders", FieldKind.List)
    {
        Required = required,
        Inner = [new("moneyAccount", FieldKind.Code), new("method", FieldKind.Code), new("giftCard", FieldKind.Flag),
            new("amount", FieldKind.Amount) { Required = true }],
    };

    static IReadOnlyList<EventField> LineOf(DocumentTraits traits) =>
    [
        new("item", FieldKind.Code), .. traits.OfProject ? [] : new[] { new EventField("account", FieldKind.Code), new("asset", FieldKind.Code) },
        new("itemGroup", FieldKind.Code), new("itemKind", FieldKind.Word) { Words = Words<ItemKind>.All },
        new("quantity", FieldKind.Amount), new("price", FieldKind.Amount), new("discountPercent", FieldKind.Amount), new("discountAmount", FieldKind.Amount),
        new("taxCode", FieldKind.Code), new("unitCost", FieldKind.Amount), new("standsOn", FieldKind.Code), new(traits.StockWord, FieldKind.Flag),
        .. traits.Buys ? [new("toProject", FieldKind.Flag)] : Array.Empty<EventField>(),
        .. traits.TakesReceipt ? [new("receivedCost", FieldKind.Amount), new("receivedAmount", FieldKind.Amount)] : Array.Empty<EventField>(),
        new("location", FieldKind.Code), new("project", FieldKind.Code), new("task", FieldKind.Code), new("taxArea", FieldKind.Code),
            new("text", FieldKind.Text),
        new("refersToLine", FieldKind.Whole), new("dimensions", FieldKind.Dimensions),
    ];
}
