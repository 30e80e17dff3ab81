using Assignum.Core.Posting;
using Assignum.Storage.Closing;
using Assignum.Formats.Sheets;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>What is open in other currencies, by the rates of a day: shown before it posts, taken back on the next.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class RevaluationModel(RevaluationStore store, TimeProvider clock) : CompanyPage
{
    /// <inheritdoc/>
    public override string Step => "Month’s end";
    /// <summary>The day asked for.</summary>
    [BindProperty(SupportsGet = true, Name = "on")]
    public DateOnly? Asked { get; set; }
    /// <summary>The day: that asked for, else the end of the last month.</summary>
    public DateOnly On => (Asked ?? clock.Today().AddDays(-clock.Today().Day)).Reckonable();
    /// <summary>What is open.</summary>
    public IReadOnlyList<ForeignBalance> Balances { get; private set; } = [];
    /// <summary>The event that would be posted; null: nothing differs.</summary>
    public Revaluation? Made { get; private set; }
    /// <summary>How it would land.</summary>
    public Outcome? Outcome { get; private set; }
    /// <summary>Why it was not posted.</summary>
    public string? Fault { get; private set; }
    /// <summary>The differences as they are shown, so that only what was seen is posted.</summary>
    public string Seen => string.Join(';', Balances.Select(b => FormattableString.Invariant($"{b.Account}/{b.Name}/{b.Currency}/{b.Difference}")));

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>The balances as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Other currencies", ["account", "party", "name", "currency", "open", "booked", "rate", "rateDay", "worth", "difference"],
            Balances.Select(b => (IReadOnlyList<object?>)[b.Account, b.Party ?? "", b.Name, b.Currency, b.Open, b.Booked, b.Rate?.Rate, b.Rate?.Day, b.Worth,
                b.Difference])),
            $"other-currencies-{On:yyyy-MM-dd}", kind);
    }

    /// <summary>Posts it, and takes it back on the next day.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string? seen)
    {
        await Lay();
        if (seen != Seen || Made is null)
            return Refuse("Rates or balances have changed since you looked. Look at them once more, then post.");
        var (why, entry) = await store.Post(Company.Id, UserId, Made, Stop);
        return why is null ? Done($"Revalued on {Show.Day(On)}, and taken back on {Show.Day(On.AddDays(1))}.", At("journal/" + entry)) : Refuse(why);
    }

    async Task Lay()
    {
        if (Books.Released.Compiled is not { } compiled)
            return;
        Balances = await store.Open(Company.Id, Books.Released, On, Stop);
        Made = Balances.All(b => b.Worth is not null) ? await store.Made(Company.Id, Balances, On, Stop) : null;
        Outcome = Made is null ? null : Landing.Land(compiled, Made);
    }

    Microsoft.AspNetCore.Mvc.RazorPages.PageResult Refuse(string why)
    {
        Fault = why;
        Response.StatusCode = StatusCodes.Status409Conflict;
        return Page();
    }
}
