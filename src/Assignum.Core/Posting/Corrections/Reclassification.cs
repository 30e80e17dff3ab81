namespace Assignum.Core.Posting;

/// <summary>A balance that moves from one account to another: what a merge of accounts, or a mended rule, leaves on the old one.</summary>
public sealed record Reclassification : BusinessEvent
{
    /// <summary>A reclassification with no header yet.</summary>
    public Reclassification() { }

    /// <summary>A reclassification under a header.</summary>
    [System.Diagnostics.CodeAnalysis.SetsRequiredMembers]
    internal Reclassification(EventHeader header, string from, string to) : base(header) => (From, To) = (from, to);

    /// <summary>Number of the account it leaves.</summary>
    public required string From { get; init; }
    /// <summary>Number of the account it goes to.</summary>
    public required string To { get; init; }
    /// <summary>The parts of the balance, by currency, dimensions and party.</summary>
    public IReadOnlyList<MovedBalance> Lines { get; init; } = [];

    /// <inheritdoc/>
    public override string TypeName => Name;
    /// <inheritdoc/>
    public override IEnumerable<Dimensions> LineDimensions => Lines.Select(line => line.Dimensions);
    /// <summary>The type as the formats spell it.</summary>
    public const string Name = "reclassification";
}

/// <summary>A part of a balance.</summary>
/// <param name="Amount">What stands on the account, company currency, debit positive; not 0.</param>
/// <param name="Currency">Currency in which it arose; null: the company's.</param>
/// <param name="DocumentAmount">The amount in that currency; null: the same.</param>
/// <param name="Party">Code of the party, where it stands by party.</param>
/// <param name="Dimensions">Its dimensions.</param>
public sealed record MovedBalance(decimal Amount, string? Currency, decimal? DocumentAmount, string? Party, Dimensions Dimensions);
