using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>Priced documents in files: what their type has beside the header.</summary>
sealed class DocumentJson(DocumentTraits traits) : OwnFields
{
    decimal? total;
    bool pricesIncludeTax;
    List<DocumentLine>? lines;
    List<ChargedTax>? tax;
    List<Tender>? tenders;

    internal static EventFormat FormatOf(DocumentTraits traits) =>
        new(Words<DocumentType>.Of(traits.Type), () => new DocumentJson(traits), (json, happened) => Write(json, (Document)happened, traits));

    internal override bool Read(ref EventParser parser, string name)
    {
        switch (name)
        {
            case "total": total = parser.Amount(name); break;
            case "pricesInclude": pricesIncludeTax = parser.Word(name, "none", "tax") == "tax"; break;
            case "lines": lines = parser.List(name, ReadLine); break;
            case "tax": tax = parser.List(name, ReadCharge); break;
            case "tenders" when traits.TakesTenders: tenders = parser.List(name, ReadTender); break;
            case "tenders": parser.Refuse(name, $"A {traits.InWords} has no tenders. Send the payment as an event of its own."); break;
            default: return false;
        }
        return true;
    }

    internal override BusinessEvent? Make(ref EventParser parser, EventHeader header)
    {
        if (lines is null)
            return parser.Missing("lines", "Give the lines of the document.");
        if (tenders is null && traits.PartyMayLack)
            return parser.Missing("tenders", "Say in tenders how the takings were paid.");
        return new Document(header, traits.Type) { Total = total, PricesIncludeTax = pricesIncludeTax, Lines = lines, Tax = tax ?? [], Tenders = tenders
            ?? [] };
    }

    DocumentLine ReadLine(ref EventParser parser, string place)
    {
        var seen = new EventParser.Seen();
        string? item = null, account = null, itemGroup = null, taxCode = null, standsOn = null, at = null, ofProject = null, ofTask = null, area = null,
            said = null, asset = null;
        ItemKind? kind = null;
        decimal? quantity = null, price = null, percent = null, off = null, cost = null, receivedCost = null, receivedAmount = null;
        bool? moves = null, toProject = null;
        int? refersToLine = null;
        Dimensions? own = null;
        while (parser.Next(ref seen, place, out var name))
        {
            switch (name)
            {
                case "item": item = parser.Code(name, place); break;
                case "account" when !traits.OfProject: account = parser.Code(name, place); break;
                case "asset" when !traits.OfProject: asset = parser.Code(name, place); break;
                case "toProject" when traits.Buys: toProject = parser.Flag(name, place); break;
                case "itemGroup": itemGroup = parser.Code(name, place); break;
                case "itemKind": kind = parser.Word<ItemKind>(name, place); break;
                case "quantity": quantity = parser.Amount(name, place); break;
                case "price": price = parser.Amount(name, place); break;
                case "discountPercent": percent = parser.Amount(name, place); break;
                case "discountAmount": off = parser.Amount(name, place); break;
                case "taxCode": taxCode = parser.Code(name, place); break;
                case "unitCost": cost = parser.Amount(name, place); break;
                case "standsOn": standsOn = parser.Code(name, place); break;
                case "receivedCost" when traits.TakesReceipt: receivedCost = parser.Amount(name, place); break;
                case "receivedAmount" when traits.TakesReceipt: receivedAmount = parser.Amount(name, place); break;
                case "location": at = parser.Code(name, place); break;
                case "project": ofProject = parser.Code(name, place); break;
                case "task": ofTask = parser.Code(name, place); break;
                case "taxArea": area = parser.Code(name, place); break;
                case "text": said = parser.Text(name, place); break;
                case "refersToLine": refersToLine = parser.Whole(name, place); break;
                case "dimensions": own = parser.ReadDimensions(place + ".dimensions"); break;
                default:
                    if (name == traits.StockWord)
                        moves = parser.Flag(name, place);
                    else
                        RefuseOnLine(ref parser, name, place);
                    break;
            }
        }
        return new DocumentLine
        {
            Item = item, Account = account, Asset = asset, ToProject = toProject ?? false, ItemGroup = itemGroup, ItemKind = kind, Quantity = quantity ?? 1,
                Price = price, DiscountPercent = percent,
                DiscountAmount = off,
            TaxCode = taxCode, UnitCost = cost, StandsOn = standsOn, StockMoves = moves ?? false, ReceivedCost = receivedCost, ReceivedAmount = receivedAmount,
            Location = at, Project = ofProject, Task = ofTask, TaxArea = area, Text = said, RefersToLine = refersToLine, Dimensions = own ?? Dimensions.None,
        };
    }

    // A field of another document is told apart from one that no document has.
    void RefuseOnLine(ref EventParser parser, string name, string place)
    {
        var field = place + "." + name;
        if (DocumentTraits.StockWords.Contains(name))
            parser.Refuse(field, $"{field} does not go with a {traits.InWords}; the word there is {traits.StockWord}.");
        else if (traits.OfProject && name is "account" or "asset")
            parser.Refuse(field, $"{field}: a {traits.InWords} bills items and item groups. Name one of them.");
        else if (name is "receivedCost" or "receivedAmount" or "toProject")
            parser.Refuse(field, $"{field} does not go with a {traits.InWords}. Leave it out.");
        else
            parser.Unknown(name, field, "a line");
    }

    static ChargedTax ReadCharge(ref EventParser parser, string place)
    {
        var seen = new EventParser.Seen();
        string? code = null, component = null;
        decimal? amount = null;
        while (parser.Next(ref seen, place, out var name))
        {
            switch (name)
            {
                case "taxCode": code = parser.Code(name, place); break;
                case "component": component = parser.Code(name, place); break;
                case "amount": amount = parser.Amount(name, place); break;
                default: parser.Unknown(name, place + "." + name, "a charged tax"); break;
            }
        }
        if (parser.Fault is null && (code is null || amount is null))
            parser.Refuse(place + (code is null ? ".taxCode" : ".amount"), $"{place} needs taxCode and amount.");
        return new ChargedTax(code ?? "", component, amount ?? 0);
    }

    static Tender ReadTender(ref EventParser parser, string place)
    {
        var seen = new EventParser.Seen();
        string? moneyAccount = null, how = null;
        var giftCard = false;
        decimal? amount = null;
        while (parser.Next(ref seen, place, out var name))
        {
            switch (name)
            {
                case "moneyAccount": moneyAccount = parser.Code(name, place); break;
                case "method": how = parser.Code(name, place); break;
                case "giftCard": giftCard = parser.Flag(name, place) ?? false; break;
                case "amount": amount = parser.Amount(name, place); break;
                default: parser.Unknown(name, place + "." + name, "a tender"); break;
            }
        }
        if (parser.Fault is null && amount is null)
            parser.Refuse(place + ".amount", $"{place} has no amount. Give what was paid with it.");
        return new Tender(moneyAccount, how, giftCard, amount ?? 0);
    }

    static void Write(Utf8JsonWriter json, Document document, DocumentTraits traits)
    {
        json.Amount("total", document.Total);
        if (document.PricesIncludeTax)
            json.WriteString("pricesInclude", "tax");
        json.List("lines", document.Lines, line => WriteLine(json, line, traits));
        if (document.Tax.Count > 0)
            json.List("tax", document.Tax, tax => WriteTax(json, tax));
        if (document.Tenders.Count > 0 || traits.PartyMayLack)
            json.List("tenders", document.Tenders, tender => WriteTender(json, tender));
    }

    static void WriteLine(Utf8JsonWriter json, DocumentLine line, DocumentTraits traits)
    {
        json.Text("item", line.Item);
        json.Text("account", line.Account);
        json.Text("asset", line.Asset);
        json.Text("itemGroup", line.ItemGroup);
        json.Text("itemKind", line.ItemKind is { } kind ? Words<ItemKind>.Of(kind) : null);
        json.Amount("quantity", line.Quantity);
        json.Amount("price", line.Price);
        json.Amount("discountPercent", line.DiscountPercent);
        json.Amount("discountAmount", line.DiscountAmount);
        json.Text("taxCode", line.TaxCode);
        json.Amount("unitCost", line.UnitCost);
        json.Text("standsOn", line.StandsOn);
        if (line.StockMoves)
            json.WriteBoolean(traits.StockWord, true);
        if (line.ToProject)
            json.WriteBoolean("toProject", true);
        json.Amount("receivedCost", line.ReceivedCost);
        json.Amount("receivedAmount", line.ReceivedAmount);
        json.Text("location", line.Location);
        json.Text("project", line.Project);
        json.Text("task", line.Task);
        json.Text("taxArea", line.TaxArea);
        json.Text("text", line.Text);
        if (line.RefersToLine is { } refersToLine)
            json.WriteNumber("refersToLine", refersToLine);
        json.Texts("dimensions", line.Dimensions.All);
    }

    static void WriteTax(Utf8JsonWriter json, ChargedTax tax)
    {
        json.Text("taxCode", tax.TaxCode);
        json.Text("component", tax.Component);
        json.Amount("amount", tax.Amount);
    }

    static void WriteTender(Utf8JsonWriter json, Tender tender)
    {
        json.Text("moneyAccount", tender.MoneyAccount);
        json.Text("method", tender.Method);
        if (tender.GiftCard)
            json.WriteBoolean("giftCard", true);
        json.Amount("amount", tender.Amount);
    }
}
