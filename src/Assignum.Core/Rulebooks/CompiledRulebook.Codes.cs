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
    public bool Knows(Fact fact, string code) => lists[(int)fact] is not { } list || list.IdOf(code) != 0;

    /// <summary>Sets a party, by its number, with its groups and the company of the group that it is.</summary>
    internal void SetParty(Facts facts, int party)
    {
        (facts[Fact.Party], facts[Fact.PartyGroup], facts[Fact.PartyTaxGroup]) = (party, partyGroups[party], partyTaxGroups[party]);
        facts[Fact.Partner] = partners[party];
    }

    /// <summary>Sets an item, by its number, with its groups.</summary>
    internal void SetItem(Facts facts, int item) =>
        (facts[Fact.Item], facts[Fact.ItemGroup], facts[Fact.ItemTaxGroup]) = (item, itemGroups[item], itemTaxGroups[item]);

    /// <summary>Sets the groups of a fixed asset.</summary>
    internal void SetAsset(Facts facts, Asset asset) => (facts[Fact.AssetGroup], facts[Fact.ItemTaxGroup]) =
        (AssetGroups.IdOf(asset.Group), ItemTaxGroups.IdOf(asset.TaxGroup ?? TaxGroupOf(AssetGroups, asset.Group)));

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

    int IdOf(Fact fact, string code) => lists[(int)fact] is { } list ? list.IdOf(code) : openCodes.IdOf(fact, code);

    internal string SpellingOf(Fact fact, int id) => lists[(int)fact] is { } list ? list.CodeOf(id) : openCodes.SpellingOf(fact, id);

    int SizeOf(Fact fact) => lists[(int)fact]?.Count ?? openCodes.SizeOf(fact);
}
