using Assignum.Core.Posting;
using Assignum.Formats.Sheets;
using Assignum.Storage.LateCharges;
using Assignum.Storage.Posting;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.MonthEnd;

/// <summary>What is charged to customers who pay late, by their terms: shown before it posts, each customer can be left out.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class LateChargesModel(LateChargeStore store, TimeProvider clock) : RunPage(clock)
{
    /// <summary>What is proposed.</summary>
    public IReadOnlyList<LateParty> Proposed { get; private set; } = [];
    /// <summary>Nobody's terms say what being late costs.</summary>
    public bool NoTerms { get; private set; }
    /// <summary>The figures as they are shown, so that only what was seen is posted.</summary>
    public string Seen => string.Join(';', Proposed.Select(p => FormattableString.Invariant($"{Key(p)}/{p.Interest}/{p.Fee}")));

    /// <summary>A customer and a currency, as a form names them.</summary>
    public static string Key(LateParty party) => $"{party.Party}/{party.Currency}";

    /// <summary>Shows it.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>The items as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Late charges", ["party", "name", "document", "due", "currency", "open", "from", "to", "days", "interest", "fee"],
            Proposed.SelectMany(p => p.Items.Select((i, n) => (IReadOnlyList<object?>)[p.Party, p.Name, i.Document, i.Due, p.Currency, i.Open, i.Interest?.From,
                i.Interest?.To, i.Interest?.Days, i.Interest?.Interest, n == 0 ? p.Fee : null]))), $"late-charges-{On:yyyy-MM-dd}", kind);
    }

    /// <summary>Posts the charges of the customers that are ticked: all, or none.</summary>
    [Needs(Need.Prepares)]
    public async Task<IActionResult> OnPostAsync(string? seen, string[] parties)
    {
        await Lay();
        if (seen != Seen)
            return Refuse(Changed);
        var chosen = Proposed.Where(p => parties.Contains(Key(p), StringComparer.Ordinal)).ToList();
        if (chosen.Count == 0)
            return Refuse("No customer is ticked. Tick those that are charged.");
        var made = await store.Made(Company.Id, chosen, On, Stop);
        var why = await store.Post(Company.Id, UserId, chosen, made, On, Stop);
        return why is null ? Done($"{Show.Count(chosen.Count, "customer")} charged on {Show.Day(On)}.", At("open-items/receivables")) : Refuse(why);
    }

    async Task Lay()
    {
        Proposed = await store.Propose(Company.Id, Books.Released, On, Stop);
        LandAll(await store.Made(Company.Id, [.. Proposed.Where(p => p.Currency == Company.Currency)], On, Stop));
    }
}
