using System.Buffers;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>Writes an event as JSON, as <see cref="EventReader"/> reads it; what is absent or default is left out.</summary>
public static class EventWriter
{
    static readonly JsonWriterOptions Options = new() { Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>One JSON object on one line.</summary>
    public static string Write(Document document)
    {
        var buffer = new ArrayBufferWriter<byte>();
        using (var json = new Utf8JsonWriter(buffer, Options))
        {
            json.WriteStartObject();
            WriteHeader(json, document);
            List(json, "lines", document.Lines, line => WriteLine(json, line, document.Type));
            if (document.Tax.Count > 0)
                List(json, "tax", document.Tax, tax => WriteTax(json, tax));
            if (document.Tenders.Count > 0 || DocumentTraits.Of(document.Type).PartyMayLack)
                List(json, "tenders", document.Tenders, tender => WriteTender(json, tender));
            json.WriteEndObject();
        }
        return Encoding.UTF8.GetString(buffer.WrittenSpan);
    }

    static void WriteHeader(Utf8JsonWriter json, Document document)
    {
        json.Text("id", document.Id);
        json.Text("type", document.TypeName);
        json.Day("date", document.Date);
        json.Day("documentDate", document.DocumentDate);
        json.Day("taxDate", document.TaxDate);
        json.Day("dueDate", document.DueDate);
        json.Text("number", document.Number);
        if (document.Revision != 1)
            json.WriteNumber("revision", document.Revision);
        if (document.Withdrawn)
            json.WriteBoolean("withdrawn", true);
        json.Text("refersTo", document.RefersTo);
        json.Text("party", document.Party);
        json.Text("currency", document.Currency);
        json.Amount("rate", document.Rate);
        json.Text("location", document.Location);
        json.Text("project", document.Project);
        json.Text("task", document.Task);
        json.Text("taxArea", document.TaxArea);
        json.Text("connection", document.Connection);
        json.Text("method", document.Method);
        json.Text("text", document.Text);
        json.Text("control", document.Control);
        json.Texts("dimensions", document.Dimensions.All);
        json.Amount("total", document.Total);
        if (document.PricesIncludeTax)
            json.WriteString("pricesInclude", "tax");
    }

    static void WriteLine(Utf8JsonWriter json, DocumentLine line, DocumentType type)
    {
        json.Text("item", line.Item);
        json.Text("account", line.Account);
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
            json.WriteBoolean(DocumentTraits.Of(type).StockWord, true);
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

    static void List<T>(Utf8JsonWriter json, string name, IEnumerable<T> things, Action<T> write)
    {
        json.WriteStartArray(name);
        foreach (var thing in things)
        {
            json.WriteStartObject();
            write(thing);
            json.WriteEndObject();
        }
        json.WriteEndArray();
    }
}
