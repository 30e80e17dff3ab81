using Assignum.Core;
using Assignum.Core.Posting;
using Assignum.Core.Projects;
using Assignum.Formats.Sheets;
using Assignum.Storage.Projects;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>What of projects counts at a day, by their methods: shown before it posts.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class RecognitionModel(ProjectStore store, TimeProvider clock) : RunPage(clock)
{
    /// <summary>Each task for itself, and not the project as a whole.</summary>
    [BindProperty(SupportsGet = true, Name = "task")]
    public bool ByTask { get; set; }
    /// <summary>Projects that are recognised, with what is to be recognised of each.</summary>
    public IReadOnlyList<(ProjectBooks Books, IReadOnlyList<Recognition> Recognitions)> Projects { get; private set; } = [];
    /// <summary>Why projects can't be recognised, by their code.</summary>
    public IReadOnlyList<(string Code, string Why)> Refused { get; private set; } = [];
    /// <summary>Projects without a method.</summary>
    public IReadOnlyList<string> WithoutMethod { get; private set; } = [];
    /// <summary>The figures as they are shown, so that only what was seen is posted.</summary>
    public string Seen => string.Join(';', Made.Select(m => FormattableString.Invariant($"{m.Project}/{m.Task}/{m.Cost}/{m.Revenue}/{m.FromBilled}")));

    IReadOnlyList<ProjectRecognition> Made => [.. Outcomes.Select(o => (ProjectRecognition)o.Happened)];

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>The figures as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Recognition", ["project", "task", "name", "method", "percent", "cost", "revenue", "fromBilled", "accrued"],
            Projects.SelectMany(p => p.Recognitions.Select(r => (IReadOnlyList<object?>)[r.Standing.Project, r.Standing.Task ?? "", p.Books.Project.Name,
                Pages.Projects.ProjectsModel.MethodOf(p.Books.Project), r.Percent, r.Cost, r.Revenue, r.FromBilled, r.Revenue - r.FromBilled]))),
            $"recognition-{On:yyyy-MM-dd}", kind);
    }

    /// <summary>Posts it: all, or none.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string? seen)
    {
        await Lay();
        if (seen != Seen || !MayPost)
            return Refuse(Changed);
        var why = await store.Post(Company.Id, UserId, Made, Stop);
        return why is null ? Done($"{Show.Count(Made.Count, "recognition")} posted on {Show.Day(On)}.", At($"projects?on={Show.Field(On)}")) : Refuse(why);
    }

    async Task Lay()
    {
        if (Books.Released.Compiled is not { } compiled)
            return;
        var all = await store.All(Company.Id, Books.Released.Stored, On, Stop);
        WithoutMethod = [.. all.Where(p => p.Project.Method is null).Select(p => p.Project.Code)];
        var refused = new List<(string, string)>();
        var projects = new List<(ProjectBooks, IReadOnlyList<Recognition>)>();
        foreach (var books in all.Where(p => p.Project is { Method: not null, IsAtInvoice: false }))
        {
            var recognitions = books.Recognise(ByTask, Decimals);
            projects.Add((books, recognitions));
            // A method that finds no account is refused by name, before the first entry.
            if (recognitions.Any(r => r.Posts) && MethodAccounts.WhyNot(compiled, books.Project, On) is { } lacks)
                refused.Add((books.Project.Code, lacks));
            else if (recognitions.Any(r => r.Posts) && !ByTask && StandsApart(books, compiled) is { } apart)
                refused.Add((books.Project.Code, apart));
            refused.AddRange(recognitions.Where(r => r.WhyNot is not null).Select(r => (books.Project.Code, r.WhyNot!)));
        }
        (Projects, Refused) = (projects, refused);
        LandAll(await store.Made(Company.Id, [.. projects.Where(p => refused.TrueForAll(r => r.Item1 != p.Item1.Project.Code)).SelectMany(p => p.Item2)], On,
            Stop));
    }

    // As a whole a project is recognised on its own accounts: what stands elsewhere would stay there.
    string? StandsApart(ProjectBooks books, Core.Rulebooks.CompiledRulebook compiled) => MethodAccounts.StandsApart(compiled, books.Project, On) is { } task
        ? $"Task {books.Project.Code}/{task.Code} {task.Name} stands on other accounts than its project. Recognise task by task." : null;
}
