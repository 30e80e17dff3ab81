using Assignum.Core;
using Assignum.Core.Groups;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Pages.Controls;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.TryOut;

/// <content>Forms that settle what is open, and events drawn up from what stands in the books.</content>
public sealed partial class IndexModel
{
    /// <summary>Begins a settlement of chosen items of a party.</summary>
    /// <param name="party">Code of the party.</param>
    /// <param name="item">The items, "event|purpose".</param>
    /// <param name="letGo">What they come to is let go.</param>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetSettleAsync(string party, string[] item, bool letGo)
    {
        if (Books.Released.Stored.Labels.IdOf("party", party) is not { } id)
            return NotFound();
        var chosen = item.ToHashSet(StringComparer.Ordinal);
        var items = new List<PartyItem>();
        foreach (var subledger in new[] { "receivables", "payables" })
            items.AddRange((await openItems.Of(Company.Id, subledger, id, Today, MostItems, Stop)).Select(i => i.Item)
                .Where(i => chosen.Contains($"{i.Event}|{i.Purpose}")));
        Form = new TryOutForm { Id = NewId(), Kind = EventForm.Find(Settlement.Name), Date = Today };
        Form["party"] = Named(party, PartyName(party));
        Form.AddLine();
        if (items.Count == 0)
            return Refuse("No item is chosen, or it is not open any more. Go back, and tick what is to be settled.");
        if (items.Select(i => i.Currency).Distinct().Skip(1).Any())
            return Refuse("The chosen items are in several currencies. Settle those of one currency at a time.");
        if (!letGo && items.TrueForAll(i => i.Open > 0) | items.TrueForAll(i => i.Open < 0))
            return Refuse("All chosen items stand on the same side, so there is nothing to settle them with. Choose a credit note or a payment on account " +
                "too, or let them go.");
        return await Begin(Drawing.Settling(NewId(), Today, party, [.. items.OrderBy(i => i.Due)], letGo));
    }

    /// <summary>Begins the transfer of what still stands on an old account.</summary>
    /// <param name="purpose">What it is.</param>
    /// <param name="from">Number of the account.</param>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetTransferAsync(string purpose, string from) => Purpose.Find(purpose) is not { } known ? NotFound()
        : await Begin(Drawing.Transfer(NewId(), Today, known, from, await StandingModel.Find(standing, this, Today, Stop), Company.Currency));

    /// <summary>What is open of whom is named, in a form that settles; null in others.</summary>
    public SettlingTable? Settling { get; private set; }
    /// <summary>Somebody else is named, or another currency, than the items in the form are of.</summary>
    public bool ItemsChanged { get; private set; }

    /// <summary>Address of what opened an item and every settlement of it.</summary>
    public string AtItem(SettleRow row) => At($"open-items/{row.Subledger}/{Uri.EscapeDataString(Settling!.Party)}?handler=item&item={row.Item.Event}");

    // Items are laid out when the page is drawn, and when somebody else is named: never under the fingers of who types.
    async Task LaySettling(bool onlyWhenChanged = false)
    {
        var type = Form.Kind.Name;
        if (!SettlingTable.Takes(type))
            return;
        Settling = await SettlingOf(type);
        ItemsChanged = Form["itemsOf"] != (Settling.Key.Length == 0 ? null : Settling.Key);
        if (!onlyWhenChanged || ItemsChanged)
            Settling.LayOut(Form);
    }

    async Task<SettlingTable> SettlingOf(string type)
    {
        var (released, currency) = (Books.Released, Form["currency"] is { } typed ? Fold.Of(typed) : Company.Currency);
        if (Pick.One(Form["party"], released.Stored.Book.Parties, p => p.Code, p => p.Name, "party").Thing is not { } party
            || released.Stored.Labels.IdOf("party", party.Code) is not { } id)
            return SettlingTable.Empty;
        var rows = new List<SettleRow>();
        foreach (var subledger in new[] { "receivables", "payables" })
            foreach (var (_, item) in await openItems.Of(Company.Id, subledger, id, DateOnly.MaxValue, MostItems, Stop))
                if (item.Open != 0 && SettlingTable.Fits(type, item) && released.Stored.NumberOf(item.AccountId) is { } account)
                    rows.Add(new(item, subledger, account, RuleToday(party, item, account)));
        return new($"{party.Code}|{currency}", party.Code, currency,
            [.. rows.Where(r => r.Item.Currency == currency).OrderBy(r => r.Item.Due).ThenBy(r => r.Item.Event)],
            (await terms.Of(Company.Id, [id], Stop)).GetValueOrDefault(id))
        {
            Others = [.. rows.Select(r => r.Item.Currency).Where(c => c != currency).Distinct().Order(StringComparer.Ordinal)],
        };
    }

    string? RuleToday(Party party, PartyItem item, string account)
    {
        if (Books.Released.Compiled is not { } book || Purpose.Find(item.Purpose) is not { } purpose || party.ControlAlternates.Any(a => Fold.Same(a, account)))
            return null;
        var today = Whereabouts.Of(book, purpose, Whereabouts.FactsOf(book, new Asked { Party = party.Code, Currency = item.Currency }), Today).Account?.Number;
        return today is null || Fold.Same(today, account) ? null : today;
    }
}
