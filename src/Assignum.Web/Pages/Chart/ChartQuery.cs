using System.Globalization;
using Assignum.Core;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.ModelBinding;

namespace Assignum.Web.Pages.Chart;

/// <summary>A column of the chart that can be chosen.</summary>
/// <param name="Word">Its word in addresses.</param>
/// <param name="Title">Its heading.</param>
/// <param name="Shown">Whether it is shown while nobody has chosen.</param>
/// <param name="Right">Whether it stands to the right.</param>
public sealed record ChartColumn(string Word, string Title, bool Shown, bool Right = false);

/// <summary>What of the chart is asked for, as the address has it.</summary>
public sealed class ChartQuery
{
    /// <summary>Columns beside number and name.</summary>
    public static IReadOnlyList<ChartColumn> AllColumns { get; } =
    [
        new("short", "Short name", false), new("class", "Class", true), new("tax", "Tax", true), new("control", "Control", true),
            new("group", "Group account", false), new("reporting", "Reporting", false),
        new("dimensions", "Dimensions", false), new("used", "Used by", true, true), new("trend", "Twelve months", true),
            new("movement", "Movement", true, true), new("balance", "Balance", true, true),
    ];

    /// <summary>Views of the chart, by the word in the address.</summary>
    public static IReadOnlyList<(string Word, string Title)> Views { get; } =
        [("", "All"), ("used", "in use by rules"), ("unruled", "used by no rule"), ("control", "control accounts"), ("untaxed", "without tax setting"),
            ("ungrouped", "without group account"), ("unposted", "never posted"), ("inactive", "inactive"), ("wrong", "wrong-side balance")];

    /// <summary>What number or name must have in it.</summary>
    [FromQuery(Name = "q")] public string? Filter { get; set; }
    /// <summary>Which view.</summary>
    [FromQuery(Name = "view")] public string? View { get; set; }
    /// <summary>First period of the span; null: that of the fiscal year last posted in.</summary>
    [FromQuery(Name = "from")] public int? From { get; set; }
    /// <summary>Last period of the span.</summary>
    [FromQuery(Name = "to")] public int? To { get; set; }
    /// <summary>Words of the columns shown; null: as remembered.</summary>
    [BindNever] public string? Columns { get; set; }
    /// <summary>Column to sort by, behind "-" for falling; null: the tree.</summary>
    [FromQuery(Name = "sort")] public string? Sort { get; set; }
    /// <summary>Numbers of headings that are turned from how they would stand.</summary>
    [FromQuery(Name = "turned")] public string? Turned { get; set; }
    /// <summary>"open" or "closed": how headings stand; null: as the size of the chart suggests.</summary>
    [FromQuery(Name = "all")] public string? All { get; set; }
    /// <summary>Number of the last account on the page before; null: the first page.</summary>
    [FromQuery(Name = "after")] public string? After { get; set; }

    internal bool IsSorted => !string.IsNullOrEmpty(Sort);
    internal bool Narrowed => !string.IsNullOrWhiteSpace(Filter) || !string.IsNullOrEmpty(View);
    internal IReadOnlyList<string> TurnedNumbers => string.IsNullOrEmpty(Turned) ? [] : Turned.Split(',', StringSplitOptions.RemoveEmptyEntries);

    /// <summary>The same with one thing changed, as the end of an address; paging begins anew unless that is what changes.</summary>
    internal string With(params (string Name, string? Value)[] changes)
    {
        var values = new Dictionary<string, string?>
        {
            ["q"] = Filter, ["view"] = View, ["from"] = Number(From), ["to"] = Number(To), ["sort"] = Sort, ["turned"] = Turned, ["all"] = All,
        };
        foreach (var (name, value) in changes)
            values[name] = value;
        var parts = values.Where(v => !string.IsNullOrEmpty(v.Value)).Select(v => $"{v.Key}={Uri.EscapeDataString(v.Value!)}").ToList();
        return parts.Count == 0 ? "" : "?" + string.Join('&', parts);
    }

    /// <summary>The address that turns a heading: opens it where it is closed, closes it where it is open.</summary>
    internal string Turn(string number)
    {
        var turned = TurnedNumbers.ToList();
        if (turned.RemoveAll(t => Fold.Same(t, number)) == 0)
            turned.Add(number);
        return With(("turned", string.Join(',', turned)));
    }

    /// <summary>The address that sorts by a column: rising, falling, and back to the tree.</summary>
    internal string SortBy(string word) => With(("sort", NextSort(word)), ("turned", null));

    string? NextSort(string word)
    {
        if (Sort == word)
            return "-" + word;
        return Sort == "-" + word ? null : word;
    }

    static string? Number(int? value) => value?.ToString(CultureInfo.InvariantCulture);
}
