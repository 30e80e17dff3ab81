using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Storage.Companies;
using Assignum.Storage.Jobs;
using Assignum.Storage.Journal;
using Assignum.Storage.People;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Htmx;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages.Companies;

/// <summary>The companies kept here: new ones, their fiscal years, and whose chart is that of the group.</summary>
[Authorize(Policy = Policies.Administers)]
public sealed class IndexModel(CompanyStore companies, PeriodStore periods, PracticeStore practices, WaitingJournalStore journals, JobStore jobs,
    TimeProvider clock) : CompanyPage
{
    const int LongestCode = 10, LongestName = 100, MostLogged = 20;

    /// <inheritdoc/>
    public override string Step => "Companies";
    /// <summary>Companies the administrator administers.</summary>
    public IReadOnlyList<CompanyRow> Mine { get; private set; } = [];
    /// <summary>Fiscal years of this company, by their first day.</summary>
    public IReadOnlyList<(DateOnly Starts, DateOnly Ends, int Periods)> Years { get; private set; } = [];
    /// <summary>What was changed of the company, its periods and its people.</summary>
    public IReadOnlyList<LoggedChange> Log { get; private set; } = [];
    /// <summary>The practice company of this one; null while there is none.</summary>
    public CompanyRow? Practice { get; private set; }
    /// <summary>The company of which this one is the practice company; null: this one is real.</summary>
    public CompanyRow? Original { get; private set; }
    /// <summary>The work on it that is under way, or has ended.</summary>
    public JobRow? Job { get; private set; }
    /// <summary>What is wrong, by field.</summary>
    public FieldFault? Fault { get; private set; }
    /// <summary>What was typed.</summary>
    public (string? Code, string? Name, string? Currency, DateOnly? Starts) Typed { get; private set; }

    /// <summary>The fault of a field, or null.</summary>
    public string? FaultOf(string field) => Fault?.Field == field ? Fault.Message : null;

    /// <summary>Shows them.</summary>
    [Needs(Need.Administers)]
    public async Task OnGetAsync()
    {
        await Lay();
        Typed = (null, null, Company.Currency, new DateOnly(clock.GetUtcNow().Year, 1, 1));
    }

    /// <summary>Opens a company, with a first fiscal year, and with the one who opens it as its administrator.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostOpenAsync(string? code, string? name, string? currency, DateOnly? starts)
    {
        Typed = (code, name, currency, starts);
        if (await FaultOf(code, name, currency, starts) is { } fault)
            return await Refuse(fault);
        var opened = await companies.Open(code!.Trim(), name!.Trim(), Fold.Of(currency!), Stop, starts, UserId);
        return Done($"{opened.Name} is open. Say now who works there.", $"/{opened.Code.ToLowerInvariant()}/people");
    }

    /// <summary>Switches four eyes on or off for releases of this company.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostEyesAsync(bool wanted)
    {
        await companies.SetFourEyes(Company.Id, UserId, wanted, Stop);
        return Done(wanted ? $"From now on nobody releases a change of {Company.Name} that they had a hand in."
            : $"Approvers of {Company.Name} may release their own changes.", At("companies"));
    }

    /// <summary>The amount above which a second person posts journals by hand; null: nobody need.</summary>
    public decimal? Above { get; private set; }
    /// <summary>What was typed for it, where it was refused.</summary>
    public string? AboveTyped { get; private set; }

    /// <summary>Says above which amount a second person posts journals by hand; left empty, nobody need.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostAboveAsync(string? above)
    {
        AboveTyped = above;
        decimal? amount = null;
        if (!string.IsNullOrWhiteSpace(above))
        {
            if (!Written.Now.TryNumber(above.Trim(), out var number))
                return await Refuse(new("above", Sending.Typed.NotANumber(above)));
            if (number <= 0 || number >= 1_000_000_000_000m || number != Money.Round(number, Decimals))
                return await Refuse(new("above", "The amount is above 0, with as many decimals as the currency has. Correct it, or leave it empty."));
            amount = number;
        }
        await companies.SetSecondPersonAbove(Company.Id, UserId, amount, Stop);
        return Done(amount is { } set ? $"Journals by hand above {Show.Amount(set, Decimals)} {Company.Currency} are posted by a second person."
            : "Journals by hand need no second person.", At("companies"));
    }

    /// <summary>Says whether a second factor is demanded of whoever releases.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostFactorAsync(bool wanted)
    {
        await companies.SetSecondFactor(Company.Id, UserId, wanted, Stop);
        return Done(wanted ? "Whoever releases must have signed in with a second factor from now on." : "A second factor is no longer demanded.",
            At("companies"));
    }

    /// <summary>Makes the practice company of this one, or makes it anew.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostPracticeAsync(bool events)
    {
        await Lay();
        return Redirect(AtJob(await jobs.Ask(Company.PracticeOf ?? Company.Id, UserId, PracticeWork.Name, JsonSerializer.Serialize(new PracticeAsked(events)),
            Stop)));
    }

    /// <summary>Puts this practice company away.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostAwayAsync()
    {
        var original = Company.PracticeOf is { } of ? await companies.Find(of, Stop) : null;
        if (original is null || !await practices.PutAway(Company, UserId, Stop))
            return await Refuse(new("practice", $"{Company.Name} is no practice company, and stays."));
        return Done($"{Company.Name} is put away.", $"/{original.Code.ToLowerInvariant()}/companies");
    }

    /// <summary>Shows how far the work on a practice company is.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnGetJobAsync(long job)
    {
        if ((Job = await jobs.Find(Company.PracticeOf ?? Company.Id, job, Stop, PracticeWork.Name)) is not { } found)
            return NotFound();
        if (found.Ended && Request.IsHtmx())
            Response.Htmx(h => h.Redirect(AtJob(job)));
        await OnGetAsync();
        return Page();
    }

    /// <summary>Cancels it.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostCancelAsync(long job)
    {
        await jobs.Cancel(Company.Id, job, Stop);
        return Redirect(AtJob(job));
    }

    /// <summary>Address of the work.</summary>
    public string AtJob(long job) => (Original is null ? At("companies") : $"/{Original.Code.ToLowerInvariant()}/companies") + "?handler=job&job=" + job;

    /// <summary>What is proposed for the next fiscal year, or was typed.</summary>
    public (DateOnly? Starts, DateOnly? Ends, string Cut, int Adjustments) Next { get; private set; }
    /// <summary>Events of closed periods are moved to the first open day.</summary>
    public bool MovesLate { get; private set; }

    /// <summary>Opens a fiscal year.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostYearAsync(DateOnly? begins, DateOnly? ends, string? cut, int adjustments)
    {
        Next = (begins, ends, cut ?? "", adjustments);
        if (begins is not { } first || ends is not { } last)
            return await Refuse(new(begins is null ? "begins" : "ends", "A fiscal year has a first and a last day. Choose both."));
        var refusal = Words<PeriodCut>.TryParse(cut ?? "", out var known) ? await periods.OpenYear(Company.Id, UserId, first, last, known, adjustments, Stop)
            : new Refusal("cut", "Choose how the year is cut into periods.");
        return refusal is null ? Done($"The fiscal year from {Show.Day(first)} to {Show.Day(last)} is open.", At("companies"))
            : await Refuse(new(refusal.Field == "starts" ? "begins" : refusal.Field, refusal.Message));
    }

    /// <summary>Says what becomes of events of closed periods.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostLateAsync(bool moves)
    {
        await periods.SetMovesLate(Company.Id, UserId, moves, Stop);
        return Done(moves ? "What comes too late is posted on the first open day, with its own document and tax dates." : "What comes too late is held.",
            At("companies"));
    }

    /// <summary>Says whose chart is that of the group.</summary>
    [Needs(Need.Administers)]
    public async Task<IActionResult> OnPostGroupAsync(int? group)
    {
        await Lay();
        if (group == Company.Id)
            return await Refuse(new("group", "A company is not a group of its own. Choose another, or none."));
        if (group is not null && Mine.All(c => c.Id != group))
            return await Refuse(new("group", "Choose a company you administer."));
        await companies.SetGroup(Company.Id, UserId, group, Stop);
        return Done(group is null ? "The company belongs to no group." : $"The chart of {Mine.First(c => c.Id == group).Name} is that of the group.",
            At("companies"));
    }

    async Task<FieldFault?> FaultOf(string? code, string? name, string? currency, DateOnly? starts)
    {
        if (string.IsNullOrWhiteSpace(code) || code.Trim().Length > LongestCode || !code.Trim().All(char.IsAsciiLetterOrDigit))
            return new("code", $"The code stands in addresses: 1 to {LongestCode} letters and digits. Write one, such as QN.");
        if (await companies.Find(code, Stop) is { } taken)
            return new("code", $"{taken.Code} is {taken.Name} already. Choose another code.");
        if (string.IsNullOrWhiteSpace(name) || name.Trim().Length > LongestName)
            return new("name", $"The company has no name, or one of more than {LongestName} characters. Write its name.");
        if (!Money.TryMinorUnits(Fold.Of(currency ?? ""), out _))
            return new("currency", $"“{currency}” is no ISO 4217 code. Write three letters, such as EUR.");
        if (starts is null)
            return new("starts", "The first fiscal year has no first day. Choose one.");
        return null;
    }

    async Task<PageResult> Refuse(FieldFault fault)
    {
        await Lay();
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }

    async Task Lay()
    {
        Practice = await practices.Of(Company.Id, Stop);
        Original = Company.PracticeOf is { } of ? await companies.Find(of, Stop) : null;
        Mine = [.. (await companies.All(Stop)).Where(c => User.Has(c.Code, Role.Administrator))];
        Above = await journals.Above(Company.Id, Stop);
        Log = await companies.Log(Company.Id, MostLogged, Stop);
        var all = await periods.All(Company.Id, Stop);
        Years = [.. all.GroupBy(p => p.YearStarts).Select(y => (y.Key, y.Max(p => p.Ends), y.Count(p => !p.Adjustment)))];
        MovesLate = await periods.MovesLate(Company.Id, Stop);
        var next = all.Count == 0 ? new DateOnly(clock.Today().Year, 1, 1) : all.Max(p => p.Ends).AddDays(1);
        if (Next.Cut is null)
            Next = (next, next.AddYears(1).AddDays(-1), Words<PeriodCut>.Of(PeriodCut.Months), 1);
    }
}
