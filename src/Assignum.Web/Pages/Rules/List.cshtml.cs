using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;
using Assignum.Web.Access;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Rules;

/// <summary>The rules of one rung that fit the filter.</summary>
/// <param name="Rung">The rung.</param>
/// <param name="Fitting">How many fit.</param>
/// <param name="Shown">Those shown.</param>
public sealed record RulesOnRung(Rung Rung, int Fitting, IReadOnlyList<Rule> Shown);

/// <summary>The rules of a purpose, rung by rung.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class ListModel(Coverages coverages, TimeProvider clock) : PurposePage(coverages, clock)
{
    const int MostShown = 100;

    HashSet<Rule> released = [];

    /// <inheritdoc/>
    public override string View => "list";
    /// <summary>What facts, account, id or note must have in them.</summary>
    [BindProperty(SupportsGet = true, Name = "q")]
    public string? Filter { get; set; }
    /// <summary>Name of the one rung shown; empty: all.</summary>
    [BindProperty(SupportsGet = true, Name = "rung")]
    public string? RungName { get; set; }
    /// <summary>The rungs with their rules.</summary>
    public IReadOnlyList<RulesOnRung> Rungs { get; private set; } = [];

    /// <summary>Shows the rules.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGet(string purpose)
    {
        if (!Lay(purpose))
            return NotFound();
        released = [.. Books.Released.Stored.Book.Rules.Where(r => r.Purpose == Purpose)];
        var byRung = Fitting().ToLookup(r => r.Rung);
        var most = AtMost(RungName is { Length: > 0 } ? 10 * MostShown : MostShown);
        Rungs = [.. Ladder.Where(r => RungName is not { Length: > 0 } || r.Name == RungName).Select(r =>
            new RulesOnRung(r, byRung[r].Count(), [.. byRung[r].OrderBy(x => x.InWords, StringComparer.OrdinalIgnoreCase).ThenBy(x => x.From).Take(most)]))];
        return Page();
    }

    /// <summary>The rules that fit, as a table to take away.</summary>
    [Needs(Need.Reads)]
    public IActionResult OnGetExport(string purpose, string? kind)
    {
        if (!Lay(purpose))
            return NotFound();
        Fact[] facts = [.. Ladder.SelectMany(r => r.Facts).Distinct().Order()];
        return Export(new Table("Rules", ["purpose", "rung", .. facts.Select(f => f.Name()), "account", "name", "from", "to", "note"],
            Fitting().Select(r => (IReadOnlyList<object?>)
            [Purpose.Name, r.Rung.Name, .. facts.Select(f => r.When.FirstOrDefault(w => w.Fact == f).Code ?? ""), r.Account, AccountName(r.Account),
                Showing.Show.Field(r.From), Showing.Show.Field(r.To), r.Note ?? ""])), $"rules-{Purpose.Name}", kind);
    }

    /// <summary>Whether the draft brings or changes the rule.</summary>
    public bool InDraft(Rule rule) => !released.Contains(rule);

    IEnumerable<Rule> Fitting()
    {
        var sought = new Sought(Filter);
        return Draft.Book.Rules.Where(r => r.Purpose == Purpose && sought.In($"{r.InWords} {r.Account} {AccountName(r.Account)} {r.Id} {r.Note}"));
    }
}
