using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>The project that a row stands with, and what of it moves.</summary>
static class ProjectPlace
{
    /// <summary>The movement that goes with a row; null where no project is named, or the purpose is none that stands in projects.</summary>
    internal static ProjectMovement? Movement(CompiledRulebook book, Purpose purpose, Facts facts, Moved value)
    {
        if (PartOf(purpose) is not { } part || !facts.Has(Fact.Project))
            return null;
        var task = facts.Has(Fact.Task) ? book.Tasks.ById(facts[Fact.Task]).Task.Code : null;
        return new ProjectMovement(book.Projects.ById(facts[Fact.Project]).Code, task, part, value);
    }

    /// <summary>Whether cost and revenue of the project land as they arise.</summary>
    internal static bool IsAtInvoice(CompiledRulebook book, Facts facts) => facts.Has(Fact.Project) && book.Projects.ById(facts[Fact.Project]).IsAtInvoice;

    static ProjectPart? PartOf(Purpose purpose)
    {
        if (purpose == Purpose.ProjectWip)
            return ProjectPart.WorkInProgress;
        if (purpose == Purpose.ProjectBilled)
            return ProjectPart.Billed;
        return purpose == Purpose.ProjectAccruedRevenue ? ProjectPart.Accrued : null;
    }
}
