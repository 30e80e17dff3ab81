using System.Text.Encodings.Web;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;

namespace Assignum.Formats.Charts;

/// <summary>Writes accounts as the list <c>accounts</c> of <c>assignum-rulebook/1</c> has them; what is absent or default is left out.</summary>
public static class AccountsJson
{
    static readonly JsonWriterOptions Options = new() { Indented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>Writes a JSON array, parents before what stands under them.</summary>
    public static void Write(Stream to, IEnumerable<Account> accounts)
    {
        using var json = new Utf8JsonWriter(to, Options);
        json.WriteStartArray();
        foreach (var account in accounts)
            Write(json, account);
        json.WriteEndArray();
    }

    /// <summary>Writes one account.</summary>
    internal static void Write(Utf8JsonWriter json, Account account)
    {
        json.WriteStartObject();
        json.WriteString("number", account.Number);
        json.WriteString("name", account.Name);
        json.WriteString("class", account.Class.Word());
        json.WriteString("kind", account.Kind.Word());
        Text(json, "parent", account.Parent);
        Text(json, "control", account.Control?.Word());
        Text(json, "manual", account.Manual == ManualPolicy.Open ? null : account.Manual.Word());
        Text(json, "itemTaxGroup", account.ItemTaxGroup);
        Text(json, "taxCode", account.TaxCode);
        Text(json, "taxRelevance", account.TaxRelevance?.Word());
        if (!account.Active)
            json.WriteBoolean("active", false);
        Text(json, "validFrom", Day(account.ValidFrom));
        Text(json, "validTo", Day(account.ValidTo));
        if (account.Suspense)
            json.WriteBoolean("suspense", true);
        Map(json, "dimensions", account.Dimensions.Select(d => (d.Key, d.Value.Word())));
        Map(json, "dimensionDefaults", account.DimensionDefaults.Select(d => (d.Key, d.Value)));
        Text(json, "partyRole", account.PartyRole?.Word());
        if (account.Currencies.Count > 0)
        {
            json.WriteStartArray("currencies");
            foreach (var currency in account.Currencies)
                json.WriteStringValue(currency);
            json.WriteEndArray();
        }
        json.WriteEndObject();
    }

    static void Text(Utf8JsonWriter json, string name, string? value)
    {
        if (value is not null)
            json.WriteString(name, value);
    }

    static void Map(Utf8JsonWriter json, string name, IEnumerable<(string Name, string Value)> values)
    {
        var all = values.ToList();
        if (all.Count == 0)
            return;
        json.WriteStartObject(name);
        foreach (var (key, value) in all)
            json.WriteString(key, value);
        json.WriteEndObject();
    }

    static string? Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
}
