namespace Assignum.Core.Taxes;

/// <summary>On which documents a tax code may stand.</summary>
public enum TaxDirection { Both, Sales, Purchases }

/// <summary>What a component of a tax is computed on: the net, or the net and the taxes of the components before it.</summary>
public enum TaxBase { Net, NetAndPrevious }

/// <summary>A percentage from a day on, until the next one begins.</summary>
/// <param name="From">First tax date it holds on.</param>
/// <param name="Percent">Per cent of the base, 0 or more.</param>
public readonly record struct TaxRate(DateOnly From, decimal Percent);

/// <summary>One part of a tax code, due to one authority, with its own journal line and tax entry.</summary>
public sealed record TaxComponent
{
    /// <summary>Its code within the tax code; null for the only component of a code written short.</summary>
    public string? Code { get; init; }
    /// <summary>The authority it is due to, or null.</summary>
    public string? Authority { get; init; }
    /// <summary>What it is computed on.</summary>
    public TaxBase Base { get; init; }
    /// <summary>Its rates, by date, earliest first.</summary>
    public IReadOnlyList<TaxRate> Rates { get; init; } = [];
    /// <summary>How much of it can be recovered on purchases, 0 to 100 per cent.</summary>
    public decimal RecoverablePercent { get; init; } = 100;

    static readonly TaxRate[] NoRates = [];

    /// <summary>Whether the other says the same in every point.</summary>
    internal bool Says(TaxComponent other) => this with { Rates = NoRates } == other with { Rates = NoRates } && Rates.SequenceEqual(other.Rates);

    /// <summary>The percentage valid on a tax date, or null.</summary>
    public decimal? PercentOn(DateOnly taxDate)
    {
        decimal? valid = null;
        foreach (var rate in Rates)
        {
            if (rate.From > taxDate)
                break;
            valid = rate.Percent;
        }
        return valid;
    }
}

/// <summary>A tax code.</summary>
public sealed record TaxCode
{
    /// <summary>Its code; compares by its fold.</summary>
    public required string Code { get; init; }
    /// <summary>Its name.</summary>
    public string Name { get; init; } = "";
    /// <summary>Category of the open code list UNTDID 5305, or null.</summary>
    public string? Category { get; init; }
    /// <summary>Where it may be used.</summary>
    public TaxDirection Direction { get; init; }
    /// <summary>The receiver owes the tax.</summary>
    public bool ReverseCharge { get; init; }
    /// <summary>Its components, one or more, in the order they are computed.</summary>
    public required IReadOnlyList<TaxComponent> Components { get; init; }

    static readonly TaxComponent[] NoComponents = [];

    /// <summary>Whether the other says the same in every point.</summary>
    internal bool Says(TaxCode other) =>
        this with { Components = NoComponents } == other with { Components = NoComponents }
        && Components.Count == other.Components.Count && Components.Zip(other.Components).All(pair => pair.First.Says(pair.Second));

    /// <summary>The percentage of all components together on a tax date, compounded where a base includes previous taxes; null when a component has
    /// none.</summary>
    public decimal? EffectivePercentOn(DateOnly taxDate)
    {
        var sum = 0m;
        foreach (var component in Components)
        {
            if (component.PercentOn(taxDate) is not { } percent)
                return null;
            sum += component.Base == TaxBase.Net ? percent : (100 + sum) * percent / 100;
        }
        return sum;
    }

    /// <summary>"CODE", or "CODE/COMPONENT" where the component has a code.</summary>
    public string Label(TaxComponent component) => component.Code is null ? Code : Code + "/" + component.Code;
}

/// <summary>A rule that says which tax code holds where a party tax group, an item tax group and a place meet.</summary>
public sealed record TaxRule
{
    /// <summary>Asked-for place, or null.</summary>
    public string? TaxArea { get; init; }
    /// <summary>Asked-for party tax group, or null.</summary>
    public string? PartyTaxGroup { get; init; }
    /// <summary>Asked-for item tax group, or null.</summary>
    public string? ItemTaxGroup { get; init; }
    /// <summary>The answer.</summary>
    public required string TaxCode { get; init; }
    /// <summary>First tax date, inclusive; null: no limit.</summary>
    public DateOnly? From { get; init; }
    /// <summary>Last tax date, inclusive; null: no limit.</summary>
    public DateOnly? To { get; init; }

    /// <summary>Whether it holds on a tax date.</summary>
    public bool ValidOn(DateOnly date) => !(From > date) && !(To < date);
}
