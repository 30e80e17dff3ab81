using System.Text;

namespace Assignum.Core;

/// <summary>The one way in which codes and numbers compare: trimmed, inner white space collapsed, NFC, invariant upper case.</summary>
public static class Fold
{
    /// <summary>Folds a code. Two codes are the same when their folds are equal, ordinally.</summary>
    /// <param name="code">A code as somebody wrote it.</param>
    /// <returns>The fold; empty when the code is nothing but white space.</returns>
    public static string Of(string code)
    {
        if (IsFolded(code))
            return code;
        var text = new StringBuilder(code.Length);
        foreach (var c in Composed(code))
        {
            if (!char.IsWhiteSpace(c))
                text.Append(c);
            else if (text.Length > 0 && text[^1] != ' ')
                text.Append(' ');
        }
        if (text.Length > 0 && text[^1] == ' ')
            text.Length--;
        return text.ToString().ToUpperInvariant();
    }

    /// <summary>Whether two codes are the same.</summary>
    public static bool Same(string? a, string? b) =>
        a == b || (a is not null && b is not null && Of(a) == Of(b));

    static bool IsFolded(string code)
    {
        for (var i = 0; i < code.Length; i++)
        {
            var c = code[i];
            var plain = c is > ' ' and < (char)127 and not (>= 'a' and <= 'z');
            var innerBlank = c == ' ' && i > 0 && i < code.Length - 1 && code[i - 1] != ' ';
            if (!plain && !innerBlank)
                return false;
        }
        return true;
    }

    // A lone surrogate can't be normalised; such a code stays as it is and simply matches nothing else.
    static string Composed(string code)
    {
        try { return code.IsNormalized() ? code : code.Normalize(NormalizationForm.FormC); }
        catch (ArgumentException) { return code; }
    }
}
