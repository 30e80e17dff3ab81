using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Core.Taxes;
using Npgsql;
using NpgsqlTypes;

namespace Assignum.Storage.Settings;

/// <summary>A table of settings by edition.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Subject">The column that names the thing a row is about; with the edition it tells the rows of one change.</param>
/// <param name="Hand">The column by which hands are noted; it stays the same when a row is replaced.</param>
/// <param name="HasLabel">The thing has a label of its own, which stays when its settings end.</param>
/// <param name="Columns">The columns that say what is set.</param>
abstract record SettingTable(string Name, string Subject, string Hand, bool HasLabel, IReadOnlyList<string> Columns);

/// <summary>A column of a setting, and how it is written.</summary>
sealed record SettingColumn<T>(string Name, Action<NpgsqlBinaryImporter, T, Labels> Write);

/// <summary>A table of settings with what its rows are made from.</summary>
sealed record SettingTable<T>(string Name, string Subject, string Hand, bool HasLabel, IReadOnlyList<SettingColumn<T>> Written)
    : SettingTable(Name, Subject, Hand, HasLabel, [.. Written.Select(c => c.Name)])
{
    // Options are about the company itself.
    string[] Keys => Subject == "company_id" ? [Subject] : ["company_id", Subject];

    /// <summary>Writes rows from an edition on, by COPY.</summary>
    /// <param name="change">The change of the draft.</param>
    /// <param name="labels">Ids of what the settings name.</param>
    /// <param name="things">What the rows are about, with what they say.</param>
    /// <param name="edition">The edition that brings them.</param>
    internal async Task Copy(DraftChange change, Labels labels, IEnumerable<(int Subject, T Thing)> things, int edition)
    {
        await using var copy = await change.Connection.BeginBinaryImportAsync($"copy {Name} ({string.Join(", ", Keys)}, {string.Join(", ", Columns)}, " +
            "introduced_in) from stdin binary", change.Stop);
        foreach (var (subject, thing) in things)
        {
            await copy.StartRowAsync(change.Stop);
            copy.Write(change.Company);
            if (Keys.Length > 1)
                copy.Write(subject);
            foreach (var column in Written)
                column.Write(copy, thing, labels);
            copy.Write(edition);
        }
        await copy.CompleteAsync(change.Stop);
    }

    /// <summary>Gives things new settings in the draft: rows of the draft go, released ones end, and new ones follow.</summary>
    internal async Task Reset(DraftChange change, Labels labels, IReadOnlyList<(int Subject, T Thing)> things)
    {
        if (things.Count == 0)
            return;
        var makers = await change.EndRows(Name, Subject, [.. things.Select(t => t.Subject)]);
        await Copy(change, labels, things, change.Edition);
        await change.KeepMakers(Name, Subject, makers);
    }
}

/// <summary>Every table of settings: what writes a setting, compares editions, takes back, brings back and tells authors goes by this list.</summary>
static class SettingTables
{
    internal static readonly SettingTable<Account> Accounts = new("account_setting", "account_id", "account_id", HasLabel: true,
    [
        new("class", (row, a, _) => row.Write(a.Class.Word())), new("kind", (row, a, _) => row.Write(a.Kind.Word())),
            new("active", (row, a, _) => row.Write(a.Active)),
        new("valid_from", (row, a, _) => row.WriteOrNull(a.ValidFrom)), new("valid_to", (row, a, _) => row.WriteOrNull(a.ValidTo)),
        new("control", (row, a, _) => row.WriteOrNull(a.Control?.Word())), new("manual", (row, a, _) => row.Write(a.Manual.Word())),
        new("item_tax_group_id", (row, a, labels) => row.WriteOrNull(labels.IdOf(Labels.Family("item-tax"), a.ItemTaxGroup))),
            new("tax_code_id", (row, a, labels) => row.WriteOrNull(labels.IdOf(Labels.TaxCodes, a.TaxCode))),
        new("suspense", (row, a, _) => row.Write(a.Suspense)),
            new("dimensions", (row, a, _) => row.Write(Json(a.Dimensions.ToDictionary(d => d.Key, d => d.Value.Word())), NpgsqlDbType.Jsonb)),
        new("tax_relevance", (row, a, _) => row.WriteOrNull(a.TaxRelevance?.Word())), new("party_role", (row, a, _) => row.WriteOrNull(a.PartyRole?.Word())),
        new("currencies", (row, a, _) => row.Write(a.Currencies.Select(Fold.Of).ToArray())),
            new("dimension_defaults", (row, a, _) => row.Write(Json(a.DimensionDefaults), NpgsqlDbType.Jsonb)),
    ]);

    internal static readonly SettingTable<int?> Groups = new("grouping_setting", "grouping_id", "grouping_id", HasLabel: true,
        [new("tax_group_id", (row, taxGroup, _) => row.WriteOrNull(taxGroup))]);

    internal static readonly SettingTable<TaxCode> TaxCodes = new("tax_code_setting", "tax_code_id", "tax_code_id", HasLabel: true,
    [
        new("category", (row, t, _) => row.WriteOrNull(t.Category)), new("direction", (row, t, _) => row.Write(Words<TaxDirection>.Of(t.Direction))),
            new("reverse_charge", (row, t, _) => row.Write(t.ReverseCharge)),
        new("components", (row, t, _) => row.Write(TaxComponentJson.Write(t.Components), NpgsqlDbType.Jsonb)),
    ]);

    internal static readonly SettingTable<MemberSetting> Members = new("member_setting", "member_id", "member_id", HasLabel: true,
    [
        new("group_id", (row, m, _) => row.WriteOrNull(m.Group)), new("tax_group_id", (row, m, _) => row.WriteOrNull(m.TaxGroup)),
            new("role", (row, m, _) => row.WriteOrNull(m.Role)),
        new("item_kind", (row, m, _) => row.WriteOrNull(m.ItemKind)), new("tax_area", (row, m, _) => row.WriteOrNull(m.TaxArea)),
            new("method", (row, m, _) => row.WriteOrNull(m.Method)),
        new("control_alternates", (row, m, _) => row.Write(m.Alternates)), new("partner_id", (row, m, _) => row.WriteOrNull(m.Partner)),
        new("life_months", (row, m, _) => row.WriteOrNull(m.LifeMonths)), new("percent", (row, m, _) => row.WriteOrNull(m.Percent)),
        new("residual", (row, m, _) => row.Write(m.Residual)),
    ]);

    internal static readonly SettingTable<CompanyOptions> Options = new("company_option", "company_id", "company_id", HasLabel: false,
    [
        new("separate_discounts", (row, o, _) => row.Write(o.SeparateDiscounts)), new("perpetual_stock", (row, o, _) => row.Write(o.PerpetualStock)),
        new("tax_rounding", (row, o, _) => row.Write(Words<TaxRounding>.Of(o.TaxRounding))),
            new("tax_tolerance", (row, o, _) => row.WriteOrNull(o.TaxTolerance)),
        new("line_text", (row, o, _) => row.Write(Words<LineText>.Of(o.LineText))),
    ]);

    // Rules, tax rules and ladders write themselves, by key.
    sealed record Keyed(string Name, string Subject, string Hand, IReadOnlyList<string> Columns) : SettingTable(Name, Subject, Hand, false, Columns);

    internal static readonly SettingTable Rules = new Keyed("rule", "name", "name",
        ["name", "purpose", "rung", "keys", "account_id", "rule_key", "validity", "note"]);

    internal static readonly SettingTable TaxRules = new Keyed("tax_rule", "id", "rule_key",
        ["tax_area", "party_tax_group_id", "item_tax_group_id", "tax_code_id", "rule_key", "validity"]);

    internal static readonly SettingTable Ladders = new Keyed("ladder", "purpose", "purpose", ["purpose", "rungs", "ladder_key"]);

    internal static readonly SettingTable Matches = new Keyed("match_setting", "key", "key",
        ["key", "connection", "list", "theirs", "item_id", "group_id", "tax_code_id", "match_key"]);

    /// <summary>All of them; what is named comes after what names it.</summary>
    internal static readonly IReadOnlyList<SettingTable> All =
    [
        Options, Accounts, Groups, TaxCodes, Members, TaxRules, Ladders, Rules, Matches,
    ];

    /// <summary>Table and list of labels of each kind of setting, by the first part of its places.</summary>
    internal static readonly IReadOnlyDictionary<string, (SettingTable Table, string List)> ByPlace = new Dictionary<string,
        (SettingTable, string)>(StringComparer.Ordinal)
    {
        [SettingKinds.Accounts.Place] = (Accounts, Labels.Accounts), [SettingKinds.TaxCodes.Place] = (TaxCodes, Labels.TaxCodes),
        [SettingKinds.Parties.Place] = (Members, "party"), [SettingKinds.Items.Place] = (Members, "item"),
            [SettingKinds.Locations.Place] = (Members, "location"), [SettingKinds.Projects.Place] = (Members, "project"),
        [SettingKinds.Assets.Place] = (Members, "asset"), [SettingKinds.Partners.Place] = (Members, "partner"),
        ["partyGroups"] = (Groups, Labels.Family("party")), ["itemGroups"] = (Groups, Labels.Family("item")),
            ["projectGroups"] = (Groups, Labels.Family("project")),
        ["assetGroups"] = (Groups, Labels.Family("asset")), ["partyTaxGroups"] = (Groups, Labels.Family("party-tax")),
            ["itemTaxGroups"] = (Groups, Labels.Family("item-tax")),
    };

    static string Json<T>(T value) => JsonSerializer.Serialize(value);
}
