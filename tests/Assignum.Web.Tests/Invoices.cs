using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Storage.Posting;

namespace Assignum.Web.Tests;

/// <summary>Invoices as a source sends them, for tests that need many.</summary>
static class Invoices
{
    internal static PostableEvent Of(string id, DateOnly date, string party, string item, decimal price, bool ships = false)
    {
        var document = new Document { Id = id, Type = DocumentType.SalesInvoice, Date = date, Number = id, Party = party,
            Lines = [new DocumentLine { Item = item, Quantity = 1, Price = price, StockMoves = ships }] };
        var json = EventWriter.Write(document);
        return new PostableEvent(document, PostableEvent.Own, json, json, CanonicalJson.Digest(json));
    }
}
