namespace Assignum.Core.Changes;

/// <summary>A property of a setting that can change a landing.</summary>
/// <param name="Property">Name of the property.</param>
/// <param name="Word">What it is called in sentences: "tax group".</param>
/// <param name="Value">Its value in words, so that two values that differ read differently; null: none.</param>
public sealed record SettingPart<T>(string Property, string Word, Func<T, string?> Value);

/// <summary>One kind of setting: where it stands, what tells one from another, and every part by which it can change a landing.</summary>
public abstract class SettingKind(string place, string subject, Type thing)
{
    /// <summary>First part of the places of its changes: "accounts".</summary>
    public string Place => place;
    /// <summary>What one is called: "Account".</summary>
    public string Subject => subject;
    /// <summary>Its type.</summary>
    public Type Thing => thing;
    /// <summary>Properties that tell one from another.</summary>
    public required IReadOnlyList<string> Keys { get; init; }
    /// <summary>Properties that name, describe or cost, and hold at once without an edition.</summary>
    public abstract IReadOnlyList<string> AtOnceProperties { get; }
    /// <summary>Properties that can change a landing.</summary>
    public abstract IReadOnlyList<string> PartProperties { get; }

    /// <summary>What differs between two rulebooks.</summary>
    public abstract IEnumerable<SettingChange> Between(Rulebooks.Rulebook before, Rulebooks.Rulebook after);
}

/// <inheritdoc/>
public sealed class SettingKind<T>(string place, string subject, Func<Rulebooks.Rulebook, IReadOnlyList<T>> list, Func<T, string> key, Func<T, string> label,
    IReadOnlyList<SettingPart<T>> parts)
    : SettingKind(place, subject, typeof(T)) where T : class
{
    /// <summary>What holds at once: no difference of editions, yet seen or not seen by whoever saves.</summary>
    public IReadOnlyList<SettingPart<T>> AtOnce { get; init; } = [];
    /// <summary>What stands between the subject and the one that is meant, in sentences.</summary>
    internal string Joint { get; init; } = " ";
    /// <inheritdoc/>
    public override IReadOnlyList<string> PartProperties => [.. parts.Select(p => p.Property)];
    /// <inheritdoc/>
    public override IReadOnlyList<string> AtOnceProperties => [.. AtOnce.Select(p => p.Property)];

    /// <summary>The place of one: "accounts/4010".</summary>
    public string WhereOf(T thing) => $"{Place}/{key(thing)}";

    /// <inheritdoc/>
    public override IEnumerable<SettingChange> Between(Rulebooks.Rulebook before, Rulebooks.Rulebook after) => Between(list(before), list(after));

    /// <summary>What differs between two lists.</summary>
    public IEnumerable<SettingChange> Between(IReadOnlyList<T> before, IReadOnlyList<T> after)
    {
        (before, after) = Differing(before, after);
        var was = new Dictionary<string, T>(before.Count);
        foreach (var thing in before)
            was.TryAdd(Fold.Of(key(thing)), thing);
        foreach (var thing in after)
        {
            if (!was.Remove(Fold.Of(key(thing)), out var old))
                yield return new(ChangeKind.Added, Subject, WhereOf(thing), $"{Named(thing)} is new.");
            else if (Differing(old, thing) is { Length: > 0 } changed)
                yield return new(ChangeKind.Changed, Subject, WhereOf(thing), $"{Named(thing)}: {changed}.");
        }
        foreach (var thing in before.Where(t => was.TryGetValue(Fold.Of(key(t)), out var left) && ReferenceEquals(left, t)))
            yield return new(ChangeKind.Ended, Subject, WhereOf(thing), $"{Named(thing)} ends.");
    }

    /// <summary>What two lists do not share; what editions have in common is the same object, and is passed over.</summary>
    internal static (IReadOnlyList<T> Gone, IReadOnlyList<T> Come) Differing(IReadOnlyList<T> before, IReadOnlyList<T> after)
    {
        if (ReferenceEquals(before, after))
            return ([], []);
        var change = Rulebooks.ListChange.Between(before, after);
        return ([.. change.Gone.Select(was => before[was])], [.. change.Added.Select(now => after[now])]);
    }

    /// <summary>In what one differs from itself: "tax group from HOME to ABROAD"; empty when in nothing.</summary>
    public string Differing(T was, T now) => ReferenceEquals(was, now) ? ""
        : string.Join(", ", parts.Select(p => (p.Word, Was: p.Value(was), Now: p.Value(now))).Where(p => p.Was != p.Now).Select(p =>
            $"{p.Word} from {p.Was ?? "none"} to {p.Now ?? "none"}"));

    /// <summary>What somebody saw of one, as a line of text to be sent along with what they save.</summary>
    public string SeenOf(T thing) => string.Join('|', Saved.Select(p => Escaped(p.Value(thing))));

    IEnumerable<SettingPart<T>> Saved => AtOnce.Concat(parts);

    /// <summary>In what one has changed since it was seen: "tax group is ABROAD now, you saw HOME"; null when in nothing.</summary>
    /// <param name="seen">What <see cref="SeenOf"/> gave; what can't be read was not seen at all.</param>
    /// <param name="now">The thing as it is.</param>
    public string? ChangedSince(string? seen, T now)
    {
        if (seen == SeenOf(now))
            return null;
        var was = (seen ?? "").Split('|');
        return was.Length != AtOnce.Count + parts.Count ? "it was not said what you saw of it"
            : string.Join("; ", Saved.Select((p, i) => (p.Word, Was: was[i], Now: Escaped(p.Value(now)))).Where(p => p.Was != p.Now).Select(p =>
                $"{p.Word} is {Plain(p.Now)} now, you saw {Plain(p.Was)}"));
    }

    static string Escaped(string? value) =>
        value is null ? "\\0" : value.Replace("\\", "\\\\", StringComparison.Ordinal).Replace("|", "\\p", StringComparison.Ordinal).Replace("\n", "\\n",
            StringComparison.Ordinal).Replace("\r", "\\r", StringComparison.Ordinal);

    static string Plain(string escaped) => escaped is "\\0" or "" ? "none"
        : escaped.Replace("\\p", "|", StringComparison.Ordinal).Replace("\\n", " ", StringComparison.Ordinal).Replace("\\r", "",
        StringComparison.Ordinal).Replace("\\\\", "\\", StringComparison.Ordinal);

    string Named(T thing) => label(thing) is { Length: > 0 } named ? Subject + Joint + named : Subject;
}
