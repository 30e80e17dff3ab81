using System.Globalization;
using Assignum.Core;
using Assignum.Core.Charts;
using Assignum.Core.Rulebooks;

namespace Assignum.Web.Showing;

/// <summary>How values are written on screens.</summary>
static class Show
{
    const char Minus = '\u2212';

    /// <summary>"−1,204.50": grouped, with a true minus sign.</summary>
    internal static string Amount(decimal amount, int decimals = 2) =>
        (amount < 0 ? Minus.ToString() : "") + Math.Abs(amount).ToString("N" + decimals, CultureInfo.InvariantCulture);

    /// <summary>A quantity or rate without needless zeros.</summary>
    internal static string Plain(decimal number) =>
        (number < 0 ? Minus.ToString() : "") + Math.Abs(number).ToString("#,##0.############", CultureInfo.InvariantCulture);

    /// <summary>A price or cost of one unit: two decimals, more where they say something.</summary>
    internal static string UnitAmount(decimal amount) => amount.ToString("#,##0.00####", CultureInfo.InvariantCulture);

    /// <summary>"2 March 2026".</summary>
    internal static string Day(DateOnly day) => day.ToString("d MMMM yyyy", CultureInfo.InvariantCulture);

    /// <summary>"2 March 2026, 14:05", in universal time.</summary>
    internal static string Moment(DateTime moment) => moment.ToString("d MMMM yyyy, HH:mm", CultureInfo.InvariantCulture);

    /// <summary>As a field of a form has it.</summary>
    internal static string Field(DateOnly? day) => day?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) ?? "";

    /// <summary>"always", "from 1 January 2026", "up to …", "… to …".</summary>
    internal static string Validity(DateOnly? from, DateOnly? to) => (from, to) switch
    {
        (null, null) => "always",
        ({ } first, null) => "from " + Day(first),
        (null, { } last) => "up to " + Day(last),
        ({ } first, { } last) => $"{Day(first)} to {Day(last)}",
    };

    /// <summary>"1 change", "12 changes".</summary>
    internal static string Count(long count, string one) => $"{count.ToString("N0", CultureInfo.InvariantCulture)} {one}{(count == 1 ? "" : "s")}";

    /// <summary>Name of a class on screens: "Cost of sales".</summary>
    internal static string Title(AccountClass value) => Title(value.Word());

    /// <summary>"other-income" as "Other income".</summary>
    internal static string Title(string word) => char.ToUpperInvariant(word[0]) + word[1..].Replace('-', ' ');

    /// <summary>The rung of a name in the formats, in words.</summary>
    internal static string Rung(string name) => string.Join(" + ", name.Split('+').Select(part => FactNames.TryParse(part, out var fact) ? fact.InWords() : part));

    /// <summary>A purpose of the formats in words: "cost of sales".</summary>
    internal static string Purpose(string? name) => name?.Replace('-', ' ') ?? "";
}
