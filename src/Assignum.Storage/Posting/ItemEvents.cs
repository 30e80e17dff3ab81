using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>The events that opened the items, and the receipts, which movements belong to, found for a whole batch at once.</summary>
sealed class ItemEvents
{
    internal static readonly ItemEvents None = new([]);

    // The latest revision of an event comes last.
    readonly Dictionary<string, List<(string Source, long Event)>> known;

    ItemEvents(Dictionary<string, List<(string, long)>> known) => this.known = known;

    /// <summary>Finds what movements name.</summary>
    /// <param name="connection">Under the posting lock.</param>
    /// <param name="company">Id of the company.</param>
    /// <param name="movements">The movements of the batch.</param>
    /// <param name="batch">Events of the batch itself, with their ids, and whether none came before them under theirs.</param>
    /// <param name="stop">Cancels.</param>
    internal static async Task<ItemEvents> Find(NpgsqlConnection connection, int company, IEnumerable<KeptMovement> movements,
        IEnumerable<(string Source, string Id, long Event, bool IsFirst)> batch, CancellationToken stop)
    {
        var named = movements.Select(NamedBy).OfType<string>().ToHashSet(StringComparer.Ordinal);
        if (named.Count == 0)
            return None;
        var here = batch.Where(e => named.Contains(e.Id)).ToList();
        // Who opens an item of its own need not be looked for; of a later revision the one before it may be meant.
        var elsewhere = named.Except(here.Where(e => e.IsFirst).Select(e => e.Id), StringComparer.Ordinal).ToArray();
        var found = elsewhere.Length == 0 ? [] : await connection.Command("""
            select source, source_id, id from event where company_id = $1 and source_id = any($2) and outcome = 'landed' order by revision, posting
            """, company, elsewhere).List(row => (Source: row.GetString(0), Id: row.GetString(1), Event: row.GetInt64(2)), stop);
        var known = new Dictionary<string, List<(string, long)>>(StringComparer.Ordinal);
        foreach (var (source, id, number) in found.Concat(here.Select(e => (e.Source, e.Id, e.Event))))
        {
            if (!known.TryGetValue(id, out var list))
                known[id] = list = [];
            list.Add((source, number));
        }
        return new(known);
    }

    /// <summary>A movement with the event of its item: one of the same source if there is one; the moving event itself where none came before it.</summary>
    /// <param name="movement">The movement.</param>
    /// <param name="source">Source of the moving event.</param>
    /// <param name="by">The moving event.</param>
    internal KeptMovement Of(KeptMovement movement, string source, long by)
    {
        if (NamedBy(movement) is not { } named || !known.TryGetValue(named, out var all) || all.FindAll(e => e.Event <= by) is not { Count: > 0 } events)
            return movement;
        var own = events.FindLast(e => e.Source == source);
        var found = (own.Source is null ? events[^1] : own).Event;
        return movement is KeptOfStock ofStock ? ofStock with { ReceiptEvent = found } : (KeptOfParty)movement with { ItemEvent = found };
    }

    static string? NamedBy(KeptMovement movement) => movement is KeptOfParty ofParty ? ofParty.Document : (movement as KeptOfStock)?.Receipt;
}
