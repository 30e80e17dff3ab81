using Assignum.Core;
using Assignum.Core.Rulebooks;

namespace Assignum.Storage.Settings;

/// <summary>Ids behind the numbers and codes of a company, found by their fold; and the way back. May lie over those of another edition, of which it then says
/// only what differs.</summary>
public sealed class Labels
{
    const int Gone = 0;

    readonly Dictionary<(string List, string Fold), int> ids = [];
    readonly Dictionary<(string List, int Id), string?> codes = [];
    readonly Dictionary<string, long> rules = new(StringComparer.Ordinal);
    readonly Dictionary<(string List, int Id), string> ended = [];
    readonly HashSet<string> whole = [];
    readonly Labels? beneath;

    internal Labels(Labels? beneath = null) => this.beneath = beneath;

    /// <summary>How many lie over each other.</summary>
    internal int Depth => 1 + (beneath?.Depth ?? 0);

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

    /// <summary>Of these lists nothing beneath counts.</summary>
    internal void SaysAllOf(params IEnumerable<string> lists) => whole.UnionWith(lists);

    internal void Remove(string list, int id, string code)
    {
        ids[(list, Fold.Of(code))] = Gone;
        codes[(list, id)] = null;
    }

    /// <summary>The code of what the edition does not have, for rules that still name it.</summary>
    internal void AddEnded(string list, int id, string code) => ended[(list, id)] = code;

    internal void RemoveRule(string name) => rules[name] = Gone;

    /// <summary>Id of a code in a list, or null.</summary>
    public int? IdOf(string list, string? code) => code is null ? null : IdOfFold(list, Fold.Of(code));

    int? IdOfFold(string list, string fold)
    {
        if (ids.TryGetValue((list, fold), out var id))
            return id == Gone ? null : id;
        if (whole.Contains(list))
            return null;
        return beneath?.IdOfFold(list, fold);
    }

    /// <summary>Id of an account.</summary>
    public int? Account(string? number) => IdOf(Accounts, number);

    /// <summary>Row of a rule by its name, or null.</summary>
    public long? RuleRow(string? name)
    {
        if (name is null)
            return null;
        if (rules.TryGetValue(name, out var row))
            return row == Gone ? null : row;
        return beneath?.RuleRow(name);
    }

    /// <summary>The code of an id, also of one that has ended: a rule still names what it asked for.</summary>
    internal string CodeOf(string list, int id) =>
        codes.GetValueOrDefault((list, id)) ?? ended.GetValueOrDefault((list, id)) ?? beneath?.CodeOf(list, id)
            ?? throw new KeyNotFoundException($"List {list} has no id {id}.");

    /// <summary>The code of an id; null where there is none, or where the edition does not have it yet.</summary>
    internal string? CodeOrNull(string list, int? id)
    {
        if (id is not { } known)
            return null;
        if (codes.TryGetValue((list, known), out var code))
            return code;
        if (whole.Contains(list))
            return null;
        return beneath?.CodeOrNull(list, id);
    }

    /// <summary>Ids of a list that one of two editions has and the other has not.</summary>
    internal static int[] DifferingIds(Labels a, Labels b, string list)
    {
        var (inA, inB) = (a.IdsOf(list), b.IdsOf(list));
        inA.SymmetricExceptWith(inB);
        return [.. inA];
    }

    HashSet<int> IdsOf(string list)
    {
        var found = whole.Contains(list) || beneath is null ? [] : beneath.IdsOf(list);
        foreach (var ((of, id), code) in codes)
            if (of == list && code is not null)
                found.Add(id);
            else if (of == list)
                found.Remove(id);
        return found;
    }

    /// <summary>The list in which a fact's codes stand; null for facts whose codes are taken as they come.</summary>
    internal static string? ListOf(Fact fact) => fact.List()?.Kept;

    /// <summary>Families of groups.</summary>
    public static IReadOnlyList<string> Families { get; } = ["party", "item", "project", "asset", "location", "party-tax", "item-tax"];

    /// <summary>The list of a family of groups: "party", "item-tax" …</summary>
    public static string Family(string family) => "group:" + family;

    /// <summary>How a rule keeps a value: by id where there is a list, so that a renamed code carries its rules along.</summary>
    internal string KeyOf(FactValue value)
    {
        if (ListOf(value.Fact) is not { } list)
            return "=" + value.Code.Trim();
        if (IdOf(list, value.Code) is { } id)
            return "#" + id.ToString(System.Globalization.CultureInfo.InvariantCulture);
        throw new InvalidOperationException($"There is no {value.Fact.InWords()} {value.Code}; the checks refuse such a rule.");
    }

    internal FactValue ValueOf(Fact fact, string key) =>
        new(fact, key[0] == '#' ? CodeOf(ListOf(fact)!, int.Parse(key.AsSpan(1), System.Globalization.CultureInfo.InvariantCulture)) : key[1..]);

    /// <summary>The digest that forbids two rules with the same facts to overlap in time.</summary>
    internal Guid RuleKeyOf(int company, string subject, IEnumerable<FactValue> when) =>
        RuleKey.Of(company, subject, when.Select(w => w with { Code = KeyOf(w) }));
}
