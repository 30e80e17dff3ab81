using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Projects;

/// <summary>Which purposes a method of recognition posts to, and for which of them a project has no account.</summary>
public static class MethodAccounts
{
    /// <summary>The purposes a method posts to; without a method those of work in progress and billing.</summary>
    public static IReadOnlyList<Purpose> Needed(ProjectMethod? method) => method switch
    {
        ProjectMethod.AtInvoice => [Purpose.ProjectCost, Purpose.ProjectRevenue],
        ProjectMethod.CompletedContract => [Purpose.ProjectWip, Purpose.ProjectBilled, Purpose.ProjectCost, Purpose.ProjectRevenue],
        ProjectMethod.PercentageOfCompletion =>
            [Purpose.ProjectWip, Purpose.ProjectBilled, Purpose.ProjectAccruedRevenue, Purpose.ProjectCost, Purpose.ProjectRevenue],
        _ => [],
    };

    /// <summary>What its method posts to and finds no account for that can be posted to.</summary>
    /// <param name="book">The rulebook.</param>
    /// <param name="project">A project of it, or one that is to be.</param>
    /// <param name="date">Posting date.</param>
    public static IReadOnlyList<Purpose> Missing(CompiledRulebook book, Project project, DateOnly date) =>
        [.. Needed(project.Method).Where(purpose => !Places(book, project).All(facts => Answers(book, purpose, facts, date)))];

    /// <summary>Why a project can't be recognised by its method, in a sentence; null: it can.</summary>
    public static string? WhyNot(CompiledRulebook book, Project project, DateOnly date) => Missing(book, project, date) is not { Count: > 0 } missing ? null
        : $"The method {Words<ProjectMethod>.Of(project.Method!.Value).Replace('-', ' ')} needs an account for " +
            $"{string.Join(", ", missing.Select(p => p.InWords))}, and "
            + $"{(project.Group is null ? $"project {project.Code}" : $"group {project.Group}")} has none on {Written.DayNow(date)}. Add a rule, or " +
                $"choose another method.";

    /// <summary>A task that stands on another account than its project, for a purpose of the method; null: all stand on the project's.</summary>
    public static ProjectTask? StandsApart(CompiledRulebook book, Project project, DateOnly date) => project.Tasks.FirstOrDefault(task =>
        Needed(project.Method).Where(p => p.Control is not null).Any(purpose =>
            AccountOf(book, purpose, FactsOf(book, project, task), date) != AccountOf(book, purpose, FactsOf(book, project, null), date)));

    static string? AccountOf(CompiledRulebook book, Purpose purpose, Facts facts, DateOnly date) =>
        book.Resolve(purpose, facts, date) is { Found: true } answer ? book.AccountOf(answer).Number : null;

    static bool Answers(CompiledRulebook book, Purpose purpose, Facts facts, DateOnly date) =>
        book.Resolve(purpose, facts, date) is { Found: true } answer && book.AccountOf(answer).WhyNotPostable(date) is null;

    // The project itself, and each of its tasks: a task may stand in another group.
    static IEnumerable<Facts> Places(CompiledRulebook book, Project project)
    {
        yield return FactsOf(book, project, null);
        foreach (var task in project.Tasks)
            yield return FactsOf(book, project, task);
    }

    static Facts FactsOf(CompiledRulebook book, Project project, ProjectTask? task) => book.FactsOf(
        new (Fact Fact, string? Code)[]
        {
            (Fact.Project, project.Code), (Fact.ProjectGroup, task?.Group ?? project.Group), (Fact.Task, task is null ? null : $"{project.Code}/{task.Code}"),
        }.Where(f => f.Code is not null).Select(f => new FactValue(f.Fact, f.Code!)));
}
