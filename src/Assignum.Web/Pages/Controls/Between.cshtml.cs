using Assignum.Core;
using Assignum.Core.Consolidating;
using Assignum.Core.Groups;
using Assignum.Core.Rates;
using Assignum.Formats.Sheets;
using Assignum.Storage.Companies;
using Assignum.Storage.Consolidating;
using Assignum.Storage.Posting;
using Assignum.Storage.Rates;
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
    /// <summary>The rate by which what it has booked in its own currency is compared here; null: it keeps its books in ours.</summary>
    public DayRate? Rate { get; init; }
    /// <summary>What stands there of us, company currency.</summary>
    public decimal Theirs => Lines.Sum(l => l.Theirs?.Booked ?? 0);
}

/// <summary>What we owe and are owed within the group, beside what the other companies say, document by document.</summary>
[Authorize(Policy = Policies.Reads)]
public sealed class BetweenModel(GroupChartStore store, CompanyStore companies, RulebookCache books, RateStore rates, TimeProvider clock)
    : SubledgerPage(clock)
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
            var theirs = await Theirs(partner);
            found.Add(new(party, partner, BetweenCompanies.Compare(ours, theirs.Items, Date), ours.Sum(i => i.Booked), theirs.WhyNot) { Rate = theirs.Rate });
        }
        Partners = found;
    }

    // What the other company has with us; only who may read its books sees it.
    async Task<(IReadOnlyList<BetweenItem> Items, DayRate? Rate, string? WhyNot)> Theirs(Partner partner)
    {
        if (await companies.Find(partner.Code, Stop) is not { } there)
            return ([], null, $"{partner.Name} keeps its books elsewhere.");
        if (!User.Reads(there.Code))
            return ([], null, $"You may not read the books of {there.Name}.");
        var rate = there.Currency == Company.Currency ? null : (await rates.On(Company.Id, Date, Stop)).Find(r => Fold.Same(r.Currency, there.Currency));
        if (rate is null && there.Currency != Company.Currency)
            return ([], null,
                $"{there.Name} keeps its books in {there.Currency}, for which there is no rate up to {Show.Day(Date)}. Type one under Exchange rates.");
        var stored = (await books.Of(there.Id, Stop)).Released.Stored;
        var items = new List<BetweenItem>();
        foreach (var us in stored.Book.Parties.Where(p => Fold.Same(p.Partner, Company.Code)))
            items.AddRange(await store.Between(there.Id, stored.Labels.IdOf("party", us.Code)!.Value, Date, Stop));
        return ([.. items.Select(i => i with { Booked = Money.Round(i.Booked * (rate?.Rate ?? 1), Decimals) })], rate, null);
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
