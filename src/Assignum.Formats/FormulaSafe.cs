using System.Buffers;
using System.Text;

namespace Assignum.Formats;

/// <summary>
/// Text of a CSV cell that no spreadsheet takes for a formula: a sign that would start one, at the beginning or after what some spreadsheet reads as
/// a separator, stands behind an apostrophe. Every CSV is written through here.
/// </summary>
static class FormulaSafe
{
    const string Separators = ",;|\t\r\n";
    static readonly SearchValues<char> Signs = SearchValues.Create("=+-@\t\r\uFF1D\uFF0B\uFF0D\uFF20");

    internal static string Of(string text)
    {
        var at = NextStart(text, 0);
        if (at < 0)
            return text;
        var safe = new StringBuilder(text.Length + 4);
        var written = 0;
        for (; at >= 0; at = NextStart(text, at + 1))
        {
            safe.Append(text, written, at - written).Append('\'');
            written = at;
        }
        return safe.Append(text, written, text.Length - written).ToString();
    }

    // The next sign that starts a cell for somebody.
    static int NextStart(string text, int from)
    {
        for (var at = from; at < text.Length; at++)
        {
            var sign = text.AsSpan(at).IndexOfAny(Signs);
            if (sign < 0)
                return -1;
            at += sign;
            if (at == 0 || Separators.Contains(text[at - 1], StringComparison.Ordinal))
                return at;
        }
        return -1;
    }
}
