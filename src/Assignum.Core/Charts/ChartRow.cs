namespace Assignum.Core.Charts;

/// <summary>A row of a chart file, as written, with class and kind in the words of the formats.</summary>
/// <param name="Line">Number of its first line in the file, from 1.</param>
/// <param name="Number">Account number.</param>
/// <param name="Name">Name.</param>
/// <param name="Class">Class, in the words of the formats; empty: that of its parent.</param>
/// <param name="Kind">Kind; empty: posting.</param>
/// <param name="Parent">Number of the account it stands under; empty: the top.</param>
public sealed record ChartRow(int Line, string Number, string Name, string Class, string Kind, string Parent)
{
    /// <summary>Short name; empty: left as it is.</summary>
    public string ShortName { get; init; } = "";
    /// <summary>Description; empty: left as it is.</summary>
    public string Description { get; init; } = "";
    /// <summary>Control, in the words of the formats; empty: left as it is.</summary>
    public string Control { get; init; } = "";
    /// <summary>Policy for entries by hand; empty: left as it is.</summary>
    public string Manual { get; init; } = "";
    /// <summary>Tax code; empty: left as it is.</summary>
    public string TaxCode { get; init; } = "";
    /// <summary>Item tax group; empty: left as it is.</summary>
    public string ItemTaxGroup { get; init; } = "";
    /// <summary>Yes or no; empty: left as it is.</summary>
    public string Active { get; init; } = "";

    /// <summary>A field by its name: "number", "shortName".</summary>
    public string this[string field] => field switch
    {
        "number" => Number, "name" => Name, "class" => Class, "kind" => Kind, "parent" => Parent, "shortName" => ShortName, "description" => Description,
        "control" => Control, "manual" => Manual, "taxCode" => TaxCode, "itemTaxGroup" => ItemTaxGroup, "active" => Active,
        _ => throw new ArgumentException($"A chart row has no field {field}.", nameof(field)),
    };
}

/// <summary>What becomes of a row.</summary>
public enum ChartRowFate { New, Changed, Unchanged, Refused }

/// <summary>A row with what becomes of it.</summary>
/// <param name="Row">The row.</param>
/// <param name="Fate">What becomes of it.</param>
/// <param name="Account">The account it makes; null when refused.</param>
/// <param name="Why">Why it is refused or what changes, in a sentence; empty otherwise.</param>
/// <param name="Field">The field that is at fault; empty when the row is not refused.</param>
public sealed record PlannedRow(ChartRow Row, ChartRowFate Fate, Account? Account, string Why, string Field = "")
{
    /// <summary>Short name and description the row gives; null where it leaves them as they are.</summary>
    public (string? ShortName, string? Text) Described =>
        (Row.ShortName.Length > 0 ? Row.ShortName : null, Row.Description.Length > 0 ? Row.Description : null);
}

/// <summary>What an import of a chart would do. Nothing is done by planning.</summary>
/// <param name="Rows">All rows, in the order of the file.</param>
public sealed record ChartPlan(IReadOnlyList<PlannedRow> Rows)
{
    /// <summary>Tax codes that are made with it, without rates.</summary>
    public IReadOnlyList<string> TaxCodes { get; init; } = [];
    /// <summary>Item tax groups that are made with it.</summary>
    public IReadOnlyList<string> ItemTaxGroups { get; init; } = [];


    /// <summary>Rows with a fate.</summary>
    public int Count(ChartRowFate fate) => Rows.Count(r => r.Fate == fate);

    /// <summary>The rows to be carried out, parents before what stands under them.</summary>
    public IReadOnlyList<PlannedRow> ParentsFirst()
    {
        var waiting = Rows.Where(r => r.Fate is ChartRowFate.New or ChartRowFate.Changed).ToDictionary(r => Fold.Of(r.Account!.Number));
        var ordered = new List<PlannedRow>(waiting.Count);
        var placed = new HashSet<string>();
        foreach (var number in waiting.Keys)
            Place(number);
        return ordered;

        void Place(string number)
        {
            if (!waiting.TryGetValue(number, out var row) || !placed.Add(number))
                return;
            if (row.Account!.Parent is { } parent)
                Place(Fold.Of(parent));
            ordered.Add(row);
        }
    }
}

/// <summary>How the rows of a file find their place in the tree.</summary>
public enum Placing
{
    /// <summary>Each row names the account it stands under.</summary>
    ByColumn,
    /// <summary>A row stands under the longest number that begins its own: 6210 under 62, under 6. Of a heading the zeros at the end don't count: 1110 under
    /// 1100, under 1000.</summary>
    ByNumber,
}
