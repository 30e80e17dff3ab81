namespace Assignum.Core.Matching;

/// <summary>Lists of a connection whose matches can change a landing, and so are settings.</summary>
public enum SettingList
{
    /// <summary>Items.</summary>
    Items,
    /// <summary>Categories of items; they are matched with item groups.</summary>
    Categories,
    /// <summary>Tax codes.</summary>
    TaxCodes,
}

/// <summary>An entry of a connection's list with the one of ours that it is.</summary>
public sealed record Match
{
    /// <summary>Code of the connection.</summary>
    public required string Connection { get; init; }
    /// <summary>The list.</summary>
    public required SettingList List { get; init; }
    /// <summary>Code of the entry there.</summary>
    public required string Theirs { get; init; }
    /// <summary>Code of the item, item group or tax code here.</summary>
    public required string Ours { get; init; }

    /// <summary>What tells it from others, folded.</summary>
    public string Key => $"{Fold.Of(Connection)}·{Words<SettingList>.Of(List)}·{Fold.Of(Theirs)}";

    /// <summary>The list of settings in which our side stands, as places name it.</summary>
    internal string Place => List switch { SettingList.Items => "items", SettingList.Categories => "itemGroups", _ => "taxCodes" };
}
