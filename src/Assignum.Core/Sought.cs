using System.Globalization;
using System.Text;

namespace Assignum.Core;

/// <summary>
/// What somebody typed to find something by: words in any order, each any part of number or name; case and punctuation don't matter.
/// The one way of finding, wherever something is typed.
/// </summary>
public sealed class Sought
{
    /// <summary>How well something fits, best first.</summary>
    public enum Fit
    {
        /// <summary>It is the number or code itself.</summary>
        Code,
        /// <summary>It is the name itself.</summary>
        Name,
        /// <summary>The number or code begins with it.</summary>
        CodeBegins,
        /// <summary>All of it are whole words of code and name.</summary>
        WholeWords,
        /// <summary>All of it begin words of code and name.</summary>
        WordsBegin,
        /// <summary>All of it are somewhere in code and name.</summary>
        Part,
        /// <summary>It does not fit.</summary>
        Not,
    }

    readonly string plain;
    readonly string fold;
    readonly string[] words;

    /// <param name="typed">What was typed; nothing fits everything.</param>
    public Sought(string? typed)
    {
        fold = Fold.Of(typed ?? "");
        plain = Plain(fold);
        words = plain.Split(' ', StringSplitOptions.RemoveEmptyEntries);
    }

    /// <summary>Whether nothing was typed that could be looked for.</summary>
    public bool IsEmpty => words.Length == 0 && fold.Length == 0;

    /// <summary>The words to look for: upper case, without punctuation.</summary>
    public IReadOnlyList<string> Words => words;

    /// <summary>Whether each word is somewhere in a text.</summary>
    public bool In(string text) => IsEmpty || (words.Length > 0 && FitOf("", text) != Fit.Not);

    /// <summary>How well it fits a thing.</summary>
    /// <param name="code">Number or code of the thing.</param>
    /// <param name="name">Its name.</param>
    public Fit FitOf(string code, string name)
    {
        var ownCode = Fold.Of(code);
        if (IsEmpty || (ownCode.Length > 0 && ownCode == fold))
            return Fit.Code;
        if (words.Length == 0 || MissesAWord(code, name))
            return Fit.Not;
        var (plainCode, plainName) = (Plain(ownCode), Plain(Fold.Of(name)));
        // "SEED04" finds SEED-04 too.
        var whole = $" {plainCode} {plainName} {(plainCode.Contains(' ') ? plainCode.Replace(" ", "", StringComparison.Ordinal) : "")} ";
        foreach (var word in words)
            if (!whole.Contains(word, StringComparison.Ordinal))
                return Fit.Not;
        if (plainCode.Length > 0 && plainCode == plain)
            return Fit.Code;
        if (plainName == plain)
            return Fit.Name;
        if (plainCode.StartsWith(plain, StringComparison.Ordinal))
            return Fit.CodeBegins;
        if (Array.TrueForAll(words, w => whole.Contains($" {w} ", StringComparison.Ordinal)))
            return Fit.WholeWords;
        if (Array.TrueForAll(words, w => whole.Contains(" " + w, StringComparison.Ordinal)))
            return Fit.WordsBegin;
        return Fit.Part;
    }

    /// <summary>Whether each word is somewhere in a text that <see cref="Plain"/> has made ready.</summary>
    public bool InPlain(string ready) => IsEmpty || (words.Length > 0 && Array.TrueForAll(words, w => ready.Contains(w, StringComparison.Ordinal)));

    // Most things of a long list don't have the word at all; that is seen without making a new text of them.
    bool MissesAWord(string code, string name)
    {
        if (!Ascii.IsValid(code) || !Ascii.IsValid(name))
            return false;
        foreach (var word in words)
            if (!name.Contains(word, StringComparison.OrdinalIgnoreCase) && !code.Contains(word, StringComparison.OrdinalIgnoreCase)
                && (code.Length <= word.Length || !code.Contains(word[..1], StringComparison.OrdinalIgnoreCase) || code.All(char.IsAsciiLetterOrDigit)))
                return true;
        return false;
    }

    /// <summary>Those that fit, best first; among equals in the order they came in.</summary>
    public IEnumerable<T> BestFirst<T>(IEnumerable<T> things, Func<T, string> code, Func<T, string> name) =>
        IsEmpty ? things : things.Select(t => (Thing: t, Fit: FitOf(code(t), name(t)))).Where(t => t.Fit != Fit.Not).OrderBy(t => t.Fit).Select(t => t.Thing);

    /// <summary>A text as it is compared: folded, with a blank for whatever is neither letter nor digit.</summary>
    public static string Plain(string text)
    {
        var plain = new StringBuilder(text.Length);
        foreach (var c in Fold.Of(text))
            if (char.IsLetterOrDigit(c) || char.IsSurrogate(c)
                || CharUnicodeInfo.GetUnicodeCategory(c) is UnicodeCategory.NonSpacingMark or UnicodeCategory.SpacingCombiningMark)
                plain.Append(c);
            else if (plain.Length > 0 && plain[^1] != ' ')
                plain.Append(' ');
        return plain.ToString().TrimEnd(' ');
    }
}
