using Assignum.Storage.Companies;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>Fiscal years and periods of the company's own: opened, closed for a subledger, closed; the end of a year and its undoing.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class PeriodsModel(PeriodStore periods, YearEndStore ends, TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Month’s end";
    /// <summary>Periods by year, the newest year first.</summary>
    public IReadOnlyList<IGrouping<int, ManagedPeriod>> Years { get; private set; } = [];
    /// <summary>How each year's end stands, by id.</summary>
    public Dictionary<int, YearEndLook> Ends { get; } = [];
    /// <summary>Events of closed periods are moved to the first open day.</summary>
    public bool MovesLate { get; private set; }
    /// <summary>Why something was not done.</summary>
    public Refusal? Fault { get; private set; }
    /// <summary>The year whose end is looked at; null: none.</summary>
    public YearEndLook? Look { get; private set; }

    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Fault?.Field == field ? Fault.Message : null;

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync(int? end)
    {
        await Lay();
        Look = end is { } year ? Ends.GetValueOrDefault(year) : null;
    }

    /// <summary>Closes a subledger for a period, or opens it again.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostForAsync(int period, string? subledger, bool closed) =>
        await periods.CloseFor(Company.Id, UserId, period, subledger ?? "", closed, Stop) is { } refusal ? await Refuse(refusal)
            : Done($"{Show.Title(subledger!)}: {(closed ? "closed" : "open again")} for the period.", At("periods"));

    /// <summary>Closes an adjustment period.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostCloseAsync(int period)
    {
        await Lay();
        if (Years.SelectMany(y => y).FirstOrDefault(p => p.Id == period) is not { Adjustment: true } adjustments)
            return await Refuse(new("period", "A month is closed at its end, under “Month’s end”."));
        if (Ends.GetValueOrDefault(adjustments.YearId) is { IsWhole: false, Lines.Count: > 0 } end)
            return await Refuse(new("period",
                $"{end.Name} has not ended: {Show.Amount(Math.Abs(end.Left), Decimals)} still stands on accounts of income and expense. End " +
                "the year first."));
        return await periods.Close(Company.Id, UserId, period, null, Stop) is { } refusal ? await Refuse(refusal) : Done($"{adjustments.Name} are closed.",
            At("periods"));
    }

    /// <summary>Opens a period again, with a reason.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostReopenAsync(int period, string? reason) =>
        await periods.Reopen(Company.Id, UserId, period, reason, Stop) is { } refusal ? await Refuse(refusal) : Done("The period is open again.",
            At("periods"));

    /// <summary>Ends a year: what stands on accounts of income and expense goes to retained earnings.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostEndAsync(int year, decimal seen) =>
        await ends.End(Company.Id, UserId, year, seen, Stop) is { } why ? await Refuse(new("end", why)) : await Ended(year, "has ended");

    /// <summary>Takes the end of a year back.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostUndoAsync(int year) =>
        await ends.Undo(Company.Id, UserId, year, Stop) is { } why ? await Refuse(new("end", why)) : await Ended(year, "has not ended any more");

    async Task<IActionResult> Ended(int year, string said) => Done($"{(await ends.Look(Company.Id, year, Stop))!.Name} {said}.", At("periods"));

    async Task<IActionResult> Refuse(Refusal refusal)
    {
        await Lay();
        Fault = refusal;
        Response.StatusCode = StatusCodes.Status409Conflict;
        return Page();
    }

    async Task Lay()
    {
        var all = await periods.All(Company.Id, Stop);
        // A year that has not begun can wait at the end of the page.
        Years = [.. all.GroupBy(p => p.YearId).OrderBy(y => y.First().YearStarts > clock.Today()).ThenByDescending(y => y.First().YearStarts)];
        foreach (var year in Years)
            if (await ends.Look(Company.Id, year.Key, Stop) is { } look)
                Ends[year.Key] = look;
        MovesLate = await periods.MovesLate(Company.Id, Stop);
    }
}
