using Assignum.Core.Rulebooks;

namespace Assignum.Core.Groups;

/// <summary>A member of any family, as lists show it.</summary>
/// <param name="Code">Code; of a task with its project.</param>
/// <param name="Name">Name.</param>
/// <param name="Kind">Kind of an item, role of a party, method of a project, or "".</param>
/// <param name="Group">Posting group, or null.</param>
/// <param name="TaxGroup">Tax group that holds for it, or null.</param>
/// <param name="OwnTaxGroup">Whether the tax group is its own and not its posting group's.</param>
/// <param name="Cost">Cost of an item.</param>
/// <param name="TaxArea">Place that decides a party's tax.</param>
/// <param name="IsTask">Whether it is a task of a project.</param>
public sealed record MemberLine(string Code, string Name, string Kind, string? Group, string? TaxGroup = null, bool OwnTaxGroup = false, decimal? Cost = null,
    string? TaxArea = null, bool IsTask = false)
{
    /// <summary>Company of the group that a party is, or null.</summary>
    public string? Partner { get; init; }
    /// <summary>The fixed asset it is; null: it is none.</summary>
    public Asset? Asset { get; init; }
}

/// <summary>A family of groups with its members, one way of asking for all of them.</summary>
/// <param name="Name">"item", "party-tax" … as the address has it; "location" has members and no groups.</param>
/// <param name="Title">What its view is called: "Items".</param>
/// <param name="Member">One of its members: "item".</param>
/// <param name="Plural">Many of them: "items".</param>
/// <param name="Decides">What is decided here, in one sentence.</param>
public sealed record GroupFamily(string Name, string Title, string Member, string Plural, string Decides)
{
    /// <summary>All families, in the order of the work.</summary>
    public static IReadOnlyList<GroupFamily> All { get; } =
    [
        new("item", "Items", "item", "items", "Which goods and services land alike."),
        new("party", "Parties", "party", "parties", "Which customers and suppliers land alike."),
        new("project", "Projects", "project", "projects", "Which projects and tasks land alike; a task may differ from its project."),
        new("asset", "Assets", "asset", "assets", "Which assets land alike."),
        new("location", "Locations", "location", "locations", "The places rules can ask for: glasshouse, yard, shop."),
        new("partner", "Companies of the group", "company", "companies",
            "The companies of our group that customers and suppliers can be; what is between us then lands by the rules for it."),
        new("item-tax", "Item tax groups", "item", "items",
            "Which goods and services are taxed alike. A member without a tax group of its own has that of its posting group."),
        new("party-tax", "Party tax groups", "party", "parties",
            "Which parties are taxed alike. A member without a tax group of its own has that of its posting group."),
    ];

    /// <summary>What storage calls its members: "party", "partner".</summary>
    public string MemberKind => Member == "company" ? "partner" : Member;
    /// <summary>Whether its groups decide tax.</summary>
    public bool IsTax => Name.EndsWith("-tax", StringComparison.Ordinal);
    /// <summary>Whether it has groups.</summary>
    public bool HasGroups => Name is not ("location" or "partner");
    /// <summary>The groups of a rulebook.</summary>
    public IReadOnlyList<Group> GroupsOf(Rulebook book) => HasGroups ? book.GroupsOf(Name) : [];
    /// <summary>Tax groups that members can have; none where tax does not ask for them.</summary>
    public IReadOnlyList<Group> TaxGroupsOf(Rulebook book) => Member switch { "item" or "asset" => book.ItemTaxGroups, "party" => book.PartyTaxGroups, _ =>
        [] };
    /// <summary>Words of the kind a member has.</summary>
    public IReadOnlyList<string> Kinds => Member switch { "item" => [.. Words<ItemKind>.All], "party" => [.. Words<PartyRole>.All],
        "project" => [.. Words<ProjectMethod>.All], "asset" => [.. Words<AssetMethod>.All], _ => [] };
    /// <summary>What the kind is called.</summary>
    public string KindTitle => Member switch { "item" => "Kind", "party" => "Role", "project" or "asset" => "Method", _ => "" };

    /// <summary>All members of a rulebook.</summary>
    public IEnumerable<MemberLine> MembersOf(Rulebook book)
    {
        var taxOfGroup = (Member switch { "item" => book.ItemGroups, "party" => book.PartyGroups, "asset" => book.AssetGroups, _ => [] }).ToDictionary(g =>
            Fold.Of(g.Code), g =>
            g.TaxGroup);
        string? TaxOf(string? own, string? group) => own ?? (group is null ? null : taxOfGroup.GetValueOrDefault(Fold.Of(group)));
        return Member switch
        {
            "item" => book.Items.Select(i =>
                new MemberLine(i.Code, i.Name, i.Kind.Word(), i.Group, TaxOf(i.TaxGroup, i.Group), i.TaxGroup is not null, i.Cost)),
            "party" => book.Parties.Select(p =>
                new MemberLine(p.Code, p.Name, p.Role.Word(), p.Group, TaxOf(p.TaxGroup, p.Group), p.TaxGroup is not null,
                    TaxArea: p.TaxArea) { Partner = p.Partner }),
            "project" => book.Projects.SelectMany(p =>
                p.Tasks.Select(t => new MemberLine(p.Code + "/" + t.Code, t.Name, "", t.Group, IsTask: true)).Prepend(new MemberLine(p.Code, p.Name,
                    Word(p.Method),
                p.Group))),
            "asset" => book.Assets.Select(a => new MemberLine(a.Code, a.Name, Word(a.Method), a.Group, TaxOf(a.TaxGroup, a.Group),
                a.TaxGroup is not null) { Asset = a }),
            "company" => book.Partners.Select(p => new MemberLine(p.Code, p.Name, "", null)),
            "location" => book.Locations.Select(l => new MemberLine(l.Code, l.Name, "", null)),
            _ => [],
        };
    }

    static string Word<T>(T? method) where T : struct, Enum => method is { } known ? Words<T>.Of(known) : "";

    /// <summary>The group of this family that a member is in.</summary>
    public string? GroupOf(MemberLine member) => IsTax ? member.TaxGroup : member.Group;

    /// <summary>Whether a member without a group waits for one. A task has its project's, and a place has none.</summary>
    public bool Waits(MemberLine member) => HasGroups && GroupOf(member) is null && !member.IsTask;
}
