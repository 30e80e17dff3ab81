using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Web.Pages.TryOut;

/// <summary>A line of the try-out as somebody typed it.</summary>
public sealed class TryOutLine
{
    /// <summary>An item or an account, by code, number or part of a name.</summary>
    public string? Sold { get; set; }
    public string? Quantity { get; set; }
    public string? Price { get; set; }
    /// <summary>Per cent.</summary>
    public string? Discount { get; set; }
    public string? TaxCode { get; set; }
    /// <summary>Goods move with the document.</summary>
    public bool Shipped { get; set; }
    /// <summary>Cost of one unit at which it was received before, on purchase invoices.</summary>
    public string? ReceivedCost { get; set; }
    /// <summary>"CC=100; SITE=N".</summary>
    public string? Dimensions { get; set; }

    /// <summary>Whether nothing was typed.</summary>
    public bool IsEmpty => string.IsNullOrWhiteSpace(Sold) && string.IsNullOrWhiteSpace(Price);
}

/// <summary>A priced document in the making, as somebody typed it.</summary>
public sealed class TryOutForm
{
    /// <summary>Made when the page was opened, so that posting twice posts once.</summary>
    public string Id { get; set; } = "";
    /// <summary>Its type: "sales-invoice".</summary>
    public string? Type { get; set; }
    /// <summary>What the form of its type asks for.</summary>
    public DocumentForm Kind => DocumentForm.Find(Type);
    public string? Party { get; set; }
    public DateOnly? Date { get; set; }
    public string? Location { get; set; }
    public string? Connection { get; set; }
    public string? Currency { get; set; }
    public string? Rate { get; set; }
    public bool IncludesTax { get; set; }
    public string? Text { get; set; }
    /// <summary>The control account chosen among those the party may have.</summary>
    public string? Control { get; set; }
    /// <summary>"CC=100; SITE=N", for the whole document.</summary>
    public string? Dimensions { get; set; }
    public List<TryOutLine> Lines { get; set; } = [];

    /// <summary>Whether anything was typed that could land.</summary>
    public bool IsEmpty => Lines.TrueForAll(l => l.IsEmpty);

    /// <summary>The document that was typed; faults name their field: "party", "lines[2].price".</summary>
    internal (Document Document, IReadOnlyDictionary<string, string> Faults) Read(Rulebook book, DateOnly today)
    {
        var faults = new Dictionary<string, string>();
        var kind = Kind;
        var party = Picked("party", Pick.One(Party, book.Parties.Where(p => p.Role != kind.Other), p => p.Code, p => p.Name, kind.Party));
        // Who is known under that, and has the other role, is named as what they are.
        if (party is null && Pick.One(Party, book.Parties, p => p.Code, p => p.Name, "party").Thing is { } other && other.Role == kind.Other)
            faults["party"] = $"{other.Code} {other.Name} is a {other.Role.Word()}. Name a {kind.Party}, or give {other.Code} the role both.";
        var control = Picked("control", AccountPick.One(Control, book.Accounts, kind.Owed));
        var location = Picked("location", Pick.One(Location, book.Locations, l => l.Code, l => l.Name, "location"));
        var rate = Number("rate", Rate);
        if (party is null && !faults.ContainsKey("party"))
            faults["party"] = $"{kind.WhoAsked} Type a code or any part of a name.";
        List<(int Place, TryOutLine Line)> typed = [.. Lines.Select((line, i) => (i, line)).Where(l => !l.line.IsEmpty)];
        var document = new Document
        {
            Id = Id, Type = kind.Traits.Type, Control = control?.Number, Date = Date ?? today, Party = party?.Code, Location = location?.Code, Connection = Empty(Connection), Currency = Empty(Currency), Rate = rate,
            PricesIncludeTax = IncludesTax, Text = Empty(Text), Dimensions = ReadDimensions("dimensions", Dimensions), Lines = [.. typed.Select(l => ReadLine(book, l.Line, l.Place))],
        };
        return (document, faults);

        T? Picked<T>(string field, Picked<T> picked) where T : class
        {
            if (picked.Fault is { } fault)
                faults[field] = fault;
            return picked.Thing;
        }

        decimal? Number(string field, string? text)
        {
            if (string.IsNullOrWhiteSpace(text))
                return null;
            if (Written.Now.TryNumber(text, out var number))
                return number;
            faults[field] = Sending.Typed.NotANumber(text);
            return null;
        }

        Dimensions ReadDimensions(string field, string? text)
        {
            var parts = (text ?? "").Split(';', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries).Select(p => p.Split('=', 2, StringSplitOptions.TrimEntries)).ToList();
            if (parts.Count == 0)
                return Core.Posting.Dimensions.None;
            if (parts.TrueForAll(p => p.Length == 2 && p[0].Length > 0 && p[1].Length > 0))
                return new Dimensions(parts.Select(p => KeyValuePair.Create(p[0], p[1])));
            faults[field] = $"“{text}” names no dimension with a value. Write them as CC=100, with ; between several.";
            return Core.Posting.Dimensions.None;
        }

        DocumentLine ReadLine(Rulebook rulebook, TryOutLine line, int place)
        {
            var at = $"lines[{place}]";
            var sold = Picked(at + ".sold", Pick.One(line.Sold, Sellable.Of(rulebook), s => s.Code, s => s.Name, "item or posting account"));
            if (sold is null && !faults.ContainsKey(at + ".sold"))
                faults[at + ".sold"] = $"{kind.WhatAsked} Type an item or an account, by code, number or part of a name.";
            if (string.IsNullOrWhiteSpace(line.Price))
                faults[at + ".price"] = "The price of one unit is missing. Type it; 0 is allowed.";
            var tax = Picked(at + ".tax", Pick.One(line.TaxCode, rulebook.TaxCodes, t => t.Code, t => t.Name, "tax code"));
            return new DocumentLine
            {
                Item = sold is { IsAccount: false } ? sold.Code : null, Account = sold is { IsAccount: true } ? sold.Code : null,
                Quantity = Number(at + ".quantity", line.Quantity) ?? 1, Price = Number(at + ".price", line.Price) ?? 0, DiscountPercent = Number(at + ".discount", line.Discount),
                ReceivedCost = kind.Traits.TakesReceipt ? Number(at + ".received", line.ReceivedCost) : null,
                TaxCode = tax?.Code, StockMoves = line.Shipped && sold is { IsAccount: false }, Dimensions = ReadDimensions(at + ".dimensions", line.Dimensions),
            };
        }
    }

    static string? Empty(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}

/// <summary>What a line can name.</summary>
sealed record Sellable(string Code, string Name, bool IsAccount)
{
    internal static IReadOnlyList<Sellable> Of(Rulebook book) =>
        [.. book.Items.Select(i => new Sellable(i.Code, i.Name, false)), .. book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a => new Sellable(a.Number, a.Name, true))];
}
