using System.Text.Json;
using Assignum.Storage.Closing;
using Assignum.Storage.Companies;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>A line of a month's end with what was signed of it.</summary>
/// <param name="Line">The line.</param>
/// <param name="Signed">What was signed last; null: nothing.</param>
public sealed record LineState(ClosingLine Line, SignedLine? Signed)
{
    /// <summary>Nothing is open, or it was signed with the figure that stands.</summary>
    public bool IsSettled => Line.Count == 0 || IsSigned;
    /// <summary>It was signed with the figure that stands.</summary>
    public bool IsSigned => Signed is { } signed && signed.Figure == Line.Figure;
    /// <summary>It was signed, and its figure is another by now.</summary>
    public bool IsOpenAgain => Line.Count != 0 && Signed is not null && !IsSigned;
}

/// <summary>A line as it is kept with a close.</summary>
public sealed record KeptLine(string Title, long Count, decimal? Amount, bool Left, string Reason, string? By, DateTime? At);

/// <summary>The end of a month: what is open, each line done or left with a reason and a name; then the period is closed.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(PeriodStore periods, MonthEndStore store, ClosingLines lines, TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Month’s end";
    /// <summary>Id of the period asked for.</summary>
    [BindProperty(SupportsGet = true, Name = "period")]
    public int? Asked { get; set; }
    /// <summary>Periods of every year that are no adjustments, newest first.</summary>
    public IReadOnlyList<ManagedPeriod> Periods { get; private set; } = [];
    /// <summary>The period shown; null where there is none.</summary>
    public ManagedPeriod? Period { get; private set; }
    /// <summary>Its lines.</summary>
    public IReadOnlyList<LineState> Lines { get; private set; } = [];
    /// <summary>What was kept with its last close; null while it is open.</summary>
    public (PeriodClose Close, IReadOnlyList<KeptLine> Lines)? Kept { get; private set; }
    /// <summary>Closes and reopenings of the period, newest first.</summary>
    public IReadOnlyList<PeriodClose> History { get; private set; } = [];
    /// <summary>The last event that was posted when the figures were read.</summary>
    public long LastEvent { get; private set; }
    /// <summary>Why something was not done.</summary>
    public Refusal? Fault { get; private set; }
    /// <summary>Earlier periods of the company that are still open.</summary>
    public IReadOnlyList<ManagedPeriod> OpenBefore => [.. Periods.Where(p => p.Starts < Period!.Starts && !p.Closed).Reverse()];
    /// <summary>How many lines are still open.</summary>
    public int StillOpen => Lines.Count(l => !l.IsSettled);

    /// <summary>Shows the month's end.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>Signs a line: done, or left with a reason.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostSignAsync(string? line, string? figure, bool left, string? reason)
    {
        await Lay();
        if (Period is not { Closed: false } period || Lines.FirstOrDefault(l => l.Line.Name == line) is not { } asked)
            return Refuse(new("", "The period is closed, or has no such line. Look at it again."));
        return await store.Sign(Company.Id, UserId, period.Id, asked.Line.Name, asked.Line.Figure, figure ?? "", left, reason, Stop) is { } refusal
            ? Refuse(refusal)
            : Done($"{asked.Line.Title} of {period.Name} {(left ? "is left as it is" : "is done")}.", AtPeriod(period) + "#" + asked.Line.Name);
    }

    /// <summary>Closes the period, when every line is settled.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostCloseAsync(long seen)
    {
        await Lay();
        if (Period is not { } period)
            return NotFound();
        if (StillOpen > 0)
            return Refuse(new("",
                $"{Show.Count(StillOpen, "line")} {(StillOpen == 1 ? "is" : "are")} still open, first: {Lines.First(l => !l.IsSettled).Line.Title}. " +
                "Mend it, or leave it with a reason."));
        var kept = JsonSerializer.Serialize(Lines.Select(l => new KeptLine(l.Line.Title, l.Line.Count, l.Line.Amount, l.IsSigned && l.Signed!.WasLeft,
            l.IsSigned ? l.Signed!.Reason : "", l.IsSigned ? l.Signed!.By : null, l.IsSigned ? l.Signed!.At : null)));
        return await periods.Close(Company.Id, UserId, period.Id, seen, Stop, kept) is { } refusal ? Refuse(refusal)
            : Done($"{period.Name} is closed. Export the head of its chain and keep it where nobody who works here can alter it.", AtPeriod(period));
    }

    /// <summary>Opens the period again, with a reason.</summary>
    [Needs(Need.Approves)]
    public async Task<IActionResult> OnPostReopenAsync(string? reason)
    {
        await Lay();
        if (Period is not { } period)
            return NotFound();
        return await periods.Reopen(Company.Id, UserId, period.Id, reason, Stop) is { } refusal ? Refuse(refusal)
            : Done($"{period.Name} is open again.", AtPeriod(period));
    }

    /// <summary>The head of the chain as it was at a close, to be kept elsewhere.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetHeadAsync(long close)
    {
        await Lay();
        if (History.FirstOrDefault(c => c.Id == close) is not { Place: > 0 } of)
            return NotFound();
        var json = JsonSerializer.SerializeToUtf8Bytes(new
        {
            format = "assignum-head/1", company = Company.Code, year = Show.Field(of.Year), place = of.Place, digest = of.Digest,
            period = Period!.Name, closedAt = of.At,
        });
        return File(json, "application/json", $"head-{Company.Code.ToLowerInvariant()}-{Period.Ends:yyyy-MM-dd}.json");
    }

    /// <summary>Address of a period.</summary>
    public string AtPeriod(ManagedPeriod period) => At(FormattableString.Invariant($"month-end?period={period.Id}"));

    Microsoft.AspNetCore.Mvc.RazorPages.PageResult Refuse(Refusal refusal)
    {
        Fault = refusal;
        Response.StatusCode = StatusCodes.Status409Conflict;
        return Page();
    }

    async Task Lay()
    {
        var all = (await periods.All(Company.Id, Stop)).FindAll(p => !p.Adjustment);
        Periods = [.. Enumerable.Reverse(all)];
        var today = clock.Today();
        // The last month that has ended and is open; else the one of today.
        Period = all.Find(p => p.Id == Asked) ?? all.FindLast(p => !p.Closed && p.Ends < today && p.Entries > 0) ?? all.Find(p => p.Starts <= today
            && today <= p.Ends)
            ?? all.LastOrDefault();
        if (Period is not { } period)
            return;
        History = [.. (await periods.Closes(Company.Id, 1000, Stop)).Where(c => c.Period == period.Id)];
        if (period.Closed)
        {
            if (History is [{ Closed: true } last, ..] && await store.Statement(Company.Id, last.Id, Stop) is { } kept)
                Kept = (last, JsonSerializer.Deserialize<List<KeptLine>>(kept) ?? []);
            return;
        }
        LastEvent = await periods.LastEvent(Company.Id, Stop);
        var signed = (await store.Signed(Company.Id, period.Id, Stop)).ToDictionary(s => s.Line);
        Lines = [.. (await lines.Of(this, period, Stop)).Select(l => new LineState(l, signed.GetValueOrDefault(l.Name)))];
    }
}
