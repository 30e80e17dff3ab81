using Assignum.Core;
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
    /// <summary>What is proposed for the next year, or was typed.</summary>
    public (DateOnly? Starts, DateOnly? Ends, string Cut, int Adjustments) Next { get; private set; }
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

    /// <summary>Opens a fiscal year.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostYearAsync(DateOnly? starts, DateOnly? ends, string? cut, int adjustments)
    {
        if (starts is not { } first || ends is not { } last)
            return await Refuse(new(starts is null ? "starts" : "ends", "A fiscal year has a first and a last day. Choose both."));
        var refusal = Words<PeriodCut>.TryParse(cut ?? "", out var known) ? await periods.OpenYear(Company.Id, UserId, first, last, known, adjustments, Stop)
            : new Refusal("cut", "Choose how the year is cut into periods.");
        if (refusal is null)
            return Done($"The fiscal year from {Show.Day(first)} to {Show.Day(last)} is open.", At("periods"));
        Next = (starts, ends, cut ?? "", adjustments);
        return await Refuse(refusal);
    }

    /// <summary>Says what becomes of events of closed periods.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostLateAsync(bool moves)
    {
        await periods.SetMovesLate(Company.Id, UserId, moves, Stop);
        return Done(moves ? "What comes too late is posted on the first open day, with its own document and tax dates." : "What comes too late is held.",
            At("periods"));
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
        var starts = all.Count == 0 ? new DateOnly(clock.Today().Year, 1, 1) : all.Max(p => p.Ends).AddDays(1);
        if (Next.Starts is null)
            Next = (starts, starts.AddYears(1).AddDays(-1), Words<PeriodCut>.Of(PeriodCut.Months), 1);
    }
}
