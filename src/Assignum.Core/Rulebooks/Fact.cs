using System.Collections.Immutable;

namespace Assignum.Core.Rulebooks;

/// <summary>What a rule may ask for. The order is the one in which facts are always shown.</summary>
public enum Fact
{
    Item, ItemGroup, ItemKind, Party, PartyGroup, Location, Project, ProjectGroup, Task, AssetGroup,
    TaxCode, Authority, TaxArea, MoneyAccount, Method, Reason, Connection, Currency, Partner,
    // The two below are asked for by tax rules only; TaxArea is shared.
    PartyTaxGroup, ItemTaxGroup,
}

/// <summary>Names of facts, as the formats spell them.</summary>
public static class FactNames
{
    /// <summary>How many facts there are, those of tax rules included.</summary>
    public const int Count = (int)Fact.ItemTaxGroup + 1;

    static readonly string[] Names = [.. Enum.GetNames<Fact>().Select(n => char.ToLowerInvariant(n[0]) + n[1..])];

    /// <summary>Facts that rules of purposes may ask for.</summary>
    public static ImmutableArray<Fact> OfPurposes { get; } = [.. Enum.GetValues<Fact>().Where(f => f < Fact.PartyTaxGroup)];

    /// <summary>"itemGroup".</summary>
    public static string Name(this Fact fact) => Names[(int)fact];

    /// <summary>"item group", for sentences and screens.</summary>
    public static string InWords(this Fact fact) =>
        string.Concat(fact.Name().Select(c => char.IsUpper(c) ? " " + char.ToLowerInvariant(c) : c.ToString()));

    /// <summary>The fact of a name, exact to the letter; false for the facts of tax rules.</summary>
    public static bool TryParse(string name, out Fact fact)
    {
        var at = Array.IndexOf(Names, name);
        fact = (Fact)at;
        return at is >= 0 and < (int)Fact.PartyTaxGroup;
    }
}
