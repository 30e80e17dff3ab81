using Assignum.Core.Groups;
using Assignum.Core.Rulebooks;

namespace Assignum.Core.Posting;

/// <summary>Finds what the codes of an event name; what none has is noted with its place.</summary>
static class Matching
{
    internal static T? Code<T>(CodeIndex<T> index, string? code, Place? place, string field, string what, List<HeldReason> unknown) where T : class
    {
        if (code is null)
            return null;
        if (index.TryFind(code, out var thing))
            return thing;
        unknown.Add(HeldReason.Unknown(Posting.Place.Field(place, field), what, code, "Add it, or correct the code."));
        return null;
    }

    /// <summary>Location, project and task. A line's project drops the document's task; a line's task belongs to the line's project, else to the
    /// document's.</summary>
    internal static void Place(CompiledRulebook book, Facts facts, string? location, string? project, string? task, Place? place, List<HeldReason> unknown)
    {
        if (Code(book.Locations, location, place, "location", "location", unknown) is not null)
            facts[Fact.Location] = book.Locations.IdOf(location);
        if (Code(book.Projects, project, place, "project", "project", unknown) is { } named)
        {
            facts[Fact.Task] = 0;
            facts[Fact.Project] = book.Projects.IdOf(project);
            facts[Fact.ProjectGroup] = book.ProjectGroups.IdOf(named.Group);
        }
        if (task is null || facts[Fact.Project] == 0)
            return;
        var owner = book.Projects.ById(facts[Fact.Project]);
        facts[Fact.Task] = book.Tasks.IdOf(owner.Code + "/" + task);
        if (facts[Fact.Task] == 0)
            unknown.Add(HeldReason.Unknown(Posting.Place.Field(place, "task"), $"task of project {owner.Code} named", task, "Add it, or correct the code."));
        else
            facts[Fact.ProjectGroup] = book.ProjectGroups.IdOf(book.Tasks.ById(facts[Fact.Task]).Task.Group ?? owner.Group);
    }

    internal static Location? LocationOf(CompiledRulebook book, Facts facts) => facts[Fact.Location] == 0 ? null : book.Locations.ById(facts[Fact.Location]);

    internal static string? ProjectOf(CompiledRulebook book, Facts facts)
    {
        if (facts[Fact.Task] != 0)
            return book.Tasks.CodeOf(facts[Fact.Task]);
        if (facts[Fact.Project] != 0)
            return book.Projects.CodeOf(facts[Fact.Project]);
        return null;
    }
}
