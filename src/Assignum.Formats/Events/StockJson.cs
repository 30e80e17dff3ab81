using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>Events of goods that move, and of what they are worth, in files.</summary>
static class StockJson
{
    internal static IEnumerable<EventFormat> All =>
    [
        .. new[] { Shipment.Out, Shipment.Back }.Select(name => TableJson.Of<Shipment>(name,
            (header, values) => new(header) { Lines = values.List<GoodsLine>("lines") }, (json, shipment) => Lines(json, shipment.Lines), Goods)),
        TableJson.Of<PurchaseReceipt>(PurchaseReceipt.Name, (header, values) => new(header) { Lines = values.List<GoodsLine>("lines") },
            (json, receipt) => Lines(json, receipt.Lines), Goods),
        TableJson.Of<StockAdjustment>(StockAdjustment.Name, (header, values) => new(header) { Lines = values.List<GoodsLine>("lines") },
            (json, adjustment) => Lines(json, adjustment.Lines), Goods),
        TableJson.Of<StockTransfer>(StockTransfer.Name, (header, values) => new(header, values.Text("toLocation")!)
        {
            OnTheWay = values.Word<OnTheWay>("onTheWay"), Lines = values.List<GoodsLine>("lines"),
        }, Write, Goods),
        TableJson.Of<Production>(Production.Name, (header, values) => new(header, values.Text("item")!, values.Amount("quantity")!.Value)
        {
            UnitCost = values.Amount("unitCost"), StandsOn = values.Text("standsOn"), Lines = values.List<GoodsLine>("lines"),
        }, Write, Goods),
        .. new[] { StockValue.Cost, StockValue.Closing }.Select(name => TableJson.Of<StockValue>(name,
            (header, values) => new(header) { Lines = values.List<ValueLine>("lines") }, Write, (_, values) => new ValueLine
            {
                Item = values.Text("item"), ItemGroup = values.Text("itemGroup"), StandsOn = values.Text("standsOn"), Quantity = values.Amount("quantity"),
                From = values.Amount("from"), To = values.Amount("to"), Amount = values.Amount("amount"), Place = values.Place(),
            })),
    ];

    static GoodsLine Goods(string list, FieldValues values) => new()
    {
        Item = values.Text("item")!, Quantity = values.Amount("quantity")!.Value, UnitCost = values.Amount("unitCost"), StandsOn = values.Text("standsOn"),
        Account = values.Text("account"), Reason = values.Text("reason"), Place = values.Place(),
    };

    static void Lines(Utf8JsonWriter json, IReadOnlyList<GoodsLine> lines) => json.List("lines", lines, line =>
    {
        json.Text("item", line.Item);
        json.Amount("quantity", line.Quantity);
        json.Amount("unitCost", line.UnitCost);
        json.Text("reason", line.Reason);
        json.Text("account", line.Account);
        json.Text("standsOn", line.StandsOn);
        json.Place(line.Place);
    });

    static void Write(Utf8JsonWriter json, StockTransfer transfer)
    {
        json.Text("toLocation", transfer.ToLocation);
        json.Text("onTheWay", transfer.OnTheWay is { } half ? Words<OnTheWay>.Of(half) : null);
        Lines(json, transfer.Lines);
    }

    static void Write(Utf8JsonWriter json, Production production)
    {
        json.Text("item", production.Item);
        json.Amount("quantity", production.Quantity);
        json.Amount("unitCost", production.UnitCost);
        json.Text("standsOn", production.StandsOn);
        Lines(json, production.Lines);
    }

    static void Write(Utf8JsonWriter json, StockValue value) => json.List("lines", value.Lines, line =>
    {
        json.Text("item", line.Item);
        json.Text("itemGroup", line.ItemGroup);
        json.Text("standsOn", line.StandsOn);
        json.Amount("quantity", line.Quantity);
        json.Amount("from", line.From);
        json.Amount("to", line.To);
        json.Amount("amount", line.Amount);
        json.Place(line.Place);
    });
}
