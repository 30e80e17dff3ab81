using System.Buffers;
using System.Globalization;
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
            if (document.Tenders.Count > 0 || document.Type == DocumentType.Takings)
                List(json, "tenders", document.Tenders, tender => WriteTender(json, tender));
            json.WriteEndObject();
        }
        return Encoding.UTF8.GetString(buffer.WrittenSpan);
    }

    static void WriteHeader(Utf8JsonWriter json, Document document)
    {
        Text(json, "id", document.Id);
        Text(json, "type", document.TypeName);
        Day(json, "date", document.Date);
        Day(json, "documentDate", document.DocumentDate);
        Day(json, "taxDate", document.TaxDate);
        Day(json, "dueDate", document.DueDate);
        Text(json, "number", document.Number);
        if (document.Revision != 1)
            json.WriteNumber("revision", document.Revision);
        if (document.Withdrawn)
            json.WriteBoolean("withdrawn", true);
        Text(json, "refersTo", document.RefersTo);
        Text(json, "party", document.Party);
        Text(json, "currency", document.Currency);
        Amount(json, "rate", document.Rate);
        Text(json, "location", document.Location);
        Text(json, "project", document.Project);
        Text(json, "task", document.Task);
        Text(json, "taxArea", document.TaxArea);
        Text(json, "connection", document.Connection);
        Text(json, "method", document.Method);
        Text(json, "text", document.Text);
        Text(json, "control", document.Control);
        WriteDimensions(json, document.Dimensions);
        Amount(json, "total", document.Total);
        if (document.PricesIncludeTax)
            json.WriteString("pricesInclude", "tax");
    }

    static void WriteLine(Utf8JsonWriter json, DocumentLine line, DocumentType type)
    {
        Text(json, "item", line.Item);
        Text(json, "account", line.Account);
        Text(json, "itemGroup", line.ItemGroup);
        Text(json, "itemKind", line.ItemKind is { } kind ? Words<ItemKind>.Of(kind) : null);
        Amount(json, "quantity", line.Quantity);
        Amount(json, "price", line.Price);
        Amount(json, "discountPercent", line.DiscountPercent);
        Amount(json, "discountAmount", line.DiscountAmount);
        Text(json, "taxCode", line.TaxCode);
        Amount(json, "unitCost", line.UnitCost);
        Text(json, "standsOn", line.StandsOn);
        if (line.StockMoves)
            json.WriteBoolean(type == DocumentType.SalesCreditNote ? "returned" : "shipped", true);
        Text(json, "location", line.Location);
        Text(json, "project", line.Project);
        Text(json, "task", line.Task);
        Text(json, "taxArea", line.TaxArea);
        Text(json, "text", line.Text);
        if (line.RefersToLine is { } refersToLine)
            json.WriteNumber("refersToLine", refersToLine);
        WriteDimensions(json, line.Dimensions);
    }

    static void WriteTax(Utf8JsonWriter json, ChargedTax tax)
    {
        Text(json, "taxCode", tax.TaxCode);
        Text(json, "component", tax.Component);
        Amount(json, "amount", tax.Amount);
    }

    static void WriteTender(Utf8JsonWriter json, Tender tender)
    {
        Text(json, "moneyAccount", tender.MoneyAccount);
        Text(json, "method", tender.Method);
        if (tender.GiftCard)
            json.WriteBoolean("giftCard", true);
        Amount(json, "amount", tender.Amount);
    }

    static void WriteDimensions(Utf8JsonWriter json, Dimensions dimensions)
    {
        if (dimensions.IsEmpty)
            return;
        json.WriteStartObject("dimensions");
        foreach (var (name, value) in dimensions.All)
            json.WriteString(name, value);
        json.WriteEndObject();
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

    static void Text(Utf8JsonWriter json, string name, string? value)
    {
        if (value is not null)
            json.WriteString(name, value);
    }

    static void Amount(Utf8JsonWriter json, string name, decimal? value)
    {
        if (value is { } amount)
            json.WriteNumber(name, amount);
    }

    static void Day(Utf8JsonWriter json, string name, DateOnly? value)
    {
        if (value is { } day)
            json.WriteString(name, day.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture));
    }
}
