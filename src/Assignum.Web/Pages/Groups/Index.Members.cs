using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Groups;
using Assignum.Core.Projects;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Groups;

/// <content>The form of a member: a new one, or a change of one.</content>
public sealed partial class IndexModel
{
    /// <summary>Opens the form of a member, or of a new one.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetMember(string? family, string? code)
    {
        if (!Lay(family))
            return NotFound();
        if (code is null)
            return Drawer("_Member", new GroupPanel(this, "new", new GroupForm { Group = Family.IsTax ? null : Group, TaxGroup = Family.IsTax ? Group : null },
                null));
        return Family.MembersOf(Draft.Book).FirstOrDefault(m => Fold.Same(m.Code, code)) is { } member
            ? Drawer("_Member", new GroupPanel(this, "change", FormOf(member), null)) : NotFound();
    }

    GroupForm FormOf(MemberLine member) => new()
    {
        Code = member.Code, Name = member.Name, Kind = member.Kind, Group = member.Group, TaxGroup = member.OwnTaxGroup ? member.TaxGroup : null,
        Cost = member.Cost is { } cost ? Show.UnitAmount(cost) : null, TaxArea = member.TaxArea, Partner = member.Partner,
        LifeMonths = member.Asset?.LifeMonths?.ToString(Written.Now), Percent = member.Asset?.Percent is { } percent ? Show.UnitAmount(percent) : null,
        Residual = member.Asset is { Residual: not 0 } asset ? Show.UnitAmount(asset.Residual) : null, IsTask = member.IsTask,
        Seen = AsSeen.Member(Draft.Book, Family.MemberKind, member.Code).Now,
    };

    /// <summary>Adds a member, or changes one.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostMemberAsync(string? family, [FromForm] GroupForm form, bool change)
    {
        if (!Lay(family))
            return NotFound();
        var was = change ? Family.MembersOf(Draft.Book).FirstOrDefault(m => Fold.Same(m.Code, form.Code)) : null;
        form.IsTask = was?.IsTask ?? GroupForm.Text(form.Project) is not null;
        var code = form.Project is { Length: > 0 } project && !change ? project + "/" + form.Code?.Trim() : form.Code?.Trim();
        if (await Save(form, change, was) is { } refusal)
            return Drawer("_Member", new GroupPanel(this, change ? "change" : "new", form, refusal));
        var what = Family.Member == "item" ? "name and cost" : "name";
        var how = change ? $"changed: {what} at once{(Family.HasGroups ? $", the rest in draft {Books.State.Draft}" : "")}" : "there at once";
        var stands = change && GroupForm.Text(form.Group) is { } group ? await StandsElsewhere([form.Code ?? ""], group) : "";
        return Done($"{Show.Title(Family.Member)} {code} {form.Name} is {how}.{stands}", At($"groups/{Family.Name}?q={Uri.EscapeDataString(code!)}"));
    }

    async Task<Refusal?> Save(GroupForm form, bool change, MemberLine? was)
    {
        var (cost, fault) = form.ReadCost();
        var (spread, malformed) = Family.Member == "asset" ? form.ReadSpread() : (null, null);
        if ((fault ?? malformed ?? WhyNotMethod(form)) is { } refusal)
            return refusal;
        if (change)
            return await groups.ChangeMember(Company.Id, UserId, form.IsTask ? "task" : Family.MemberKind, form.Code ?? "", form.Name ?? "", cost, Stop,
                SettingsOf(form, was, spread), form.Seen ?? "");
        if (Family.Member is "item" or "party" && !Family.Kinds.Contains(form.Kind))
            return new Refusal("kind", $"The {Family.Member} has no {Family.KindTitle.ToLowerInvariant()}. Choose one of {string.Join(", ", Family.Kinds)}.");
        return await groups.Add(Company.Id, UserId, form.IsTask ? "task" : Family.MemberKind, new NewMember(form.Code?.Trim() ?? "", form.Name?.Trim() ?? "",
            GroupForm.Text(form.Kind), GroupForm.Text(form.Group), GroupForm.Text(form.TaxGroup))
        {
            Cost = cost, Owner = GroupForm.Text(form.Project), Spread = spread, Partner = GroupForm.Text(form.Partner),
        }, Stop);
    }

    // A method that finds no accounts is refused before anything is posted by it.
    Refusal? WhyNotMethod(GroupForm form)
    {
        if (Family.Member != "project" || form.IsTask || GroupForm.Text(form.Kind) is not { } word)
            return null;
        if (!Words<ProjectMethod>.TryParse(word, out var method))
            return new Refusal("kind", $"There is no method {word}. Choose one of {string.Join(", ", Words<ProjectMethod>.All)}.");
        var tasks = Draft.Book.Projects.FirstOrDefault(p => Fold.Same(p.Code, form.Code))?.Tasks ?? [];
        var project = new Project { Code = form.Code?.Trim() ?? "", Group = GroupForm.Text(form.Group), Method = method, Tasks = tasks };
        return MethodAccounts.WhyNot(Books.Draft.Shown, project, Today) is { } why ? new Refusal("kind", why) : null;
    }

    MemberChange? SettingsOf(GroupForm form, MemberLine? was, AssetSpread? spread)
    {
        var plain = new MemberChange(form.Code ?? "") { Group = GroupForm.Text(form.Group) };
        var tax = form.TaxGroup?.Trim() ?? "";
        return Family.Member switch
        {
            "item" => plain with { TaxGroup = tax, ItemKind = Known(form.Kind, was) },
            "party" => plain with { TaxGroup = tax, Role = Known(form.Kind, was), TaxArea = form.TaxArea?.Trim() ?? "", Partner = form.Partner?.Trim() ?? "" },
            "project" when !form.IsTask => plain with { Method = form.Kind?.Trim() ?? "" },
            "asset" => plain with { TaxGroup = tax, Spread = spread },
            _ => plain.Group is null ? null : plain,
        };
    }

    string? Known(string? kind, MemberLine? was) => Family.Kinds.Contains(kind) ? kind : was?.Kind;
}
