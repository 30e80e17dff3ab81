namespace Assignum.Core.Rulebooks;

/// <summary>What a ladder answered.</summary>
/// <param name="Purpose">The purpose whose ladder answered: the one asked for, or a stand-in; null when nothing answered.</param>
/// <param name="RungAt">Place of the answering rung in that ladder, from 0.</param>
/// <param name="RuleAt">Place of the answering rule in the rulebook, from 0.</param>
public readonly record struct Answer(Purpose? Purpose, int RungAt, int RuleAt)
{
    /// <summary>Nothing answered.</summary>
    public static readonly Answer None = new(null, -1, -1);

    /// <summary>Whether a rule answered.</summary>
    public bool Found => Purpose is not null;
}

/// <summary>What happened at one rung.</summary>
public enum RungState
{
    /// <summary>A fact is absent, so the rung was not tried.</summary>
    Skipped,
    /// <summary>Tried; no rule with these values is valid on the date.</summary>
    Empty,
    /// <summary>Its rule answered.</summary>
    Answered,
    /// <summary>Below the answering rung.</summary>
    NotReached,
}

/// <summary>One rung of a trail.</summary>
/// <param name="Purpose">The purpose whose ladder it belongs to.</param>
/// <param name="Rung">The rung.</param>
/// <param name="State">What happened there.</param>
/// <param name="Rule">The answering rule, or null.</param>
public sealed record TrailStep(Purpose Purpose, Rung Rung, RungState State, Rule? Rule);

/// <summary>What a tax rule answers.</summary>
/// <param name="Code">The tax code, or null where the rulebook has none of that name.</param>
/// <param name="InWords">The groups and the place the rule asks for, or "default".</param>
sealed record TaxAnswer(Taxes.TaxCode? Code, string InWords);
