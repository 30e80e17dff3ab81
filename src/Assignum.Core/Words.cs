using Assignum.Core.Charts;
using Assignum.Core.Groups;

namespace Assignum.Core;

/// <summary>How the values of a closed list are spelled in the formats and in messages: lower case, joined by hyphens.</summary>
/// <typeparam name="T">The list.</typeparam>
public static class Words<T> where T : struct, Enum
{
    static readonly T[] Values = Enum.GetValues<T>();
    static readonly string[] Spelled = [.. Values.Select(v => Hyphenated(v.ToString()))];

    /// <summary>All spellings, in the order of the list.</summary>
    public static IReadOnlyList<string> All => Spelled;

    /// <summary>The spelling of a value.</summary>
    public static string Of(T value) => Spelled[Array.IndexOf(Values, value)];

    /// <summary>The value of a spelling, exact to the letter.</summary>
    public static bool TryParse(string word, out T value)
    {
        var at = Array.IndexOf(Spelled, word);
        value = at < 0 ? default : Values[at];
        return at >= 0;
    }

    /// <summary>The value of a spelling that we wrote ourselves.</summary>
    public static T Parse(string word) => TryParse(word, out var value) ? value : throw new FormatException($"{typeof(T).Name} has no {word}.");

    /// <summary>The value of a spelling as people write it: in any case, with blanks or underlines for hyphens.</summary>
    public static bool TryRead(string text, out T value) =>
        TryParse(string.Join('-', text.ToLowerInvariant().Split([' ', '-', '_'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)),
            out value);

    static string Hyphenated(string name) =>
        string.Concat(name.Select((c, i) => char.IsUpper(c) ? (i > 0 ? "-" : "") + char.ToLowerInvariant(c) : c.ToString()));
}

/// <summary>Spelling of closed lists as an extension, for sentences.</summary>
public static class WordsExtensions
{
    /// <summary>"cost-of-sales".</summary>
    public static string Word(this AccountClass value) => Words<AccountClass>.Of(value);
    /// <summary>"cost of sales".</summary>
    public static string InWords(this AccountClass value) => value.Word().Replace('-', ' ');
    /// <summary>"receivables".</summary>
    public static string InWords(this Control value) => value.Word().Replace('-', ' ');
    /// <summary>"posting".</summary>
    public static string Word(this AccountKind value) => Words<AccountKind>.Of(value);
    /// <summary>"receivables".</summary>
    public static string Word(this Control value) => Words<Control>.Of(value);
    /// <summary>"block".</summary>
    public static string Word(this ManualPolicy value) => Words<ManualPolicy>.Of(value);
    /// <summary>"capital-purchases".</summary>
    public static string Word(this TaxRelevance value) => Words<TaxRelevance>.Of(value);
    /// <summary>"debit".</summary>
    public static string Word(this UsualSide value) => Words<UsualSide>.Of(value);
    /// <summary>"required".</summary>
    public static string Word(this DimensionNeed value) => Words<DimensionNeed>.Of(value);
    /// <summary>"non-stock".</summary>
    public static string Word(this ItemKind value) => Words<ItemKind>.Of(value);
    /// <summary>"customer".</summary>
    public static string Word(this PartyRole value) => Words<PartyRole>.Of(value);
}
