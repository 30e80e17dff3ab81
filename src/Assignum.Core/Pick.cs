namespace Assignum.Core;

/// <summary>Something picked by typing, or why nothing was.</summary>
/// <typeparam name="T">What is picked.</typeparam>
/// <param name="Thing">What was picked; null when nothing was typed or it is not clear.</param>
/// <param name="Fault">What is wrong, and the mend; null when it is clear.</param>
public readonly record struct Picked<T>(T? Thing, string? Fault) where T : class;

/// <summary>Picks a thing by number, code or any words of its name, as <see cref="Sought"/> finds, as long as only one thing fits best.</summary>
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
        // What was taken from the list is written with its name; only its code counts.
        var sought = new Sought(CodeOf(text));
        var exact = all.FirstOrDefault(t => sought.FitOf(code(t), "") == Sought.Fit.Code);
        if (exact is not null)
            return new(exact, null);
        sought = new Sought(text);
        var fitting = all.Select(t => (Thing: t, Fit: sought.FitOf(code(t), name(t)))).Where(t => t.Fit != Sought.Fit.Not).OrderBy(t => t.Fit).Take(4).ToList();
        return fitting switch
        {
            [] => new(null, $"There is no {what} with “{text}” in its number or name. Type another part of it."),
            [var only] => new(only.Thing, null),
            // "Mix 50" means the one with these words rather than "mix 500".
            [{ Fit: Sought.Fit.Name or Sought.Fit.WholeWords } best, var next, ..] when best.Fit < next.Fit => new(best.Thing, null),
            _ => new(null, $"“{text}” fits several: {string.Join(", ", fitting.Take(3).Select(t => $"{code(t.Thing)} {name(t.Thing)}"))}" +
                $"{(fitting.Count > 3 ? " …" : "")}. Type more of it."),
        };
    }
}
