using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Posting;
using Assignum.Formats.Events;
using Assignum.Storage.Charts;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Assignum.Web.Pages.Chart;

/// <summary>Merges an account into another, after showing exactly what will happen.</summary>
[Authorize(Policy = Policies.Prepares)]
public sealed class MergeModel(ChartStore charts, MergeStore merges, BalanceStore balances, TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Chart";
    /// <summary>The account that goes.</summary>
    public Account From { get; private set; } = null!;
    /// <summary>What was typed for the account that stays.</summary>
    public string? Typed { get; private set; }
    /// <summary>Why what was typed does not do, or why the merge was refused.</summary>
    public string? Fault { get; private set; }
    /// <summary>What would happen; null until both accounts are known.</summary>
    public AccountMerge? Plan { get; private set; }
    /// <summary>What stands on the account, by currency, dimensions and party.</summary>
    public IReadOnlyList<MovedBalance> Parts { get; private set; } = [];
    /// <summary>Day on which the balance moves.</summary>
    public DateOnly Day { get; private set; }
    /// <summary>Rules in force that still answer with the account until the draft is released.</summary>
    public int StillInForce { get; private set; }

    /// <summary>Shows the merge.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnGetAsync(string from, string? to) => await Lay(from, to) ? Page() : NotFound();

    /// <summary>Carries it out.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string from, string? to, long seen, bool balance, DateOnly? day)
    {
        if (!await Lay(from, to))
            return NotFound();
        if (Plan is null)
            return Refused(Fault ?? "Choose the account that stays.");
        var (source, target) = (Draft.Labels.Account(Plan.From.Number)!.Value, Draft.Labels.Account(Plan.To.Number)!.Value);
        Day = day ?? Day;
        if (await merges.Merge(Company.Id, UserId, source, target, seen, balance && Parts.Count > 0 ? Move : null, Stop) is { } refusal)
            return Refused(refusal.Message);
        return Done($"{Plan.From.Number} {Plan.From.Name} is merged into {Plan.To.Number} {Plan.To.Name}: {Show.Count(Plan.Rules.Count, "rule")} in draft " +
            $"{Books.State.Draft}{(balance && Parts.Count > 0 ? $", {Show.Amount(Parts.Sum(p => p.Amount), Decimals)} moved" : "")}.",
                AtAccount(Plan.To.Number));
    }

    PostableEvent Move(Account from, Account to, IReadOnlyList<MovedBalance> parts)
    {
        return Sending.Postable.Own(new Reclassification
        {
            Id = $"MERGE-{from.Number}-{to.Number}-{clock.GetUtcNow():yyyyMMddHHmmssfff}", Date = Day, Text = $"{from.Name} merged into {to.Name}",
                From = from.Number, To = to.Number, Lines = parts,
        });
    }

    async Task<bool> Lay(string from, string? to)
    {
        var chart = await charts.Of(Company.Id, Draft, Stop);
        if (chart.Tree.Find(from) is not { } source)
            return false;
        (From, Typed, Day) = (source, to, clock.Today());
        Parts = await merges.BalanceOf(Company.Id, Draft.Labels.Account(source.Number)!.Value, source.Control is not null, Stop);
        // A day that no period has is no day to post on: the last one posted on is nearer.
        var periods = await balances.Periods(Company.Id, Stop);
        if (periods.Count > 0 && !periods.Any(p => p.Starts <= Day && Day <= p.Ends))
            Day = periods[^1].Ends;
        StillInForce = Books.Released.Stored.Book.Rules.Count(r => Fold.Same(r.Account, source.Number));
        var picked = Pick.One(to, chart.Book.Accounts.Where(a => a.Kind == AccountKind.Posting && !Fold.Same(a.Number, source.Number)), a => a.Number, a =>
            a.Name, "account");
        (Fault, Plan) = (picked.Fault, picked.Thing is { } target ? AccountMerge.Plan(chart, source, target) : null);
        return true;
    }

    PageResult Refused(string fault)
    {
        Fault = fault;
        Response.StatusCode = StatusCodes.Status400BadRequest;
        return Page();
    }
}
