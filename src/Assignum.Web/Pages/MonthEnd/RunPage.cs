using Assignum.Core.Posting;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>A run at the month's end: what it would post is shown first, and only what was seen is posted.</summary>
public abstract class RunPage(TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Month’s end";
    /// <summary>The day asked for.</summary>
    [BindProperty(SupportsGet = true, Name = "on")]
    public DateOnly? Asked { get; set; }
    /// <summary>The day: that asked for, else the end of the last month.</summary>
    public DateOnly On => (Asked ?? clock.Today().AddDays(-clock.Today().Day)).Reckonable();
    /// <summary>How each event would land.</summary>
    public IReadOnlyList<(BusinessEvent Happened, Outcome Outcome)> Outcomes { get; private protected set; } = [];
    /// <summary>The rows it would post, each with the event they are of.</summary>
    public IEnumerable<(BusinessEvent Happened, EntryRow Row)> Written =>
        Outcomes.Where(o => o.Outcome is Landed).SelectMany(o => ((Landed)o.Outcome).Rows, (o, row) => (o.Happened, row));
    /// <summary>The rows alone.</summary>
    public IEnumerable<EntryRow> Rows => Written.Select(w => w.Row);
    /// <summary>Why events would be held.</summary>
    public IEnumerable<string> Reasons => Outcomes.Select(o => o.Outcome).OfType<Held>().SelectMany(h => h.Reasons).Select(r => r.Message).Distinct();
    /// <summary>Why it was not posted.</summary>
    public string? Fault { get; private set; }
    /// <summary>There is something to post, and all of it lands.</summary>
    public bool MayPost => MayPrepare && Outcomes.Count > 0 && Outcomes.All(o => o.Outcome is Landed);

    /// <summary>Lands what would be posted by the edition in force.</summary>
    private protected void LandAll(IEnumerable<BusinessEvent> made) =>
        Outcomes = Books.Released.Compiled is { } compiled ? [.. made.Select(m => (m, Landing.Land(compiled, m)))] : [];

    /// <summary>Shows the page with the reason.</summary>
    private protected Microsoft.AspNetCore.Mvc.RazorPages.PageResult Refuse(string why)
    {
        Fault = why;
        Response.StatusCode = StatusCodes.Status409Conflict;
        return Page();
    }

    private protected const string Changed = "The books have changed since you looked. Look at the figures once more, then post.";
}
