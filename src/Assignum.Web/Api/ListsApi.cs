using System.Text.Json;
using Assignum.Core;
using Assignum.Core.Matching;
using Assignum.Storage.Connections;
using Assignum.Storage.Posting;
using Assignum.Web.Connections;

namespace Assignum.Web.Api;

/// <summary>Lists in and out: theirs to be matched, ours to be chosen from, and what is matched with what.</summary>
sealed class ListsApi(ListStore lists, MatchStore matches, RulebookCache books, TimeProvider clock)
{
    const int Most = 1000;

    static IResult NoList(string list) => Problem.Of(404, "No such list", $"There is no list {list}. The lists are {string.Join(", ", ListStore.Known)}.");

    /// <summary>Our entries of a list, by code.</summary>
    internal async Task<IResult> Ours(HttpContext http, string list)
    {
        if (!ListStore.Known.Contains(list))
            return NoList(list);
        var all = Lists.Told((await books.Released(http.Holder().Company, http.RequestAborted)).Stored.Book, list).OrderBy(e => Fold.Of(e.Code),
            StringComparer.Ordinal);
        var after = http.Request.Query["after"].ToString();
        var page = all.Where(e => after.Length == 0 || string.CompareOrdinal(Fold.Of(e.Code), Fold.Of(after)) > 0).Take(Most + 1).ToList();
        return Results.Json(new { list, entries = page.Take(Most), next = page.Count > Most ? page[Most - 1].Code : null }, Wire.Json);
    }

    sealed record Sent(bool Whole, List<WireEntry>? Entries, List<string>? Gone);

    /// <summary>Takes their entries over.</summary>
    internal async Task<IResult> Take(HttpContext http, string list)
    {
        if (!ListStore.Known.Contains(list))
            return NoList(list);
        Sent? sent;
        try
        {
            sent = await JsonSerializer.DeserializeAsync<Sent>(http.Request.Body, Wire.Json, http.RequestAborted);
        }
        catch (JsonException fault)
        {
            return Problem.Of(422, "It can't be read",
                $"The list can't be read: {fault.Message.Split(". ")[0]}. Send an object with entries, each with code and name.");
        }
        var entries = sent?.Entries ?? [];
        if (entries.FirstOrDefault(e => string.IsNullOrWhiteSpace(e.Code) || e.Code.Length > 100 || (e.Name?.Length ?? 0) > 200) is { } bad)
            return Problem.Of(422, "It can't be taken",
                $"Entry “{bad.Code}” has no code of 1 to 100 characters, or a name of more than 200. Correct it, and send the list again.");
        var connection = await http.Connection();
        var found = await lists.Refresh(http.Holder().Company, connection.Id, list, clock.GetUtcNow().ToUnixTimeMilliseconds(),
            [.. entries.Select(ListFetching.Kept)],
            sent?.Gone ?? [], sent?.Whole ?? false, http.RequestAborted);
        return Results.Json(new { list, @new = found.New, changed = found.Changed, gone = found.Gone }, Wire.Json);
    }

    /// <summary>What is matched with what, by the edition in force.</summary>
    internal async Task<IResult> Matches(HttpContext http, string list)
    {
        if (!ListStore.Known.Contains(list))
            return NoList(list);
        var (company, connection) = (http.Holder().Company, await http.Connection());
        var all = MatchStore.SettingOf(list) is { } setting
            ? (await books.Released(company, http.RequestAborted)).Stored.Book.MatchesOf(connection.Code, setting).Values
                .Select(m => (m.Theirs, m.Ours))
            : (await matches.AtOnce(company, http.RequestAborted)).Where(m => m.Connection == connection.Id && m.List == list).Select(m => (m.Theirs, m.Ours));
        return Results.Json(new { list, matches = all.Select(m => new { theirs = m.Theirs, ours = m.Ours }) }, Wire.Json);
    }
}
