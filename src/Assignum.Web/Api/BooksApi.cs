using System.Globalization;
using Assignum.Core;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Connections;
using Assignum.Storage.Posting;
using Assignum.Web.Connections;

namespace Assignum.Web.Api;

/// <summary>Entries and landings out, in the order in which they were posted, and where something would land.</summary>
sealed class BooksApi(OutgoingStore outgoing, RulebookCache books, TimeProvider clock)
{
    const int Most = 1000;

    static bool Page(HttpContext http, out long after, out int most, out IResult? fault)
    {
        (after, most, fault) = (0, 200, null);
        var (typed, limit) = (http.Request.Query["after"].ToString(), http.Request.Query["limit"].ToString());
        if ((typed.Length == 0 || long.TryParse(typed, NumberStyles.None, CultureInfo.InvariantCulture, out after))
            && (limit.Length == 0 || (int.TryParse(limit, NumberStyles.None, CultureInfo.InvariantCulture, out most) && most is > 0 and <= Most)))
            return true;
        fault = Problem.Of(400, "Not a page",
            $"after is the cursor of the page before, and limit a number from 1 to {Most}. Leave both out for the first page.");
        return false;
    }

    /// <summary>Entries of the whole company, each with its event and its lines.</summary>
    internal async Task<IResult> Entries(HttpContext http)
    {
        if (!Page(http, out var after, out var most, out var fault))
            return fault!;
        var page = await outgoing.Entries(http.Holder().Company, after, most + 1, http.RequestAborted);
        return Results.Json(new { entries = page.Take(most), next = page.Count > most ? page[most - 1].Id.ToString(CultureInfo.InvariantCulture) : null,
            last = page.Count > 0 ? page[Math.Min(most, page.Count) - 1].Id : after }, Wire.Json);
    }

    /// <summary>Lines with their trail: rung, rule and edition.</summary>
    internal async Task<IResult> Landings(HttpContext http)
    {
        if (!Page(http, out var after, out var most, out var fault))
            return fault!;
        var connection = await http.Connection();
        var page = await outgoing.Landings(http.Holder().Company, connection.Source, after, most + 1, http.RequestAborted);
        return Results.Json(new { events = page.Take(most), next = page.Count > most ? page[most - 1].EventId.ToString(CultureInfo.InvariantCulture)
            : null }, Wire.Json);
    }

    /// <summary>Where every purpose lands for given facts.</summary>
    internal async Task<IResult> Where(HttpContext http)
    {
        var query = http.Request.Query;
        var (connection, book) = (await http.Connection(), await books.Released(http.Holder().Company, http.RequestAborted));
        var date = DateOnly.FromDateTime(clock.GetUtcNow().UtcDateTime);
        if (query["date"].ToString() is { Length: > 0 } typed && !DateOnly.TryParseExact(typed, "yyyy-MM-dd", CultureInfo.InvariantCulture,
            DateTimeStyles.None, out date))
            return Problem.Of(400, "Not a day", $"date is “{typed}”. Write it as YYYY-MM-DD.");
        string? Of(string name) => query[name].ToString() is { Length: > 0 } value ? value : null;
        var compiled = book.Compiled!;
        if (Of("party") is { } party && !compiled.Parties.TryFind(party, out _))
            return Problem.Of(400, "Not here", $"There is no party {party}. Use our codes; GET /api/v1/lists/customers has them.");
        if (Of("item") is { } item && !compiled.Items.TryFind(item, out _))
            return Problem.Of(400, "Not here", $"There is no item {item}. Use our codes; GET /api/v1/lists/items has them.");
        var facts = Whereabouts.FactsOf(compiled, new Asked
        {
            Party = Of("party"), Item = Of("item"), ItemGroup = Of("itemGroup"), TaxCode = Of("taxCode"), Currency = Of("currency"),
            Further = [.. new[] { (Fact.Connection, connection.Code), (Fact.Location, Of("location")), (Fact.Method, Of("method")) }.Where(f =>
                f.Item2 is not null)
                .Select(f => new FactValue(f.Item1, f.Item2!))],
        });
        return Results.Json(new { date, edition = book.Stored.Edition, purposes = Whereabouts.Of(compiled, facts, date).Select(l =>
            new { purpose = l.Purpose.Name,
            account = l.Account?.Number, rung = l.Rung?.Name, rule = l.Rule?.Id, reason = l.Account is null ? "no-rule" : null }) }, Wire.Json);
    }
}
