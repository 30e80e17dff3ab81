using System.Diagnostics.CodeAnalysis;

namespace Assignum.Core.Rulebooks;

/// <summary>Things by their code, found by its fold, each with a number from 1 on.</summary>
/// <typeparam name="T">What has the code.</typeparam>
public sealed class CodeIndex<T>
{
    readonly Dictionary<string, int> byFold;
    readonly List<T> things;
    readonly Func<T, string> codeOf;

    internal CodeIndex(IEnumerable<T> source, Func<T, string> codeOf)
    {
        this.codeOf = codeOf;
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
    internal int IdOf(string? code) => code is null ? 0 : byFold.GetValueOrDefault(Fold.Of(code));

    internal T ById(int id) => things[id - 1];

    internal string CodeOf(int id) => codeOf(things[id - 1]);
}
