using System.Text.Encodings.Web;
using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Assignum.Formats.Charts;

namespace Assignum.Formats.Rulebooks;

/// <summary>Writes the format <c>assignum-rulebook/1</c>: everything by its code, so that two files of the same rulebook are the same; what is absent or
/// default is left out.</summary>
public static class RulebookWriter
{
    static readonly JsonWriterOptions Options = new() { Indented = true, Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };

    /// <summary>Writes a rulebook.</summary>
    public static void Write(Stream to, Rulebook book)
    {
        using var json = new Utf8JsonWriter(to, Options);
        json.WriteStartObject();
        json.WriteString("format", RulebookReader.Format);
        WriteCompany(json, book.Company);
        List(json, "accounts", book.Accounts, a => a.Number, AccountsJson.Write);
        foreach (var (name, groups) in new[] { ("partyGroups", book.PartyGroups), ("itemGroups", book.ItemGroups), ("projectGroups", book.ProjectGroups),
            ("assetGroups", book.AssetGroups), ("partyTaxGroups", book.PartyTaxGroups), ("itemTaxGroups", book.ItemTaxGroups) })
            List(json, name, groups, g => g.Code, WriteGroup);
        List(json, "parties", book.Parties, p => p.Code, WriteParty);
        List(json, "items", book.Items, i => i.Code, WriteItem);
        List(json, "locations", book.Locations, l => l.Code, (to, location) => Object(to, () => Labels(to, location.Code, location.Name)));
        List(json, "projects", book.Projects, p => p.Code, WriteProject);
        if (book.Assets.Count > 0)
            List(json, "assets", book.Assets, a => a.Code, WriteAsset);
        if (book.Partners.Count > 0)
            List(json, "partners", book.Partners, p => p.Code, (to, partner) => Object(to, () => Labels(to, partner.Code, partner.Name)));
        List(json, "taxCodes", book.TaxCodes, t => t.Code, WriteTaxCode);
        List(json, "taxRules", book.TaxRules, r => RuleKey.TextOf("tax", r.When()) + r.From?.DayNumber.ToString("D8", null), WriteTaxRule);
        WriteLadders(json, book);
        List(json, "rules", book.Rules, r => FormattableString.Invariant($"{r.Purpose.Index:D3}{r.Key}{r.From?.DayNumber:D8}"), WriteRule);
        // Who has no connection has no list of them.
        if (book.Matches.Count > 0)
            List(json, "matches", book.Matches, m => m.Key, WriteMatch);
        json.WriteEndObject();
    }

    static void WriteMatch(Utf8JsonWriter json, Match match) => Object(json, () =>
    {
        json.WriteString("connection", match.Connection);
        json.WriteString("list", Words<SettingList>.Of(match.List));
        json.WriteString("theirs", match.Theirs);
        json.WriteString("ours", match.Ours);
    });

    static void WriteCompany(Utf8JsonWriter json, Company company)
    {
        json.WriteStartObject("company");
        json.WriteString("code", company.Code);
        json.WriteString("name", company.Name);
        json.WriteString("currency", company.Currency);
        json.WriteStartObject("options");
        json.WriteBoolean("separateDiscounts", company.Options.SeparateDiscounts);
        json.WriteBoolean("perpetualStock", company.Options.PerpetualStock);
        json.WriteString("taxRounding", Words<TaxRounding>.Of(company.Options.TaxRounding));
        if (company.Options.LineText != LineText.Line)
            json.WriteString("lineText", Words<LineText>.Of(company.Options.LineText));
        json.Amount("taxTolerance", company.Options.TaxTolerance is { } taxTolerance ? Money.Plain(taxTolerance) : null);
        json.WriteEndObject();
        json.WriteEndObject();
    }

    static void WriteGroup(Utf8JsonWriter json, Group group) => Object(json, () =>
    {
        Labels(json, group.Code, group.Name);
        json.Text("taxGroup", group.TaxGroup);
    });

    static void WriteParty(Utf8JsonWriter json, Party party) => Object(json, () =>
    {
        Labels(json, party.Code, party.Name);
        json.WriteString("role", party.Role.Word());
        json.Text("group", party.Group);
        json.Text("taxGroup", party.TaxGroup);
        json.Text("taxArea", party.TaxArea);
        json.Text("partner", party.Partner);
        if (party.ControlAlternates.Count > 0)
            Strings(json, "controlAlternates", party.ControlAlternates);
    });

    static void WriteItem(Utf8JsonWriter json, Item item) => Object(json, () =>
    {
        Labels(json, item.Code, item.Name);
        json.WriteString("kind", item.Kind.Word());
        json.Text("group", item.Group);
        json.Text("taxGroup", item.TaxGroup);
        json.Amount("cost", item.Cost is { } cost ? Money.Plain(cost) : null);
    });

    static void WriteProject(Utf8JsonWriter json, Project project) => Object(json, () =>
    {
        Labels(json, project.Code, project.Name);
        json.Text("group", project.Group);
        json.Text("method", project.Method is { } method ? Words<ProjectMethod>.Of(method) : null);
        if (project.Tasks.Count > 0)
            List(json, "tasks", project.Tasks, t => t.Code, (to, task) => Object(to, () =>
            {
                Labels(to, task.Code, task.Name);
                to.Text("group", task.Group);
            }));
    });

    static void WriteAsset(Utf8JsonWriter json, Asset asset) => Object(json, () =>
    {
        Labels(json, asset.Code, asset.Name);
        json.Text("group", asset.Group);
        json.Text("taxGroup", asset.TaxGroup);
        json.Text("method", asset.Method is { } method ? Words<AssetMethod>.Of(method) : null);
        if (asset.LifeMonths is { } months)
            json.WriteNumber("lifeMonths", months);
        json.Amount("percent", asset.Percent is { } percent ? Money.Plain(percent) : null);
        json.Amount("residual", asset.Residual == 0 ? null : Money.Plain(asset.Residual));
    });

    static void WriteTaxCode(Utf8JsonWriter json, TaxCode code) => Object(json, () =>
    {
        Labels(json, code.Code, code.Name);
        json.Text("category", code.Category);
        json.WriteString("direction", Words<TaxDirection>.Of(code.Direction));
        if (code.ReverseCharge)
            json.WriteBoolean("reverseCharge", true);
        if (code.Components is [{ Code: null, Authority: null, Base: TaxBase.Net } only])
        {
            WriteRates(json, only);
            return;
        }
        json.WriteStartArray("components");
        foreach (var component in code.Components)
            Object(json, () =>
            {
                json.WriteString("code", component.Code ?? "");
                json.Text("authority", component.Authority);
                json.WriteString("base", component.Base == TaxBase.Net ? "net" : "net+previous");
                WriteRates(json, component);
            });
        json.WriteEndArray();
    });

    static void WriteRates(Utf8JsonWriter json, TaxComponent component)
    {
        json.WriteStartArray("rates");
        foreach (var rate in component.Rates)
            Object(json, () =>
            {
                json.Day("from", rate.From);
                json.WriteNumber("percent", Money.Plain(rate.Percent));
            });
        json.WriteEndArray();
        if (component.RecoverablePercent != 100)
            json.WriteNumber("recoverablePercent", Money.Plain(component.RecoverablePercent));
    }

    static void WriteTaxRule(Utf8JsonWriter json, TaxRule rule) => Object(json, () =>
    {
        json.Text("taxArea", rule.TaxArea);
        json.Text("partyTaxGroup", rule.PartyTaxGroup);
        json.Text("itemTaxGroup", rule.ItemTaxGroup);
        json.WriteString("taxCode", rule.TaxCode);
        json.Day("from", rule.From);
        json.Day("to", rule.To);
    });

    static void WriteLadders(Utf8JsonWriter json, Rulebook book)
    {
        json.WriteStartObject("ladders");
        foreach (var (purpose, ladder) in book.Ladders.OrderBy(l => l.Key.Index))
        {
            json.WriteStartArray(purpose.Name);
            foreach (var rung in ladder)
            {
                json.WriteStartArray();
                foreach (var fact in rung.Facts)
                    json.WriteStringValue(fact.Name());
                json.WriteEndArray();
            }
            json.WriteEndArray();
        }
        json.WriteEndObject();
    }

    static void WriteRule(Utf8JsonWriter json, Rule rule) => Object(json, () =>
    {
        json.WriteString("id", rule.Id);
        json.WriteString("purpose", rule.Purpose.Name);
        json.Texts("when", rule.When.Select(w => KeyValuePair.Create(w.Fact.Name(), w.Code)));
        json.WriteString("account", rule.Account);
        json.Day("from", rule.From);
        json.Day("to", rule.To);
        json.Text("note", rule.Note);
    });

    static void Labels(Utf8JsonWriter json, string code, string name)
    {
        json.WriteString("code", code);
        json.WriteString("name", name);
    }

    static void Strings(Utf8JsonWriter json, string name, IEnumerable<string> values)
    {
        json.WriteStartArray(name);
        foreach (var value in values)
            json.WriteStringValue(value);
        json.WriteEndArray();
    }

    static void Object(Utf8JsonWriter json, Action write)
    {
        json.WriteStartObject();
        write();
        json.WriteEndObject();
    }

    static void List<T>(Utf8JsonWriter json, string name, IEnumerable<T> things, Func<T, string> key, Action<Utf8JsonWriter, T> write)
    {
        json.WriteStartArray(name);
        foreach (var thing in things.OrderBy(t => Fold.Of(key(t)), StringComparer.Ordinal))
            write(json, thing);
        json.WriteEndArray();
    }

    // A number is written alike wherever it was kept: without zeros at its end.
}
