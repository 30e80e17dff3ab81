using Assignum.Core.Groups;

namespace Assignum.Core.Projects;

/// <summary>What a project, or a task of it, is expected to cost and to bring, from a day on; what was expected before stays known.</summary>
/// <param name="From">The first day it holds.</param>
/// <param name="Cost">Cost in all, company currency, 0 or more.</param>
/// <param name="Revenue">Revenue in all, company currency, 0 or more.</param>
public sealed record Estimate(DateOnly From, decimal Cost, decimal Revenue)
{
    /// <summary>The one that holds on a day: of those from the same day the one said last; null where none holds yet.</summary>
    /// <param name="said">Estimates of one project or task, in the order in which they were said.</param>
    /// <param name="on">The day.</param>
    public static Estimate? On(IEnumerable<Estimate> said, DateOnly on) => said.Where(e => e.From <= on).Aggregate(default(Estimate), (held, next) =>
        held is null || next.From >= held.From ? next : held);
}

/// <summary>What stands of a project, or of a task of it, at the end of a day; company currency.</summary>
public sealed record ProjectStanding
{
    /// <summary>Code of the project.</summary>
    public required string Project { get; init; }
    /// <summary>Code of the task; null: what belongs to no task, or the project as a whole.</summary>
    public string? Task { get; init; }
    /// <summary>Cost that has come to it: used, bought, shipped, opened.</summary>
    public decimal Incurred { get; init; }
    /// <summary>What has been invoiced, less credit notes.</summary>
    public decimal Billed { get; init; }
    /// <summary>Cost that was recognised before.</summary>
    public decimal CostRecognised { get; init; }
    /// <summary>Revenue that was recognised before, accrued revenue with which the books began included.</summary>
    public decimal RevenueRecognised { get; init; }
    /// <summary>How much of that came out of what was billed.</summary>
    public decimal FromBilled { get; init; }
    /// <summary>What is expected; null where nobody has said.</summary>
    public Estimate? Estimate { get; init; }

    /// <summary>Work in progress.</summary>
    public decimal WorkInProgress => Incurred - CostRecognised;
    /// <summary>Billed and not recognised yet.</summary>
    public decimal BilledAhead => Billed - FromBilled;
    /// <summary>Recognised and not billed yet.</summary>
    public decimal Accrued => RevenueRecognised - FromBilled;

    /// <summary>The part of the estimated cost that has been spent, 0 to 1; null where nothing, or no cost, is expected.</summary>
    public decimal? Done => Estimate is { Cost: > 0 } ? Math.Clamp(Incurred / Estimate.Cost, 0, 1) : null;

    /// <summary>What has been spent above the estimated cost, 0 or more.</summary>
    public decimal Over => Estimate is { } estimate ? Math.Max(0, Incurred - estimate.Cost) : 0;

    /// <summary>A project as a whole: the sum of what belongs to no task and of its tasks.</summary>
    /// <param name="parts">The parts; one at least.</param>
    public static ProjectStanding Sum(IReadOnlyList<ProjectStanding> parts) => new()
    {
        Project = parts[0].Project, Incurred = parts.Sum(p => p.Incurred), Billed = parts.Sum(p => p.Billed),
        CostRecognised = parts.Sum(p => p.CostRecognised), RevenueRecognised = parts.Sum(p => p.RevenueRecognised), FromBilled = parts.Sum(p => p.FromBilled),
        Estimate = parts.All(p => p.Estimate is null) ? null
            : new(parts.Max(p => p.Estimate?.From ?? default), parts.Sum(p => p.Estimate?.Cost ?? 0), parts.Sum(p => p.Estimate?.Revenue ?? 0)),
    };
}
