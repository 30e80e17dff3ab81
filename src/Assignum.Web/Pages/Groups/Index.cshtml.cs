using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;
using Assignum.Core.Charts;
using Assignum.Storage.Journal;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Groups;

/// <summary>Groups of a family, their members, what they land on, and moving members between them.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed partial class IndexModel(GroupStore groups, GroupShapes shapes, MemberSheetStore sheet, StockLeft stock, TimeProvider clock) : CompanyPage
{
    const int Most = 100;

    /// <inheritdoc/>
    public override string Step => "Groups";
    /// <summary>The family shown.</summary>
    public GroupFamily Family { get; private set; } = GroupFamily.All[0];
    /// <summary>Code of the group shown; null for all members.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Group { get; set; }
    /// <summary>What code or name must have in it.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }
    /// <summary>Kind or role that members must have.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Kind { get; set; }
    /// <summary>Show members without a group.</summary>
    [BindProperty(SupportsGet = true)]
    public bool None { get; set; }
    /// <summary>"lands" shows what the chosen group lands on.</summary>
    [BindProperty(SupportsGet = true)]
    public string? View { get; set; }
    /// <summary>How many members come before those shown.</summary>
    [BindProperty(SupportsGet = true)]
    public int From { get; set; }
    /// <summary>The groups.</summary>
    public IReadOnlyList<Group> All => Family.GroupsOf(Draft.Book);
    /// <summary>The tax groups members can have.</summary>
    public IReadOnlyList<Group> TaxGroups => Family.TaxGroupsOf(Draft.Book);
    /// <summary>How many members a group has, by fold; "" counts those that wait for one.</summary>
    public IReadOnlyDictionary<string, int> Counts { get; private set; } = new Dictionary<string, int>();
    /// <summary>Members that fit.</summary>
    public IReadOnlyList<MemberLine> Fitting { get; private set; } = [];
    /// <summary>Members shown.</summary>
    public IReadOnlyList<MemberLine> Shown { get; private set; } = [];
    /// <summary>Why no member is shown.</summary>
    public string WhyEmpty
    {
        get
        {
            if (None)
                return $"Every one of the {Family.Plural} has a group.";
            if (Members == 0)
                return $"There are no {Family.Plural} yet.";
            return string.IsNullOrWhiteSpace(Filter) && string.IsNullOrEmpty(Kind)
                ? $"No {Family.Plural} are in this group yet. Move some here from another group." : "Nothing fits the filter.";
        }
    }
    /// <summary>Address of a group of this family, in the view that is open.</summary>
    public string AtGroupInView(string code) =>
        AtGroup(code) + (Chosen is null || string.IsNullOrEmpty(View) ? "" : "&view=" + View);
    /// <summary>How many members there are.</summary>
    public int Members { get; private set; }
    /// <summary>Why a move was refused.</summary>
    public string? Fault { get; private set; }
    /// <summary>The group chosen, or null.</summary>
    public Group? Chosen => All.FirstOrDefault(g => Fold.Same(g.Code, Group));
    /// <summary>How many members a page shows.</summary>
    public int MostShown => Most;
    /// <summary>Today.</summary>
    public DateOnly Today => clock.Today();

    /// <summary>Shows groups and members.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGet(string? family) => Lay(family) ? Page() : NotFound();

    /// <summary>What the chosen group lands on.</summary>
    public IReadOnlyList<GroupLanding> Lands() => Chosen is { } group && !Family.IsTax ? GroupLands.Of(Books.Draft.Shown, Family, group.Code, Today) : [];

    /// <summary>What was typed for purposes, kept where it was refused.</summary>
    public IReadOnlyDictionary<string, string> TypedLands { get; private set; } = new Dictionary<string, string>();

    /// <summary>Gives the chosen group accounts of its own, purpose by purpose, in one act; what is emptied falls back.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostLandsAsync(string? family, string[] purpose, string[] account, string[] own, string[] seen)
    {
        if (!Lay(family) || Chosen is not { } group || Family.IsTax || account.Length != purpose.Length || own.Length != purpose.Length
            || seen.Length != purpose.Length)
            return NotFound();
        var fact = new FactValue(GroupFamilies.FactOf(Family.Name), group.Code);
        TypedLands = purpose.Zip(account).Where(p => p.First is not null).DistinctBy(p => p.First).ToDictionary(p => p.First, p => p.Second ?? "");
        var (edits, warnings, faults) = (new List<(Purpose, IReadOnlyList<CellEdit>)>(), new List<string>(), new List<string>());
        for (var i = 0; i < purpose.Length; i++)
        {
            if (Purpose.Find(purpose[i] ?? "") is not { } wanted)
                return NotFound();
            var was = string.IsNullOrEmpty(own[i]) ? null : own[i];
            var typed = account[i]?.Trim() ?? "";
            if (Fold.Same(Pick.CodeOf(typed), seen[i] ?? ""))
                continue;
            var picked = AccountPick.One(typed, Draft.Book.Accounts, wanted);
            if (picked.Fault is { } fault)
                faults.Add($"{wanted.Title}: {fault}");
            else
                edits.Add((wanted, [new CellEdit([fact], picked.Thing?.Number, was, was is null ? null : seen[i])]));
            if (picked.Thing is { } chosen && Core.Findings.AccountFit.InWords(wanted, chosen) is { Length: > 0 } warning)
                warnings.Add($"{wanted.Title}: {warning}");
        }
        if (faults.Count == 0 && edits.Count > 0 && await sheet.Take(Company.Id, UserId, Family.Member, [], edits, Today, Stop) is { } refusal)
            faults.Add(refusal.Message);
        if (faults.Count == 0)
            return Done(edits.Count == 0 ? "Nothing was changed: every account is as it was."
                : $"{Show.Count(edits.Count, "purpose")} of {group.Code} changed in draft {Books.State.Draft}. {string.Join(" ", warnings)}".TrimEnd(),
                AtGroup(group.Code) + "&view=lands");
        (Fault, View, Response.StatusCode) = ("Nothing was changed. " + string.Join(" ", faults), "lands", StatusCodes.Status400BadRequest);
        return Page();
    }

    /// <summary>The tax codes that the chosen tax group meets, by the groups of the other side.</summary>
    public IReadOnlyList<(Group Other, TaxGridCell Cell)> Meets()
    {
        if (Chosen is not { } group || !Family.IsTax)
            return [];
        var (grid, ofItems) = (new TaxGrid(Books.Draft.Shown, null, Today), Family.Member == "item");
        return [.. (ofItems ? Draft.Book.PartyTaxGroups : Draft.Book.ItemTaxGroups).Select(other =>
            (other, ofItems ? grid.At(other.Code, group.Code) : grid.At(group.Code, other.Code)))];
    }

    /// <summary>Opens the form for a new group, or a change of one.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetGroupAsync(string? family, string? code)
    {
        if (!Lay(family) || !Family.HasGroups)
            return NotFound();
        var known = All.FirstOrDefault(g => Fold.Same(g.Code, code));
        return Drawer("_Group", Panel(new GroupForm { Code = known?.Code, Name = known?.Name, TaxGroup = known?.TaxGroup, NewCode = known?.Code,
            KeepRules = true, IsDefault = known is not null && await groups.DefaultGroup(Company.Id, Family.Name, Stop) == known.Code,
                Seen = AsSeen.Group(Draft.Book, Family.Name, code).Now }, known is not null, null));
    }

    /// <summary>Adds a group, or changes one.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostGroupAsync(string? family, [FromForm] GroupForm form, bool change)
    {
        if (!Lay(family) || !Family.HasGroups)
            return NotFound();
        var taxGroup = GroupForm.Text(form.TaxGroup);
        bool? isDefault = Family.Name == "project" ? form.IsDefault : null;
        var refusal = change
            ? await groups.ChangeGroup(Company.Id, UserId, Family.Name, form.Code ?? "", form.Name ?? "", taxGroup, Stop, form.Seen ?? "", isDefault)
            : await groups.AddGroup(Company.Id, UserId, Family.Name, new Group(form.Code?.Trim() ?? "", form.Name?.Trim() ?? "", taxGroup), Stop,
                GroupForm.Text(form.CopyOf), isDefault);
        return refusal is null
            ? Done(change ? $"Group {form.Code} is changed: its name at once, its tax group in draft {Books.State.Draft}."
                : $"Group {form.Code} is in draft {Books.State.Draft}{(GroupForm.Text(form.CopyOf) is { } copied ? $", with all rules of {copied}" : "")}.",
                AtGroup(form.Code!) + (GroupForm.Text(form.CopyOf) is null || Family.IsTax ? "" : "&view=lands"))
            : Drawer("_Group", Panel(form, change, refusal));
    }

    /// <summary>Gives a group another code.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostRenameAsync(string? family, [FromForm] GroupForm form)
    {
        if (!Lay(family))
            return NotFound();
        if (await shapes.Rename(Company.Id, UserId, Family.Name, form.Code ?? "", form.NewCode ?? "", Stop, form.Seen ?? "") is { } refusal)
            return Drawer("_Group", Panel(form, true, refusal with { Field = refusal.Field == "code" ? "newCode" : refusal.Field }));
        return Done($"Group {form.Code} is {form.NewCode?.Trim()} from now on; rules, members and what has landed go along.", AtGroup(form.NewCode!));
    }

    /// <summary>Makes a group one with another.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostMergeAsync(string? family, [FromForm] GroupForm form)
    {
        if (!Lay(family))
            return NotFound();
        if (await shapes.Merge(Company.Id, UserId, Family.Name, form.Code ?? "", form.Into ?? "", form.KeepRules, Stop, form.Seen ?? "") is { } refusal)
            return Drawer("_Group", Panel(form, true, refusal));
        return Done($"{form.Code} becomes one with {form.Into} in draft {Books.State.Draft}.", AtGroup(form.Into!));
    }

    /// <summary>Takes a group out of the draft.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostDeleteAsync(string? family, [FromForm] GroupForm form)
    {
        if (!Lay(family))
            return NotFound();
        if (await shapes.Delete(Company.Id, UserId, Family.Name, form.Code ?? "", Stop, form.Seen ?? "") is { } refusal)
            return Drawer("_Group", Panel(form, true, refusal));
        return Done($"Group {form.Code} is gone from draft {Books.State.Draft}.", At("groups/" + Family.Name));
    }

    /// <summary>Moves members to a group: those ticked, or all that fit.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostMoveAsync(string? family, string[] members, string? to, bool everyone, long inDraft, long atOnce)
    {
        if (!Lay(family))
            return NotFound();
        var chosen = everyone ? [.. Fitting] : Family.MembersOf(Draft.Book).Where(m => members.Contains(m.Code, StringComparer.Ordinal)).ToList();
        if (string.IsNullOrEmpty(to))
            Fault = "No group is chosen to move to. Choose one.";
        else if (await Move(chosen, to, Books.State with { InDraft = inDraft, AtOnce = atOnce }) is { } refusal)
            Fault = refusal.Message;
        else
            return Done(await Moved(chosen, to), to == "posting" ? At("groups/" + Family.Name) : AtGroup(to));
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    /// <summary>The address with its filters, and something changed.</summary>
    public string Query(string? view = null, int from = 0) => At("groups/" + Family.Name) + QueryString.Create(new Dictionary<string, string?>
    {
        ["group"] = Group, ["q"] = Filter, ["kind"] = Kind, ["none"] = None ? "true" : null, ["view"] = view, ["from"] = from > 0
            ? from.ToString(System.Globalization.CultureInfo.InvariantCulture) : null,
    }.Where(p => !string.IsNullOrEmpty(p.Value)));

    async Task<string> StandsElsewhere(IEnumerable<string> items, string group)
    {
        var left = Family.Name == "item" ? await stock.Of(Company.Id, Books.Draft, items.Select(i => (i, group)), Today, Stop) : [];
        return left.Count switch { 0 => "", 1 => " " + left[0], var count =>
            $" Of {count} items the stock stands on other accounts than the group's, first: {left[0]}" };
    }

    string AtGroup(string code) => At($"groups/{Family.Name}?group={Uri.EscapeDataString(code.Trim())}");

    GroupPanel Panel(GroupForm form, bool change, Refusal? refusal) =>
        new(this, change ? "change" : "new", form, refusal) { Uses = change ? GroupUses.Of(Draft.Book, Family.Name, form.Code ?? "").InWords : "" };

    // Items, parties and projects move with their group; members of a tax group get one of their own.
    async Task<Refusal?> Move(List<MemberLine> chosen, string to, SettingsState seen)
    {
        if (Family.IsTax)
            return await groups.Reset(Company.Id, UserId, Family.Member,
                [.. chosen.Select(m => new MemberChange(m.Code) { TaxGroup = to == "posting" ? "" : to })], Stop, seen);
        var (tasks, others) = (chosen.Where(m => m.IsTask).Select(m => m.Code).ToList(), chosen.Where(m => !m.IsTask).Select(m => m.Code).ToList());
        if (tasks.Count == 0)
            return await groups.Move(Company.Id, UserId, Family.Member, others, to, Stop, seen);
        if (others.Count == 0)
            return await groups.Move(Company.Id, UserId, "task", tasks, to, Stop, seen);
        return new Refusal("members", "Projects and tasks are ticked together. Move the projects, then the tasks: a task without a group of its own has its " +
                "project's.");
    }

    async Task<string> Moved(List<MemberLine> chosen, string to)
    {
        var members = Show.Count(chosen.Count, "member");
        if (to == "posting")
            return $"{members} have the tax group of their posting group in draft {Books.State.Draft}.";
        if (Family.IsTax)
            return $"{members} in {to} in draft {Books.State.Draft}.";
        return $"{members} in {to}: those that had a group move with draft {Books.State.Draft}, those that had none are there at once." +
            await StandsElsewhere(chosen.Where(m => !Fold.Same(m.Group, to)).Select(m => m.Code), to);
    }

    bool Lay(string? name)
    {
        if (GroupFamily.All.FirstOrDefault(f => f.Name == (name ?? "item")) is not { } family)
            return false;
        Family = family;
        var (counts, fitting, sought, group) = (new Dictionary<string, int>(StringComparer.Ordinal), new List<MemberLine>(), new Sought(Filter), Group is null
            ? null : Fold.Of(Group));
        foreach (var member in Family.MembersOf(Draft.Book))
        {
            Members++;
            var own = Family.GroupOf(member) is { } code ? Fold.Of(code) : "";
            if (own.Length > 0 || Family.Waits(member))
                counts[own] = counts.GetValueOrDefault(own) + 1;
            if ((group is null || own == group) && (!None || Family.Waits(member)) && (string.IsNullOrEmpty(Kind) || member.Kind == Kind)
                && sought.In($"{member.Code} {member.Name}"))
                fitting.Add(member);
        }
        (Counts, Fitting, Shown) = (counts, fitting, [.. fitting.Skip(IsPrint ? 0 : Math.Max(0, From)).Take(AtMost(Most))]);
        return true;
    }
}
