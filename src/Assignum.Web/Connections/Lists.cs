using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Groups;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Connections;

namespace Assignum.Web.Connections;

/// <summary>The two sides of a list: theirs as it was fetched, ours as the rulebook has it.</summary>
static class Lists
{
    internal static readonly IReadOnlyDictionary<string, string> Titles = new Dictionary<string, string>(StringComparer.Ordinal)
    {
        ["accounts"] = "Accounts", ["tax-codes"] = "Tax codes", ["customers"] = "Customers", ["suppliers"] = "Suppliers", ["categories"] = "Categories",
        ["items"] = "Items", ["projects"] = "Projects", ["people"] = "People",
    };

    /// <summary>What one of ours is called: "account", "item group".</summary>
    internal static string One(string list) => list switch
    {
        "accounts" => "account", "tax-codes" => "tax code", "customers" => "customer", "suppliers" => "supplier", "categories" => "item group",
        "items" => "item", "projects" => "project", _ => "item of labour",
    };

    /// <summary>Our entries of a list.</summary>
    internal static IReadOnlyList<MatchEntry> Ours(Rulebook book, string list) => list switch
    {
        "accounts" => [.. book.Accounts.Where(a => a.Kind == AccountKind.Posting).Select(a => new MatchEntry(a.Number, a.Name, a.Class.InWords(), a.TaxCode))],
        "tax-codes" => [.. book.TaxCodes.Select(t => new MatchEntry(t.Code, t.Name))],
        "customers" => [.. book.Parties.Where(p => p.Role != PartyRole.Supplier).Select(p => new MatchEntry(p.Code, p.Name))],
        "suppliers" => [.. book.Parties.Where(p => p.Role != PartyRole.Customer).Select(p => new MatchEntry(p.Code, p.Name))],
        "categories" => [.. book.ItemGroups.Select(g => new MatchEntry(g.Code, g.Name))],
        "items" => [.. book.Items.Select(i => new MatchEntry(i.Code, i.Name, i.Kind.Word()))],
        "projects" => [.. book.Projects.SelectMany(p => p.Tasks.Select(t => new MatchEntry($"{p.Code}/{t.Code}", $"{p.Name}, {t.Name}"))
            .Prepend(new MatchEntry(p.Code, p.Name)))],
        _ => [.. book.Items.Where(i => i.Kind == ItemKind.Labour).Select(i => new MatchEntry(i.Code, i.Name))],
    };

    /// <summary>An entry of theirs as it is compared.</summary>
    internal static MatchEntry Theirs(SentEntry entry, string list) =>
        new(entry.Code, entry.Name, list switch { "accounts" => entry.Kind?.Replace('-', ' '), "items" => entry.Kind, _ => null }, entry.Use);

    /// <summary>Our side of a list as the other system is told it.</summary>
    internal static IReadOnlyList<WireEntry> Told(Rulebook book, string list) =>
        [.. Ours(book, list).Select(e => new WireEntry(e.Code, e.Name, e.Kind, e.Use, null, null, null, null, null))];

    /// <summary>How many of ours the other system has not been told; null: it takes none.</summary>
    internal static int? NotTold(Rulebook book, KeptList list) => list.ToldAt is null ? null
        : Ours(book, list.List).Count(e => !list.Told.Contains(Fold.Of(e.Code)));
}

/// <summary>Fetches the lists of a connection.</summary>
public sealed class ListFetching(ConnectionStore connections, ListStore lists, SystemClient client)
{
    /// <summary>Asks the system how it is, and fetches every list that has changed since.</summary>
    /// <param name="company">Id of the company.</param>
    /// <param name="of">The connection.</param>
    /// <param name="stop">Cancels; a list is fetched whole or not at all.</param>
    /// <returns>What was found, by list.</returns>
    internal async Task<IReadOnlyList<(string List, Refreshed Found)>> Fetch(int company, ConnectionRow of, CancellationToken stop)
    {
        var health = await Reach(company, of, stop);
        var known = (await lists.All(company, of.Id, stop)).ToDictionary(l => l.List);
        var found = new List<(string, Refreshed)>();
        foreach (var list in health.Lists.Where(l => ListStore.Known.Contains(l.List)))
        {
            var had = known.GetValueOrDefault(list.List) is { Version: > 0 } kept ? kept.Version : (long?)null;
            var sent = await client.List(of, list.List, had, stop);
            found.Add((list.List, await lists.Refresh(company, of.Id, list.List, sent.Version, [.. sent.Entries.Select(Kept)], sent.Gone ?? [], sent.Whole,
                stop)));
        }
        return found;
    }

    /// <summary>Asks the system how it is, and keeps what it answers.</summary>
    internal async Task<Health> Reach(int company, ConnectionRow of, CancellationToken stop)
    {
        var health = await client.Health(of, stop);
        await connections.Reached(company, of.Id, System.Text.Json.JsonSerializer.Serialize(health, Wire.Json), stop);
        return health;
    }

    internal static SentEntry Kept(WireEntry e) => new(e.Code, e.Name)
    {
        Kind = e.Kind, Use = e.Use, Rate = e.Rate, Authority = e.Authority, Category = e.Category, Used = e.Used ?? 0, Amount = e.Amount,
    };
}
