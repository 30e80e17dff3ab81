using Assignum.Core.Groups;

namespace Assignum.Core.Projects;

/// <summary>What of a project's cost and revenue is to be recognised at a day, company currency.</summary>
/// <param name="Standing">What stood before.</param>
/// <param name="Percent">Part of the work that is done, 0 to 100, at most 4 decimals; null where the method does not ask.</param>
/// <param name="Cost">Cost that leaves work in progress; negative: it comes back.</param>
/// <param name="Revenue">Revenue that counts; negative: it is taken back.</param>
/// <param name="FromBilled">How much of it had been billed; the rest is accrued.</param>
public sealed record Recognition(ProjectStanding Standing, decimal? Percent, decimal Cost, decimal Revenue, decimal FromBilled)
{
    /// <summary>Why nothing can be worked out, in a sentence that says how to mend it; null: it can.</summary>
    public string? WhyNot { get; private init; }
    /// <summary>There is something to post.</summary>
    public bool Posts => WhyNot is null && (Cost != 0 || Revenue != 0 || FromBilled != 0);

    /// <summary>
    /// Works out what is to be recognised, so that afterwards exactly what the method says stands recognised, whatever was recognised before. Percentage of
    /// completion is cost to cost: the part of the estimated cost that has been spent, of the estimated revenue; all cost that has come is cost of that part.
    /// By completed contract nothing counts until the project is finished. A finished project counts whole: the estimated revenue, or what was billed where
    /// that is more. Revenue is taken out of what was billed as far as that goes, and accrued beyond it.
    /// </summary>
    /// <param name="standing">What stands at the end of the day.</param>
    /// <param name="method">How the project is recognised; not <see cref="ProjectMethod.AtInvoice"/>, which keeps no work in progress.</param>
    /// <param name="finished">The project is finished by that day.</param>
    /// <param name="minorUnits">Minor units of the company's currency.</param>
    public static Recognition Of(ProjectStanding standing, ProjectMethod method, bool finished, int minorUnits)
    {
        if (method == ProjectMethod.CompletedContract)
            return finished ? Reaching(standing, null, standing.Incurred, Whole(standing)) : Reaching(standing, null, 0, 0);
        if (finished)
            return Reaching(standing, 100, standing.Incurred, Whole(standing));
        if (standing.Estimate is not { } estimate)
            return standing is { Incurred: 0, Billed: 0, RevenueRecognised: 0 } ? Reaching(standing, 0, 0, 0)
                : Refused(standing, $"{Called(standing)} has no estimate. Say what it will cost and bring, so that the part that is done can be worked out.");
        if (standing.Done is not { } done)
            return standing.Incurred == 0 ? Reaching(standing, 0, 0, 0)
                : Refused(standing, $"{Called(standing)} is estimated to cost nothing, and has cost already. Estimate its cost.");
        return Reaching(standing, Money.Round(done * 100, 4), standing.Incurred, Money.Round(estimate.Revenue * done, minorUnits));
    }

    static decimal Whole(ProjectStanding standing) => Math.Max(standing.Estimate?.Revenue ?? 0, standing.Billed);

    // What is to stand recognised, less what does; what is billed covers as much revenue as it can.
    static Recognition Reaching(ProjectStanding standing, decimal? percent, decimal cost, decimal revenue) => new(standing, percent,
        cost - standing.CostRecognised, revenue - standing.RevenueRecognised, Math.Min(revenue, standing.Billed) - standing.FromBilled);

    static Recognition Refused(ProjectStanding standing, string why) => new(standing, null, 0, 0, 0) { WhyNot = why };

    static string Called(ProjectStanding standing) => standing.Task is null ? $"Project {standing.Project}" : $"Task {standing.Project}/{standing.Task}";
}
