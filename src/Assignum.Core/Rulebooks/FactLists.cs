using Assignum.Core.Groups;

namespace Assignum.Core.Rulebooks;

/// <summary>A code of a list with its name; the name is empty where there is none.</summary>
public readonly record struct Listed(string Code, string Name);

/// <summary>The list a fact's codes stand in, and all that follows from it: how they are found, named, kept and shown.</summary>
public sealed class FactList
{
    internal FactList(Fact fact, Func<Rulebook, IEnumerable<Listed>> of, Func<CompiledRulebook, ICodes> codes) => (Fact, Of, Codes) = (fact, of, codes);

    /// <summary>The fact.</summary>
    public Fact Fact { get; }
    /// <summary>Its codes in a rulebook, in the rulebook's order.</summary>
    public Func<Rulebook, IEnumerable<Listed>> Of { get; }
    /// <summary>Its codes, interned.</summary>
    internal Func<CompiledRulebook, ICodes> Codes { get; }
    /// <summary>The list's name in storage: "item", "group:party"; null where its codes are words of ours.</summary>
    public string? Kept { get; init; }
    /// <summary>The list's name in a rulebook's file: "itemGroups"; null where it has none.</summary>
    public string? InFile { get; init; }
    /// <summary>Sentences name what has the code, and not the code itself.</summary>
    public bool GoesByName { get; init; } = true;
    /// <summary>Of a task the code of its project: what stands in the file's list.</summary>
    public Func<string, string> Owner { get; init; } = code => code;
}

/// <summary>The lists of all facts that have one; codes of the others are taken as they come.</summary>
public static class FactLists
{
    static readonly FactList?[] ByFact = new FactList?[FactNames.Count];

    static FactLists()
    {
        foreach (var list in All)
            ByFact[(int)list.Fact] = list;
    }

    /// <summary>All of them, in the order of facts.</summary>
    public static IReadOnlyList<FactList> All { get; } =
    [
        new(Fact.Item, b => b.Items.Select(i => new Listed(i.Code, i.Name)), b => b.Items) { Kept = "item", InFile = "items" },
        new(Fact.ItemGroup, b => Groups(b.ItemGroups), b => b.ItemGroups) { Kept = "group:item", InFile = "itemGroups" },
        new(Fact.ItemKind, _ => Words<ItemKind>.All.Select(k => new Listed(k, "")), b => b.ItemKinds) { GoesByName = false },
        new(Fact.Party, b => b.Parties.Select(p => new Listed(p.Code, p.Name)), b => b.Parties) { Kept = "party", InFile = "parties" },
        new(Fact.PartyGroup, b => Groups(b.PartyGroups), b => b.PartyGroups) { Kept = "group:party", InFile = "partyGroups" },
        new(Fact.Location, b => b.Locations.Select(l => new Listed(l.Code, l.Name)), b => b.Locations) { Kept = "location", InFile = "locations" },
        new(Fact.Project, b => b.Projects.Select(p => new Listed(p.Code, p.Name)), b => b.Projects) { Kept = "project", InFile = "projects" },
        new(Fact.ProjectGroup, b => Groups(b.ProjectGroups), b => b.ProjectGroups) { Kept = "group:project", InFile = "projectGroups" },
        new(Fact.Task, b => b.Projects.SelectMany(p => p.Tasks.Select(t => new Listed(p.Code + "/" + t.Code, t.Name))), b => b.Tasks)
            { Kept = "task", InFile = "projects", GoesByName = false, Owner = code => code.Split('/')[0] },
        new(Fact.AssetGroup, b => Groups(b.AssetGroups), b => b.AssetGroups) { Kept = "group:asset", InFile = "assetGroups" },
        new(Fact.TaxCode, b => b.TaxCodes.Select(t => new Listed(t.Code, t.Name)), b => b.TaxCodes) { Kept = "tax-code", InFile = "taxCodes",
            GoesByName = false },
        new(Fact.Partner, b => b.Partners.Select(p => new Listed(p.Code, p.Name)), b => b.Partners) { Kept = "partner", InFile = "partners" },
        new(Fact.PartyTaxGroup, b => Groups(b.PartyTaxGroups), b => b.PartyTaxGroups) { Kept = "group:party-tax", InFile = "partyTaxGroups" },
        new(Fact.ItemTaxGroup, b => Groups(b.ItemTaxGroups), b => b.ItemTaxGroups) { Kept = "group:item-tax", InFile = "itemTaxGroups" },
    ];

    /// <summary>The list of a fact; null where its codes are taken as they come.</summary>
    public static FactList? List(this Fact fact) => ByFact[(int)fact];

    /// <summary>Name of a code, or empty.</summary>
    public static string NameOf(this CompiledRulebook book, FactValue value) => value.Fact.List()?.Codes(book).NameOf(value.Code) ?? "";

    static IEnumerable<Listed> Groups(IReadOnlyList<Group> groups) => groups.Select(g => new Listed(g.Code, g.Name));
}
