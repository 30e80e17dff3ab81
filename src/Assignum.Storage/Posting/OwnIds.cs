namespace Assignum.Storage.Posting;

/// <summary>Ids of events that runs make here.</summary>
static class OwnIds
{
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
