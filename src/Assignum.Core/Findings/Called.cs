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
            names[value.Fact] = known = NamesOf(value.Fact).Where(n => n.Name.Length > 0).GroupBy(n => Fold.Of(n.Code)).ToDictionary(g => g.Key, g =>
                g.First().Name);
        return known.GetValueOrDefault(Fold.Of(value.Code), value.Code);
    }

    IEnumerable<(string Code, string Name)> NamesOf(Fact fact) => fact switch
    {
        Fact.Item => book.Items.Select(i => (i.Code, i.Name)),
        Fact.ItemGroup => book.ItemGroups.Select(g => (g.Code, g.Name)),
        Fact.Party => book.Parties.Select(p => (p.Code, p.Name)),
        Fact.PartyGroup => book.PartyGroups.Select(g => (g.Code, g.Name)),
        Fact.Location => book.Locations.Select(l => (l.Code, l.Name)),
        Fact.Project => book.Projects.Select(p => (p.Code, p.Name)),
        Fact.ProjectGroup => book.ProjectGroups.Select(g => (g.Code, g.Name)),
        Fact.AssetGroup => book.AssetGroups.Select(g => (g.Code, g.Name)),
        Fact.PartyTaxGroup => book.PartyTaxGroups.Select(g => (g.Code, g.Name)),
        Fact.ItemTaxGroup => book.ItemTaxGroups.Select(g => (g.Code, g.Name)),
        _ => [],
    };
}
