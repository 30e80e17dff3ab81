using System.Globalization;

namespace Assignum.Core;

/// <summary>How somebody wants numbers and dates written and means them when typing. Whoever has chosen nothing reads them as files have them: 1,234.50 and
/// 2026-11-27.</summary>
public sealed class Written : CultureInfo
{
    /// <summary>As files have them.</summary>
    public static Written Plain { get; } = new("point", "iso");

    /// <summary>Ways to write numbers: the word a choice is kept under, and an example.</summary>
    public static IReadOnlyList<(string Word, string Example)> NumberChoices { get; } = [("point", "1,234.50"), ("comma", "1.234,50"), ("space", "1 234,50")];

    /// <summary>Ways to write dates: the word a choice is kept under, and an example.</summary>
    public static IReadOnlyList<(string Word, string Example)> DateChoices { get; } = [("iso", "2026-11-27"), ("dots", "27.11.2026"), ("words", "27 Nov 2026")];

    Written(string numbers, string dates)
        : base("")
    {
        var format = (NumberFormatInfo)InvariantCulture.NumberFormat.Clone();
        // A space that holds digits together never breaks at the end of a line.
        (format.NumberGroupSeparator, format.NumberDecimalSeparator) = numbers switch { "comma" => (".", ","), "space" => ("\u00A0", ","), _ => (",", ".") };
        (format.PercentGroupSeparator, format.PercentDecimalSeparator) = (format.NumberGroupSeparator, format.NumberDecimalSeparator);
        NumberFormat = format;
        var days = (DateTimeFormatInfo)InvariantCulture.DateTimeFormat.Clone();
        days.ShortDatePattern = dates switch { "dots" => "dd.MM.yyyy", "words" => "d MMM yyyy", _ => "yyyy-MM-dd" };
        DateTimeFormat = days;
    }

    /// <summary>The way of writing that two choices make; what is not known is written as files have it.</summary>
    public static Written Of(string? numbers, string? dates) => All.GetValueOrDefault((numbers ?? "", dates ?? ""), Plain);

    static readonly Dictionary<(string, string), Written> All =
        NumberChoices.SelectMany(n => DateChoices.Select(d => (n.Word, d.Word))).ToDictionary(c => c, c => new Written(c.Item1, c.Item2));

    /// <summary>The way of whoever asks; else as files have it.</summary>
    public static Written Now => CurrentCulture as Written ?? Plain;

    /// <summary>A day: "2026-11-27".</summary>
    public string Day(DateOnly day) => day.ToString(DateTimeFormat.ShortDatePattern, this);

    /// <summary>A day in the way of whoever asks.</summary>
    public static string DayNow(DateOnly day) => Now.Day(day);

    /// <summary>A quantity, cost or rate as the present user reads it, without needless zeros.</summary>
    public static string NumberNow(decimal number) => number.ToString("0.############", Now);

    /// <summary>An example of a number and of a day, for whoever typed something that can't be read.</summary>
    public (string Number, string Day) Example => (1234.5m.ToString("N2", this).Replace('\u00A0', ' '), Day(new DateOnly(2026, 11, 27)));

    /// <summary>Reads a number: digits, at most one decimal sign, and groups of three only where they belong. What could be meant otherwise is not
    /// read.</summary>
    public bool TryNumber(string typed, out decimal number)
    {
        var text = typed.Trim().Replace('\u2212', '-').Replace('\u00A0', ' ').Replace('\u202F', ' ');
        var (group, point) = (NumberFormat.NumberGroupSeparator.Replace('\u00A0', ' ')[0], NumberFormat.NumberDecimalSeparator[0]);
        number = 0;
        var body = text.StartsWith('-') ? text[1..] : text;
        var parts = body.Split(point);
        if (parts.Length > 2 || (parts.Length == 2 && !(parts[1].Length > 0 && parts[1].All(char.IsAsciiDigit))))
            return false;
        var groups = parts[0].Split(group);
        var grouped = groups.Length > 1;
        if (!groups.All(g => g.All(char.IsAsciiDigit)) || (parts[0].Length == 0 && parts.Length == 1)
            || (grouped && !(groups[0].Length is > 0 and <= 3 && groups[1..].All(g => g.Length == 3))))
            return false;
        return decimal.TryParse((text.StartsWith('-') ? "-" : "") + string.Concat(groups) + (parts.Length == 2 ? "." + parts[1] : ""),
            NumberStyles.AllowLeadingSign | NumberStyles.AllowDecimalPoint, InvariantCulture, out number);
    }

    /// <summary>Reads a day: in the chosen way, or as files have it. What could be meant otherwise is not read.</summary>
    public bool TryDay(string typed, out DateOnly day) =>
        DateOnly.TryParseExact(typed.Trim(), ["yyyy-MM-dd", .. Spellings], InvariantCulture, DateTimeStyles.None, out day);

    // The same date with fewer noughts is the same date; another order is another date.
    string[] Spellings => DateTimeFormat.ShortDatePattern switch
    {
        "dd.MM.yyyy" => ["dd.MM.yyyy", "d.M.yyyy"],
        "d MMM yyyy" => ["d MMM yyyy", "dd MMM yyyy", "d MMMM yyyy", "dd MMMM yyyy"],
        _ => [],
    };
}
