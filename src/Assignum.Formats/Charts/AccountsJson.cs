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

    internal static void Write(Utf8JsonWriter json, Account account)
    {
        json.WriteStartObject();
        json.WriteString("number", account.Number);
        json.WriteString("name", account.Name);
        json.WriteString("class", account.Class.Word());
        json.WriteString("kind", account.Kind.Word());
        json.Text("parent", account.Parent);
        json.Text("control", account.Control?.Word());
        json.Text("manual", account.Manual == ManualPolicy.Open ? null : account.Manual.Word());
        json.Text("itemTaxGroup", account.ItemTaxGroup);
        json.Text("taxCode", account.TaxCode);
        json.Text("taxRelevance", account.TaxRelevance?.Word());
        if (!account.Active)
            json.WriteBoolean("active", false);
        json.Day("validFrom", account.ValidFrom);
        json.Day("validTo", account.ValidTo);
        if (account.Suspense)
            json.WriteBoolean("suspense", true);
        json.Texts("dimensions", account.Dimensions.Select(d => KeyValuePair.Create(d.Key, d.Value.Word())));
        json.Texts("dimensionDefaults", account.DimensionDefaults);
        json.Text("partyRole", account.PartyRole?.Word());
        if (account.Currencies.Count > 0)
        {
            json.WriteStartArray("currencies");
            foreach (var currency in account.Currencies)
                json.WriteStringValue(currency);
            json.WriteEndArray();
        }
        json.WriteEndObject();
    }
}
