using Assignum.Core;
using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Settings;

/// <summary>Ids behind the numbers and codes of a company, found by their fold; and the way back.</summary>
public sealed class Labels
{
    readonly Dictionary<(string List, string Fold), int> ids = [];
    readonly Dictionary<(string List, int Id), string> codes = [];
    readonly Dictionary<string, long> rules = new(StringComparer.Ordinal);

    /// <summary>List of accounts.</summary>
    public const string Accounts = "account";
    /// <summary>List of tax codes.</summary>
    public const string TaxCodes = "tax-code";

    internal void Add(string list, int id, string code)
    {
        ids[(list, Fold.Of(code))] = id;
        codes[(list, id)] = code;
    }

    internal void AddRule(string name, long row) => rules[name] = row;

    /// <summary>Id of a code in a list, or null.</summary>
    public int? IdOf(string list, string? code) => code is not null && ids.TryGetValue((list, Fold.Of(code)), out var id) ? id : null;

    /// <summary>Id of an account.</summary>
    public int? Account(string? number) => IdOf(Accounts, number);

    /// <summary>Row of a rule by its name, or null.</summary>
    public long? RuleRow(string? name) => name is not null && rules.TryGetValue(name, out var row) ? row : null;

    internal string CodeOf(string list, int id) => codes[(list, id)];

    /// <summary>The code of an id; null where there is none, or where the edition does not have it yet.</summary>
    internal string? CodeOrNull(string list, int? id) => id is { } known ? codes.GetValueOrDefault((list, known)) : null;

    /// <summary>The list in which a fact's codes stand; null for facts whose codes are taken as they come.</summary>
    internal static string? ListOf(Fact fact) => fact switch
    {
        Fact.Item => "item",
        Fact.Party => "party",
        Fact.Location => "location",
        Fact.Project => "project",
        Fact.Task => "task",
        Fact.ItemGroup => Family("item"),
        Fact.PartyGroup => Family("party"),
        Fact.ProjectGroup => Family("project"),
        Fact.AssetGroup => Family("asset"),
        Fact.PartyTaxGroup => Family("party-tax"),
        Fact.ItemTaxGroup => Family("item-tax"),
        Fact.TaxCode => TaxCodes,
        _ => null,
    };

    /// <summary>Families of groups.</summary>
    public static IReadOnlyList<string> Families { get; } = ["party", "item", "project", "asset", "location", "party-tax", "item-tax"];

    /// <summary>The list of a family of groups: "party", "item-tax" …</summary>
    public static string Family(string family) => "group:" + family;

    /// <summary>How a rule keeps a value: by id where there is a list, so that a renamed code carries its rules along.</summary>
    internal string KeyOf(FactValue value) =>
        ListOf(value.Fact) is not { } list ? "=" + value.Code.Trim()
        : IdOf(list, value.Code) is { } id ? "#" + id.ToString(System.Globalization.CultureInfo.InvariantCulture)
        : throw new InvalidOperationException($"There is no {value.Fact.InWords()} {value.Code}; the checks refuse such a rule.");

    internal FactValue ValueOf(Fact fact, string key) =>
        new(fact, key[0] == '#' ? CodeOf(ListOf(fact)!, int.Parse(key.AsSpan(1), System.Globalization.CultureInfo.InvariantCulture)) : key[1..]);

    /// <summary>The digest that forbids two rules with the same facts to overlap in time.</summary>
    internal Guid RuleKeyOf(int company, string subject, IEnumerable<FactValue> when) =>
        RuleKey.Of(company, subject, when.Select(w => w with { Code = KeyOf(w) }));
}
