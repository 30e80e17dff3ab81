using Assignum.Core;
using Npgsql;

namespace Assignum.Storage.Posting;

/// <summary>Ids of events that runs make here.</summary>
static class OwnIds
{
    /// <summary>Ids that begin like those of a run, and that events made here have.</summary>
    internal static async Task<IReadOnlySet<string>> Earlier(NpgsqlDataSource source, int company, string prefix, CancellationToken stop) =>
        (await source.Command("select distinct source_id from event where company_id = $1 and source = $2 and starts_with(source_id, $3)",
            company, Fold.Of(PostableEvent.Own), prefix).List(row => row.GetString(0), stop)).ToHashSet(StringComparer.Ordinal);

    /// <summary>An id that no earlier event has: itself, or with the first number behind it that is free.</summary>
    /// <param name="earlier">Ids that events have.</param>
    /// <param name="wanted">The id.</param>
    internal static string Free(IReadOnlySet<string> earlier, string wanted)
    {
        var id = wanted;
        for (var again = 2; earlier.Contains(id); again++)
            id = FormattableString.Invariant($"{wanted}-{again}");
        return id;
    }
}
