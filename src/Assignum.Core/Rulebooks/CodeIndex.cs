using System.Diagnostics.CodeAnalysis;

namespace Assignum.Core.Rulebooks;

/// <summary>Codes as numbers from 1 on, and back.</summary>
interface ICodes
{
    int Count { get; }
    int IdOf(string? code);
    string CodeOf(int id);
    string? NameOf(string code);
}

/// <summary>Things by their code, found by its fold, each with a number from 1 on.</summary>
/// <typeparam name="T">What has the code.</typeparam>
public sealed class CodeIndex<T> : ICodes
{
    readonly Dictionary<string, int> byFold;
    readonly List<T> things;
    readonly Func<T, string> codeOf;
    readonly Func<T, string>? nameOf;

    internal CodeIndex(IEnumerable<T> source, Func<T, string> codeOf, Func<T, string>? nameOf = null)
    {
        (this.codeOf, this.nameOf) = (codeOf, nameOf);
        things = [.. source];
        byFold = new Dictionary<string, int>(things.Count, StringComparer.Ordinal);
        for (var i = 0; i < things.Count; i++)
            byFold.TryAdd(Fold.Of(codeOf(things[i])), i + 1);
    }

    /// <summary>How many there are.</summary>
    public int Count => things.Count;

    /// <summary>All of them, in the rulebook's order.</summary>
    public IReadOnlyList<T> All => things;

    /// <summary>The thing of a code, in any spelling.</summary>
    public bool TryFind(string code, [MaybeNullWhen(false)] out T thing)
    {
        var id = IdOf(code);
        thing = id == 0 ? default : things[id - 1];
        return id != 0;
    }

    /// <summary>Number of a code, 0 when unknown.</summary>
    public int IdOf(string? code) => code is null ? 0 : byFold.GetValueOrDefault(Fold.Of(code));

    internal T ById(int id) => things[id - 1];

    /// <summary>The code of a number, as the rulebook spells it.</summary>
    public string CodeOf(int id) => codeOf(things[id - 1]);

    /// <summary>The name of what has a code; null where there is none.</summary>
    public string? NameOf(string code) => TryFind(code, out var thing) ? nameOf?.Invoke(thing) : null;
}
