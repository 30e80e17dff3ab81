using System.Runtime.CompilerServices;

namespace Assignum.Core.Rulebooks;

/// <summary>The facts of one landing request, interned for one compiled rulebook: a small number a fact, 0 for one that is absent.</summary>
public sealed class Facts
{
    /// <summary>A fact that is present with a value the rulebook does not know; no rule can ask for it.</summary>
    internal const int Unlisted = -1;

    Ids ids;
    string?[]? unlisted;

    /// <summary>A copy to lay further facts over.</summary>
    internal Facts Copy() => new() { ids = ids, unlisted = (string?[]?)unlisted?.Clone() };

    /// <summary>The interned numbers, by fact.</summary>
    internal ReadOnlySpan<int> AsSpan() => ids;

    /// <summary>Whether the fact is present.</summary>
    public bool Has(Fact fact) => ids[(int)fact] != 0;

    internal int this[Fact fact]
    {
        get => ids[(int)fact];
        set => ids[(int)fact] = value;
    }

    internal void SetUnlisted(Fact fact, string value)
    {
        ids[(int)fact] = Unlisted;
        (unlisted ??= new string?[FactNames.Count])[(int)fact] = value;
    }

    internal string? UnlistedValue(Fact fact) => unlisted?[(int)fact];

    [InlineArray(FactNames.Count)]
    struct Ids
    {
        int first;
    }
}
