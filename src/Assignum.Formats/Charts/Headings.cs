using System.Globalization;
using System.Text;

namespace Assignum.Formats.Charts;

/// <summary>Compares headings of columns and codes of foreign files: without case, accents and punctuation.</summary>
static class Headings
{
    const int Exact = 100, OneOfItsWords = 60, BeginsAlike = 40, ShortestBeginning = 4;

    /// <summary>"Konto-Nr." as "KONTO NR", "Libellé" as "LIBELLE".</summary>
    internal static string Folded(string heading)
    {
        var text = new StringBuilder();
        foreach (var c in heading.Normalize(NormalizationForm.FormD))
        {
            if (CharUnicodeInfo.GetUnicodeCategory(c) == UnicodeCategory.NonSpacingMark)
                continue;
            text.Append(char.IsLetterOrDigit(c) ? char.ToUpperInvariant(c) : ' ');
        }
        return string.Join(' ', text.Replace("ß", "SS").ToString().Split(' ', StringSplitOptions.RemoveEmptyEntries));
    }

    /// <summary>How well a heading fits a field, 0 to 100.</summary>
    internal static int Fit(ChartField field, string heading)
    {
        var folded = Folded(heading);
        if (folded.Length == 0)
            return 0;
        var best = 0;
        var words = folded.Split(' ');
        foreach (var known in field.Headings)
        {
            if (known == folded)
                return Exact;
            if ((known.Contains(' ', StringComparison.Ordinal) && $" {folded} ".Contains($" {known} ", StringComparison.Ordinal)) || words.Contains(known))
                best = Math.Max(best, OneOfItsWords);
            else if (known.Length >= ShortestBeginning
                && words.Any(w => w.StartsWith(known, StringComparison.Ordinal)
                || (w.Length >= ShortestBeginning && known.StartsWith(w, StringComparison.Ordinal))))
                best = Math.Max(best, BeginsAlike);
        }
        return best;
    }
}
