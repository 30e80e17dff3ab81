using Assignum.Core.Taxes;

namespace Assignum.Formats.Rulebooks;

/// <summary>Reads tax codes and tax rules of a rulebook file.</summary>
static class TaxCodeReader
{
    static readonly Dictionary<string, TaxBase> Bases = new() { ["net"] = TaxBase.Net, ["net+previous"] = TaxBase.NetAndPrevious };

    internal static TaxCode Read(JsonPlace place)
    {
        var read = new TaxCode
        {
            Code = place.Code("code"), Name = place.Text("name") ?? "", Category = place.Text("category"),
            Direction = place.Word<TaxDirection>("direction") ?? TaxDirection.Both, ReverseCharge = place.Flag("reverseCharge") ?? false,
            Components = place.Has("components") ? place.List("components", ReadComponent) : [ReadShort(place)],
        };
        if (place.Has("components") && place.Has("rates"))
            place.Note("bad-value", $"{place.Where} has both rates and components. Rates directly on a tax code are short for its only component: keep one " +
                "of the two.");
        if (read.Components.Count == 0)
            place.Note("missing-value", $"{place.Where} has no component. Give rates, or components with rates.");
        return read;
    }

    internal static TaxRule ReadRule(JsonPlace place) => new()
    {
        TaxArea = place.Text("taxArea"), PartyTaxGroup = place.Text("partyTaxGroup"), ItemTaxGroup = place.Text("itemTaxGroup"),
        TaxCode = place.Code("taxCode"), From = place.Date("from"), To = place.Date("to"),
    };

    static TaxComponent ReadShort(JsonPlace place) => new() { Rates = ReadRates(place), RecoverablePercent = ReadRecoverable(place) };

    static TaxComponent ReadComponent(JsonPlace place)
    {
        var name = place.Text("base") ?? "net";
        if (!Bases.TryGetValue(name, out var taxBase))
            place.Note("bad-value", $"{place.Where}: base is {name}. It must be one of {string.Join(", ", Bases.Keys)}.");
        return new TaxComponent
        {
            Code = place.Code("code"), Authority = place.Text("authority"), Base = taxBase, Rates = ReadRates(place),
                RecoverablePercent = ReadRecoverable(place),
        };
    }

    static decimal ReadRecoverable(JsonPlace place)
    {
        var percent = place.Amount("recoverablePercent") ?? 100;
        if (percent is < 0 or > 100)
            place.Note("bad-value", $"{place.Where}: recoverablePercent is {percent}. It goes from 0 to 100.");
        return percent;
    }

    static TaxRate[] ReadRates(JsonPlace place)
    {
        var rates = place.List("rates", rate =>
        {
            if (rate.Date("from") is { } from && rate.Amount("percent") is { } percent and >= 0)
                return new Rated(new TaxRate(from, percent));
            rate.Note("bad-value", $"{rate.Where} needs from, a date, and percent, 0 or more.");
            return null;
        }, "from");
        foreach (var twice in rates.GroupBy(r => r.Rate.From).Where(g => g.Skip(1).Any()))
            place.Note("bad-value", $"{place.Where} has two rates from {twice.Key:yyyy-MM-dd}. Keep one of them.");
        return [.. rates.Select(r => r.Rate).OrderBy(r => r.From)];
    }

    sealed record Rated(TaxRate Rate);
}
