using System.Globalization;
using System.Text;

namespace Assignum.Core.Matching;

/// <summary>The words of an entry as they are compared: lower case, without accents, figures apart from letters, each with its meaning.</summary>
sealed class Wording
{
    /// <summary>Words as written.</summary>
    internal string[] Words { get; }
    /// <summary>What the words mean, each once; figures are left out.</summary>
    internal string[] Meanings { get; }
    /// <summary>Figures: sizes, rates, amounts.</summary>
    internal string[] Figures { get; }
    /// <summary>The code without punctuation.</summary>
    internal string Code { get; }
    /// <summary>All letters of the words in one, for what is written together or apart.</summary>
    internal string Letters { get; }

    internal Wording(MatchEntry entry)
    {
        Code = new string([.. Fold.Of(entry.Code).Where(char.IsLetterOrDigit)]);
        var parts = Split(entry.Name);
        Figures = [.. parts.Where(p => char.IsAsciiDigit(p[0])).Distinct()];
        Words = [.. parts.Where(p => !char.IsAsciiDigit(p[0]) && !TradeWords.Empty.Contains(p))];
        Meanings = [.. Words.Select(TradeWords.Of).Concat(Words.Select(TradeWords.Also).OfType<string>()).Distinct()];
        Letters = string.Concat(Words);
    }

    static List<string> Split(string name)
    {
        var parts = new List<string>();
        var part = new StringBuilder();
        foreach (var c in name.Normalize(NormalizationForm.FormD).ToLowerInvariant())
        {
            if (CharUnicodeInfo.GetUnicodeCategory(c) == UnicodeCategory.NonSpacingMark || c == '\'')
                continue;
            var figure = char.IsAsciiDigit(c) || (c is '.' or ',' && part.Length > 0 && char.IsAsciiDigit(part[0]));
            if (!figure && !char.IsLetter(c))
                End();
            else
            {
                if (part.Length > 0 && char.IsAsciiDigit(part[0]) != figure)
                    End();
                part.Append(c);
            }
        }
        End();
        return parts;

        void End()
        {
            var text = part.ToString().TrimEnd('.', ',');
            if (text.Length > 0)
                parts.Add(text);
            part.Clear();
        }
    }
}
