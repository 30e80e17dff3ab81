using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Formats.Sheets;
using Assignum.Storage.Projects;
using Assignum.Web.Access;
using Assignum.Web.Pages.Controls;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Projects;

/// <summary>Every project on any day: what it costs and brings, what stands under way, and what of it counts.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class ProjectsModel(ProjectStore store, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>What code or name must have in it.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }
    /// <summary>Those shown.</summary>
    public IReadOnlyList<ProjectBooks> All { get; private set; } = [];

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>All figures as a table to take away, a row for each project and task.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Projects", ["project", "task", "name", "group", "method", "finished", "estimatedCost", "cost", "estimatedRevenue", "billed",
            "percent", "workInProgress", "billedAhead", "accrued", "recognisedCost", "recognisedRevenue"],
            All.SelectMany(p => p.Parts.Select(part => (IReadOnlyList<object?>)[part.Project, part.Task ?? "", NameOf(p, part.Task), GroupOf(p, part.Task),
                MethodOf(p.Project), p.FinishedOn, part.Estimate?.Cost, part.Incurred, part.Estimate?.Revenue, part.Billed, PercentOf(p, part),
                part.WorkInProgress, part.BilledAhead, part.Accrued, part.CostRecognised, part.RevenueRecognised]))), $"projects-{Date:yyyy-MM-dd}", kind);
    }

    async Task Lay()
    {
        var sought = new Sought(Filter);
        All = [.. (await store.All(Company.Id, Books.Released.Stored, Date, Stop)).Where(p => sought.In($"{p.Project.Code} {p.Project.Name}"))];
    }

    /// <summary>The method in words, as the formats spell it; empty without one.</summary>
    internal static string MethodOf(Project project) => project.Method is { } method ? Words<ProjectMethod>.Of(method) : "";

    /// <summary>Part of the work that is done, 0 to 100; null where nothing says.</summary>
    internal static decimal? PercentOf(ProjectBooks books, Core.Projects.ProjectStanding part)
    {
        if (books.FinishedOn is not null)
            return 100;
        return part.Done is { } done ? Core.Money.Round(done * 100, 1) : null;
    }

    static string NameOf(ProjectBooks books, string? task) => task is null ? books.Project.Name : books.Project.Tasks.First(t => t.Code == task).Name;

    static string GroupOf(ProjectBooks books, string? task) =>
        (task is null ? null : books.Project.Tasks.First(t => t.Code == task).Group) ?? books.Project.Group ?? "";
}
