using Assignum.Core.Findings;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Editions;

/// <summary>What the draft changes, what the checks say of it, its release, and the editions before it.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(EditionStore editions) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Editions";
    /// <inheritdoc/>
    protected override string ActPolicy => Policies.Approves;
    /// <summary>Editions, newest first.</summary>
    public IReadOnlyList<EditionRow> All { get; private set; } = [];
    /// <summary>What the checks see in the draft.</summary>
    public IReadOnlyList<Finding> Findings { get; private set; } = [];
    /// <summary>Who changed what in the draft.</summary>
    public IReadOnlyList<LoggedChange> Log { get; private set; } = [];
    /// <summary>Why a release was refused.</summary>
    public string? Fault { get; private set; }
    /// <summary>Whether the draft can be released by the one who looks.</summary>
    public bool MayRelease => MayApprove && Books.Changes.Count > 0 && Findings.All(f => f.Severity != Severity.Error);

    /// <summary>Shows the draft.</summary>
    public Task OnGetAsync() => Lay();

    /// <summary>Releases the draft as it was seen.</summary>
    public async Task<IActionResult> OnPostAsync(int draft, long stamp, string? note)
    {
        if (await editions.Release(Company.Id, UserId, new SettingsState(0, draft, 0, stamp), note ?? "", Stop) is not { } refusal)
            return Done($"Edition {draft} is released. What is posted from now on lands by it.", At("editions"));
        Fault = refusal.Message;
        Response.StatusCode = StatusCodes.Status409Conflict;
        await Lay();
        return Page();
    }

    async Task Lay()
    {
        All = await editions.All(Company.Id, Stop);
        Findings = RulebookChecks.Check(Draft.Book);
        Log = await editions.Changes(Company.Id, Books.State.Draft, 50, Stop);
    }
}
