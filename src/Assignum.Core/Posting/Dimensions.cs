using Assignum.Core.Charts;

namespace Assignum.Core.Posting;

/// <summary>Values of dimensions (cost centre and the like) by the dimension's name; names compare by their fold.</summary>
public sealed class Dimensions
{
    /// <summary>No dimension.</summary>
    public static readonly Dimensions None = new([]);

    readonly KeyValuePair<string, string>[] byName;

    /// <summary>Dimensions from names and values; the later of two equal names holds.</summary>
    public Dimensions(IEnumerable<KeyValuePair<string, string>> values)
    {
        var folded = new SortedDictionary<string, KeyValuePair<string, string>>(StringComparer.Ordinal);
        foreach (var value in values)
            folded[Fold.Of(value.Key)] = value;
        byName = [.. folded.Values];
    }

    /// <summary>Names and values, by folded name.</summary>
    public IReadOnlyList<KeyValuePair<string, string>> All => byName;

    /// <summary>Whether there is none.</summary>
    public bool IsEmpty => byName.Length == 0;

    /// <summary>Whether a dimension has a value.</summary>
    public bool Has(string name) => Array.Exists(byName, d => Fold.Same(d.Key, name));

    /// <summary>These, with others laid over them.</summary>
    public Dimensions With(Dimensions others)
    {
        if (others.IsEmpty)
            return this;
        if (IsEmpty)
            return others;
        return new(byName.Concat(others.byName));
    }

    /// <summary>These, without those an account bars.</summary>
    public Dimensions WithoutBarred(Account account) =>
        IsEmpty || !byName.Any(d => account.NeedOf(d.Key) == DimensionNeed.Barred) ? this
        : new(byName.Where(d => account.NeedOf(d.Key) != DimensionNeed.Barred));

    /// <summary>These, with an account's own values where none is given.</summary>
    public Dimensions FilledBy(Account account) =>
        account.DimensionDefaults.Count == 0 ? this : new Dimensions(account.DimensionDefaults).With(this);

    /// <summary>"CC=100;DEPT=2", by name.</summary>
    public override string ToString() => text ??= string.Join(';', byName.Select(d => d.Key + "=" + d.Value));
    string? text;
}

/// <summary>What an account asks of a dimension.</summary>
public static class AccountDimensions
{
    /// <summary>Whether the account gives the dimension a value of its own.</summary>
    public static bool HasDefault(this Account account, string dimension) => account.DimensionDefaults.Keys.Any(name => Fold.Same(name, dimension));

    /// <summary>What the account asks of a dimension, found by the fold of its name; optional when it says nothing.</summary>
    public static DimensionNeed NeedOf(this Account account, string dimension)
    {
        foreach (var (name, need) in account.Dimensions)
            if (Fold.Same(name, dimension))
                return need;
        return DimensionNeed.Optional;
    }
}
