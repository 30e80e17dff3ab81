using System.Runtime.CompilerServices;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats;
using Assignum.Formats.Events;
using Assignum.Web.Pages.TryOut;

namespace Assignum.NewEvent.Tests;

/// <summary>Samples that were given away: what a new type of event consists of. It stands in a test so that nothing in src/ can know it.</summary>
sealed record SamplesGiven : BusinessEvent
{
    internal const string Name = "samples-given";

    public SamplesGiven() { }

    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal SamplesGiven(EventHeader header) : base(header) { }

    /// <summary>What was given.</summary>
    public IReadOnlyList<SampleLine> Lines { get; init; } = [];

    public override string TypeName => Name;
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Dimensions);
}

sealed record SampleLine(string Item, decimal Quantity, decimal? UnitCost, Dimensions Dimensions);

/// <summary>Goods leave as samples: their cost moves from stock to stock differences, for the reason sample.</summary>
static class SamplesGivenRecipe
{
    internal static EventType Type { get; } = new(SamplesGiven.Name, EventFamily.Stock,
    [
        new("lines", FieldKind.List)
        {
            Required = true,
            Inner = [new("item", FieldKind.Code) { Required = true }, new("quantity", FieldKind.Amount) { Required = true }, new("unitCost", FieldKind.Amount), new("dimensions", FieldKind.Dimensions)],
        },
    ], static (book, happened) => Land(book, (SamplesGiven)happened));

    static Attempt Land(CompiledRulebook book, SamplesGiven given)
    {
        if (ShapeFault(given) is { } malformed)
            return new(new Held([malformed]), null);
        var posting = new PostingContext(book, given);
        if (posting.Open(book, _ => null) is { } unknown)
            return new(new Held([unknown]), null);
        var reasons = new List<HeldReason>();
        var entry = new EntryDraft(book, posting, reasons);
        for (var i = 0; i < given.Lines.Count; i++)
            Write(book, given.Lines[i], i, posting, entry, reasons);
        var sofar = new Landed(entry.Rows, entry.Subledger);
        return new(reasons.Count == 0 ? sofar : new Held([.. reasons.Distinct()]), sofar);
    }

    static HeldReason? ShapeFault(SamplesGiven given)
    {
        for (var i = 0; i < given.Lines.Count; i++)
            if (given.Lines[i].Quantity <= 0)
                return HeldReason.Invalid($"lines[{i}].quantity", $"Line {i + 1}: {given.Lines[i].Quantity} samples were given. Give a quantity above 0.");
        return null;
    }

    static void Write(CompiledRulebook book, SampleLine line, int index, PostingContext posting, EntryDraft entry, List<HeldReason> reasons)
    {
        var item = Matching.Code(book.Items, line.Item, new Place("lines", index), "item", "item", reasons);
        if (item is null)
            return;
        var facts = posting.Row.Facts.Copy();
        book.SetItem(facts, book.Items.IdOf(line.Item));
        facts[Fact.ItemKind] = (int)item.Kind + 1;
        book.Set(facts, Fact.Reason, "sample");
        var row = posting.Row with { Facts = facts, Line = index, Item = item, OwnDimensions = line.Dimensions };
        if ((line.UnitCost ?? item.Cost) is not { } cost)
        {
            reasons.Add(new HeldReason(HeldCause.NoCost, $"Item {item.Code} {item.Name} has no cost. Give unitCost on the line, or a cost on the item.") { Item = item.Code });
            return;
        }
        var amount = Money.Round(line.Quantity * cost, posting.CompanyMinorUnits);
        entry.PostCompany(Purpose.StockDifference, row, amount);
        entry.PostCompany(Purpose.Inventory, row, -amount);
        entry.Move(new StockMovement(Subledger.Inventory, item, null, row.Location, -line.Quantity, new Moved(-amount, posting.CompanyCurrency, -amount)));
    }
}

/// <summary>How it stands in files.</summary>
sealed class SamplesGivenJson : OwnFields
{
    List<SampleLine>? lines;

    internal static EventFormat Format { get; } = new(SamplesGiven.Name, () => new SamplesGivenJson(), static (json, happened) => Write(json, (SamplesGiven)happened));

    internal override bool Read(ref EventParser parser, string name)
    {
        if (name != "lines")
            return false;
        lines = parser.List(name, ReadLine);
        return true;
    }

    internal override BusinessEvent? Make(ref EventParser parser, EventHeader header) =>
        lines is null ? parser.Missing("lines", "Say which samples were given.") : new SamplesGiven(header) { Lines = lines };

    static SampleLine ReadLine(ref EventParser parser, string place)
    {
        var seen = new EventParser.Seen();
        string? item = null;
        decimal? quantity = null, cost = null;
        Dimensions? dimensions = null;
        while (parser.Next(ref seen, place, out var name))
        {
            switch (name)
            {
                case "item": item = parser.Code(name, place); break;
                case "quantity": quantity = parser.Amount(name, place); break;
                case "unitCost": cost = parser.Amount(name, place); break;
                case "dimensions": dimensions = parser.ReadDimensions(place + ".dimensions"); break;
                default: parser.Unknown(name, place + "." + name, "a line"); break;
            }
        }
        if (parser.Fault is null && (item is null || quantity is null))
            parser.Refuse(place + (item is null ? ".item" : ".quantity"), $"{place} needs item and quantity.");
        return new SampleLine(item ?? "", quantity ?? 0, cost, dimensions ?? Dimensions.None);
    }

    static void Write(Utf8JsonWriter json, SamplesGiven given) =>
        json.List("lines", given.Lines, line =>
        {
            json.Text("item", line.Item);
            json.Amount("quantity", line.Quantity);
            json.Amount("unitCost", line.UnitCost);
            json.Texts("dimensions", line.Dimensions.All);
        });
}

/// <summary>It joins the tables of types, formats and forms when the program starts.</summary>
static class SamplesGivenUnit
{
    [ModuleInitializer]
    internal static void Join()
    {
        EventTypes.Add(SamplesGivenRecipe.Type);
        EventFormats.Add(SamplesGivenJson.Format);
        EventForm.Add(new FieldsForm(SamplesGivenRecipe.Type,
            [new("location", "From", Typing.Chosen) { List = "location", Placeholder = "location" }, new("date", "Date", Typing.Day), new("text", "Text")],
            [new("item", "Item", Typing.Chosen) { List = "item", Needed = true }, new("quantity", "Quantity", Typing.Number) { Needed = true }, new("unitCost", "Cost of one", Typing.Number) { Placeholder = "of the item" }],
            "what was given"));
    }
}
