namespace Assignum.Core.Taxes;

/// <summary>Categories of the open code list UNTDID 5305, as far as documents of trade use them.</summary>
public static class TaxCategories
{
    /// <summary>Codes with what they mean.</summary>
    public static IReadOnlyList<(string Code, string Meaning)> All { get; } =
    [
        ("S", "Standard rate, or any rate above zero"), ("Z", "Zero rated"), ("E", "Exempt"), ("AE", "Reverse charge"),
            ("K", "Supply within a union of countries"), ("G", "Export, untaxed"),
        ("O", "Outside the scope of the tax"), ("L", "Tax of the Canary Islands"), ("M", "Tax of Ceuta and Melilla"), ("B", "Tax transferred"),
            ("AA", "Lower rate"), ("H", "Higher rate"),
        ("A", "Mixed"), ("AB", "Exempt for resale"), ("AC", "Not due now"), ("AD", "Due from a previous invoice"), ("C", "Duty paid by the supplier"),
            ("D", "Taxed as a service in another country"),
    ];

    /// <summary>Whether the list has a code.</summary>
    public static bool Has(string code) => All.Any(c => Fold.Same(c.Code, code));
}

/// <summary>What is wrong with a tax code, by field, as it is typed.</summary>
public static class TaxCodeCheck
{
    const int LongestCode = 20, LongestName = 100;

    /// <summary>The faults: the field, and a sentence with the mend. Components are fields "components[0]" and so on.</summary>
    public static IEnumerable<(string Field, string Message)> Faults(TaxCode code)
    {
        if (string.IsNullOrWhiteSpace(code.Code))
            yield return ("code", "The code is empty. Give it one, such as S20.");
        else if (code.Code.Trim().Length > LongestCode)
            yield return ("code", $"The code has {code.Code.Trim().Length} characters. Shorten it to {LongestCode}.");
        if (code.Name.Trim().Length > LongestName)
            yield return ("name", $"The name has {code.Name.Trim().Length} characters. Shorten it to {LongestName}.");
        if (code.Category is { } category && !TaxCategories.Has(category))
            yield return ("category", $"There is no category {category}. Choose one of {string.Join(", ", TaxCategories.All.Take(7).Select(c => c.Code))}.");
        if (code.Components.Count == 0)
            yield return ("components[0]", "The tax code has no component. Give it at least one, with a rate.");
        for (var i = 0; i < code.Components.Count; i++)
            foreach (var message in FaultsOf(code, i))
                yield return ($"components[{i}]", message);
    }

    static IEnumerable<string> FaultsOf(TaxCode code, int at)
    {
        var component = code.Components[at];
        if (code.Components.Count > 1 && string.IsNullOrWhiteSpace(component.Code))
            yield return $"Component {at + 1} has no code. With several components each needs one, such as STATE.";
        else if (string.IsNullOrWhiteSpace(component.Code) && component.Authority is { } authority)
            yield return $"The component is due to {authority} and has no code. Give it one, such as STATE, so that its tax entries name it.";
        if (component.Code is { } own && code.Components.Take(at).Any(c => Fold.Same(c.Code, own)))
            yield return $"Two components have the code {own}. Give one of them another.";
        if (at == 0 && component.Base == TaxBase.NetAndPrevious)
            yield return "The first component has no taxes before it. Compute it on the net.";
        if (component.Rates.Count == 0)
            yield return $"Component {component.Code ?? "of " + code.Code} has no rate. Give a percentage and the day it begins.";
        if (component.Rates.GroupBy(r => r.From).FirstOrDefault(g => g.Skip(1).Any()) is { } twice)
            yield return $"Two rates begin on {twice.Key:yyyy-MM-dd}. Keep one of them.";
        if (component.Rates.Any(r => r.Percent is < 0 or > 1000))
            yield return "A rate is 0 or more, and at most 1,000 per cent.";
        if (component.RecoverablePercent is < 0 or > 100)
            yield return $"Recoverable is {component.RecoverablePercent} per cent. It goes from 0 to 100.";
    }
}
