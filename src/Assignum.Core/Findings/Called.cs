using Assignum.Core.Rulebooks;

namespace Assignum.Core.Findings;

/// <summary>What people call the rules of a rulebook: "Cost of sales, Saplings × Councils".</summary>
public sealed class Called(Rulebook book)
{
    readonly Dictionary<Fact, Dictionary<string, string>> names = [];

    /// <summary>A rule by its purpose and the names of what it asks for.</summary>
    public string Of(Rule rule) => $"{rule.Purpose.Title}, {Of(rule.When)}";

    /// <summary>A tax rule by the names of the groups and the place it asks for.</summary>
    public string Of(Taxes.TaxRule rule) => $"The tax rule for {Of(rule.When())}";

    /// <summary>"Saplings × Councils", or "company default".</summary>
    public string Of(IReadOnlyList<FactValue> when) => when.Count == 0 ? "company default" : string.Join(" × ", when.Select(Of));

    /// <summary>The name of a code; the code itself where it has none.</summary>
    public string Of(FactValue value)
    {
        if (!names.TryGetValue(value.Fact, out var known))
            names[value.Fact] = known = value.Fact.List() is { GoesByName: true } list
                ? list.Of(book).Where(n => n.Name.Length > 0).GroupBy(n => Fold.Of(n.Code)).ToDictionary(g => g.Key, g => g.First().Name) : [];
        return known.GetValueOrDefault(Fold.Of(value.Code), value.Code);
    }
}
