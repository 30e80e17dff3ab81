using System.Collections.Concurrent;
using Assignum.Core;
using Assignum.Core.Matching;
using Assignum.Core.Rulebooks;
using Assignum.Storage.Connections;

namespace Assignum.Web.Connections;

/// <summary>An entry of theirs that is decided.</summary>
/// <param name="Theirs">The entry.</param>
/// <param name="Ours">Ours; null: it is not needed here.</param>
/// <param name="Decision">What was decided; null where only the draft says it.</param>
public sealed record DecidedEntry(KeptEntry Theirs, MatchEntry? Ours, Decision? Decision);

/// <summary>The two sides of a list with what is decided, and what is suggested for what waits.</summary>
public sealed class Board
{
    readonly Suggestions suggestions;
    readonly Dictionary<string, int> placeOf;
    readonly IReadOnlyList<MatchEntry> suggestedFrom;
    readonly HashSet<string> taken;

    Board(string list, IReadOnlyList<KeptEntry> all, IReadOnlyList<DecidedEntry> decided, IReadOnlyList<KeptEntry> waiting, IReadOnlyList<MatchEntry> free,
        CachedSuggestions cached)
    {
        (List, All, Decided, Waiting, Free) = (list, all, decided, waiting, free);
        (suggestions, placeOf, suggestedFrom) = (cached.Suggestions, cached.PlaceOf, cached.Ours);
        taken = decided.Where(d => d.Ours is not null).Select(d => Fold.Of(d.Ours!.Code)).ToHashSet(StringComparer.Ordinal);
    }

    /// <summary>Which list.</summary>
    public string List { get; }
    /// <summary>Every entry that is still there.</summary>
    public IReadOnlyList<KeptEntry> All { get; }
    /// <summary>Entries that are matched, or not needed.</summary>
    public IReadOnlyList<DecidedEntry> Decided { get; }
    /// <summary>Entries that wait.</summary>
    public IReadOnlyList<KeptEntry> Waiting { get; }
    /// <summary>Ours that are matched with none.</summary>
    public IReadOnlyList<MatchEntry> Free { get; }
    /// <summary>How many of ours there are.</summary>
    public int Ours => Free.Count + taken.Count;

    /// <summary>What is suggested for an entry that waits, best first: up to three of ours that are free.</summary>
    public IReadOnlyList<(MatchEntry Ours, Suggestion Why)> For(KeptEntry entry) =>
        placeOf.TryGetValue(Fold.Of(entry.Sent.Code), out var place)
            ? [.. suggestions.Near[place].Where(s => !taken.Contains(Fold.Of(suggestedFrom[s.Ours].Code))).Take(3).Select(s => (suggestedFrom[s.Ours], s))]
                : [];

    /// <summary>The best of them; null: nothing of ours is like it.</summary>
    public (MatchEntry Ours, Suggestion Why)? BestFor(KeptEntry entry) => For(entry) is [var best, ..] ? best : null;

    /// <summary>Entries with a good suggestion, each of ours once.</summary>
    public IReadOnlyList<(KeptEntry Theirs, MatchEntry Ours, Suggestion Why)> Good
    {
        get
        {
            var used = new HashSet<string>(StringComparer.Ordinal);
            return [.. Waiting.Select(w => (Theirs: w, Best: BestFor(w))).Where(w => w.Best is { Why.Score: >= Suggesting.Good })
                .OrderByDescending(w => w.Best!.Value.Why.Score).Where(w => used.Add(w.Best!.Value.Ours.Code))
                .Select(w => (w.Theirs, w.Best!.Value.Ours, w.Best.Value.Why))];
        }
    }

    /// <summary>Entries with the same number and the same name as one of ours.</summary>
    public IReadOnlyList<(KeptEntry Theirs, MatchEntry Ours, Suggestion Why)> Equal =>
        [.. Good.Where(g => Fold.Same(g.Theirs.Sent.Code, g.Ours.Code) && Fold.Same(g.Theirs.Sent.Name, g.Ours.Name))];

    /// <summary>Lays a list out.</summary>
    /// <param name="book">The draft.</param>
    /// <param name="connection">The connection.</param>
    /// <param name="list">The list.</param>
    /// <param name="entries">Their entries.</param>
    /// <param name="cache">Where suggestions are kept while somebody matches.</param>
    internal static Board Of(Rulebook book, ConnectionRow connection, string list, IReadOnlyList<KeptEntry> entries, SuggestionCache cache)
    {
        var ours = Lists.Ours(book, list);
        var byCode = ours.DistinctBy(o => Fold.Of(o.Code)).ToDictionary(o => Fold.Of(o.Code));
        var settings = MatchStore.SettingOf(list) is { } setting
            ? book.MatchesOf(connection.Code, setting) : null;
        var (decided, waiting) = (new List<DecidedEntry>(), new List<KeptEntry>());
        var there = entries.Where(e => e.GoneAt is null).ToList();
        foreach (var entry in there)
        {
            var code = settings is null ? entry.Decided?.Ours : settings.GetValueOrDefault(Fold.Of(entry.Sent.Code))?.Ours;
            if (code is not null && byCode.TryGetValue(Fold.Of(code), out var matched))
                decided.Add(new(entry, matched, entry.Decided));
            else if (entry.Decided is { Ours: null })
                decided.Add(new(entry, null, entry.Decided));
            else
                waiting.Add(entry);
        }
        var used = decided.Where(d => d.Ours is not null).Select(d => Fold.Of(d.Ours!.Code)).ToHashSet(StringComparer.Ordinal);
        var free = ours.Where(o => !used.Contains(Fold.Of(o.Code))).ToList();
        return new(list, there, decided, waiting, free, cache.For((connection.Id, list), [.. waiting.Select(w => Lists.Theirs(w.Sent, list))], free));
    }
}

/// <summary>Suggestions with what they were made from.</summary>
public sealed record CachedSuggestions(IReadOnlyList<MatchEntry> Theirs, IReadOnlyList<MatchEntry> Ours, Suggestions Suggestions, Dictionary<string,
    int> PlaceOf)
{
    readonly HashSet<MatchEntry> theirs = [.. Theirs], ours = [.. Ours];

    internal bool Cover(IReadOnlyList<MatchEntry> waiting, IReadOnlyList<MatchEntry> free) => waiting.All(theirs.Contains) && free.All(ours.Contains);
}

/// <summary>Suggestions of lists that are being matched, by connection, or by company for its chart. What was made of more entries serves also when some of
/// them are decided.</summary>
public sealed class SuggestionCache
{
    const int Most = 64;
    readonly ConcurrentDictionary<(int, string), CachedSuggestions> made = new();

    internal CachedSuggestions For((int Of, string List) of, IReadOnlyList<MatchEntry> waiting, IReadOnlyList<MatchEntry> free)
    {
        if (made.TryGetValue(of, out var known) && known.Cover(waiting, free))
            return known;
        if (made.Count > Most)
            made.Clear();
        var places = waiting.Select((w, i) => (Fold.Of(w.Code), i)).ToDictionary(p => p.Item1, p => p.i);
        return made[of] = new(waiting, free, Suggesting.For(waiting, free), places);
    }
}
