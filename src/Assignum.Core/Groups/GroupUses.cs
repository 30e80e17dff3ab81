using Assignum.Core.Rulebooks;

namespace Assignum.Core.Groups;

/// <summary>Families of groups, as the interface and the formats name them.</summary>
public static class GroupFamilies
{
    /// <summary>"party", "item", "project", "asset", "party-tax", "item-tax".</summary>
    public static IReadOnlyList<string> All { get; } = ["item", "party", "project", "asset", "item-tax", "party-tax"];

    /// <summary>The groups of a family.</summary>
    public static IReadOnlyList<Group> GroupsOf(this Rulebook book, string family) => family switch
    {
        "party" => book.PartyGroups,
        "item" => book.ItemGroups,
        "project" => book.ProjectGroups,
        "asset" => book.AssetGroups,
        "party-tax" => book.PartyTaxGroups,
        "item-tax" => book.ItemTaxGroups,
        _ => throw new ArgumentException($"There is no family {family}.", nameof(family)),
    };

    /// <summary>The fact by which rules ask for groups of a family.</summary>
    public static Fact FactOf(string family) => family switch
    {
        "party" => Fact.PartyGroup,
        "item" => Fact.ItemGroup,
        "project" => Fact.ProjectGroup,
        "asset" => Fact.AssetGroup,
        "party-tax" => Fact.PartyTaxGroup,
        _ => Fact.ItemTaxGroup,
    };

    /// <summary>"Item group", "Party tax group".</summary>
    public static string Title(string family) => char.ToUpperInvariant(family[0]) + family[1..].Replace('-', ' ') + " group";
}

/// <summary>What uses a group, so that it can't be deleted.</summary>
/// <param name="Members">Members in it, by code.</param>
/// <param name="Rules">Rules that ask for it.</param>
/// <param name="TaxRules">How many tax rules ask for it.</param>
/// <param name="Groups">Posting groups whose members have it as their tax group, by code.</param>
/// <param name="Accounts">Accounts that have it as their item tax group, by number.</param>
public sealed record GroupUses(IReadOnlyList<string> Members, IReadOnlyList<Rule> Rules, int TaxRules, IReadOnlyList<string> Groups,
    IReadOnlyList<string> Accounts)
{
    /// <summary>Finds the uses of a group.</summary>
    public static GroupUses Of(Rulebook book, string family, string code)
    {
        bool Is(string? other) => Fold.Same(other, code);
        var fact = GroupFamilies.FactOf(family);
        IEnumerable<string> members = family switch
        {
            "party" => book.Parties.Where(p => Is(p.Group)).Select(p => p.Code),
            "party-tax" => book.Parties.Where(p => Is(p.TaxGroup)).Select(p => p.Code),
            "item" => book.Items.Where(i => Is(i.Group)).Select(i => i.Code),
            "item-tax" => book.Items.Where(i => Is(i.TaxGroup)).Select(i => i.Code),
            "project" => book.Projects.SelectMany(p => p.Tasks.Where(t => Is(t.Group)).Select(t => p.Code + "/" + t.Code).Concat(Is(p.Group) ? [p.Code] : [])),
            _ => [],
        };
        var groups = family switch { "party-tax" => book.PartyGroups, "item-tax" => book.ItemGroups, _ => [] };
        return new([.. members], [.. book.Rules.Where(r => r.When.Any(w => w.Fact == fact && Is(w.Code)))],
            book.TaxRules.Count(r => r.When().Any(w => w.Fact == fact && Is(w.Code))),
            [.. groups.Where(g => Is(g.TaxGroup)).Select(g => g.Code)],
                [.. family == "item-tax" ? book.Accounts.Where(a => Is(a.ItemTaxGroup)).Select(a => a.Number) : []]);
    }

    /// <summary>Whether anything uses it.</summary>
    public bool Any => Members.Count + Rules.Count + TaxRules + Groups.Count + Accounts.Count > 0;

    /// <summary>"12 members, first C-10; rules r3 and r7; …".</summary>
    public string InWords => string.Join("; ", new[]
    {
        Some(Members, "member"), Some([.. Rules.Select(r => $"{r.Id} for {r.Purpose}")], "rule"), 
        TaxRules switch { 0 => "", 1 => "a tax rule", _ => $"{TaxRules} tax rules" }, Some(Groups, "posting group"), Some(Accounts, "account"),
    }.Where(w => w.Length > 0));

    static string Some(IReadOnlyList<string> codes, string one) =>
        codes.Count switch { 0 => "", 1 => $"{one} {codes[0]}", <= 3 => $"{one}s {string.Join(", ", codes)}", _ => $"{codes.Count} {one}s, first {codes[0]}" };
}
