using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>Reads one event out of JSON. The first thing that is malformed ends it, and is named with its field.</summary>
ref partial struct EventParser(ReadOnlySpan<byte> json, StringPool pool)
{
    Utf8JsonReader reader = new(json);
    Seen seenHere;

    string? id, type, number, refersTo, party, currency, location, project, task, taxArea, connection, method, text, control;
    DateOnly? date, documentDate, taxDate, dueDate;
    int? revision;
    bool? withdrawn;
    decimal? rate, total;
    bool pricesIncludeTax;
    Dimensions? dimensions;
    List<DocumentLine>? lines;
    List<ChargedTax>? tax;
    List<Tender>? tenders;
    // A line says by one of three words that stock moves with it, and what was received before; the type of the document decides which of them is right.
    string? stockField, stockWord, receiptField;

    internal HeldReason? Fault { get; private set; }

    /// <summary>The event, or null with <see cref="Fault"/> set.</summary>
    internal BusinessEvent? Parse()
    {
        reader.Read();
        if (reader.TokenType != JsonTokenType.StartObject)
            throw new JsonException("it is no JSON object.");
        while (Next(ref seenHere, "", out var name))
            ReadProperty(name);
        if (Fault is not null)
            return null;
        // Whatever follows the object is no JSON.
        while (reader.Read()) { }
        return Build();
    }

    void ReadProperty(string name)
    {
        switch (name)
        {
            case "id": id = Text(name); break;
            case "type": type = Text(name); break;
            case "date": date = Date(name); break;
            case "documentDate": documentDate = Date(name); break;
            case "taxDate": taxDate = Date(name); break;
            case "dueDate": dueDate = Date(name); break;
            case "number": number = Text(name); break;
            case "revision": revision = Whole(name); break;
            case "withdrawn": withdrawn = Flag(name); break;
            case "refersTo": refersTo = Code(name); break;
            case "party": party = Code(name); break;
            case "currency": currency = Code(name); break;
            case "rate": rate = Amount(name); break;
            case "location": location = Code(name); break;
            case "project": project = Code(name); break;
            case "task": task = Code(name); break;
            case "taxArea": taxArea = Code(name); break;
            case "connection": connection = Code(name); break;
            case "method": method = Code(name); break;
            case "text": text = Text(name); break;
            case "control": control = Code(name); break;
            case "dimensions": dimensions = ReadDimensions(name); break;
            case "total": total = Amount(name); break;
            case "pricesInclude": pricesIncludeTax = Word(name, "none", "tax") == "tax"; break;
            case "lines": lines = List(name, static (ref EventParser p, string place) => p.ReadLine(place)); break;
            case "tax": tax = List(name, static (ref EventParser p, string place) => p.ReadCharge(place)); break;
            case "tenders": tenders = List(name, static (ref EventParser p, string place) => p.ReadTender(place)); break;
            default: Unknown(name, name, "an event"); break;
        }
    }

    Document? Build()
    {
        if (string.IsNullOrWhiteSpace(id))
            return Missing("id", "Give every event an id of its own.");
        if (type is null)
            return Missing("type", "Say which event it is, such as sales-invoice.");
        if (!Words<DocumentType>.TryParse(type, out var known))
        {
            Fault = UnknownType(type);
            return null;
        }
        if (date is null)
            return Missing("date", "Give the posting date as YYYY-MM-DD.");
        if (lines is null)
            return Missing("lines", "Give the lines of the document.");
        var traits = DocumentTraits.Of(known);
        if (stockField is not null && stockWord != traits.StockWord)
            return Refuse(stockField, $"{stockField} does not go with a {type}; the word there is {traits.StockWord}.");
        if (receiptField is not null && !traits.TakesReceipt)
            return Refuse(receiptField, $"{receiptField} does not go with a {type}. Leave it out.");
        if (tenders is null && traits.PartyMayLack)
            return Missing("tenders", "Say in tenders how the takings were paid.");
        if (tenders is not null && !traits.TakesTenders)
            return Refuse("tenders", $"A {type} has no tenders. Send the payment as an event of its own.");
        if (revision < 1)
            return Refuse("revision", $"Revision is {revision}. Revisions count from 1.");

        return new Document
        {
            Id = id, Type = known, Date = date.Value, DocumentDate = documentDate, TaxDate = taxDate, DueDate = dueDate, Number = number,
            Revision = revision ?? 1, Withdrawn = withdrawn ?? false, RefersTo = refersTo, Party = party, Currency = currency, Rate = rate,
            Location = location, Project = project, Task = task, TaxArea = taxArea, Connection = connection, Method = method, Text = text, Control = control,
            Dimensions = dimensions ?? Dimensions.None, Total = total, PricesIncludeTax = pricesIncludeTax,
            Lines = lines, Tax = tax ?? [], Tenders = tenders ?? [],
        };
    }

    internal static HeldReason UnknownType(string type) =>
        HeldReason.Invalid("type", $"Events of type {type} can't be landed. Those that can: {string.Join(", ", EventTypes.All.Select(t => t.Name))}.");

    Document? Missing(string field, string mend) => Refuse(field, $"The event has no {field}. {mend}");

    Document? Refuse(string field, string message)
    {
        Fault ??= HeldReason.Invalid(field, message);
        return null;
    }

    DocumentLine ReadLine(string place)
    {
        var seen = new Seen();
        string? item = null, account = null, itemGroup = null, taxCode = null, standsOn = null, at = null, ofProject = null, ofTask = null, area = null, said = null;
        ItemKind? kind = null;
        decimal? quantity = null, price = null, percent = null, off = null, cost = null, receivedCost = null, receivedAmount = null;
        bool moves = false;
        int? refersToLine = null;
        Dimensions? own = null;
        while (Next(ref seen, place, out var name))
        {
            switch (name)
            {
                case "item": item = Code(name, place); break;
                case "account": account = Code(name, place); break;
                case "itemGroup": itemGroup = Code(name, place); break;
                case "itemKind": kind = Word<ItemKind>(name, place); break;
                case "quantity": quantity = Amount(name, place); break;
                case "price": price = Amount(name, place); break;
                case "discountPercent": percent = Amount(name, place); break;
                case "discountAmount": off = Amount(name, place); break;
                case "taxCode": taxCode = Code(name, place); break;
                case "unitCost": cost = Amount(name, place); break;
                case "standsOn": standsOn = Code(name, place); break;
                case "shipped" or "returned" or "received": moves |= StockFlag(name, place); break;
                case "receivedCost": receivedCost = Receipt(name, place); break;
                case "receivedAmount": receivedAmount = Receipt(name, place); break;
                case "location": at = Code(name, place); break;
                case "project": ofProject = Code(name, place); break;
                case "task": ofTask = Code(name, place); break;
                case "taxArea": area = Code(name, place); break;
                case "text": said = Text(name, place); break;
                case "refersToLine": refersToLine = Whole(name, place); break;
                case "dimensions": own = ReadDimensions(place + ".dimensions"); break;
                default: Unknown(name, place + "." + name, "a line"); break;
            }
        }
        return new DocumentLine
        {
            Item = item, Account = account, ItemGroup = itemGroup, ItemKind = kind, Quantity = quantity ?? 1, Price = price, DiscountPercent = percent, DiscountAmount = off,
            TaxCode = taxCode, UnitCost = cost, StandsOn = standsOn, StockMoves = moves, ReceivedCost = receivedCost, ReceivedAmount = receivedAmount, Location = at, Project = ofProject, Task = ofTask, TaxArea = area, Text = said,
            RefersToLine = refersToLine, Dimensions = own ?? Dimensions.None,
        };
    }

    bool StockFlag(string name, string place)
    {
        if (Flag(name, place) is not { } moves)
            return false;
        var misplaced = stockWord is not null && stockWord != name;
        if (stockField is null || misplaced)
            (stockField, stockWord) = (place + "." + name, misplaced ? "" : name);
        return moves;
    }

    decimal? Receipt(string name, string place)
    {
        var amount = Amount(name, place);
        if (amount is not null)
            receiptField ??= place + "." + name;
        return amount;
    }

    ChargedTax ReadCharge(string place)
    {
        var seen = new Seen();
        string? code = null, component = null;
        decimal? amount = null;
        while (Next(ref seen, place, out var name))
        {
            switch (name)
            {
                case "taxCode": code = Code(name, place); break;
                case "component": component = Code(name, place); break;
                case "amount": amount = Amount(name, place); break;
                default: Unknown(name, place + "." + name, "a charged tax"); break;
            }
        }
        if (Fault is null && (code is null || amount is null))
            Refuse(place + (code is null ? ".taxCode" : ".amount"), $"{place} needs taxCode and amount.");
        return new ChargedTax(code ?? "", component, amount ?? 0);
    }

    Tender ReadTender(string place)
    {
        var seen = new Seen();
        string? moneyAccount = null, how = null;
        var giftCard = false;
        decimal? amount = null;
        while (Next(ref seen, place, out var name))
        {
            switch (name)
            {
                case "moneyAccount": moneyAccount = Code(name, place); break;
                case "method": how = Code(name, place); break;
                case "giftCard": giftCard = Flag(name, place) ?? false; break;
                case "amount": amount = Amount(name, place); break;
                default: Unknown(name, place + "." + name, "a tender"); break;
            }
        }
        if (Fault is null && amount is null)
            Refuse(place + ".amount", $"{place} has no amount. Give what was paid with it.");
        return new Tender(moneyAccount, how, giftCard, amount ?? 0);
    }

    Dimensions? ReadDimensions(string place)
    {
        if (!Value())
            return null;
        if (reader.TokenType != JsonTokenType.StartObject)
        {
            Refuse(place, $"{place} must be an object of names and values, such as {{\"CC\":\"100\"}}.");
            return null;
        }
        var seen = new Seen();
        var values = new List<KeyValuePair<string, string>>();
        while (Next(ref seen, place, out var name))
            if (Code(name, place) is { } value)
                values.Add(new(name, value));
        return new Dimensions(values);
    }
}
