namespace Assignum.Storage.Posting;

/// <summary>What is read once however many ask at the same time, and kept until it is out of date or others have been asked for since.</summary>
/// <param name="most">How many are kept.</param>
/// <param name="putAway">Told of each that is kept no longer because of others.</param>
sealed class ReadOnce<TKey, TStamp, TValue>(int most, Action<TKey>? putAway = null) where TKey : notnull where TStamp : struct, IEquatable<TStamp>
{
    sealed class Kept(TStamp stamp, Task<TValue> value)
    {
        internal TStamp Stamp => stamp;
        internal Task<TValue> Value => value;
        internal long LastAsked { get; set; }
    }

    readonly Lock gate = new();
    readonly Dictionary<TKey, Kept> kept = [];
    long asked;

    /// <summary>What is kept, or read now.</summary>
    /// <param name="key">What is asked for.</param>
    /// <param name="stamp">The state it is asked for in.</param>
    /// <param name="read">Reads it; goes on for the others when one who asked goes away.</param>
    /// <param name="isOf">Whether what was read is of that state; if not, it answers this once and is not kept.</param>
    /// <param name="stop">Ends the waiting of the one who asks.</param>
    internal async Task<TValue> Get(TKey key, TStamp stamp, Func<Task<TValue>> read, Func<TValue, bool> isOf, CancellationToken stop)
    {
        var found = Find(key, stamp, read);
        try
        {
            var value = await found.Value.WaitAsync(stop);
            if (!isOf(value))
                Drop(key, found);
            return value;
        }
        catch when (found.Value.IsFaulted || found.Value.IsCanceled)
        {
            Drop(key, found);
            throw;
        }
    }

    Kept Find(TKey key, TStamp stamp, Func<Task<TValue>> read)
    {
        lock (gate)
        {
            if (!kept.TryGetValue(key, out var found) || !found.Stamp.Equals(stamp))
                kept[key] = found = new Kept(stamp, Task.Run(read));
            found.LastAsked = ++asked;
            while (kept.Count > most)
            {
                var oldest = kept.MinBy(k => k.Value.LastAsked).Key;
                kept.Remove(oldest);
                putAway?.Invoke(oldest);
            }
            return found;
        }
    }

    void Drop(TKey key, Kept found)
    {
        lock (gate)
            if (kept.TryGetValue(key, out var now) && ReferenceEquals(now, found))
                kept.Remove(key);
    }
}
