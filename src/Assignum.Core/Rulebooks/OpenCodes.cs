using Assignum.Core.Taxes;

namespace Assignum.Core.Rulebooks;

/// <summary>Codes of facts that have no list of their own (connections, methods, places of tax …): those that some rule asks for.</summary>
sealed class OpenCodes
{
    readonly Dictionary<(Fact, string), int> ids = [];
    readonly Dictionary<Fact, List<string>> spellings = [];

    internal static OpenCodes Of(Rulebook book)
    {
        var codes = new OpenCodes();
        foreach (var rule in book.Rules)
            foreach (var (fact, code) in rule.When)
                if (fact.List() is null)
                    codes.Add(fact, code);
        foreach (var rule in book.TaxRules)
            codes.Add(Fact.TaxArea, rule.TaxArea);
        foreach (var component in book.TaxCodes.SelectMany(t => t.Components))
            codes.Add(Fact.Authority, component.Authority);
        codes.Add(Fact.Currency, book.Company.Currency);
        return codes;
    }

    internal int IdOf(Fact fact, string code) => ids.GetValueOrDefault((fact, Fold.Of(code)));

    internal string SpellingOf(Fact fact, int id) => spellings[fact][id - 1];

    /// <summary>Whether the other numbers the same codes the same.</summary>
    internal bool Numbers(OpenCodes other) => ids.Count == other.ids.Count && ids.All(known => other.ids.GetValueOrDefault(known.Key) == known.Value);

    internal int SizeOf(Fact fact) => spellings.GetValueOrDefault(fact)?.Count ?? 0;

    void Add(Fact fact, string? code)
    {
        if (code is null || ids.ContainsKey((fact, Fold.Of(code))))
            return;
        if (!spellings.TryGetValue(fact, out var list))
            spellings[fact] = list = [];
        list.Add(code);
        ids[(fact, Fold.Of(code))] = list.Count;
    }
}

/// <summary>A tax rule's values as facts.</summary>
public static class TaxRuleFacts
{
    /// <summary>The facts a tax rule asks for.</summary>
    public static IReadOnlyList<FactValue> When(this TaxRule rule)
    {
        var when = new List<FactValue>(3);
        if (rule.TaxArea is { } area)
            when.Add(new(Fact.TaxArea, area));
        if (rule.PartyTaxGroup is { } party)
            when.Add(new(Fact.PartyTaxGroup, party));
        if (rule.ItemTaxGroup is { } item)
            when.Add(new(Fact.ItemTaxGroup, item));
        return when;
    }
}
