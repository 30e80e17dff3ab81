using System.Globalization;
using Assignum.Core;
using Assignum.Core.Changes;
using Assignum.Core.Charts;
using Assignum.Core.Findings;
using Assignum.Core.Rulebooks;

namespace Assignum.Web.Showing;

/// <summary>How values are written on screens.</summary>
static class Show
{
    const char Minus = '\u2212';

    /// <summary>"−1,204.50": grouped, with a true minus sign.</summary>
    internal static string Amount(decimal amount, int decimals = 2) =>
        (amount < 0 ? Minus.ToString() : "") + Math.Abs(amount).ToString("N" + decimals, Written.Now);

    /// <summary>An amount in the column of its side: debits as they are, credits turned round; nothing in the other column.</summary>
    internal static string Side(decimal amount, int decimals) => amount > 0 ? Amount(amount, decimals) : "";

    /// <summary>How much of the largest an amount is, in hundredths, as a drawing has it; its sign does not count.</summary>
    internal static string Share(decimal amount, decimal largest) => (Math.Abs(amount) / largest * 100).ToString("0.##", CultureInfo.InvariantCulture);

    /// <summary>A quantity or rate without needless zeros.</summary>
    internal static string Plain(decimal number) =>
        (number < 0 ? Minus.ToString() : "") + Math.Abs(number).ToString("#,##0.############", Written.Now);

    /// <summary>An exchange rate in a column: four decimals, more where they say something.</summary>
    internal static string Rate(decimal rate) => rate.ToString("#,##0.0000########", Written.Now);

    /// <summary>A price or cost of one unit: two decimals, more where they say something.</summary>
    internal static string UnitAmount(decimal amount) => amount.ToString("#,##0.00####", Written.Now);

    /// <summary>"2026-03-02", or as whoever reads has chosen.</summary>
    internal static string Day(DateOnly day) => Written.DayNow(day);

    /// <summary>A day that may be missing; nothing then.</summary>
    internal static string Day(DateOnly? day) => day is { } known ? Day(known) : "";

    /// <summary>The day of a moment.</summary>
    internal static string Day(DateTime moment) => Day(DateOnly.FromDateTime(moment));

    /// <summary>"March 2026".</summary>
    internal static string Month(DateOnly day) => day.ToString("MMMM yyyy", CultureInfo.InvariantCulture);

    /// <summary>"2026-03-02, 14:05", in universal time.</summary>
    internal static string Moment(DateTime moment) => $"{Day(moment)}, {moment.ToString("HH:mm", CultureInfo.InvariantCulture)}";

    /// <summary>As addresses, files and hidden fields have it.</summary>
    internal static string Field(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? "";

    /// <summary>The name of a field in words: "ValidFrom" as "Valid from".</summary>
    internal static string Field(string name) =>
        Title(string.Concat(name[(name.LastIndexOf('.') + 1)..].Select((c, i) => i > 0 && char.IsUpper(c) ? " " + char.ToLowerInvariant(c) : c.ToString())));

    /// <summary>"always", "from 2026-01-01", "up to …", "… to …".</summary>
    internal static string Validity(DateOnly? from, DateOnly? to) => (from, to) switch
    {
        (null, null) => "always",
        ({ } first, null) => "from " + Day(first),
        (null, { } last) => "up to " + Day(last),
        ({ } first, { } last) => $"{Day(first)} to {Day(last)}",
    };

    /// <summary>"1 change", "12 changes".</summary>
    internal static string Count(long count, string one) => $"{count.ToString("N0", Written.Now)} {(count == 1 ? one : Many(one))}";

    /// <summary>What stands before and after rows that are shown: "8 more after these.", "3 before and 8 after these."</summary>
    internal static string Around(int before, int after) => (before, after) switch
    {
        (0, _) => $"{after.ToString("N0", Written.Now)} more after these.",
        (_, 0) => $"{before.ToString("N0", Written.Now)} more before these.",
        _ => $"{before.ToString("N0", Written.Now)} before and {after.ToString("N0", Written.Now)} after these.",
    };

    /// <summary>The first of some, with a sign where there are more: "C-10, C-12 …".</summary>
    internal static string Few(IEnumerable<string> all, int most)
    {
        var first = all.Take(most + 1).ToList();
        return string.Join(", ", first.Take(most)) + (first.Count > most ? " …" : "");
    }

    /// <summary>"error", "warning", "hint".</summary>
    internal static string Word(Severity severity) => severity == Severity.Info ? "hint" : Words<Severity>.Of(severity);

    /// <summary>The ink of a severity.</summary>
    internal static string Tone(Severity severity) => severity switch { Severity.Error => "d", Severity.Warning => "c", _ => "soft" };

    /// <summary>The ink of a kind of change.</summary>
    internal static string? Tone(ChangeKind kind) => kind switch { ChangeKind.Added => "new", ChangeKind.Ended => "refused", _ => null };

    /// <summary>"entries" for "entry".</summary>
    static string Many(string one) =>
        one.EndsWith('y') && one.Length > 1 && !"aeiou".Contains(one[^2], StringComparison.Ordinal) ? one[..^1] + "ies" : one + "s";

    /// <summary>Name of a class on screens: "Cost of sales".</summary>
    internal static string Title(AccountClass value) => Title(value.Word());

    /// <summary>"other-income" as "Other income".</summary>
    internal static string Title(string word) => char.ToUpperInvariant(word[0]) + word[1..].Replace('-', ' ');

    /// <summary>The rung of a name in the formats, in words.</summary>
    internal static string Rung(string name) =>
        string.Join(" + ", name.Split('+').Select(part => FactNames.TryParse(part, out var fact) ? fact.InWords() : part));

    /// <summary>A purpose of the formats in words: "cost of sales".</summary>
    internal static string Purpose(string? name) => name is null ? "" : Core.Rulebooks.Purpose.Find(name)?.InWords ?? name.Replace('-', ' ');
}
