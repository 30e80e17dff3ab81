using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Charts;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages.Chart;

/// <summary>The numbering plan: the shape of a number, and ranges by class and by heading.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class NumberingModel(ChartStore charts, NumberingStore numbering) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>The chart.</summary>
    public ChartBook Chart { get; private set; } = null!;
    /// <summary>The plan as shown: that of the company, or as it was typed.</summary>
    public NumberingPlan Plan { get; private set; } = NumberingPlan.None;
    /// <summary>New numbers for the accounts that do not fit the plan typed; null while none was typed.</summary>
    public IReadOnlyList<NewNumber>? Proposal { get; private set; }
    /// <summary>What is wrong, by field.</summary>
    public IReadOnlyList<FieldFault> Faults { get; private set; } = [];

    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Faults.FirstOrDefault(f => f.Field == field)?.Message;

    /// <summary>How a class is numbered today: its first and last number.</summary>
    public string UsedBy(AccountClass accountClass)
    {
        var numbers = Chart.Tree.Nodes.Where(n => n.Account.Class == accountClass && n.Account.Kind == AccountKind.Posting).Select(n =>
            n.Account.Number).OrderBy(Fold.Of, StringComparer.Ordinal).ToList();
        return numbers.Count == 0 ? "no accounts" : $"{numbers[0]} to {numbers[^1]}, {Show.Count(numbers.Count, "account")}";
    }

    /// <summary>Shows the plan.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync()
    {
        await Lay();
        Plan = Chart.Numbers.Plan;
    }

    /// <summary>Takes a plan that all accounts fit; shows new numbers where some do not.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync([FromForm] PlanForm form)
    {
        await Lay();
        Plan = form.Read();
        Faults = Plan.Faults(Chart.Tree);
        if (Faults.Count > 0)
            return Refused();
        Proposal = Renumbering.Propose(Chart.Tree, Plan, Chart.Kept);
        if (Proposal.Count > 0)
            return Page();
        return await Take(null);
    }

    /// <summary>Carries out the plan with the new numbers that were shown.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostRenumberAsync([FromForm] PlanForm form, long seen)
    {
        await Lay();
        Plan = form.Read();
        return await Take(seen);
    }

    async Task<IActionResult> Take(long? seen)
    {
        if (await numbering.Change(Company.Id, UserId, seen, Plan, Stop) is { } refusal)
        {
            Faults = [new(refusal.Field, refusal.Message)];
            // A plan that is faulty itself proposes nothing.
            Proposal = Plan.Faults(Chart.Tree).Count > 0 ? null : Renumbering.Propose(Chart.Tree, Plan, Chart.Kept);
            return Refused();
        }
        return Done(seen is null ? "The numbering plan holds."
            : "The numbering plan holds, and the accounts have their new numbers. The old ones are kept for them and not given again.", At("chart/numbering"));
    }

    PageResult Refused()
    {
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    async Task Lay() => Chart = await charts.Of(Company.Id, Draft, Stop);
}

/// <summary>A numbering plan as somebody typed it.</summary>
public sealed class PlanForm
{
    /// <summary>The shape.</summary>
    public string? Pattern { get; set; }
    /// <summary>First number by class.</summary>
    public Dictionary<string, string?> From { get; set; } = [];
    /// <summary>Last number by class.</summary>
    public Dictionary<string, string?> To { get; set; } = [];
    /// <summary>Headings.</summary>
    public List<string?> Heading { get; set; } = [];
    /// <summary>First number by heading.</summary>
    public List<string?> HeadingFrom { get; set; } = [];
    /// <summary>Last number by heading.</summary>
    public List<string?> HeadingTo { get; set; } = [];

    internal NumberingPlan Read() => new()
    {
        Pattern = Pattern?.Trim() ?? "",
        Classes = [.. Words<AccountClass>.All.Select(word =>
            new NumberRange(word, From.GetValueOrDefault(word)?.Trim() ?? "", To.GetValueOrDefault(word)?.Trim() ?? "")).Where(r =>
            r.From.Length + r.To.Length > 0)],
        Headings = [.. Heading.Select((heading, i) =>
            new NumberRange(Pick.CodeOf(heading), HeadingFrom.ElementAtOrDefault(i)?.Trim() ?? "", HeadingTo.ElementAtOrDefault(i)?.Trim() ?? "")).Where(r =>
            r.Of.Length > 0)],
    };
}
