using Assignum.Core;
using Assignum.Core.Matching;
using Assignum.Formats.Connections;
using Assignum.Storage.Connections;
using Assignum.Storage.Posting;

namespace Assignum.Web.Connections;

/// <summary>How the events of a company's connections are read: with the matches of the edition in force, and those that hold at once.</summary>
public sealed class Readings
{
    readonly Dictionary<int, SentReading> byConnection;

    Readings(Dictionary<int, SentReading> byConnection) => this.byConnection = byConnection;

    internal SentReading Of(int connection) => byConnection[connection];

    internal static async Task<Readings> Load(ConnectionStore connections, MatchStore matches, ListStore lists, RulebookCache books, int company,
        CancellationToken stop)
    {
        var all = await connections.All(company, stop);
        var settings = (await books.Released(company, stop)).Stored.Book.Matches.ToLookup(m => Fold.Of(m.Connection));
        var atOnce = (await matches.AtOnce(company, stop)).ToLookup(m => m.Connection);
        var kept = (await lists.Counts(company, stop)).ToLookup(c => c.Connection, c => c.List);
        return new(all.ToDictionary(c => c.Id, c =>
        {
            var ours = new Dictionary<(string, string), string>();
            foreach (var match in settings[c.Source])
                ours[(Words<SettingList>.Of(match.List), Fold.Of(match.Theirs))] = match.Ours;
            foreach (var match in atOnce[c.Id])
                ours[(match.List, match.Theirs)] = match.Ours;
            var has = kept[c.Id].ToHashSet(StringComparer.Ordinal);
            return new SentReading(c.Code, (list, code) => ours.GetValueOrDefault((list, Fold.Of(code))), has.Contains, ZoneOf(c), c.DayEnd,
                c.Switches.Items == UnknownItems.ByCategory, c.Switches.Collective);
        }));
    }

    internal static TimeZoneInfo ZoneOf(ConnectionRow of) => TimeZoneInfo.TryFindSystemTimeZoneById(of.TimeZone, out var zone) ? zone : TimeZoneInfo.Utc;
}
