using System.Collections.Immutable;

namespace Assignum.Core.Rulebooks;

/// <summary>One set of facts a rule may ask for. Two rungs with the same facts are the same rung, whatever their order.</summary>
public sealed class Rung : IEquatable<Rung>
{
    /// <summary>The empty rung: the company default.</summary>
    public static readonly Rung Default = new();

    readonly uint set;

    /// <summary>A rung of distinct facts, shown in the order given.</summary>
    public Rung(params ImmutableArray<Fact> facts)
    {
        Facts = facts;
        foreach (var fact in facts)
            set |= 1u << (int)fact;
        if (System.Numerics.BitOperations.PopCount(set) != facts.Length)
            throw new ArgumentException("A rung names each fact once.", nameof(facts));
    }

    /// <summary>Its facts, in the order they are shown.</summary>
    public ImmutableArray<Fact> Facts { get; }

    /// <summary>"itemGroup+partyGroup", or "default" for the empty rung.</summary>
    public string Name => name ??= Facts.IsEmpty ? "default" : string.Join('+', Facts.Select(f => f.Name()));
    string? name;

    /// <summary>"item group + party group", or "default".</summary>
    public string InWords => Facts.IsEmpty ? "default" : string.Join(" + ", Facts.Select(f => f.InWords()));

    /// <inheritdoc/>
    public bool Equals(Rung? other) => other?.set == set;
    /// <inheritdoc/>
    public override bool Equals(object? obj) => Equals(obj as Rung);
    /// <inheritdoc/>
    public override int GetHashCode() => (int)set;
    /// <inheritdoc/>
    public override string ToString() => Name;
}
