namespace Assignum.Core.Rulebooks;

/// <summary>A fact with the code a rule asks of it.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Code">The code it must have; compares by its fold.</param>
public readonly record struct FactValue(Fact Fact, string Code);

/// <summary>"For this purpose, when these facts hold, use this account."</summary>
public sealed record Rule
{
    /// <summary>Its id, unique in the rulebook.</summary>
    public required string Id { get; init; }
    /// <summary>The purpose it answers.</summary>
    public required Purpose Purpose { get; init; }
    /// <summary>Values for exactly the facts of one rung of the purpose's ladder.</summary>
    public IReadOnlyList<FactValue> When { get; init; } = [];
    /// <summary>Number of the account it answers with.</summary>
    public required string Account { get; init; }
    /// <summary>First posting date, inclusive; null: no limit.</summary>
    public DateOnly? From { get; init; }
    /// <summary>Last posting date, inclusive; null: no limit.</summary>
    public DateOnly? To { get; init; }
    /// <summary>What its author wrote beside it.</summary>
    public string? Note { get; init; }

    /// <summary>Whether it holds on a posting date.</summary>
    public bool ValidOn(DateOnly date) => !(From > date) && !(To < date);

    /// <summary>The rung whose facts it has values for.</summary>
    public Rung Rung => rung ??= When.Count == 0 ? Rung.Default : new Rung([.. When.Select(w => w.Fact)]);
    Rung? rung;

    /// <summary>The same purpose, facts and codes, whatever their order and spelling: two rules with one key must not overlap in time.</summary>
    public string Key => RuleKey.TextOf(Purpose.Name, When);

    /// <summary>"SEEDS × TRADE", or "default".</summary>
    public string InWords => When.Count == 0 ? "default" : string.Join(" × ", When.Select(w => w.Code));
}
