namespace Assignum.Core.Charts;

/// <summary>The side on which the balance of an account usually stands.</summary>
public enum UsualSide { Debit, Credit }

/// <summary>What describes an account to people and reports. Nothing of it can change a landing, so it holds at once and in no edition.</summary>
public sealed record AccountDescription
{
    /// <summary>An account nobody has described.</summary>
    public static readonly AccountDescription None = new();

    /// <summary>Name for narrow columns, at most 30 characters; null: none.</summary>
    public string? ShortName { get; init; }
    /// <summary>What belongs on it, in sentences, at most 2,000 characters; null: none.</summary>
    public string? Text { get; init; }
    /// <summary>Its usual side where that is not the side of its class, as with depreciation so far; null: that of its class.</summary>
    public UsualSide? Side { get; init; }
    /// <summary>Code of an economic activity, ISIC revision 4: "01" or "A"; null: none.</summary>
    public string? Activity { get; init; }
    /// <summary>Its code in each report.</summary>
    public IReadOnlyList<ReportCode> Reporting { get; init; } = [];
    /// <summary>Number of the account of the group's chart it belongs to; null: not matched.</summary>
    public string? GroupAccount { get; init; }

    /// <summary>Whether the other says the same.</summary>
    public bool SaysTheSame(AccountDescription other) => (this with { Reporting = other.Reporting }) == other && Reporting.SequenceEqual(other.Reporting);
}

/// <summary>An account's code in a report.</summary>
/// <param name="Report">The report: "annual accounts".</param>
/// <param name="Code">The code there.</param>
public sealed record ReportCode(string Report, string Code);
