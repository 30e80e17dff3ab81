using Assignum.Core;
using Assignum.Storage.People;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.People;

/// <summary>Who may do what in the company: grants with their history, new people, lock-outs.</summary>
[Authorize(Policy = Policies.Administers)]
public sealed class IndexModel(PersonStore people, IPasswordHasher<Person> hasher) : CompanyPage
{
    const int ShortestPassword = 10;

    /// <inheritdoc/>
    public override string Step => "People";
    /// <summary>Grants, running ones first.</summary>
    public IReadOnlyList<Grant> Grants { get; private set; } = [];
    /// <summary>Everybody who can sign in.</summary>
    public IReadOnlyList<Person> Everybody { get; private set; } = [];
    /// <summary>What was refused.</summary>
    public string? Fault { get; private set; }

    /// <summary>Shows people and grants.</summary>
    [Needs(Need.Administers)]
    public Task OnGetAsync() => Lay();

    /// <summary>Adds a person with a first role.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostAddAsync(string? name, string? shownAs, string? password, string? role)
    {
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > 50)
            return await Refuse("The person has no name to sign in with, or one of more than 50 characters. Give a short one.");
        if ((password ?? "").Length < ShortestPassword)
            return await Refuse($"The password is too short. Give at least {ShortestPassword} characters.");
        if (!Words<Role>.TryParse(role ?? "", out var first))
            return await Refuse("No role is chosen. Choose one.");
        if (await people.Find(name, Stop) is { } known)
            return await Refuse($"{known.ShownAs} signs in as {known.Name} already. Grant the role to them below, or choose another name.");
        var id = await people.Add(name, string.IsNullOrWhiteSpace(shownAs) ? name.Trim() : shownAs.Trim(), hasher.HashPassword(null!, password!), Stop);
        await people.Grant(Company.Id, id, first, UserId, Stop);
        return Done($"{name.Trim()} can sign in as {Words<Role>.Of(first)}.", At("people"));
    }

    /// <summary>Grants a role.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostGrantAsync(int person, string? role)
    {
        await Lay();
        if (Everybody.FirstOrDefault(p => p.Id == person) is not { } known || !Words<Role>.TryParse(role ?? "", out var granted))
            return await Refuse("Choose a person and a role.");
        await people.Grant(Company.Id, known.Id, granted, UserId, Stop);
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
        return Done($"{ended.Person} is no longer {Words<Role>.Of(ended.Role)}.", At("people"));
    }

    /// <summary>Ends a lock-out.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostUnlockAsync(int person)
    {
        await people.ForgetFailures(person, Stop);
        return Done("The lock-out has ended.", At("people"));
    }

    async Task Lay()
    {
        Grants = await people.Grants(Company.Id, Stop);
        Everybody = await people.All(Stop);
    }

    async Task<IActionResult> Refuse(string fault)
    {
        await Lay();
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
