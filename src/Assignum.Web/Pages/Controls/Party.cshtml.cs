using Assignum.Core.Groups;
using Assignum.Core.Preparation;
using Assignum.Formats.Sheets;
using Assignum.Storage.Subledgers;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using CorePurpose = Assignum.Core.Rulebooks.Purpose;

namespace Assignum.Web.Pages.Controls;

/// <summary>An open item with the subledger it is in.</summary>
/// <param name="Subledger">"receivables" or "payables".</param>
/// <param name="Item">The item.</param>
public sealed record ItemHere(string Subledger, PartyItem Item);

/// <summary>The settlements of an item, for the drawer.</summary>
/// <param name="Page">The page.</param>
/// <param name="Item">The event that opened it.</param>
/// <param name="Moves">What opened it and what it was settled by.</param>
public sealed record ItemPanel(PartyModel Page, long Item, IReadOnlyList<PartyMove> Moves);

/// <summary>The open items of one party: settled against each other, let go, or paid.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class PartyModel(OpenItemStore items, TermsStore terms, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>"receivables" or "payables".</summary>
    [BindProperty(SupportsGet = true)]
    public string Of { get; set; } = "";
    /// <summary>Code of the party.</summary>
    [BindProperty(SupportsGet = true)]
    public string Party { get; set; } = "";

    /// <summary>The party.</summary>
    public Party Who { get; private set; } = null!;
    /// <summary>What is open, the oldest first; of a party of both roles both subledgers.</summary>
    public IReadOnlyList<ItemHere> Items { get; private set; } = [];
    /// <summary>Its terms of payment; null: none.</summary>
    public Terms? Terms { get; private set; }
    /// <summary>Payables are shown as what is owed: the other way round.</summary>
    public int Side => Of == "payables" ? -1 : 1;
    /// <summary>It is customer and supplier.</summary>
    public bool IsBoth => Who.Role == PartyRole.Both;

    int id;

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetAsync()
    {
        if (!Find())
            return NotFound();
        Terms = (await terms.Of(Company.Id, [id], Stop)).GetValueOrDefault(id);
        Items = await Read(AtMost(1000));
        return Page();
    }

    bool Find()
    {
        if (Of is not ("receivables" or "payables") || !Books.Released.Shown.Parties.TryFind(Party, out var who) || IdOf("party", who.Code) is not { } known)
            return false;
        (Who, id) = (who, known);
        return true;
    }

    async Task<IReadOnlyList<ItemHere>> Read(int most)
    {
        var own = (await items.Of(Company.Id, Of, id, Date, most, Stop)).ConvertAll(i => new ItemHere(Of, i.Item));
        if (!IsBoth)
            return own;
        var other = Of == "payables" ? "receivables" : "payables";
        return [.. own, .. (await items.Of(Company.Id, other, id, Date, most, Stop)).Select(i => new ItemHere(other, i.Item))];
    }

    /// <summary>Opens what opened an item and what it was settled by.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetItemAsync(long item)
    {
        if (await OnGetAsync() is NotFoundResult missing)
            return missing;
        return await items.OfItem(Company.Id, item, Stop) is { Count: > 0 } moves ? Drawer("_Item", new ItemPanel(this, item, moves)) : NotFound();
    }

    /// <summary>The items as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind) => !Find() ? NotFound()
        : Export(Table((await Read(MostExported)).Select(i => (Who.Code, i.Item)), NumberOf), $"{Who.Code}-open-{Date:yyyy-MM-dd}", kind);

    internal static Table Table(IEnumerable<(string Party, PartyItem Item)> all, Func<int, string> numberOf) =>
        new("Open items", ["party", "document", "event", "type", "what", "date", "due", "account", "currency", "opened", "open", "companyAmount"],
            all.Select(i => (IReadOnlyList<object?>)[i.Party, i.Item.Document, i.Item.SourceId, i.Item.Type, i.Item.Purpose, i.Item.Date, i.Item.Due,
                numberOf(i.Item.AccountId), i.Item.Currency, i.Item.Opened, i.Item.Open, i.Item.Company]));

    /// <summary>What an item is, in words: by its sign also a credit note or a payment on account.</summary>
    internal static string What(PartyItem item)
    {
        var normal = item.Purpose is "receivable" or "supplier-deposit" ? 1 : -1;
        if (item.Purpose is "customer-deposit" or "supplier-deposit")
            return "deposit";
        if (Math.Sign(item.Open) == normal)
            return Show.Title(item.Type).ToLowerInvariant();
        return item.Type.EndsWith("payment", StringComparison.Ordinal) ? "payment on account" : Show.Title(item.Type).ToLowerInvariant();
    }

    /// <summary>The purpose of an item in words.</summary>
    internal static string InWords(string purpose) => CorePurpose.Find(purpose)?.InWords ?? purpose;
}
