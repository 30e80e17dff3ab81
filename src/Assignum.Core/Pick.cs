namespace Assignum.Core;

/// <summary>Something picked by typing, or why nothing was.</summary>
/// <typeparam name="T">What is picked.</typeparam>
/// <param name="Thing">What was picked; null when nothing was typed or it is not clear.</param>
/// <param name="Fault">What is wrong, and the mend; null when it is clear.</param>
public readonly record struct Picked<T>(T? Thing, string? Fault) where T : class;

/// <summary>Picks a thing by number, code or any part of its name, in any case, as long as only one thing has it.</summary>
public static class Pick
{
    const string Between = " · ";

    /// <summary>How a choice is written into a field: "4010 · Sales of seeds".</summary>
    public static string Written(string code, string name) => name.Length == 0 ? code : code + Between + name;

    /// <summary>The code of a choice as it is written into a field, or of what was typed instead.</summary>
    public static string CodeOf(string? written) => (written ?? "").Split(Between)[0].Trim();

    /// <summary>Picks one of a list.</summary>
    /// <param name="typed">What somebody typed; empty picks nothing.</param>
    /// <param name="things">The list.</param>
    /// <param name="code">Number or code of a thing.</param>
    /// <param name="name">Name of a thing.</param>
    /// <param name="what">What the list is of, for the message: "account".</param>
    /// <typeparam name="T">What is picked.</typeparam>
    public static Picked<T> One<T>(string? typed, IEnumerable<T> things, Func<T, string> code, Func<T, string> name, string what) where T : class
    {
        var text = typed?.Trim() ?? "";
        if (text.Length == 0)
            return default;
        var all = things as IReadOnlyCollection<T> ?? [.. things];
        var fold = Fold.Of(text);
        var head = Fold.Of(CodeOf(text));
        if (all.FirstOrDefault(t => Fold.Of(code(t)) is var own && (own == fold || own == head)) is { } exact)
            return new(exact, null);
        var named = all.Where(t => Fold.Of(name(t)) == fold).Take(2).ToList();
        if (named.Count == 1)
            return new(named[0], null);
        var partly = all.Where(t => Fold.Of($"{code(t)} {name(t)}").Contains(fold, StringComparison.Ordinal)).Take(4).ToList();
        return partly.Count switch
        {
            0 => new(null, $"There is no {what} with “{text}” in its number or name. Type another part of it."),
            1 => new(partly[0], null),
            _ => new(null, $"“{text}” fits several: {string.Join(", ", partly.Take(3).Select(t => $"{code(t)} {name(t)}"))}{(partly.Count > 3 ? " …" : "")}. Type more of it."),
        };
    }
}
