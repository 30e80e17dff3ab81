using Assignum.Core;
using Assignum.Core.Consolidating;
using Assignum.Core.Groups;
using Assignum.Formats.Sheets;
using Assignum.Storage.Companies;
using Assignum.Storage.Consolidating;
using Assignum.Storage.Posting;
using Assignum.Web.Access;
using Assignum.Web.Showing;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;

namespace Assignum.Web.Pages.Controls;

/// <summary>A partner beside us.</summary>
/// <param name="Party">The party that it is here.</param>
/// <param name="Partner">The company.</param>
/// <param name="Lines">The documents.</param>
/// <param name="Ours">What stands here of it, company currency, debit positive.</param>
/// <param name="WhyNot">Why its books can't be compared; null: they can.</param>
public sealed record BesidePartner(Party Party, Partner Partner, IReadOnlyList<BetweenLine> Lines, decimal Ours, string? WhyNot)
{
    /// <summary>What stands there of us.</summary>
    public decimal Theirs => Lines.Sum(l => l.Theirs?.Booked ?? 0);
}

/// <summary>What we owe and are owed within the group, beside what the other companies say, document by document.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class BetweenModel(GroupChartStore store, CompanyStore companies, RulebookCache books, TimeProvider clock) : SubledgerPage(clock)
{
    /// <summary>The partners.</summary>
    public IReadOnlyList<BesidePartner> Partners { get; private set; } = [];
    /// <summary>Lines on which the companies agree are shown too.</summary>
    [BindProperty(SupportsGet = true, Name = "all")]
    public bool Agreeing { get; set; }

    /// <summary>Shows them.</summary>
    [Needs(Need.Reads)]
    public Task OnGetAsync() => Lay();

    /// <summary>All lines as a table to take away.</summary>
    [Needs(Need.Reads)]
    public async Task<IActionResult> OnGetExportAsync(string? kind)
    {
        await Lay();
        return Export(new Table("Between companies", ["partner", "document", "date", "currency", "open", "booked", "dateThere", "openThere", "bookedThere",
            "difference", "why"], Partners.SelectMany(p => p.Lines.Select(l => (IReadOnlyList<object?>)[p.Partner.Code, l.Document, l.Ours?.Date,
                l.Ours?.Currency ?? l.Theirs?.Currency, l.Ours?.Open, l.Ours?.Booked, l.Theirs?.Date, l.Theirs?.Open, l.Theirs?.Booked, l.Difference,
                Words<BetweenReason>.Of(l.Reason)]))), $"between-companies-{Date:yyyy-MM-dd}", kind);
    }

    async Task Lay()
    {
        var found = new List<BesidePartner>();
        var book = Books.Released.Stored.Book;
        foreach (var party in book.Parties.Where(p => p.Partner is not null))
        {
            var partner = book.Partners.First(p => Fold.Same(p.Code, party.Partner));
            var ours = await store.Between(Company.Id, IdOf("party", party.Code)!.Value, Date, Stop);
            var (theirs, whyNot) = await Theirs(partner);
            found.Add(new(party, partner, BetweenCompanies.Compare(ours, theirs, Date), ours.Sum(i => i.Booked), whyNot));
        }
        Partners = found;
    }

    // What the other company has with us; only who may read its books sees it.
    async Task<(IReadOnlyList<BetweenItem> Items, string? WhyNot)> Theirs(Partner partner)
    {
        if (await companies.Find(partner.Code, Stop) is not { } there)
            return ([], $"{partner.Name} keeps its books elsewhere.");
        if (!User.Reads(there.Code))
            return ([], $"You may not read the books of {there.Name}.");
        if (there.Currency != Company.Currency)
            return ([], $"{there.Name} keeps its books in {there.Currency}, so only the consolidated trial balance compares them.");
        var stored = (await books.Of(there.Id, Stop)).Released.Stored;
        var items = new List<BetweenItem>();
        foreach (var us in stored.Book.Parties.Where(p => Fold.Same(p.Partner, Company.Code)))
            items.AddRange(await store.Between(there.Id, stored.Labels.IdOf("party", us.Code)!.Value, Date, Stop));
        return (items, null);
    }

    /// <summary>What books say of who owes whom: "By our books we are owed 1,036.80 on balance".</summary>
    public static string Balance(bool ours, decimal amount, Func<decimal, string> money)
    {
        var books = ours ? "By our books we" : "by theirs they";
        return amount switch { 0 => $"{books} are even", > 0 => $"{books} are owed {money(amount)}", _ => $"{books} owe {money(-amount)}" };
    }

    /// <summary>Why two companies differ, in a few words.</summary>
    public static string InWords(BetweenLine line, string there) => line.Reason switch
    {
        BetweenReason.OnlyHere => $"only here: {there} has no such document",
        BetweenReason.OnlyThere => $"only at {there}: no such document here",
        BetweenReason.OtherAmount => "other amount",
        BetweenReason.OtherDate => line.Ours!.Date < line.Theirs!.Date ? $"other date: at {there} on {Show.Day(line.Theirs.Date)}"
            : $"other date: here on {Show.Day(line.Ours.Date)}",
        BetweenReason.OtherRate => "other rate",
        BetweenReason.OtherSettlement => Math.Abs(line.Ours!.Open) < Math.Abs(line.Theirs!.Open) ? $"settled here, not at {there}"
            : $"settled at {there}, not here",
        _ => "agrees",
    };
}
