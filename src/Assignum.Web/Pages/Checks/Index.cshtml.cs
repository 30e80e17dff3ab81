using Assignum.Core;
using Assignum.Core.Findings;
using Assignum.Storage.Checks;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Assignum.Web.Trails;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Checks;

/// <summary>A finding with what became of it.</summary>
/// <param name="Finding">The finding.</param>
/// <param name="Place">Where it is fixed; null: nowhere but in a file.</param>
/// <param name="Accepted">Its acceptance, or null.</param>
/// <param name="Released">It is there in the edition in force too.</param>
public sealed record FindingLine(Finding Finding, TrailLinkTo? Place, AcceptedFinding? Accepted, bool Released);

/// <summary>The form of an acceptance.</summary>
public sealed record AcceptPanel(IndexModel Page, FindingLine Line, string? Reason, DateOnly? Until, Refusal? Refusal);

/// <summary>What the checks see in the draft: each finding leads to its place, or is accepted with a reason until a day.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(AcceptedFindings accepted, TimeProvider clock) : CompanyPage
{
    const int Most = 200, UsualMonths = 3;

    /// <inheritdoc/>
    public override string Step => "Checks";
    /// <summary>"accepted", or nothing for those that are open.</summary>
    [BindProperty(SupportsGet = true)]
    public string? View { get; set; }
    /// <summary>What a finding must have in it.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }
    /// <summary>A severity shown alone.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Severity { get; set; }
    /// <summary>All findings.</summary>
    public IReadOnlyList<FindingLine> All { get; private set; } = [];
    /// <summary>Those that fit.</summary>
    public IReadOnlyList<FindingLine> Fitting { get; private set; } = [];
    /// <summary>Those shown.</summary>
    public IReadOnlyList<FindingLine> Shown { get; private set; } = [];
    /// <summary>How many are open.</summary>
    public int Open => All.Count(l => l.Accepted is null);

    DateOnly Today => clock.Today();

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Opens the form that accepts one.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAcceptAsync(string? finding)
    {
        await Lay();
        return All.FirstOrDefault(l => AcceptedFindings.KeyOf(l.Finding) == finding) is { } line
            ? Drawer("_Accept", new AcceptPanel(this, line, line.Accepted?.Reason, line.Accepted?.Until ?? Today.AddMonths(UsualMonths), null)) : NotFound();
    }

    /// <summary>Accepts one with a reason until a day.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAcceptAsync(string? finding, string? reason, DateOnly? until)
    {
        await Lay();
        if (All.FirstOrDefault(l => AcceptedFindings.KeyOf(l.Finding) == finding) is not { } line)
            return Done("This finding is gone already.", At("checks"));
        var refusal = until is not { } day ? new Refusal("until", "Choose the last day on which it may stay as it is.")
            : await accepted.Accept(Company.Id, UserId, line.Finding, reason ?? "", day, Today, Stop);
        return refusal is null ? Done($"Accepted until {Show.Day(until!.Value)}: {line.Finding.Message}", At("checks"))
            : Drawer("_Accept", new AcceptPanel(this, line, reason, until, refusal));
    }

    /// <summary>Ends an acceptance.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostReopenAsync(int id) =>
        Done(await accepted.End(Company.Id, UserId, id, Stop) ? "The finding is open again." : "Somebody else has opened it again already.", At("checks"));

    async Task Lay()
    {
        All = Lines(this, await accepted.Of(Company.Id, Stop), Today);
        var sought = new Sought(Filter);
        Fitting = [.. All.Where(l => (View == "accepted") == (l.Accepted is not null)
            && (string.IsNullOrEmpty(Severity) || Words<Severity>.Of(l.Finding.Severity) == Severity) && sought.In(l.Finding.Message))];
        Shown = [.. Fitting.Take(AtMost(Most))];
    }

    /// <summary>The findings of a draft with what became of them.</summary>
    internal static IReadOnlyList<FindingLine> Lines(CompanyPage page, IReadOnlyList<AcceptedFinding> acceptances, DateOnly today)
    {
        var running = acceptances.Where(a => a.Until >= today).DistinctBy(a => a.Key).ToDictionary(a => a.Key, StringComparer.Ordinal);
        var released = page.Books.Released.FindingsOn(today).Select(AcceptedFindings.KeyOf).ToHashSet(StringComparer.Ordinal);
        return [.. page.Books.Draft.FindingsOn(today).OrderBy(f => f.Severity).Select(f => (Finding: f, Key: AcceptedFindings.KeyOf(f)))
            .Select(f => new FindingLine(f.Finding, Places.Of(page, f.Finding.Where), f.Finding.Severity == Core.Findings.Severity.Error ? null
                : running.GetValueOrDefault(f.Key), released.Contains(f.Key)))];
    }
}
