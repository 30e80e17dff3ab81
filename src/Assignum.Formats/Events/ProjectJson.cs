using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;

namespace Assignum.Formats.Events;

/// <summary>What projects use, and what of them is recognised, in files.</summary>
static class ProjectJson
{
    internal static IEnumerable<EventFormat> All =>
    [
        TableJson.Of<ProjectUsage>(ProjectUsage.Name, (header, values) => new(header) { Lines = values.List<UsageLine>("lines") }, Write, Used),
        TableJson.Of<ProjectRecognition>(ProjectRecognition.Name, (header, values) => new(header)
        {
            Cost = values.Amount("cost") ?? 0, Revenue = values.Amount("revenue") ?? 0, FromBilled = values.Amount("fromBilled") ?? 0,
        }, Write),
    ];

    static UsageLine Used(string list, FieldValues values) => new()
    {
        Item = values.Text("item"), ItemGroup = values.Text("itemGroup"), ItemKind = values.Word<ItemKind>("itemKind"),
        Quantity = values.Amount("quantity")!.Value, UnitCost = values.Amount("unitCost"), StandsOn = values.Text("standsOn"), Place = values.Place(),
    };

    static void Write(Utf8JsonWriter json, ProjectUsage usage) => json.List("lines", usage.Lines, line =>
    {
        json.Text("item", line.Item);
        json.Text("itemGroup", line.ItemGroup);
        json.Text("itemKind", line.ItemKind is { } kind ? Words<ItemKind>.Of(kind) : null);
        json.Amount("quantity", line.Quantity);
        json.Amount("unitCost", line.UnitCost);
        json.Text("standsOn", line.StandsOn);
        json.Place(line.Place);
    });

    static void Write(Utf8JsonWriter json, ProjectRecognition recognition)
    {
        json.Amount("cost", recognition.Cost);
        json.Amount("revenue", recognition.Revenue);
        json.Amount("fromBilled", recognition.FromBilled);
    }
}
