using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;
using Assignum.Storage.Controls;
using Assignum.Storage.Posting;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>A subledger beside its control accounts.</summary>
/// <param name="Control">The subledger.</param>
/// <param name="Accounts">Numbers of its control accounts.</param>
/// <param name="Ledger">What stands on them, company currency, debit positive.</param>
/// <param name="Subledger">What its movements come to.</param>
public sealed record Compared(Control Control, IReadOnlyList<string> Accounts, decimal Ledger, decimal Subledger)
{
    /// <summary>Ledger less subledger.</summary>
    public decimal Difference => Ledger - Subledger;
}

/// <summary>Ledger against subledger on any day, and the events that make the difference.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class IndexModel(ControlStore controls, StandingStore standing, TimeProvider clock) : CompanyPage
{
    const int Most = 200, Months = 12;

    /// <inheritdoc/>
    public override string Step => "Controls";
    /// <summary>The day.</summary>
    [BindProperty(SupportsGet = true, Name = "on")]
    public DateOnly? AskedDay { get; set; }
    /// <summary>Word of the subledger whose differences are shown.</summary>
    [BindProperty(SupportsGet = true, Name = "of")]
    public string? AskedFor { get; set; }

    /// <summary>The day compared at.</summary>
    public DateOnly On => AskedDay ?? clock.Today();
    /// <summary>Every subledger that has control accounts or movements.</summary>
    public IReadOnlyList<Compared> All { get; private set; } = [];
    /// <summary>The one whose differences are shown; null where there is nothing.</summary>
    public Compared? Of { get; private set; }
    /// <summary>The events that make its difference, the largest first.</summary>
    public IReadOnlyList<ControlGap> Gaps { get; private set; } = [];
    /// <summary>How many more are answered: taken back, or corrected since.</summary>
    public int Answered { get; private set; }
    /// <summary>What connected systems say of it.</summary>
    public IReadOnlyList<StatedBeside> Stated { get; private set; } = [];
    /// <summary>Numbers of documents they have given.</summary>
    public IReadOnlyList<StatedSeries> Series { get; private set; } = [];
    /// <summary>What connected systems say stands there, company currency, by subledger; null: no amount.</summary>
    public IReadOnlyDictionary<string, decimal> BySource { get; private set; } = new Dictionary<string, decimal>();

    /// <summary>What stands on accounts that are no control accounts of it, by purpose and account: one transfer moves each.</summary>
    public IEnumerable<(Purpose Purpose, string Account, decimal Amount)> Beside { get; private set; } = [];

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync() => await Lay() ? Page() : NotFound();

    /// <summary>The events that make a difference, as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        if (!await Lay() || Of is null)
            return NotFound();
        return Export(new Table("Differences", ["date", "entry", "type", "document", "party", "text", "landedOn", "ledger", "subledger", "difference"],
            Gaps.Select(g => (IReadOnlyList<object?>)[g.Date, g.EntryNumber, g.Type, g.Document, g.Party, g.Text, g.Elsewhere, g.Ledger, g.Subledger,
                g.Difference])), $"{Of.Control.Word()}-{On:yyyy-MM-dd}", kind);
    }

    /// <summary>Address of the differences as a table.</summary>
    internal string Table(string kind) => At($"controls?handler=export&kind={kind}&of={Of!.Control.Word()}&on={On:yyyy-MM-dd}");

    /// <summary>Rows that fit a page.</summary>
    public int Shown => AtMost(Most);

    /// <summary>What was out at the end of each of the last months, oldest first: since when it is.</summary>
    public IReadOnlyList<(DateOnly Month, decimal OutBy)> Since()
    {
        var last = new DateOnly(On.Year, On.Month, 1);
        return [.. Enumerable.Range(0, Months).Select(i => last.AddMonths(i - Months + 1))
            .Select(month => (month, Gaps.Where(g => g.Date < month.AddMonths(1)).Sum(g => g.Difference)))];
    }

    async Task<bool> Lay()
    {
        if (AskedFor is { Length: > 0 } && !Words<Control>.TryParse(AskedFor, out _))
            return false;
        var stored = Books.Released.Stored;
        var accounts = stored.Book.Accounts.Where(a => a.Control is not null && a.Kind == AccountKind.Posting)
            .Select(a => (a.Number, Control: a.Control!.Value, Id: stored.Labels.Account(a.Number) ?? 0)).ToList();
        var days = (await controls.Compare(Company.Id, [.. accounts.Select(a => (a.Id, a.Control.Word()))], On, Stop)).ToLookup(d => d.Of);
        All = [.. from control in Enum.GetValues<Control>()
            let own = days[control.Word()]
            where own.Any()
            select new Compared(control, [.. accounts.Where(a => a.Control == control).Select(a => a.Number)], own.Sum(d => d.Ledger),
                own.Sum(d => d.Subledger))];
        Of = Words<Control>.TryParse(AskedFor ?? "", out var asked) ? All.FirstOrDefault(c => c.Control == asked)
            : All.FirstOrDefault(c => c.Difference != 0) ?? (All.Count > 0 ? All[0] : null);
        if (Of is { } of)
        {
            (Gaps, Answered) = ControlGap.Split(await controls.Gaps(Company.Id, of.Control.Word(), [.. accounts.Where(a => a.Control == of.Control)
                .Select(a => a.Id)], [.. days[of.Control.Word()].Where(d => d.Apart).Select(d => d.Day)], Stop));
            // Where every event is the same in both, nothing stands beside the control accounts.
            if (Gaps.Count > 0)
                Beside = [.. from one in await StandingModel.Find(standing, this, On, Stop)
                    where one.There.Purpose.Control == of.Control && !of.Accounts.Contains(one.There.Account)
                    group one.There.Amount by (one.There.Purpose, one.There.Account) into beside
                    select (beside.Key.Purpose, beside.Key.Account, beside.Sum())];
            Stated = await controls.Stated(Company.Id, of.Control.Word(), On, Stop);
        }
        BySource = await controls.StatedSums(Company.Id, On, Stop);
        Series = await controls.Series(Company.Id, On, Stop);
        return true;
    }

    /// <summary>What is wrong with an event, in words.</summary>
    internal static string What(ControlGap gap)
    {
        var name = Show.Title(gap.Type);
        if (gap.Subledger == 0)
            return $"{name} on a control account that moves nothing in the subledger";
        if (gap.Elsewhere.Length > 0)
            return $"{name} {(gap.Ledger == 0 ? "" : "partly ")}on {gap.Elsewhere}, no control account of it";
        return gap.Ledger == 0 ? $"{name} without a line in the ledger" : $"{name} whose ledger lines and movements differ";
    }
}
