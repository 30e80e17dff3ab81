using System.Globalization;
using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Groups;

/// <summary>A member as the page lists it.</summary>
/// <param name="Code">Code.</param>
/// <param name="Name">Name.</param>
/// <param name="Kind">Kind of an item, role of a party.</param>
/// <param name="Group">Posting group, or null.</param>
/// <param name="TaxGroup">Tax group that holds for it, or null.</param>
/// <param name="OwnTaxGroup">Whether the tax group is its own and not its posting group's.</param>
/// <param name="Cost">Cost of an item.</param>
public sealed record MemberLine(string Code, string Name, string Kind, string? Group, string? TaxGroup, bool OwnTaxGroup, decimal? Cost);

/// <summary>What is typed for a new group or member.</summary>
public sealed class GroupForm
{
    public string? Code { get; set; }
    public string? Name { get; set; }
    public string? Group { get; set; }
    public string? TaxGroup { get; set; }
    public string? Kind { get; set; }
    public string? Cost { get; set; }

    /// <summary>The cost that was typed, or why it can't be read.</summary>
    internal (decimal? Cost, Refusal? Refusal) ReadCost() =>
        string.IsNullOrWhiteSpace(Cost) ? (null, null)
        : decimal.TryParse(Cost, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var typed) ? (typed, null)
        : (null, new Refusal("cost", $"Cost “{Cost}” can't be read. Write it with a decimal point, such as 3.40."));
}

/// <summary>A form of the drawer.</summary>
public sealed record GroupPanel(IndexModel Page, string What, GroupForm Form, Refusal? Refusal)
{
    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Refusal?.Field == field ? Refusal.Message : null;
}

/// <summary>Posting groups of items or parties, their members, and moving members between them.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(GroupStore groups) : CompanyPage
{
    const int MostShown = 200;

    /// <inheritdoc/>
    public override string Step => "Groups";
    /// <summary>"item" or "party".</summary>
    public string Family { get; private set; } = "item";
    /// <summary>Code of the group shown; null for all members, empty for those without a group.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Group { get; set; }
    /// <summary>What code or name must have in it.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }
    /// <summary>Show members without a group.</summary>
    [BindProperty(SupportsGet = true)]
    public bool None { get; set; }
    /// <summary>The groups.</summary>
    public IReadOnlyList<Group> All => Family == "item" ? Draft.Book.ItemGroups : Draft.Book.PartyGroups;
    /// <summary>The tax groups of the family.</summary>
    public IReadOnlyList<Group> TaxGroups => Family == "item" ? Draft.Book.ItemTaxGroups : Draft.Book.PartyTaxGroups;
    /// <summary>Members by folded group; empty for those without.</summary>
    public ILookup<string, MemberLine> ByGroup { get; private set; } = Enumerable.Empty<MemberLine>().ToLookup(_ => "");
    /// <summary>Members shown.</summary>
    public IReadOnlyList<MemberLine> Shown { get; private set; } = [];
    /// <summary>How many fit the filter.</summary>
    public int Fitting { get; private set; }
    /// <summary>Why a move was refused.</summary>
    public string? Fault { get; private set; }
    /// <summary>The group chosen, or null.</summary>
    public Group? Chosen => All.FirstOrDefault(g => Fold.Same(g.Code, Group));

    /// <summary>Shows groups and members.</summary>
    public IActionResult OnGet(string? family) => Lay(family) ? Page() : NotFound();

    /// <summary>Opens the form for a new group, or a change of one.</summary>
    public IActionResult OnGetGroup(string? family, string? code)
    {
        if (!Lay(family))
            return NotFound();
        var known = All.FirstOrDefault(g => Fold.Same(g.Code, code));
        return Drawer("_Group", new GroupPanel(this, known is null ? "new" : "change", new GroupForm { Code = known?.Code, Name = known?.Name, TaxGroup = known?.TaxGroup }, null));
    }

    /// <summary>Opens the form of a member, or of a new one.</summary>
    public IActionResult OnGetMember(string? family, string? code)
    {
        if (!Lay(family))
            return NotFound();
        if (code is null)
            return Drawer("_Member", new GroupPanel(this, "new", new GroupForm { Group = Group }, null));
        return ByGroup.SelectMany(g => g).FirstOrDefault(m => Fold.Same(m.Code, code)) is { } member
            ? Drawer("_Member", new GroupPanel(this, "change", new GroupForm { Code = member.Code, Name = member.Name, Kind = member.Kind, Group = member.Group, TaxGroup = member.OwnTaxGroup ? member.TaxGroup : null, Cost = member.Cost is { } cost ? Show.UnitAmount(cost) : null }, null))
            : NotFound();
    }

    /// <summary>Adds a group, or changes one.</summary>
    public async Task<IActionResult> OnPostGroupAsync(string? family, [FromForm] GroupForm form, bool change)
    {
        if (!Lay(family))
            return NotFound();
        var taxGroup = Empty(form.TaxGroup);
        var refusal = change ? await groups.ChangeGroup(Company.Id, UserId, Family, form.Code ?? "", form.Name ?? "", taxGroup, Stop)
            : await groups.AddGroup(Company.Id, UserId, Family, new Group(form.Code?.Trim() ?? "", form.Name?.Trim() ?? "", taxGroup), Stop);
        return refusal is null
            ? Done(change ? $"Group {form.Code} is changed: its name at once, its tax group in draft {Books.State.Draft}." : $"Group {form.Code} is in draft {Books.State.Draft}.", At($"groups/{Family}?group={Uri.EscapeDataString(form.Code!.Trim())}"))
            : Drawer("_Group", new GroupPanel(this, change ? "change" : "new", form, refusal));
    }

    /// <summary>Adds a member, or gives one another name or cost.</summary>
    public async Task<IActionResult> OnPostMemberAsync(string? family, [FromForm] GroupForm form, bool change)
    {
        if (!Lay(family))
            return NotFound();
        var (cost, fault) = form.ReadCost();
        var refusal = fault ?? (change ? await groups.ChangeMember(Company.Id, UserId, Family, form.Code ?? "", form.Name ?? "", cost, Stop) : await AddMember(form, cost));
        return refusal is null
            ? Done($"{Show.Title(Family)} {form.Code} {form.Name} is {(change ? "changed" : "there")} at once.", At($"groups/{Family}?q={Uri.EscapeDataString(form.Code!.Trim())}"))
            : Drawer("_Member", new GroupPanel(this, change ? "change" : "new", form, refusal));
    }

    /// <summary>Moves members to a group.</summary>
    public async Task<IActionResult> OnPostMoveAsync(string? family, string[] members, string? to)
    {
        if (!Lay(family))
            return NotFound();
        if (string.IsNullOrEmpty(to))
            Fault = "No group is chosen to move to. Choose one.";
        else if (await groups.Move(Company.Id, UserId, Family, members, to, Stop) is { } refusal)
            Fault = refusal.Message;
        else
            return Done($"{Show.Count(members.Length, "member")} in {to}: those that had a group move with draft {Books.State.Draft}, those that had none are there at once.", At($"groups/{Family}?group={Uri.EscapeDataString(to)}"));
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    async Task<Refusal?> AddMember(GroupForm form, decimal? cost)
    {
        var (code, name) = (form.Code?.Trim() ?? "", form.Name?.Trim() ?? "");
        if (Family == "party")
            return Words<PartyRole>.TryParse(form.Kind ?? "", out var role)
                ? await groups.AddParty(Company.Id, UserId, new Party { Code = code, Name = name, Role = role, Group = Empty(form.Group), TaxGroup = Empty(form.TaxGroup) }, Stop)
                : new Refusal("kind", "The party has no role. Choose customer, supplier or both.");
        return Words<ItemKind>.TryParse(form.Kind ?? "", out var kind)
            ? await groups.AddItem(Company.Id, UserId, new Item { Code = code, Name = name, Kind = kind, Group = Empty(form.Group), TaxGroup = Empty(form.TaxGroup), Cost = cost }, Stop)
            : new Refusal("kind", $"The item has no kind. Choose one of {string.Join(", ", Words<ItemKind>.All)}.");
    }

    bool Lay(string? family)
    {
        if (family is not (null or "item" or "party"))
            return false;
        Family = family ?? "item";
        var taxOfGroup = All.ToDictionary(g => Fold.Of(g.Code), g => g.TaxGroup);
        var members = (Family == "item"
            ? Draft.Book.Items.Select(i => Line(i.Code, i.Name, i.Kind.Word(), i.Group, i.TaxGroup, i.Cost))
            : Draft.Book.Parties.Select(p => Line(p.Code, p.Name, p.Role.Word(), p.Group, p.TaxGroup, null))).ToList();
        ByGroup = members.ToLookup(m => m.Group is null ? "" : Fold.Of(m.Group));
        var fitting = members.Where(m => (Group is null || Fold.Same(m.Group, Group)) && (!None || m.Group is null)
            && (string.IsNullOrWhiteSpace(Filter) || Fold.Of($"{m.Code} {m.Name}").Contains(Fold.Of(Filter), StringComparison.Ordinal))).ToList();
        Fitting = fitting.Count;
        Shown = [.. fitting.Take(MostShown)];
        return true;

        MemberLine Line(string code, string name, string kind, string? group, string? taxGroup, decimal? cost) =>
            new(code, name, kind, group, taxGroup ?? (group is null ? null : taxOfGroup.GetValueOrDefault(Fold.Of(group))), taxGroup is not null, cost);
    }

    static string? Empty(string? text) => string.IsNullOrWhiteSpace(text) ? null : text.Trim();
}
