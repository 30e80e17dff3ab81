using System.Text.Json;
using Assignum.Core;
using Assignum.Core.HeldEvents;
using Assignum.Core.Posting;
using Assignum.Formats.Sheets;
using Assignum.Storage.HeldEvents;
using Assignum.Storage.Jobs;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.HeldEvents;

/// <summary>Held events by cause, with their money: the cause is fixed here, that one change released, and the events post in their order.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed partial class IndexModel(HeldStore held, Retrying retrying, FixLook look, RuleStore rules, TaxStore taxes, GroupStore groups,
    EditionStore editions,
    JobStore jobs, TimeProvider clock) : CompanyPage
{
    const int Shown = 200;

    /// <inheritdoc/>
    public override string Step => "Held events";
    /// <summary>The cause chosen.</summary>
    [BindProperty(SupportsGet = true, Name = "cause")]
    public string? Key { get; set; }
    /// <summary>Today.</summary>
    public DateOnly Today => clock.Today();
    /// <summary>Every held event, in the order in which they came.</summary>
    public IReadOnlyList<HeldEvent> Events { get; private set; } = [];
    /// <summary>The causes, by money.</summary>
    public IReadOnlyList<CauseOf> Causes { get; private set; } = [];
    /// <summary>The cause chosen; null: none.</summary>
    public CauseOf? Chosen => Causes.FirstOrDefault(c => c.Group.Key == Key);
    /// <summary>The retry that is under way, or has just ended.</summary>
    public JobRow? Job { get; private set; }
    /// <summary>Events of the chosen cause, or of all, as many as are shown.</summary>
    public IReadOnlyList<HeldEvent> Listed => [.. (Chosen?.Events ?? Events).Take(AtMost(Shown))];
    /// <summary>Days an event has waited, from its own day.</summary>
    public int AgeOf(DateOnly day) => Math.Max(0, Today.DayNumber - day.DayNumber);
    /// <summary>Address of a cause.</summary>
    public string AtCause(CauseOf cause) => At("held?cause=" + Uri.EscapeDataString(cause.Group.Key));

    /// <summary>What an event waits for beside the chosen cause, in words.</summary>
    public string AlsoFor(HeldEvent of) => string.Join(", ", of.Reasons.Select(r => HeldGrouping.Of(Books.Released.Stored.Book, r))
        .Where(g => g.Key != Key).Select(g => $"{Words<HeldCause>.Of(g.Cause).Replace('-', ' ')}: {g.For}").Distinct().Take(2));

    /// <summary>Shows them, with the panel of the chosen cause.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(long? job)
    {
        await Lay();
        Job = job is { } id ? await jobs.Find(Company.Id, id, Stop, Retrying.Job) : null;
        if (Chosen is { } chosen && !IsPrint)
            ViewData["Drawer"] = ("_Fix", (object)await Panel(chosen, new FixForm(), null));
        return Page();
    }

    /// <summary>How far a retry is.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetJobAsync(long job)
    {
        if (await jobs.Find(Company.Id, job, Stop, Retrying.Job) is not { } found)
            return NotFound();
        if (found.Ended && Request.IsHtmx())
            Response.Htmx(h => h.Redirect(At("held?job=" + job)));
        Job = found;
        return Partial("_Retry", this);
    }

    /// <summary>The panel with what is typed so far: what would come of it.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetFixAsync([FromQuery] FixForm form)
    {
        await Lay();
        return Chosen is { } chosen ? Drawer("_Fix", await Panel(chosen, form, null)) : Gone();
    }

    /// <summary>Puts the fix into the draft, or, where it holds at once, makes it and tries the events again.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostFixAsync([FromForm] FixForm form)
    {
        await Lay();
        if (Chosen is not { } chosen)
            return Gone();
        var (refusal, said) = await Fix(chosen, form);
        if (refusal is not null)
            return Drawer("_Fix", await Panel(chosen, form, refusal));
        if (said is not null)
            return Done(said, AtCause(chosen));
        return Done("Fixed. The events are tried again.", await Retry([.. chosen.Events.Select(e => e.Id)]));
    }

    /// <summary>Puts the fix into the draft and releases that one change with what it needs; the events post by themselves.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostReleaseAsync([FromForm] FixForm form, int draft, long stamp)
    {
        await Lay();
        if (Chosen is not { } chosen)
            return Gone();
        if (chosen.InDraft is null)
        {
            if ((await Fix(chosen, form)).Refusal is { } refused)
                return Drawer("_Fix", await Panel(chosen, form, refused));
            Books = await HttpContext.RequestServices.GetRequiredService<Assignum.Storage.Posting.RulebookCache>().Of(Company.Id, Stop);
            await Lay();
            (draft, stamp) = (Books.State.Draft, Books.State.InDraft);
        }
        if (Chosen?.InDraft is not { } change)
            return Drawer("_Fix", await Panel(chosen, form, new("", "The draft does not answer this any more. Look at it again, then fix it.")));
        if (await editions.Release(Company.Id, UserId, new SettingsState(0, draft, 0, stamp), $"Held events: {change.Sentence}", Stop,
            [change.Where]) is { } refusal)
            return Drawer("_Fix", await Panel(Chosen!, form, refusal));
        var rest = Books.Changes.Count > 1 ? ", the others stay in the draft" : "";
        return Done($"Edition {draft} is released with this change{rest}. The events post in the order in which they came.",
            At("held?job=" + await jobs.Latest(Company.Id, Retrying.Job, Stop)));
    }

    /// <summary>Tries all held events again, or those of a cause.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostRetryAsync()
    {
        await Lay();
        return Redirect(await Retry(Chosen?.Events.Select(e => e.Id).ToArray()));
    }

    async Task<string> Retry(long[]? only) =>
        At("held?job=" + await jobs.Ask(Company.Id, UserId, Retrying.Job, JsonSerializer.Serialize(new RetryAsked(only)), Stop));

    /// <summary>Cancels a retry; what has landed stays.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostCancelAsync(long job)
    {
        await jobs.Cancel(Company.Id, job, Stop);
        return Redirect(At("held"));
    }

    /// <summary>One event, with every reason and as it came.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetEventAsync(long id)
    {
        await Lay();
        return Events.FirstOrDefault(e => e.Id == id) is { } one ? Drawer("_Event", new EventPanel(this, one, await held.Received(Company.Id, id, Stop) ?? "",
            null))
            : Gone();
    }

    /// <summary>Sets an event aside for good, with a reason.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsideAsync(long id, string? why)
    {
        await Lay();
        if (Events.FirstOrDefault(e => e.Id == id) is not { } one)
            return Gone();
        var fault = string.IsNullOrWhiteSpace(why) ? "Say why it will never post: whoever audits it will ask. Write a few words."
            : await retrying.SetAside(Company.Id, UserId, id, why.Trim(), Stop);
        return fault is null ? Done($"{one.SourceId} is set aside. It stays in the list of events, and never posts.", At("held"))
            : Drawer("_Event", new EventPanel(this, one, await held.Received(Company.Id, id, Stop) ?? "", fault));
    }

    /// <summary>The events as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Held events", ["received", "source", "event", "number", "type", "date", "party", "amount", "reason", "lacks", "for",
            "message"],
            (Chosen?.Events ?? Events).Select(e =>
            {
                var group = HeldGrouping.Of(Books.Released.Stored.Book, e.Reasons[0]);
                return (IReadOnlyList<object?>)[e.Since, e.Source, e.SourceId, e.Number ?? "", e.Type, e.Date, e.Party ?? "", e.Amount,
                    Words<HeldCause>.Of(group.Cause), group.Lacks, group.For, string.Join(" ", e.Reasons.Select(r => r.Message))];
            })), "held-events", kind);
    }

    IActionResult Gone() => Done("Nothing waits for that any more.", At("held"));

    async Task Lay()
    {
        Events = await held.All(Company.Id, Stop);
        Causes = CauseOf.All(this, Events);
    }
}

/// <summary>The panel of one held event.</summary>
public sealed record EventPanel(IndexModel Page, HeldEvent Event, string Received, string? Fault);
