namespace Assignum.Core.Charts;

/// <summary>A field in which an account differs from itself.</summary>
/// <param name="Field">Name of the field.</param>
/// <param name="Title">Its title.</param>
/// <param name="Was">What it was; null: nothing.</param>
/// <param name="Now">What it is; null: nothing.</param>
public sealed record FieldChange(string Field, string Title, string? Was, string? Now)
{
    /// <summary>"name from Rent to Rent of fields", "tax code S20 given", "tax code S20 taken away".</summary>
    public override string ToString() => (Was, Now) switch
    {
        (null, _) => $"{Title} {Now} given",
        (_, null) => $"{Title} {Was} removed",
        _ => $"{Title} from {Was} to {Now}",
    };
}

/// <summary>In what an account differs from itself, field by field: for its history, and where two people change it at once.</summary>
public static class AccountDifference
{
    const int Shortest = 60;

    /// <summary>All fields that differ.</summary>
    public static IReadOnlyList<FieldChange> Between(Account was, AccountDescription wasDescribed, Account now, AccountDescription described) =>
        [.. Fields(was, wasDescribed).Zip(Fields(now, described), (a, b) => new FieldChange(a.Field, a.Title, a.Value, b.Value)).Where(c => c.Was != c.Now)];

    /// <summary>The changes as the end of a sentence: "name from Rent to Rent of fields; tax code S20 given".</summary>
    public static string InWords(IReadOnlyList<FieldChange> changes) => string.Join("; ", changes);

    static IEnumerable<(string Field, string Title, string? Value)> Fields(Account a, AccountDescription d) =>
    [
        ("number", "number", a.Number), ("name", "name", a.Name), ("class", "class", a.Class.Word()), ("kind", "kind", a.Kind.Word()),
            ("parent", "place under", a.Parent),
        ("control", "control of", a.Control?.Word()), ("partyRole", "roles", a.PartyRole?.Word()), ("manual", "by hand", a.Manual.Word()),
            ("taxCode", "tax code", a.TaxCode), ("itemTaxGroup", "item tax group", a.ItemTaxGroup),
        ("taxRelevance", "tax relevance", a.TaxRelevance?.Word()), ("active", "active", a.Active ? "yes" : "no"),
            ("suspense", "suspense", a.Suspense ? "yes" : "no"),
        ("validFrom", "valid from", Day(a.ValidFrom)), ("validTo", "valid to", Day(a.ValidTo)), ("currencies", "currencies", Listed(a.Currencies)),
        ("dimensions", "dimensions", Listed(a.Dimensions.OrderBy(x => x.Key, StringComparer.Ordinal).Select(x => $"{x.Key} {x.Value.Word()}"))),
        ("dimensionDefaults", "values of dimensions",
            Listed(a.DimensionDefaults.OrderBy(x => x.Key, StringComparer.Ordinal).Select(x => $"{x.Key} {x.Value}"))),
        ("shortName", "short name", d.ShortName), ("text", "description", d.Text is { Length: > Shortest } text ? text[..Shortest] + "…" : d.Text),
            ("side", "usual side", d.Side?.Word()),
        ("activity", "activity", d.Activity), ("reporting", "reporting codes", Listed(d.Reporting.Select(r => $"{r.Report}: {r.Code}"))),
            ("groupAccount", "group account", d.GroupAccount),
    ];

    static string? Listed(IEnumerable<string> texts) => string.Join(", ", texts) is { Length: > 0 } listed ? listed : null;

    static string? Day(DateOnly? day) => day?.ToString("yyyy-MM-dd", System.Globalization.CultureInfo.InvariantCulture);
}
