using Assignum.Core.Groups;

namespace Assignum.Core.Rulebooks;

/// <content>Codes as small numbers, and back.</content>
public sealed partial class CompiledRulebook
{
    /// <summary>The facts that are present, in their order, in the rulebook's spelling.</summary>
    public IReadOnlyList<FactValue> InWords(Facts facts)
    {
        var values = new List<FactValue>();
        foreach (var fact in Enum.GetValues<Fact>())
            if (facts.Has(fact))
                values.Add(new FactValue(fact, facts[fact] == Facts.Unlisted ? facts.UnlistedValue(fact)! : SpellingOf(fact, facts[fact])));
        return values;
    }

    /// <summary>Facts from codes; a code the rulebook does not know is present, and answers no rule.</summary>
    public Facts FactsOf(IEnumerable<FactValue> values)
    {
        var facts = new Facts();
        foreach (var (fact, code) in values)
            Set(facts, fact, code);
        return facts;
    }

    /// <summary>Whether a code means something to the rulebook; codes of facts without a list are taken as they come.</summary>
    public bool Knows(Fact fact, string code) => !HasList(fact) || IdOf(fact, code) != 0;

    static bool HasList(Fact fact) => fact is not (Fact.Authority or Fact.TaxArea or Fact.MoneyAccount or Fact.Method or Fact.Reason or Fact.Connection or Fact.Currency or Fact.Partner);

    /// <summary>Sets a party, by its number, with its groups.</summary>
    internal void SetParty(Facts facts, int party) =>
        (facts[Fact.Party], facts[Fact.PartyGroup], facts[Fact.PartyTaxGroup]) = (party, partyGroups[party], partyTaxGroups[party]);

    /// <summary>Sets an item, by its number, with its groups.</summary>
    internal void SetItem(Facts facts, int item) =>
        (facts[Fact.Item], facts[Fact.ItemGroup], facts[Fact.ItemTaxGroup]) = (item, itemGroups[item], itemTaxGroups[item]);

    internal int ItemGroupOf(int item) => itemGroups[item];

    internal int PartyGroupOf(int party) => partyGroups[party];

    internal static string? TaxGroupOf(CodeIndex<Group> groups, string? code) =>
        code is not null && groups.TryFind(code, out var group) ? group.TaxGroup : null;

    /// <summary>Lays a fact over others; an absent code takes the fact away.</summary>
    internal void Set(Facts facts, Fact fact, string? code)
    {
        facts[fact] = 0;
        if (code is null)
            return;
        var id = IdOf(fact, code);
        if (id != 0)
            facts[fact] = id;
        else
            facts.SetUnlisted(fact, code.Trim());
    }

    int IdOf(Fact fact, string code) => fact switch
    {
        Fact.Item => Items.IdOf(code),
        Fact.ItemGroup => ItemGroups.IdOf(code),
        Fact.ItemKind => Words<ItemKind>.TryParse(Fold.Of(code).ToLowerInvariant(), out var kind) ? (int)kind + 1 : 0,
        Fact.Party => Parties.IdOf(code),
        Fact.PartyGroup => PartyGroups.IdOf(code),
        Fact.Location => Locations.IdOf(code),
        Fact.Project => Projects.IdOf(code),
        Fact.ProjectGroup => ProjectGroups.IdOf(code),
        Fact.Task => Tasks.IdOf(code),
        Fact.AssetGroup => AssetGroups.IdOf(code),
        Fact.TaxCode => TaxCodes.IdOf(code),
        Fact.PartyTaxGroup => PartyTaxGroups.IdOf(code),
        Fact.ItemTaxGroup => ItemTaxGroups.IdOf(code),
        _ => openCodes.IdOf(fact, code),
    };

    internal string SpellingOf(Fact fact, int id) => fact switch
    {
        Fact.Item => Items.CodeOf(id),
        Fact.ItemGroup => ItemGroups.CodeOf(id),
        Fact.ItemKind => Words<ItemKind>.All[id - 1],
        Fact.Party => Parties.CodeOf(id),
        Fact.PartyGroup => PartyGroups.CodeOf(id),
        Fact.Location => Locations.CodeOf(id),
        Fact.Project => Projects.CodeOf(id),
        Fact.ProjectGroup => ProjectGroups.CodeOf(id),
        Fact.Task => Tasks.CodeOf(id),
        Fact.AssetGroup => AssetGroups.CodeOf(id),
        Fact.TaxCode => TaxCodes.CodeOf(id),
        Fact.PartyTaxGroup => PartyTaxGroups.CodeOf(id),
        Fact.ItemTaxGroup => ItemTaxGroups.CodeOf(id),
        _ => openCodes.SpellingOf(fact, id),
    };

    int SizeOf(Fact fact) => fact switch
    {
        Fact.Item => Items.Count,
        Fact.ItemGroup => ItemGroups.Count,
        Fact.ItemKind => Words<ItemKind>.All.Count,
        Fact.Party => Parties.Count,
        Fact.PartyGroup => PartyGroups.Count,
        Fact.Location => Locations.Count,
        Fact.Project => Projects.Count,
        Fact.ProjectGroup => ProjectGroups.Count,
        Fact.Task => Tasks.Count,
        Fact.AssetGroup => AssetGroups.Count,
        Fact.TaxCode => TaxCodes.Count,
        Fact.PartyTaxGroup => PartyTaxGroups.Count,
        Fact.ItemTaxGroup => ItemTaxGroups.Count,
        _ => openCodes.SizeOf(fact),
    };
}
