using System.Text.Json;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>Events of fixed assets in files.</summary>
static class AssetJson
{
    internal static IEnumerable<EventFormat> All =>
    [
        TableJson.Of<AssetDepreciation>(AssetDepreciation.Name, (header, values) => new(header) { Lines = values.List<DepreciatedAsset>("lines") }, Write,
            (_, values) => new DepreciatedAsset(values.Text("asset")!, values.Amount("amount")!.Value, values.Place())),
        TableJson.Of<AssetTransfer>(AssetTransfer.Name, (header, values) => new(header, values.Text("from")!, values.Text("to")!)
        {
            Cost = values.Amount("cost")!.Value, Accumulated = values.Amount("accumulated") ?? 0,
        }, Write),
        TableJson.Of<AssetDisposal>(AssetDisposal.Name, (header, values) => new(header, values.Text("asset")!)
        {
            Cost = values.Amount("cost")!.Value, Accumulated = values.Amount("accumulated") ?? 0,
        }, Write),
    ];

    static void Write(Utf8JsonWriter json, AssetDepreciation depreciation) => json.List("lines", depreciation.Lines, line =>
    {
        json.Text("asset", line.Asset);
        json.Amount("amount", line.Amount);
        json.Place(line.Place);
    });

    static void Write(Utf8JsonWriter json, AssetTransfer transfer)
    {
        json.Text("from", transfer.From);
        json.Text("to", transfer.To);
        json.Amount("cost", transfer.Cost);
        json.Amount("accumulated", transfer.Accumulated);
    }

    static void Write(Utf8JsonWriter json, AssetDisposal disposal)
    {
        json.Text("asset", disposal.Asset);
        json.Amount("cost", disposal.Cost);
        json.Amount("accumulated", disposal.Accumulated);
    }
}
