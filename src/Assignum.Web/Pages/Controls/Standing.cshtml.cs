using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Sheets;
using Assignum.Storage.Posting;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>Something that stands on another account than its rule would give today.</summary>
/// <param name="There">What it is, and where it stands.</param>
/// <param name="Today">Number of the account its rule gives today.</param>
public sealed record StandsElsewhere(StandsThere There, string Today);

/// <summary>What still stands on the old account after a rule has changed, and the transfer that moves it.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class StandingModel(StandingStore standing, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>By purpose and account, the largest first.</summary>
    public IReadOnlyList<IGrouping<(Purpose Purpose, string From), StandsElsewhere>> Groups { get; private set; } = [];

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public async Task OnGetAsync() => Groups = Grouped(await Find(standing, this, Date, Stop));

    static List<IGrouping<(Purpose, string), StandsElsewhere>> Grouped(IReadOnlyList<StandsElsewhere> all) =>
        [.. all.GroupBy(s => (s.There.Purpose, s.There.Account)).OrderByDescending(g => Math.Abs(g.Sum(s => s.There.Amount)))];

    /// <summary>All of it as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind) => Export(new Table("Old accounts", ["purpose", "standsOn", "ruleToday", "party", "item",
        "location", "currency", "quantity", "amount"], (await Find(standing, this, Date, Stop)).Select(s => (IReadOnlyList<object?>)[s.There.Purpose.Name,
        s.There.Account, s.Today, s.There.Party ?? "", s.There.Item ?? "", s.There.Location ?? "", s.There.Currency, s.There.Quantity, s.There.Amount])),
        $"old-accounts-{Date:yyyy-MM-dd}", kind);

    /// <summary>What stands elsewhere by the edition in force on a day. What stands on an alternate of its party was put there by choice and stays.</summary>
    internal static async Task<IReadOnlyList<StandsElsewhere>> Find(StandingStore standing, CompanyPage page, DateOnly day, CancellationToken stop)
    {
        var released = page.Books.Released;
        if (released.Compiled is not { } book)
            return [];
        return [.. from there in await standing.All(page.Company.Id, released.Stored.Labels, page.Company.Currency, stop)
            where there.Amount != 0
            let today = Today(book, there, day)
            where today is not null && !Fold.Same(today, there.Account) && !IsAlternate(book, there)
            select new StandsElsewhere(there, today)];
    }

    static string? Today(CompiledRulebook book, StandsThere there, DateOnly day)
    {
        var purpose = there is { Purpose: var p, Location: null } && p == Purpose.Inventory ? Purpose.InventoryInTransit : there.Purpose;
        var asked = new Asked
        {
            Party = there.Party, Item = there.Item, Currency = there.Currency,
            Further = there.Location is { } location ? [new FactValue(Fact.Location, location)] : [],
        };
        var found = Whereabouts.Of(book, there.Purpose, Whereabouts.FactsOf(book, asked), day).Account?.Number;
        // Goods at no place may be under way; where their account for that is the one they stand on, nothing is amiss.
        return purpose != there.Purpose && Whereabouts.Of(book, purpose, Whereabouts.FactsOf(book, asked), day).Account?.Number is { } underWay
            && Fold.Same(underWay, there.Account) ? underWay : found;
    }

    static bool IsAlternate(CompiledRulebook book, StandsThere there) => there.Party is { } code && book.Parties.TryFind(code, out var party)
        && party.ControlAlternates.Any(a => Fold.Same(a, there.Account));
}
