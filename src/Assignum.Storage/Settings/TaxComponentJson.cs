using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Taxes;

namespace Assignum.Storage.Settings;

/// <summary>Components of a tax code, with their rates by date, as the column keeps them.</summary>
static class TaxComponentJson
{
    static readonly JsonSerializerOptions Options = new(JsonSerializerDefaults.Web);

    sealed record Kept(string? Code, string? Authority, string Base, decimal RecoverablePercent, Rate[] Rates);

    sealed record Rate(DateOnly From, decimal Percent);

    internal static string Write(IEnumerable<TaxComponent> components) =>
        JsonSerializer.Serialize(components.Select(c =>
            new Kept(c.Code, c.Authority, Words<TaxBase>.Of(c.Base), c.RecoverablePercent, [.. c.Rates.Select(r => new Rate(r.From, r.Percent))])), Options);

    internal static IReadOnlyList<TaxComponent> Read(string json) =>
        [.. JsonSerializer.Deserialize<Kept[]>(json, Options)!.Select(c => new TaxComponent
        {
            Code = c.Code, Authority = c.Authority, Base = Words<TaxBase>.TryParse(c.Base, out var taxBase) ? taxBase : TaxBase.Net,
            RecoverablePercent = c.RecoverablePercent, Rates = [.. c.Rates.Select(r => new TaxRate(r.From, r.Percent))],
        })];
}
