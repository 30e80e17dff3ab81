using Assignum.Core;
using Assignum.Storage.Companies;
using Assignum.Storage.People;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.People;

/// <summary>Who may do what in the company: grants with their history, new people, lock-outs, and what people sign in with.</summary>
[Authorize(Policy = Policies.Administers)]
public sealed class IndexModel(PersonStore people, SessionStore sessions, CompanyStore companies, IPasswordHasher<Person> hasher) : CompanyPage
{
    const int LongestName = 50, LongestShown = 60;

    /// <inheritdoc/>
    public override string Step => "People";
    /// <summary>Grants, running ones first.</summary>
    public IReadOnlyList<Grant> Grants { get; private set; } = [];
    /// <summary>Everybody with a role in a company that the administrator administers; nobody else is seen.</summary>
    public IReadOnlyList<Person> Everybody { get; private set; } = [];
    /// <summary>Folded names that have to wait somewhere, with the time.</summary>
    public IReadOnlyDictionary<string, DateTime> Locked { get; private set; } = new Dictionary<string, DateTime>();
    /// <summary>A link that was just made; shown once.</summary>
    public (string Person, string Address)? Link { get; private set; }
    /// <summary>What was refused.</summary>
    public string? Fault { get; private set; }

    /// <summary>Shows people and grants.</summary>
    [Needs(Need.Administers)]
    public Task OnGetAsync() => Lay();

    /// <summary>Adds a person with a first role.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostAddAsync(string? name, string? shownAs, string? password, string? role)
    {
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > LongestName)
            return await Refuse($"The person has no name to sign in with, or one of more than {LongestName} characters. Give a short one.");
        if (shownAs?.Trim().Length > LongestShown)
            return await Refuse($"The name on screens has more than {LongestShown} characters. Shorten it.");
        if (Passwords.Fault(password, name.Trim()) is { } weak)
            return await Refuse(weak);
        if (!Words<Role>.TryParse(role ?? "", out var first))
            return await Refuse("No role is chosen. Choose one.");
        if (await people.Add(Company.Id, UserId, name, string.IsNullOrWhiteSpace(shownAs) ? name.Trim() : shownAs.Trim(), hasher.HashPassword(null!, password!),
            first, Stop) is { } refusal)
            return await Refuse(refusal.Message);
        return Done($"{name.Trim()} can sign in as {Words<Role>.Of(first)}.", At("people"));
    }

    /// <summary>Grants a role to somebody of the list, or to whoever has a name exactly.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostGrantAsync(string? person, string? role)
    {
        await Lay();
        if (string.IsNullOrWhiteSpace(person) || await people.Find(person, Stop) is not { } known || !Words<Role>.TryParse(role ?? "", out var granted))
            return await Refuse("Nobody signs in with that name, or no role is chosen. Type the name exactly, and choose a role.");
        if (known.Id == UserId && granted is (Role.Preparer or Role.Approver))
            return await Refuse($"Nobody grants themselves a role that posts or releases. Another administrator of {Company.Name} does it.");
        await people.Grant(Company.Id, known.Id, granted, UserId, Stop);
        SecurityEvents.Changed(HttpContext, $"granted {Words<Role>.Of(granted)} in {Company.Code}", known.Id);
        return Done($"{known.ShownAs} is {Words<Role>.Of(granted)} now.", At("people"));
    }

    /// <summary>Ends a grant; the last administrator keeps theirs.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostEndAsync(int grant)
    {
        await Lay();
        var ended = Grants.FirstOrDefault(g => g.Id == grant && g.EndedAt is null);
        if (ended is null)
            return await Refuse("This grant has ended already.");
        if (ended.Role == Role.Administrator && Grants.Count(g => g.Role == Role.Administrator && g.EndedAt is null) == 1)
            return await Refuse($"{ended.Person} is the only administrator. Make somebody else administrator first.");
        await people.EndGrant(Company.Id, grant, UserId, Stop);
        SecurityEvents.Changed(HttpContext, $"ended {Words<Role>.Of(ended.Role)} in {Company.Code}", ended.PersonId);
        return Done($"{ended.Person} is no longer {Words<Role>.Of(ended.Role)}.", At("people"));
    }

    /// <summary>Ends a lock-out.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostUnlockAsync(int person)
    {
        if (await Theirs(person) is not { } known)
            return await Refuse("Choose somebody of the list.");
        await sessions.Forget(known.Name, null, Stop);
        return Done($"{known.ShownAs} can sign in again.", At("people"));
    }

    /// <summary>Makes a link by which a person sets a new password, once.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostLinkAsync(int person)
    {
        if (await Theirs(person) is not { } known)
            return await Refuse("Choose somebody of the list.");
        var (token, hash) = LinkToken.New();
        await people.MakeLink(Company.Id, UserId, known.Id, hash, LinkToken.Lasts, Stop);
        SecurityEvents.Changed(HttpContext, "made a link for a new password", known.Id);
        Link = (known.ShownAs, $"{Request.Scheme}://{Request.Host}/new-password/{token}");
        await Lay();
        return Page();
    }

    /// <summary>Lets somebody sign in no more, or again.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostDisableAsync(int person, bool disabled)
    {
        if (await Theirs(person) is not { } known)
            return await Refuse("Choose somebody of the list.");
        if (known.Id == UserId)
            return await Refuse("Nobody disables themselves. Another administrator does it.");
        await people.Disable(Company.Id, UserId, known.Id, disabled, Stop);
        SecurityEvents.Changed(HttpContext, disabled ? "disabled" : "enabled", known.Id);
        return Done($"{known.ShownAs} {(disabled ? "can sign in no more; every session has ended" : "can sign in again")}.", At("people"));
    }

    // Somebody who works only where the administrator administers: what somebody signs in with counts everywhere.
    async Task<Person?> Theirs(int person)
    {
        var mine = await Mine();
        var roles = (await people.Find(person, Stop)) is { } known ? await people.RolesOf(known.Id, true, Stop) : [];
        return roles.All(r => User.Has(r.Company, Role.Administrator)) ? (await people.Of(mine, Stop)).FirstOrDefault(p => p.Id == person) : null;
    }

    async Task<int[]> Mine() => [.. (await companies.All(Stop)).Where(c => User.Has(c.Code, Role.Administrator)).Select(c => c.Id)];

    async Task Lay()
    {
        Grants = await people.Grants(Company.Id, Stop);
        Everybody = await people.Of(await Mine(), Stop);
        Locked = (await sessions.Locked([.. Everybody.Select(p => p.Name)], Stop)).ToDictionary(l => l.NameFold, l => l.Until);
    }

    async Task<IActionResult> Refuse(string fault)
    {
        await Lay();
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
