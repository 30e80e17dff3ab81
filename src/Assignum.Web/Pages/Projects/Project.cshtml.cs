using Assignum.Core;
using Assignum.Core.Projects;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;
using Assignum.Storage.Projects;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Pages.Controls;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Projects;

/// <summary>What is typed for an estimate.</summary>
public sealed class EstimateForm
{
    public string? Task { get; set; }
    public DateOnly? From { get; set; }
    public string? Cost { get; set; }
    public string? Revenue { get; set; }
    public string? Note { get; set; }
    /// <summary>How many estimates there were when it was looked at.</summary>
    public int Seen { get; set; }
}

/// <summary>One project: its figures by task, what is expected of it, and the entries behind every figure.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class ProjectModel(ProjectStore store, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>Which purpose's amounts are shown; null: all.</summary>
    [BindProperty(SupportsGet = true)]
    public string? Figure { get; set; }
    /// <summary>What stands of it.</summary>
    public ProjectBooks It { get; private set; } = null!;
    /// <summary>It has tasks, and was recognised as a whole: that stands beside them.</summary>
    public bool IsCountedWhole => It.Parts.Count > 1 && It.Parts[0] is { } own && (own.CostRecognised != 0 || own.RevenueRecognised != 0);
    /// <summary>What was ever expected, the latest said first.</summary>
    public IReadOnlyList<SaidEstimate> History { get; private set; } = [];
    /// <summary>The amounts behind its figures.</summary>
    public IReadOnlyList<ProjectLine> Lines { get; private set; } = [];
    /// <summary>How many amounts there are, also those that are not shown, and what they come to.</summary>
    public (long Count, decimal Sum) Amounts { get; private set; }
    /// <summary>The estimate that is being typed.</summary>
    public EstimateForm Form { get; private set; } = new();
    /// <summary>Why it was not taken.</summary>
    public Refusal? Refusal { get; private set; }
    /// <summary>The day it is finished on, also one after the day shown; null: it goes on.</summary>
    public DateOnly? FinishSaid { get; private set; }
    /// <summary>Why its method can't be posted; null: it can.</summary>
    public string? WhyNotMethod { get; private set; }

    /// <summary>Figures by which the amounts can be narrowed: the purpose, and what it is called here.</summary>
    public static IReadOnlyList<(Purpose Purpose, string Title)> Figures { get; } =
    [
        (Purpose.ProjectWip, "Work in progress"), (Purpose.ProjectBilled, "Billed"), (Purpose.ProjectAccruedRevenue, "Accrued"),
        (Purpose.ProjectCost, "Cost"), (Purpose.ProjectRevenue, "Revenue"),
    ];

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync(string project) => await Lay(project) ? Page() : NotFound();

    /// <summary>The amounts as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string project, string? kind) => !await Lay(project, MostExported) ? NotFound()
        : Export(new Table("Amounts", ["date", "type", "document", "entry", "purpose", "account", "place", "amount", "text"],
            Lines.Select(l => (IReadOnlyList<object?>)[l.Date, l.Type, l.Document, l.Number, l.Purpose, NumberOf(l.Account), l.Place, l.Amount, l.Text])),
            $"project-{It.Project.Code}", kind);

    /// <summary>Says an estimate.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostEstimateAsync(string project, [FromForm] EstimateForm form)
    {
        if (!await Lay(project))
            return NotFound();
        Form = form;
        if (await Say(form) is { } refusal)
        {
            (Refusal, Response.StatusCode) = (refusal, StatusCodes.Status400BadRequest);
            return Page();
        }
        var whose = string.IsNullOrEmpty(form.Task) ? It.Project.Code : $"{It.Project.Code}/{form.Task}";
        return Done($"The estimate of {whose} holds from {Show.Day(form.From ?? Date)} on.", At($"projects/{Uri.EscapeDataString(It.Project.Code)}"));
    }

    /// <summary>Says on which day it was finished, or that it goes on.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostFinishAsync(string project, DateOnly? day, bool again, DateOnly? seen)
    {
        if (!await Lay(project) || IdOf("project", project) is not { } id)
            return NotFound();
        DateOnly? finished = again ? null : day ?? Date;
        if (await store.Finish(Company.Id, UserId, id, seen, finished, Stop) is { } refusal)
        {
            (Refusal, Response.StatusCode) = (refusal, StatusCodes.Status409Conflict);
            return Page();
        }
        return Done(finished is { } on ? $"{It.Project.Code} was finished on {Show.Day(on)}: the next recognition counts it whole."
            : $"{It.Project.Code} goes on.", At($"projects/{Uri.EscapeDataString(It.Project.Code)}"));
    }

    async Task<Refusal?> Say(EstimateForm form)
    {
        if (!Written.Now.TryNumber(form.Cost ?? "", out var cost))
            return new Refusal("cost", Sending.Typed.NotANumber(form.Cost ?? ""));
        if (!Written.Now.TryNumber(form.Revenue ?? "", out var revenue))
            return new Refusal("revenue", Sending.Typed.NotANumber(form.Revenue ?? ""));
        var task = string.IsNullOrEmpty(form.Task) ? null : IdOf("task", $"{It.Project.Code}/{form.Task}");
        if (!string.IsNullOrEmpty(form.Task) && task is null)
            return new Refusal("task", $"{It.Project.Code} has no task {form.Task}. Choose one of its tasks.");
        return await store.Say(Company.Id, UserId, IdOf("project", It.Project.Code)!.Value, task, new(form.From ?? Date, cost, revenue), form.Note ?? "",
            form.Seen, Stop);
    }

    async Task<bool> Lay(string code, int? most = null)
    {
        if (IdOf("project", code) is not { } id
            || (await store.All(Company.Id, Books.Released.Stored, Date, Stop)).FirstOrDefault(p => Fold.Same(p.Project.Code, code)) is not { } found)
            return false;
        It = found;
        History = await store.History(Company.Id, id, Stop);
        Lines = await store.Lines(Company.Id, found.Project.Code, Date, Figure, most ?? Shown, Stop);
        Amounts = await store.Amounts(Company.Id, found.Project.Code, Date, Figure, Stop);
        FinishSaid = await store.FinishOf(Company.Id, id, Stop);
        WhyNotMethod = Books.Released.Compiled is { } compiled && found.Project.Method is not null ? MethodAccounts.WhyNot(compiled, found.Project, Date)
            : null;
        // Who estimates task by task goes on so.
        Form = new() { Seen = History.Count, Task = found.Project.Tasks.Select(t => t.Code).FirstOrDefault(t => History.Any(h => Fold.Same(h.Task, t))) };
        return true;
    }
}
