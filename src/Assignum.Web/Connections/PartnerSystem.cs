using System.Globalization;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Consolidating;
using Assignum.Core.Posting;
using Assignum.Core.Rulebooks;
using Assignum.Formats.Events;
using Assignum.Storage.Companies;
using Assignum.Storage.Connections;
using Assignum.Storage.Consolidating;
using Assignum.Storage.Posting;
using Assignum.Storage.Settings;

namespace Assignum.Web.Connections;

/// <summary>A company of the group as a connected system: its lists come from its rulebook in force, its events are the sales documents that it has posted
/// for us, as the purchase documents that they are here.</summary>
public sealed class PartnerSystem(CompanyStore companies, RulebookCache books, PartnerDocumentStore documents, GroupChartStore groups, TimeProvider clock)
{
    static readonly string[] Known = ["accounts", "tax-codes", "categories", "items"];

    sealed record Sides(CompanyRow Here, CompanyRow There, Rulebook HereBook, StoredRulebook ThereBook);

    async Task<Sides> Of(PartnerLink link, CancellationToken stop)
    {
        var (here, there) = ((await companies.Find(link.Here, stop))!, (await companies.Find(link.There, stop))!);
        return new(here, there, (await books.Of(here.Id, stop)).Released.Stored.Book, (await books.Of(there.Id, stop)).Released.Stored);
    }

    static int[] PartiesFor(Sides sides) => [.. sides.ThereBook.Book.Parties.Where(p => Fold.Same(p.Partner, sides.Here.Code))
        .Select(p => sides.ThereBook.Labels.IdOf("party", p.Code)!.Value)];

    internal async Task<Health> Health(PartnerLink link, CancellationToken stop)
    {
        var sides = await Of(link, stop);
        var (many, oldest) = await documents.Count(link.There, PartiesFor(sides), [.. Mirror.Types], stop);
        var version = sides.ThereBook.State.Edition + sides.ThereBook.State.AtOnce;
        return new Health("company", sides.There.Name, clock.GetUtcNow())
        {
            Version = FormattableString.Invariant($"edition {sides.ThereBook.Edition}"), Events = (int)many, OldestEvent = oldest, EventTypes = Mirror.Types,
            Lists = [.. Known.Select(list => new HealthList(list, version, Lists.Ours(sides.ThereBook.Book, list).Count, Takes: false))],
        };
    }

    internal async Task<SentList> List(PartnerLink link, string list, CancellationToken stop)
    {
        var there = (await Of(link, stop)).ThereBook;
        var groupOf = there.Book.Items.ToDictionary(i => i.Code, i => i.Group);
        var rates = there.Book.TaxCodes.ToDictionary(t => t.Code, t => t.EffectivePercentOn(DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime)));
        return new(there.State.Edition + there.State.AtOnce, true, [.. Lists.Ours(there.Book, list).Select(e => new WireEntry(e.Code, e.Name,
            list == "accounts" ? e.Kind?.Replace(' ', '-') : e.Kind, e.Use, list == "tax-codes" ? rates.GetValueOrDefault(e.Code) : null, null,
            list == "items" ? groupOf.GetValueOrDefault(e.Code) : null, null, null))], null);
    }

    internal async Task<EventPage> Events(ConnectionRow of, string? cursor, DateOnly? from, int most, CancellationToken stop)
    {
        var link = of.Partner!;
        var sides = await Of(link, stop);
        if (sides.HereBook.Parties.FirstOrDefault(p => Fold.Same(p.Partner, sides.There.Code)) is not { } seller)
            throw new OutsideException($"No supplier here is {sides.There.Code} {sides.There.Name}. Say under Groups, Parties, which one is that company " +
                $"of the group.");
        var after = long.TryParse(cursor, NumberStyles.None, CultureInfo.InvariantCulture, out var known) ? known : 0;
        var page = await documents.After(link.There, PartiesFor(sides), [.. Mirror.Types], after, cursor is null ? from : null, most, stop);
        var mirrored = page.Select(d => (d, Sold: EventReader.Kept(d.Prepared) as Document)).Where(d => d.Sold is not null)
            .Select(d => EventWriter.Write(Mirror.Of(d.Sold!, seller.Code, sides.There.Currency, sides.Here.Currency, d.d.Total)));
        return new([.. mirrored], page.Count == 0 ? cursor ?? "0" : page[^1].Event.ToString(CultureInfo.InvariantCulture), page.Count == most);
    }

    /// <summary>Accounts there that go to the same account of the group as exactly one account here, each matched with that one.</summary>
    internal async Task<IReadOnlyList<Decided>> AccountsByGroup(PartnerLink link, CancellationToken stop)
    {
        var sides = await Of(link, stop);
        var (here, there) = (await groups.Matches(link.Here, stop), await groups.Matches(link.There, stop));
        var ours = sides.HereBook.Accounts.Where(a => a.Kind == AccountKind.Posting && here.ContainsKey(Fold.Of(a.Number)))
            .ToLookup(a => Fold.Of(here[Fold.Of(a.Number)].Debit), a => a.Number);
        return [.. sides.ThereBook.Book.Accounts.Where(a => there.ContainsKey(Fold.Of(a.Number)))
            .Select(a => (a.Number, Ours: ours[Fold.Of(there[Fold.Of(a.Number)].Debit)].Take(2).ToList())).Where(a => a.Ours.Count == 1)
            .Select(a => new Decided(a.Number, a.Ours[0], "by the group’s chart"))];
    }
}
